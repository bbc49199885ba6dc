"""Waves from files: a whole cycle, frames of a length that is found or typed, and cycles at the pitch."""

import numpy as np
import pytest
import soundfile

from kessel.desk.editing import waves as wave_edits
from kessel.dsp.sources.waves import frame_points, frame_text
from kessel.formats.audio import frames_bytes, read_as_it_is
from kessel.intake import WaveFile, cut, wave_of_cut
from kessel.patch import FRAME_POINTS, ValueProblem, Wave

RATE = 48000
LEVELS = np.array([1.0, 0.5, 0.0, 0.25])


def tone(points, turns=1.0):
    t = np.arange(points) / points * turns
    return 0.5 * sum(a * np.sin(2 * np.pi * (k + 1) * t) for k, a in enumerate(LEVELS))


def harmonics(points):
    """Levels of the first harmonics of a cycle, by a plain sum."""
    k, n = np.arange(1, 6)[:, None], np.arange(points.size)
    return np.abs((points * np.exp(-2j * np.pi * k * n / points.size)).sum(axis=1)) * 2.0 / points.size


@pytest.mark.parametrize("length", [32, 100, 600, 1024, 2047, 4096, 8192])
@pytest.mark.parametrize("rate", [8000, 44100, 96000])
def test_a_file_as_long_as_a_cycle_is_one_cycle_at_any_rate(tmp_path, length, rate):
    soundfile.write(tmp_path / "one.wav", tone(length), rate, subtype="FLOAT")
    x, own, told = read_as_it_is(tmp_path / "one.wav", "one.wav", 60.0)
    assert told == 0
    file = WaveFile("one.wav", x[0], own)
    made = cut(file)
    assert (made.way, made.length, len(made.frames), own) == ("whole", float(length), 1, rate)
    wave = wave_of_cut(file, made)
    assert wave.name == "one"
    assert harmonics(frame_points(wave.frames[0])) == pytest.approx(0.5 * np.append(LEVELS, 0.0), abs=2e-4)


@pytest.mark.parametrize("length", [256, 600, 2048])
def test_frames_are_found_by_their_length_and_keep_their_order_and_levels(length):
    levels = np.linspace(1.0, 0.2, 100)
    x = np.concatenate([a * tone(length) for a in levels])
    made = cut(WaveFile("set.wav", x, 44100))
    assert (made.way, made.length, len(made.frames)) == ("frames", length, 64)
    tops = np.array([harmonics(f)[0] for f in made.frames])
    assert made.starts[0] == 0.0 and made.starts[-1] == 99.0 * length
    assert tops == pytest.approx(0.5 * levels[np.array(made.starts, dtype=int) // length], abs=1e-6)


def test_a_frame_length_is_typed():
    noise = np.random.default_rng(3).uniform(-1, 1, 9000)
    made = cut(WaveFile("noise.wav", noise, RATE), "frames", 900)
    assert len(made.frames) == 10 and np.allclose(made.frames[3].mean(), noise[2700:3600].mean())
    for length in (31, 9001, 100_000):
        with pytest.raises(ValueProblem, match="32 to 8192 samples, not"):
            cut(WaveFile("noise.wav", noise, RATE), "frames", length)
    with pytest.raises(ValueProblem, match="no steady pitch"):
        cut(WaveFile("noise.wav", noise, RATE), "pitch")


def test_a_recording_is_cut_at_its_pitch():
    x = tone(RATE, 61.3)
    one = cut(WaveFile("tape.wav", x, RATE))
    assert one.way == "pitch" and one.length == pytest.approx(RATE / 61.3, rel=1e-4)
    found = harmonics(one.frames[0])
    assert found / found[0] == pytest.approx(np.append(LEVELS, 0.0), abs=2e-3)
    assert np.interp(one.starts[0], np.arange(x.size), x) == pytest.approx(0.0, abs=1e-3)
    run = cut(WaveFile("tape.wav", x * (1 - np.arange(RATE) / RATE), RATE), "run")
    tops = [np.abs(f).max() for f in run.frames]
    assert 40 <= len(run.frames) <= 64 and tops[0] > 0.95 and tops[-1] < 0.2 and np.all(np.diff(tops) < 0.02)
    assert np.diff(run.starts) == pytest.approx(RATE / 61.3, rel=1e-3)


@pytest.mark.parametrize("count", [1, 3, 9])
def test_an_export_comes_back_as_it_was(tmp_path, count):
    """Frames that are nothing alike, which only the file itself can tell apart."""
    noise = np.random.default_rng(count).uniform(-1, 1, (count, FRAME_POINTS))
    wave = Wave(id="w", name="W", frames=[frame_text(f) for f in noise])
    (tmp_path / "w.wav").write_bytes(frames_bytes(wave_edits.wave_audio(wave)))
    x, rate, told = read_as_it_is(tmp_path / "w.wav", "w.wav", 60.0)
    file = WaveFile("w.wav", x[0], rate, told)
    assert wave_of_cut(file, cut(file)).frames == wave.frames
