"""Peaks, offset and crest."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
import soxr
from numpy.typing import NDArray

RATE = 48000
SILENCE = 1e-9
"""Linear amplitude (-180 dBFS) under which a signal counts as silent."""
_OVER = 4
_BLOCK = RATE * 30
"""Samples that are oversampled at once."""
_EDGE = 512

Audio = NDArray[np.float64]


def decibels(power: float, floor: float = SILENCE**2) -> float | None:
    """10 log10 of a power. None if it is zero."""
    return 10.0 * math.log10(power) if power > floor else None


def _heights(x: Audio) -> Audio:
    """Magnitudes of x, (channels, n), oversampled four times: (channels, 4 n), one channel if both are the same.

    Single precision leaves 140 dB, and takes a third of the time.
    """
    if x.shape[0] == 2 and np.array_equal(x[0], x[1]):
        x = x[:1]
    high = [soxr.resample(side.astype(np.float32), RATE, RATE * _OVER, "HQ") for side in x]
    return np.stack([np.abs(side, out=side) for side in high])


def peaks_over(x: Audio, frames: int) -> Audio:
    """True peak in dBTP of so many consecutive frames of x, (channels, n). NaN where it is silent."""
    found = _heights(x)
    high = np.maximum(found[0], found[-1]).astype(np.float64)
    edges = np.linspace(0, high.size, frames + 1).astype(int)[:-1]
    found = np.maximum.reduceat(high, edges)
    return np.where(found > SILENCE, 20.0 * np.log10(np.maximum(found, SILENCE)), np.nan)


def true_peak(x: Audio) -> float | None:
    """True peak in dBTP of x, (channels, n), oversampled four times (ITU-R BS.1770-4 Annex 2). None for silence."""
    peak = float(np.abs(x).max(initial=0.0))
    if peak <= SILENCE:
        return None
    for at in range(0, x.shape[1], _BLOCK):
        part = x[:, max(0, at - _EDGE) : at + _BLOCK + _EDGE]
        peak = max(peak, float(_heights(part).max(initial=0.0)))
    return 20.0 * math.log10(peak)


def dc_offset(x: Audio) -> float:
    """Largest mean of a channel of x, (channels, n); linear."""
    means = x.mean(axis=1)
    return float(means[int(np.abs(means).argmax())])


def crest_db(x: Audio) -> float | None:
    """Sample peak over mean power of x, (channels, n), in dB."""
    power = float(np.mean(x * x))
    peak = float(np.abs(x).max(initial=0.0))
    if peak <= SILENCE:
        return None
    return 20.0 * math.log10(peak) - 10.0 * math.log10(power)


def fitted_to(x: NDArray[np.floating[Any]], start: float, seconds: float) -> Audio:
    """So many seconds of x, (1 or 2, n), from a start on, as two channels. At least a tenth of a second."""
    first = min(max(0, round(start * RATE)), max(0, x.shape[1] - RATE // 10))
    part = x[:, first : first + max(round(seconds * RATE), RATE // 10)]
    return np.ascontiguousarray(part if part.shape[0] == 2 else part[[0, 0]], dtype=np.float64)
