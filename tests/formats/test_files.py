"""Audio and patch files: what goes in comes out, and what is no such file is refused in one line."""

import json
from pathlib import Path

import numpy as np
import pytest
import soundfile as sf
from hypothesis import given, settings
from hypothesis import strategies as st

from kessel.demo import demo_patches
from kessel.formats import (
    AudioProblem,
    PatchProblem,
    dump_patch,
    load_patch,
    midi_bytes,
    phrase_from_midi,
    read_audio,
    read_patch,
    wav_bytes,
    write_patch,
    write_wav,
)
from kessel.formats.reading import file_name
from kessel.patch import Note, Phrase

from ..making import tone


@pytest.mark.parametrize("slug", sorted(demo_patches()))
def test_a_patch_survives_its_file(slug, tmp_path):
    p = demo_patches()[slug]
    write_patch(tmp_path / "p.json", p)
    assert read_patch(tmp_path / "p.json") == p
    assert load_patch(dump_patch(p)) == p


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("", "no JSON"),
        ("{", "no JSON"),
        ("[]", "no patch"),
        ("{}", "no patch"),
        ('{"layers": [{"level": NaN}], "surprise": 1}', "no number"),
        ('{"format": "kessel-patch", "version": 9}', "version 9"),
        ('{"format": "kessel-patch", "version": 1, "name": "x", "layers": []}', "layers"),
        ('{"format": "kessel-patch", "version": 1, "name": "x", "layers": [{"level": 1e999}]}', "layers"),
        ("[" * 100000, "no JSON"),
        (b"\xff\xfe\x00", "no JSON"),
        ("x" * 2_000_001, "too large"),
    ],
)
def test_what_is_no_patch_is_refused_in_one_line(text, words):
    with pytest.raises(PatchProblem, match=words) as problem:
        load_patch(text)
    assert "\n" not in str(problem.value)


@settings(max_examples=60, deadline=None)
@given(st.data())
def test_a_damaged_patch_never_raises_anything_else(data):
    body = json.loads(dump_patch(demo_patches()["sluice-gate"]))
    here = body
    while isinstance(here, dict | list) and here:
        key = data.draw(st.sampled_from(sorted(here) if isinstance(here, dict) else range(len(here))))
        if not isinstance(here[key], dict | list) or data.draw(st.booleans()):
            here[key] = data.draw(st.sampled_from([None, -1, 10**9, "x", [], {}, True, "layers.body", 0.5]))
            break
        here = here[key]
    try:
        load_patch(json.dumps(body))
    except PatchProblem as problem:
        assert "\n" not in str(problem)


@pytest.mark.parametrize(
    ("suffix", "subtype", "close"), [("wav", "FLOAT", 1e-7), ("wav", "PCM_24", 2e-7), ("flac", "PCM_24", 2e-7)]
)
def test_audio_round_trip(tmp_path, suffix, subtype, close):
    x = np.stack([tone(100, -6), tone(150, -12)])
    sf.write(tmp_path / f"a.{suffix}", x.T, 48000, subtype=subtype)
    assert read_audio(tmp_path / f"a.{suffix}") == pytest.approx(x, abs=close)


@pytest.mark.parametrize("rate", [8000, 44100, 96000])
def test_any_rate_comes_in_at_48_khz(tmp_path, rate):
    t = np.arange(rate) / rate
    sf.write(tmp_path / "a.wav", 0.5 * np.sin(2 * np.pi * 440 * t), rate, subtype="FLOAT")
    x = read_audio(tmp_path / "a.wav")
    assert x.shape == (1, 48000)
    assert x[0, 4800:-4800] == pytest.approx(
        0.5 * np.sin(2 * np.pi * 440 * np.arange(48000) / 48000)[4800:-4800], abs=1e-4
    )


def test_what_is_no_audio_is_refused_in_one_line(tmp_path: Path):
    whole = tmp_path / "whole.wav"
    write_wav(whole, np.zeros((2, 100)))
    cases = {
        "junk.wav": np.random.default_rng(1).bytes(4000),
        "cut.wav": whole.read_bytes()[:30],
        "empty.wav": wav_bytes(np.zeros((2, 0))),
        "nothing.wav": b"",
        "nan.wav": wav_bytes(np.full((1, 10), np.nan)),
        "six.wav": wav_bytes(np.zeros((6, 10))),
    }
    for name, data in cases.items():
        (tmp_path / name).write_bytes(data)
        with pytest.raises(AudioProblem) as problem:
            read_audio(tmp_path / name)
        assert "\n" not in str(problem.value)
    with pytest.raises(AudioProblem, match="there is no file"):
        read_audio(tmp_path / "missing.wav")


def test_a_failed_write_leaves_the_old_file(tmp_path: Path, monkeypatch):
    target = tmp_path / "old.wav"
    target.write_bytes(b"old")

    def broken(self, other):
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(Path, "replace", broken)
    with pytest.raises(AudioProblem, match="No space left"):
        write_wav(target, np.zeros((2, 10)))
    assert target.read_bytes() == b"old"
    assert [p.name for p in tmp_path.iterdir()] == ["old.wav"]


def test_a_place_that_cannot_be_written(tmp_path: Path):
    with pytest.raises(PatchProblem, match="can't be written"):
        write_patch(tmp_path / "none" / "p.json", demo_patches()["undertow"])


@pytest.mark.parametrize(
    ("named", "wanted"), [("x" * 70, "x" * 60), ("", "the file"), (None, "the file"), ("a\x00b", "ab")]
)
def test_names_of_files_are_fit_to_be_shown(named, wanted):
    assert file_name(named) == wanted


def test_the_softest_note_stays_the_softest():
    made = midi_bytes(Phrase(notes=[Note(id="n", pitch=33, start=0.0, length=1.0, velocity=1)]), 120.0, "x")
    assert phrase_from_midi(made, "x.mid", Phrase()).phrase.notes[0].velocity == 1
