"""MIDI files and patches with their audio, in and out."""

import io
import zipfile

import mido
import numpy as np
import pytest

from kessel.demo import demo_patches
from kessel.formats import (
    AudioProblem,
    MidiProblem,
    PatchProblem,
    audio_from,
    dump_bundle,
    load_bundle,
    midi_bytes,
    phrase_from_midi,
    wav_bytes,
    words_of,
)
from kessel.patch import IDIOMS, Phrase, phrase_of

from ..making import layer, note, patch


def notes_of(phrase):
    return sorted((round(n.start * 480), round(n.length * 480), n.pitch, n.velocity) for n in phrase.notes)


@pytest.mark.parametrize("idiom", IDIOMS, ids=lambda i: i.slug)
def test_phrases_go_out_and_come_back(idiom):
    """All twelve built-in phrases, bends included, in a key of their own."""
    phrase = phrase_of(idiom, Phrase(root="Eb", scale="dorian"))
    found = phrase_from_midi(midi_bytes(phrase, 97.5, "Test"), "x.mid", phrase)
    assert notes_of(found.phrase) == notes_of(phrase)
    assert (found.phrase.bars, found.tempo, found.left_out) == (phrase.bars, pytest.approx(97.5, abs=0.01), "")
    for p in phrase.bend:
        near = min(found.phrase.bend, key=lambda q: abs(q.beat - p.beat))
        assert abs(near.beat - p.beat) < 0.05
    if phrase.bend:
        assert min(p.value for p in found.phrase.bend) == pytest.approx(-1.0, abs=0.01)
    assert all(phrase.in_scale(n.pitch) for n in phrase.notes)


def test_the_demo_phrases_survive():
    for p in demo_patches().values():
        found = phrase_from_midi(midi_bytes(p.phrase, p.tempo, p.name), "x.mid", p.phrase)
        assert notes_of(found.phrase) == notes_of(p.phrase)


def midi(*tracks, ticks=96):
    file = mido.MidiFile(type=1 if len(tracks) > 1 else 0, ticks_per_beat=ticks)
    for messages in tracks:
        file.tracks.append(mido.MidiTrack(messages))
    out = io.BytesIO()
    file.save(file=out)
    return out.getvalue()


def message(kind, time, **words):
    return mido.Message(kind, time=time, **words)


def test_tracks_are_joined_controllers_read_and_late_parts_brought_to_their_bar():
    one = [mido.MetaMessage("set_tempo", tempo=mido.bpm2tempo(140)), message("control_change", 0, control=1, value=127)]
    two = [
        message("note_on", 96 * 17, note=40, velocity=90),
        message("pitchwheel", 48, pitch=8191),
        message("aftertouch", 0, value=64),
        message("note_on", 48, note=40, velocity=0),
    ]
    found = phrase_from_midi(midi(one, two), "x.mid", Phrase())
    assert notes_of(found.phrase) == [(480, 480, 40, 90)]
    assert found.tempo == pytest.approx(140, abs=0.01)
    assert [p.beat for p in found.phrase.bend] == [1.5]
    assert found.phrase.pressure[0].value == pytest.approx(64 / 127, abs=1e-3)


def test_a_song_is_cut_and_says_so():
    long = [
        m for i in range(80) for m in (message("note_on", 0, note=40, velocity=90), message("note_off", 96, note=40))
    ]
    found = phrase_from_midi(midi(long), "song.mid", Phrase())
    assert found.phrase.bars == 8 and len(found.phrase.notes) == 32
    assert found.left_out == "48 notes after bar 8 were left out"


@pytest.mark.parametrize(
    "data", [b"", b"MThd", b"not midi at all", b"MThd\0\0\0\6\0\1\0\1\0\x60MTrk\0\0\0\4\0\xff", midi([])]
)
def test_bad_midi_is_answered_in_one_line(data):
    with pytest.raises(MidiProblem) as told:
        phrase_from_midi(data, "x.mid", Phrase())
    assert str(told.value).startswith("x.mid") and "\n" not in str(told.value)


# audio


def test_audio_of_odd_kinds_is_taken_or_answered():
    import soundfile

    def made(x, rate=48000, kind="WAV", sub="PCM_16"):
        out = io.BytesIO()
        soundfile.write(out, x, rate, format=kind, subtype=sub)
        return out.getvalue()

    tone = np.sin(2 * np.pi * 100 * np.arange(22050) / 22050)
    assert audio_from(made(tone, 22050), "a.wav").shape == (1, 48000)
    assert audio_from(made(tone, 22050, "FLAC"), "a.flac").shape == (1, 48000)
    assert audio_from(made(np.stack([tone, tone], 1), 44100, "AIFF"), "a.aiff").shape[0] == 2
    for data, words in (
        (made(np.zeros((100, 5))), "5 channels"),
        (made(tone, 3000), "sample rate of 3000 Hz"),
        (made(np.zeros(0)), "is empty"),
        (made(np.zeros(61 * 8000), 8000), "longer than 60 seconds"),
        (b"RIFF and nothing", "can't be read as audio"),
        (made(np.array([0.0, np.nan]), sub="FLOAT"), "no numbers"),
    ):
        with pytest.raises(AudioProblem, match=words):
            audio_from(data, "a.wav")


# a patch with its audio


def with_audio():
    source = {"kind": "sample", "id": "s", "name": "S", "audio": "ab" * 16}
    return patch(layer(sources=[source]), notes=[note(40, 0, 1)])


def test_a_patch_takes_its_audio_along():
    p, x = with_audio(), np.random.default_rng(1).uniform(-1, 1, (2, 999)).astype(np.float32).astype(np.float64)
    assert words_of(p) == ["ab" * 16]
    found = load_bundle(dump_bundle(p, lambda word: x))
    assert found.patch == p
    assert np.array_equal(found.audio["ab" * 16], x)
    assert load_bundle(dump_bundle(p, lambda word: None)).audio == {}


def test_a_bad_bundle_is_answered_in_one_line():
    def zipped(**files):
        out = io.BytesIO()
        with zipfile.ZipFile(out, "w") as z:
            for name, data in files.items():
                z.writestr(name.replace("__", "/").replace("_json", ".json"), data)
        return out.getvalue()

    good = dump_bundle(with_audio(), lambda word: np.zeros((1, 9)))
    broken = io.BytesIO()
    with zipfile.ZipFile(broken, "w") as z:
        z.writestr("patch.json", zipfile.ZipFile(io.BytesIO(good)).read("patch.json"))
        z.writestr(f"audio/{'ab' * 16}.wav", b"no audio")
    for data in (
        zipped(other_json="{}"),
        zipped(patch_json="{}"),
        good[: len(good) // 2],
        b"PK nothing",
        broken.getvalue(),
    ):
        with pytest.raises(PatchProblem) as told:
            load_bundle(data)
        assert "\n" not in str(told.value)
    assert wav_bytes(np.zeros((1, 4)))[:4] == b"RIFF"
