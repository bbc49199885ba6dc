"""Drawn waves cut from recordings: a cycle, frames of one length, or cycles at the pitch."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.signal import resample

from ..dsp.sources.waves import cycles_from_audio, frame_text
from ..measure import detect_pitch
from ..patch import FRAME_POINTS, MOST_FRAMES, ValueProblem, Wave, free_id

_Real = NDArray[np.float64]

SHORTEST, LONGEST = 32, 8192
"""Samples of a file that is taken for one cycle, and of a frame."""
_LENGTHS = (256, 512, 600, 1024, 2048, 4096)
_ALIKE = 0.6
WAYS = {
    "whole": "The whole file as one cycle",
    "frames": "Frames of one length",
    "pitch": "One cycle at its pitch",
    "run": "Cycles at its pitch as frames",
}
"""How a wave can be cut from a file, in words."""


@dataclass(frozen=True)
class WaveFile:
    """Audio that a wave can be cut from: mono samples at the file's own rate in Hz.

    told: the length of its frames in samples, if the file says it, as one that Kessel exports does.
    """

    name: str
    samples: _Real
    rate: int
    told: int = 0

    @property
    def frame_length(self) -> int:
        """The length of its frames in samples, as told or found. 0 if neither."""
        fits = SHORTEST <= self.told <= LONGEST and self.samples.size % self.told == 0
        return self.told if fits else _frame_length(self.samples)

    @property
    def period(self) -> float | None:
        """Samples of a cycle of its pitch. None if it has none, or holds no two cycles."""
        hz = detect_pitch(self.samples)
        period = 48000.0 / hz if hz else 0.0
        return period if 2.0 <= period <= (self.samples.size - 2) / 2.0 else None


@dataclass(frozen=True)
class WaveCut:
    """A way to cut a wave from a file. length: samples of a frame. starts: of the frames, in samples."""

    way: str
    length: float
    frames: tuple[_Real, ...]
    starts: tuple[float, ...]


def ways_for(file: WaveFile) -> list[str]:
    """The ways in which a wave can be cut from a file, the most likely first. Raises ValueProblem if there is none."""
    n = file.samples.size
    pitched = ["pitch", "run"] if file.period is not None else []
    framed = ["frames"] if n >= 2 * SHORTEST else []
    found_length = file.frame_length
    if n > LONGEST:
        found = [*framed, *pitched] if found_length else [*pitched, *framed]
    else:
        whole = ["whole"] if n >= SHORTEST else []
        told = file.told and found_length == file.told
        found = [*framed, *whole, *pitched] if told else [*whole, *framed, *pitched]
    if not found:
        raise ValueProblem(f"{file.name} has {n} samples: a cycle has {SHORTEST} at least")
    return found


def cut(file: WaveFile, way: str = "", length: int = 0) -> WaveCut:
    """A wave from a file: by the most likely way, or a named one. length: of the frames in samples, 0: as found.

    Raises ValueProblem.
    """
    ways = ways_for(file)
    way = way or ways[0]
    if way not in ways:
        raise ValueProblem(f"{file.name} can't be cut so: {_why_not(file, way)}")
    if way == "whole":
        return WaveCut(way, float(file.samples.size), (_cycle(file.samples),), (0.0,))
    if way == "frames":
        return _framed(file, length or file.frame_length or _likely(file.samples.size))
    return _at_pitch(file, way)


def wave_of_cut(file: WaveFile, made: WaveCut) -> Wave:
    """The wave that a cut makes, named for its file. Frames keep their levels against each other."""
    top = max(1.0, *(float(np.abs(f).max()) for f in made.frames))
    stem = file.name.rsplit(".", 1)[0][:50] or "Wave"
    return Wave(id=free_id(stem, []), name=stem, frames=[frame_text(f / top) for f in made.frames])


def _why_not(file: WaveFile, way: str) -> str:
    if way in ("pitch", "run"):
        return "no steady pitch of two cycles was found in it"
    return f"it has {file.samples.size} samples, and one cycle has {SHORTEST} to {LONGEST}"


def _cycle(x: _Real) -> _Real:
    """A cycle of any length as FRAME_POINTS points, with all the harmonics that both can hold."""
    return np.asarray(resample(x, FRAME_POINTS), dtype=np.float64)


def _framed(file: WaveFile, length: int) -> WaveCut:
    if not SHORTEST <= length <= min(LONGEST, file.samples.size):
        most = min(LONGEST, file.samples.size)
        raise ValueProblem(f"a frame of {file.name} has {SHORTEST} to {most} samples, not {length}")
    count = file.samples.size // length
    # evenly picked where there are more than a wave holds, the first and the last among them
    picked = np.unique(np.round(np.linspace(0, count - 1, min(count, MOST_FRAMES))).astype(int))
    starts = tuple(float(i * length) for i in picked)
    return WaveCut(
        "frames", float(length), tuple(_cycle(file.samples[int(s) : int(s) + length]) for s in starts), starts
    )


def _at_pitch(file: WaveFile, way: str) -> WaveCut:
    x, period = file.samples, file.period
    assert period is not None
    most = max(1, int((x.size - 2) / period) - 1)
    step = 1
    if way == "pitch":
        loudest = int(np.argmax(np.convolve(x**2, np.ones(round(period)), "valid")))
        first = min(loudest, max(0, x.size - round(3 * period) - 2))
        frames, at = cycles_from_audio(x, period, first, 1)
    else:
        run, at = cycles_from_audio(x, period, 0, most)
        step = max(1, most // MOST_FRAMES)
        frames = run[::step][:MOST_FRAMES]
    if not frames:
        raise ValueProblem(f"{file.name} holds no whole cycle of its pitch: cut it by a frame length")
    return WaveCut(way, period, tuple(frames), tuple(at + i * step * period for i in range(len(frames))))


def _frame_length(x: _Real) -> int:
    """The shortest usual length that divides a file into frames, each like the one before it. 0 if there is none."""
    for length in _LENGTHS:
        if x.size % length == 0 and x.size >= 2 * length:
            # a slow wave is like itself a little later too, and still more so half as much later
            alike = _likeness(x, length)
            if alike > max(_ALIKE, _likeness(x, length // 2) + 0.05):
                return length
    return 0


def _likeness(x: _Real, lag: int) -> float:
    """Correlation of x with itself ``lag`` samples later, -1..1."""
    one, two = x[:-lag], x[lag:]
    return float(one @ two) / max(float(np.sqrt((one @ one) * (two @ two))), 1e-12)


def _likely(size: int) -> int:
    """A length that divides the file, or the largest that is in it twice."""
    whole = [n for n in reversed(_LENGTHS) if size % n == 0 and size // n >= 2]
    return FRAME_POINTS if FRAME_POINTS in whole else whole[0] if whole else min(LONGEST, size // 2)
