"""The pitch of a recording.

de Cheveigné and Kawahara 2002 (normalised difference function), refined over as many periods as stay alike.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

RATE = 48000
LOWEST_HZ, HIGHEST_HZ = 20.0, 2000.0
_ALIKE = 0.15

_Real = NDArray[np.float64]


def _difference(x: _Real, most: int) -> _Real:
    """Normalised mean square difference of x to itself at lags 0..most."""
    n = x.size - most
    size = 1 << (x.size + n).bit_length()
    head = np.fft.rfft(x[:n], size)
    product = np.fft.irfft(np.fft.rfft(x, size) * np.conj(head), size)[: most + 1]
    power = np.concatenate([[0.0], np.cumsum(x * x)])
    energy = power[n : n + most + 1] - power[: most + 1]
    d = np.maximum(energy[0] + energy - 2.0 * product, 0.0)
    mean = np.cumsum(d[1:]) / np.arange(1, most + 1)
    return np.concatenate([[1.0], d[1:] / np.maximum(mean, 1e-30)])


def _dip(d: _Real, at: int) -> float:
    """The position of a minimum between samples, by a parabola."""
    if at <= 0 or at >= d.size - 1:
        return float(at)
    a, b, c = d[at - 1], d[at], d[at + 1]
    under = a - 2.0 * b + c
    return at + (0.5 * (a - c) / under if under > 0 else 0.0)


def detect_pitch(x: _Real) -> float | None:
    """Pitch in Hz of x, (n,) or (channels, n) at 48 kHz, at its loudest. None if it has none."""
    mono = x if x.ndim == 1 else x.mean(axis=0)
    longest = round(RATE / LOWEST_HZ)
    if mono.size < 256:
        return None
    size = min(mono.size, 4 * longest)
    hop = max(1, size // 4)
    power = [float(np.sum(mono[i : i + size] ** 2)) for i in range(0, mono.size - size + 1, hop)]
    start = hop * int(np.argmax(power))
    part = mono[start : start + size] - mono[start : start + size].mean()
    if float(np.max(np.abs(part), initial=0.0)) < 1e-5:
        return None
    d = _difference(part, size // 2)
    shortest = round(RATE / HIGHEST_HZ)
    under = np.flatnonzero(d[shortest:] < _ALIKE)
    if under.size == 0:
        return None
    at = shortest + int(under[0])
    while at + 1 < d.size and d[at + 1] < d[at]:
        at += 1
    if at > longest:
        return None
    period = _dip(d, at)
    # the same minimum many periods later gives the period more finely
    times = 2
    while round(period * times) + 2 < d.size:
        near = round(period * times)
        low = max(1, near - 2)
        best = low + int(np.argmin(d[low : near + 3]))
        if d[best] > _ALIKE or abs(best - near) > 1.5:
            break
        period = _dip(d, best) / times
        times += 1
    return RATE / period
