"""Pitches that glide and bend, followed: the lows of a loop at a low rate, their carrier, and notes made even by it."""

from __future__ import annotations

import math
from collections.abc import Mapping
from functools import lru_cache
from typing import Any

import numpy as np
import soxr
from numpy.lib.stride_tricks import sliding_window_view
from numpy.typing import NDArray
from scipy.ndimage import map_coordinates
from scipy.signal.windows import hann

from ..engine import RATE
from ..patch import ControlPath, Layer, Patch, get
from .notes import HeardNote

_Real = NDArray[np.float64]
_Complex = NDArray[np.complex128]

EVERY = 32
"""One sample of so many is left of the lows."""
LOW_RATE = RATE / EVERY
HOP = round(0.005 * LOW_RATE)
_AROUND = 128 * EVERY
"""Samples of the loop on either side of it, which its ends are filtered with."""
_BENT = 0.003
"""A carrier whose measured frequency leaves the expected one by a larger share is followed."""
_FOLLOWS = 4
_MARGIN = 24
"""Samples beyond a note that its splines are made of."""
_PITCH = {"semitones", "cents", "fine", "transpose", "pitch", "ratio", "offset", "glide"}
"""Last steps of the paths of controls that move a pitch."""


def moves_pitch(patch: Patch) -> bool:
    """Whether anything bends a pitch or lets it glide."""
    bends = bool(patch.phrase.bend) and any(x.play.bend_range > 0 for x in patch.layers)
    glides = any(x.play.glide > 0 for x in patch.layers)
    return bends or glides or any(ControlPath(m.target).name in _PITCH for m in patch.movements if m.amount)


