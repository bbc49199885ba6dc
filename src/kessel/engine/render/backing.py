"""What plays beside a patch: the built-in beat, loops and other patches, in sync with the phrase."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

import numpy as np
import soxr
from numpy.typing import NDArray

from ...dsp import QUANTUM, RATE
from ...dsp.sources.clicks import hat, kick, snare
from ...dsp.store import remembered
from ...patch import Beat
from ..clock import BEAT_BEATS, PATTERNS, Schedule, samples_per_beat
from ..modulation import gain_of

_Audio = NDArray[np.float32]


@dataclass(frozen=True)
class Track:
    """One backing track: x, (2, n) float32, is ``beats`` beats long at the patch's tempo."""

    id: str
    x: _Audio
    beats: float
    offset: float = 0.0


@remembered
def beat_track(beat: Beat, tempo: float) -> Track:
    """The built-in beat at a tempo, before its fader."""
    n = round(BEAT_BEATS * samples_per_beat(tempo))
    out = np.zeros(n)
    drums = ((kick(beat.kick_pitch), beat.kick), (snare(), beat.snare), (hat(), beat.hats))
    for marks, (drum, level) in zip(PATTERNS[beat.pattern], drums, strict=True):
        gain = gain_of(level)
        for i, mark in enumerate(marks.replace(" ", "")):
            if mark == "x" and gain > 0:
                at = round(i / 4.0 * samples_per_beat(tempo)) + np.arange(drum.size)
                # a tail past the end continues at the beginning
                np.add.at(out, at % n, gain * drum)
    return Track("beat", np.repeat((0.7 * out)[None, :], 2, axis=0).astype(np.float32), BEAT_BEATS)


def loop_track(track_id: str, x: NDArray[np.floating[Any]], own_tempo: float, tempo: float, offset: float) -> Track:
    """A recording resampled from ``own_tempo`` to ``tempo``. x: (1 or 2, n) at 48 kHz.

    It loops over a whole number of beats, the nearest to its length.
    """
    beats = max(1.0, float(round(x.shape[1] / RATE * own_tempo / 60.0)))
    fitted = soxr.resample(np.ascontiguousarray(x.T), tempo, own_tempo, "HQ").T
    fitted = np.repeat(fitted, 2, axis=0) if fitted.shape[0] == 1 else fitted
    n = round(beats * samples_per_beat(tempo))
    out = np.zeros((2, n), dtype=np.float32)
    size = min(n, fitted.shape[1])
    out[:, :size] = fitted[:, :size]
    return Track(track_id, out, beats, offset)


@dataclass
class BackingPlayer:
    """Mixes tracks in sync with a running phrase. gains: linear, by track id; changes ramp over a quantum."""

    tracks: tuple[Track, ...] = ()
    gains: dict[str, float] = field(default_factory=dict)
    _now: dict[str, float] = field(default_factory=dict)

    def quantum(self, time: int, schedule: Schedule, beats: float) -> NDArray[np.float64] | None:
        """The quantum at engine time ``time``, (2, QUANTUM). None if nothing sounds."""
        out: NDArray[np.float64] | None = None
        for track in self.tracks:
            goal = self.gains.get(track.id, 0.0)
            now = self._now.get(track.id, goal)
            self._now[track.id] = goal
            if goal == 0.0 and now == 0.0:
                continue
            since = time - schedule.origin + np.arange(QUANTUM)
            turn, place = since // schedule.length, since % schedule.length
            per_beat = schedule.length / beats
            n = track.x.shape[1]
            first = np.mod(turn * beats - track.offset, track.beats) * per_beat
            index = (np.round(first).astype(np.int64) + place) % n
            gain = goal if goal == now else now + (goal - now) * np.arange(1, QUANTUM + 1) / QUANTUM
            out = np.zeros((2, QUANTUM)) if out is None else out
            out += gain * track.x[:, index]
        return out
