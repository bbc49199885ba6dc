"""Loudness by ITU-R BS.1770-4, gated as in EBU R 128; range by EBU Tech 3342."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cache

import numpy as np
import scipy
from numpy.typing import NDArray

from .levels import RATE, SILENCE, Audio

_K_WEIGHT = np.array(
    [
        [1.53512485958697, -2.69169618940638, 1.19839281085285, 1.0, -1.69065929318241, 0.73248077421585],
        [1.0, -2.0, 1.0, 1.0, -1.99004745483398, 0.99007225036621],
    ]
)
"""ITU-R BS.1770 coefficients at 48 kHz: the shelf for the head, then the high-pass."""
_HEAD = (1681.974450955533, 0.7071752369554196, 3.999843853973347)
_LOW = (38.13547087602444, 0.5003270373238773)
"""The analog filters behind them: frequency in Hz, Q, and the shelf's gain in dB (found by undoing the bilinear
transform)."""
_OFFSET = -0.691


@dataclass(frozen=True)
class Loudness:
    """Loudness in LUFS, range in LU. None if the sound is silent or too short."""

    integrated: float | None
    momentary: float | None
    short_term: float | None
    range: float | None


@cache
def k_weight(rate: int) -> NDArray[np.float64]:
    """The two sections of the K-weighting at a rate, (2, 6): at 48 kHz as printed, else from their analog form."""
    if rate == RATE:
        return _K_WEIGHT
    hz, q, gain = _HEAD
    t, high = math.tan(math.pi * hz / rate), 10.0 ** (gain / 20.0)
    band = high**0.4996667741545416
    over = 1.0 + t / q + t * t
    head = [high + band * t / q + t * t, 2.0 * (t * t - high), high - band * t / q + t * t]
    head = [b / over for b in head] + [1.0, 2.0 * (t * t - 1.0) / over, (1.0 - t / q + t * t) / over]
    hz, q = _LOW
    t = math.tan(math.pi * hz / rate)
    over = 1.0 + t / q + t * t
    low = [1.0, -2.0, 1.0, 1.0, 2.0 * (t * t - 1.0) / over, (1.0 - t / q + t * t) / over]
    return np.array([head, low])


def _lufs(power: float) -> float:
    return _OFFSET + 10.0 * math.log10(power)


def _windows(hops: NDArray[np.float64], count: int) -> NDArray[np.float64]:
    """Mean power in windows of ``count`` hops, one per hop."""
    if hops.size < count:
        return np.zeros(0)
    total = np.concatenate([[0.0], np.cumsum(hops)])
    means: NDArray[np.float64] = (total[count:] - total[:-count]) / count
    return means


def _gated(power: NDArray[np.float64], relative: float) -> NDArray[np.float64]:
    floor = 10.0 ** ((-70.0 - _OFFSET) / 10.0)
    loud = power[power > floor]
    if loud.size == 0:
        return np.zeros(0)
    gate = float(loud.mean()) * 10.0 ** (relative / 10.0)
    return np.asarray(loud[loud > gate], dtype=np.float64)


def _hops(x: Audio, rate: int) -> NDArray[np.float64]:
    """Weighted power of every 100 ms of x, (channels, n), summed over the channels."""
    hop = round(rate / 10)
    n = x.shape[1] // hop * hop
    weighted = scipy.signal.sosfilt(k_weight(rate), x, axis=1)[:, :n]
    hops: NDArray[np.float64] = np.square(weighted).sum(axis=0).reshape(-1, hop).mean(axis=1)
    return hops


def loudness_over(x: Audio, seconds: float) -> NDArray[np.float64]:
    """Loudness in LUFS of the last ``seconds`` before the end of every 100 ms of x, (channels, n).

    0.4 is momentary, 3 short-term loudness. NaN before so much has passed, and where it is silent.
    """
    hops = _hops(x, RATE)
    count = max(1, round(10.0 * seconds))
    means = _windows(hops, count)
    found = np.full(hops.size, np.nan)
    heard = means > SILENCE**2
    found[hops.size - means.size :][heard] = _OFFSET + 10.0 * np.log10(means[heard])
    return found


def loudness(x: Audio, rate: int = RATE) -> Loudness:
    """Loudness of x, (channels, n), one or two channels at ``rate`` Hz. A mono signal counts once."""
    if x.shape[1] < 4 * round(rate / 10) or float(np.abs(x).max(initial=0.0)) <= SILENCE:
        return Loudness(None, None, None, None)
    hops = _hops(x, rate)
    momentary, short = _windows(hops, 4), _windows(hops, 30)
    kept = _gated(momentary, -10.0)
    spread = _gated(short, -20.0)
    loud_range = None
    if spread.size:
        low, high = np.percentile(10.0 * np.log10(spread), [10.0, 95.0])
        loud_range = float(high - low)
    return Loudness(
        integrated=_lufs(float(kept.mean())) if kept.size else None,
        momentary=_lufs(float(momentary.max())) if momentary.max() > 0 else None,
        short_term=_lufs(float(short.max())) if short.size and short.max() > 0 else None,
        range=loud_range,
    )