def decimated(x: _Real) -> _Real:
    """The lows of a loop, (n,), around its end: every 32nd sample of what lies below 500 Hz."""
    size = -(-x.size // EVERY)
    before, after = (np.take(x, np.arange(k, k + _AROUND), mode="wrap") for k in (-_AROUND, x.size))
    y = soxr.resample(np.concatenate((before, x, after)).astype(np.float32), RATE, LOW_RATE, "HQ")
    return np.asarray(y[_AROUND // EVERY :][:size], dtype=np.float64)


def lows_of_note(low: _Real, note: HeardNote) -> _Real:
    """The samples of a note in the lows of a loop, around its end."""
    first, length = note.start // EVERY % low.size, max(1, note.length // EVERY)
    if first + length <= low.size:
        return low[first : first + length]
    return np.asarray(low[(first + np.arange(length)) % low.size])


def carrier(x: _Real, hz: float, course: _Real) -> _Real:
    """The phase of x, (n,), near ``hz`` at every sample, in radians. It follows glides and bends. x: decimated.

    course: (n,), where the pitch is meant to be, over ``hz``: what glides is found from there.
    """
    meant = 2.0 * math.pi * hz / LOW_RATE * course
    steps = meant.copy()
    size = round(2.0 * LOW_RATE / hz)
    for _ in range(_FOLLOWS):
        y = _lowpassed(x * turning(np.cumsum(steps)), hz)
        bent = _smooth(np.angle(y[1:] * np.conj(y[:-1])), np.square(np.abs(y[1:])), size)
        if np.all(np.abs(bent) < _BENT * meant[1:]):
            break
        steps[1:] = np.clip(steps[1:] + bent, 0.45 * meant[1:], 2.2 * meant[1:])
        steps[0] = steps[min(1, steps.size - 1)]
    return np.cumsum(steps)


def course_of(
    patch: Patch, layer: Layer, source: str, note: HeardNote, travel: Mapping[str, NDArray[Any]], size: int
) -> _Real:
    """Where bends and movements take the pitch of a source on a note, over its resting pitch, at the low rate.

    travel: the values of moved controls over a loop of ``size`` samples. Glides are not in it.
    """
    count = max(1, note.length // EVERY)
    at = (note.start + EVERY * np.arange(count)) % size
    semitones = np.zeros(count)
    if patch.phrase.bend:
        beats = at * (patch.phrase.beats / size)
        points = [(p.beat, p.value) for p in patch.phrase.bend]
        semitones += layer.play.bend_range * np.interp(beats, *np.array(points).T)
    own = f"layers.{layer.id}"
    for path, unit, rests in (
        (f"{own}.play.pitch", 1.0, False),
        (f"{own}.play.transpose", 1.0, True),
        (f"{own}.play.fine", 0.01, True),
        (f"{own}.sources.{source}.semitones", 1.0, True),
        (f"{own}.sources.{source}.cents", 0.01, True),
    ):
        values = travel.get(path)
        if values is None or not np.isfinite(values).any():
            continue
        known = np.flatnonzero(np.isfinite(values))
        moved = np.interp(at * (values.size / size), known, values[known])
        semitones += unit * (moved - (float(get(patch, path)) if rests else 0.0))
    return np.asarray(2.0 ** (semitones / 12.0))


def turning(phase: _Real) -> _Complex:
    """What takes a carrier of this phase, (n,) radians, to a standstill when it is multiplied by it."""
    return np.asarray(np.exp(-1j * phase))


def demodulated(x: _Real, turned: _Complex, hz: float) -> _Complex:
    """The complex amplitude of x, (..., n), around a carrier every HOP samples, by a Hann window of two periods of
    ``hz``. turned: as of ``turning``.
    """
    return _lowpassed(x * turned, hz, HOP)


@lru_cache(maxsize=256)
def _window(size: int) -> _Real:
    """A Hann window that sums to one, the other way round."""
    window = hann(size, sym=False)
    return np.asarray(window[::-1] / window.sum())


def _lowpassed(x: NDArray[np.number[Any]], hz: float, hop: int = 1) -> _Complex:
    window = _window(max(3, round(2.0 * LOW_RATE / hz)))
    before = (window.size - 1) // 2
    n = x.shape[-1]
    padded = np.zeros((*x.shape[:-1], n + window.size - 1), dtype=x.dtype)
    padded[..., window.size - 1 - before : window.size - 1 - before + n] = x
    rows = sliding_window_view(padded, window.size, axis=-1)[..., ::hop, :]
    return np.asarray(rows @ (2.0 * window))


def _smooth(x: _Real, weight: _Real, size: int) -> _Real:
    """The weighted mean of x over ``size`` samples around every one."""
    over = _moving_sum(weight, size)
    return np.asarray(_moving_sum(x * weight, size) / np.maximum(over, 1e-12 + 1e-6 * over.max(initial=0.0)))


def _moving_sum(x: _Real, size: int) -> _Real:
    total = np.concatenate(([0.0], np.cumsum(np.pad(x, (size // 2, size - size // 2)))))
    return np.asarray((total[size:] - total[:-size])[: x.size])


def even_pitch(low: _Real, size: int, note: HeardNote, hz: float, course: _Real) -> _Real | None:
    """Where a note is read so that its pitch stays at ``hz``, in samples of a loop of ``size``; None if it is even.

    low: the lows of what plays the pitch. course: as of ``carrier``.
    """
    x = lows_of_note(low, note)
    if x.size < 3.0 * LOW_RATE / hz:
        return None
    phase = carrier(x, hz, course)
    speed = np.diff(phase) * LOW_RATE / (2.0 * math.pi * hz)
    if np.abs(speed - 1.0).max() < _BENT:
        return None
    first = note.start // EVERY * EVERY
    turns = np.arange(phase[0], phase[-1], 2.0 * math.pi * hz / RATE)
    return np.asarray((first + EVERY * np.interp(turns, phase, np.arange(phase.size))) % size)


def straightened(x: _Real, at: _Real) -> _Real:
    """A loop x, (n,), read at places that rise around its end, by cubic splines."""
    first = int(at[0]) - _MARGIN
    turned = np.mod(at - first, x.size)
    part = x[(first + np.arange(int(turned.max()) + 2 * _MARGIN)) % x.size]
    return np.asarray(map_coordinates(part, turned[None], order=3, mode="nearest"))
