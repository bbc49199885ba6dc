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
    assert found.left_out == "48 notes after bar 8 left out"


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


def on_off(pitch, start, end, velocity=100, off="note_off"):
    """One note as the messages of a track, in ticks of 1/96 beat."""
    return [
        mido.Message("note_on", note=pitch, velocity=velocity, time=start),
        mido.Message(off, note=pitch, velocity=0, time=end - start),
    ]


@pytest.mark.parametrize(
    ("ticks", "length", "bars"),
    [
        (1, 0.010417, 1),
        (24, 0.25, 1),
        (96, 1.0, 1),
        (384, 4.0, 1),
        (385, 4.010417, 2),
        (3072, 32.0, 8),
        (4000, 32.0, 8),
    ],
)
@pytest.mark.parametrize("off", ["note_off", "note_on"])
def test_lengths_of_notes_and_of_the_phrase(ticks, length, bars, off):
    found = phrase_from_midi(midi(on_off(33, 0, ticks, off=off)), "x.mid", Phrase()).phrase
    assert (found.notes[0].length, found.bars) == (pytest.approx(length, abs=1e-5), bars)


def test_a_note_of_no_length_is_the_shortest_there_is():
    assert phrase_from_midi(midi(on_off(33, 0, 0)), "x.mid", Phrase()).phrase.notes[0].length == 0.01


def test_one_note_left_out_is_one_note():
    early, late = on_off(33, 0, 96), on_off(33, 96 * 40, 96)
    late[0] = late[0].copy(time=96 * 40)
    late[1] = late[1].copy(time=96)
    found = phrase_from_midi(midi([*early, *late]), "x.mid", Phrase())
    assert found.left_out == f"1 note after bar {found.phrase.bars} left out"


@pytest.mark.parametrize(("bpm", "wanted"), [(60, 60.0), (174, 174.0), (20, 40.0), (400, 240.0)])
def test_the_tempo_is_read_within_its_limits(bpm, wanted):
    track = [mido.MetaMessage("set_tempo", tempo=mido.bpm2tempo(bpm)), *on_off(33, 0, 96)]
    assert phrase_from_midi(midi(track), "x.mid", Phrase()).tempo == pytest.approx(wanted, abs=0.01)


def test_wheel_pressure_and_bend_are_read_as_lanes():
    track = [
        mido.Message("note_on", note=33, velocity=64),
        mido.Message("pitchwheel", pitch=-8192),
        mido.Message("control_change", control=1, value=127, time=48),
        mido.Message("control_change", control=7, value=100),
        mido.Message("aftertouch", value=127, time=48),
        mido.Message("pitchwheel", pitch=8191),
        mido.Message("note_off", note=33, time=96),
    ]
    found = phrase_from_midi(midi(track), "x.mid", Phrase()).phrase
    assert [(p.beat, p.value) for p in found.bend] == [(0.0, -1.0), (1.0, 1.0)]
    assert [(p.beat, p.value) for p in found.wheel] == [(0.5, 1.0)]
    assert [(p.beat, p.value) for p in found.pressure] == [(1.0, 1.0)]
    assert found.notes[0].velocity == 64
