"""Mono compatibility: mono loss, correlation."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from .levels import RATE, Audio, decibels


def mono_loss(x: Audio) -> float | None:
    """10 log10 of the power of (L+R)/2 over the mean power of L and R; x: (2, n). None if it cancels completely."""
    both = float(np.mean(x * x))
    if decibels(both) is None:
        return None
    mid = float(np.mean(np.square(0.5 * (x[0] + x[1]))))
    left = mid / both
    return 10.0 * math.log10(left) if left > 1e-12 else None


def correlation(x: Audio) -> float | None:
    """<L,R> / sqrt(<L,L><R,R>) of x, (2, n). None if a channel is silent."""
    ll, rr, lr = float(x[0] @ x[0]), float(x[1] @ x[1]), float(x[0] @ x[1])
    if decibels(ll / x.shape[1]) is None or decibels(rr / x.shape[1]) is None:
        return None
    return max(-1.0, min(1.0, lr / math.sqrt(ll * rr)))


def correlation_frames(x: Audio, keep: bool = False, rate: int = RATE) -> NDArray[np.float64]:
    """Correlation in frames of 50 ms of x, (2, n), without frames in which a channel is silent.

    With ``keep``, those are NaN.
    """
    size = round(rate / 20)
    count = x.shape[1] // size
    frames = x[:, : count * size].reshape(2, count, size)
    ll, rr = (np.square(frames[c]).sum(axis=1) for c in (0, 1))
    lr = (frames[0] * frames[1]).sum(axis=1)
    loud = (ll > 1e-10) & (rr > 1e-10)
    if keep:
        out = np.full(count, np.nan)
        out[loud] = lr[loud] / np.sqrt(ll[loud] * rr[loud])
        return out
    return np.asarray(lr[loud] / np.sqrt(ll[loud] * rr[loud]))


def scope_density(x: Audio, size: int = 61) -> NDArray[np.float64]:
    """How often x, (2, n), is at each value of side (columns, left first) and middle (rows, highest first).

    (size, size), 0..1 on a log scale; the axes at 45 degrees are scaled to the largest sample.
    """
    peak = float(np.abs(x).max(initial=0.0))
    if peak <= 1e-9:
        return np.zeros((size, size))
    mid, side = 0.5 * (x[0] + x[1]) / peak, 0.5 * (x[1] - x[0]) / peak
    found, _, _ = np.histogram2d(-mid, side, bins=size, range=[[-1.0, 1.0], [-1.0, 1.0]])
    return np.asarray(np.log1p(found) / np.log1p(max(found.max(), 1.0)))
