"""Levels over time and frequency.

A long window for the lows, where tones are close, and shorter ones above, where sounds change fast.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

RATE = 48000
SIZES = (8192, 4096, 2048)
FIRST_HZ, OCTAVES = 130.0, 2.0
"""Below this frequency only the longest window is used; this many octaves above it only the shortest."""
LOW_HZ, HIGH_HZ = 20.0, 20000.0


def _frames(x: NDArray[np.float64], size: int, count: int) -> NDArray[np.float64]:
    """Mean power of both channels in dB against a full-scale sine, (count, size // 2 + 1), in frames over a loop."""
    n = x.shape[1]
    window = np.hanning(size + 1)[:-1]
    middle = (np.arange(count) + 0.5) * n / count
    at = (np.round(middle).astype(np.int64)[:, None] - size // 2 + np.arange(size)) % n
    power = np.zeros((count, size // 2 + 1))
    for channel in x:
        power += np.abs(np.fft.rfft(channel[at] * window, axis=1)) ** 2
    scale = (0.5 * window.sum()) ** 2 * x.shape[0]
    return np.asarray(10.0 * np.log10(np.maximum(power / scale, 1e-12)))


def spectrogram(x: NDArray[np.float64], rows: int = 192, columns: int = 600) -> NDArray[np.float64]:
    """Levels in dB against a full-scale sine of a loop x, (channels, n).

    (rows, columns): rows from 20 Hz to 20 kHz, evenly spaced on a log axis, lowest first; columns evenly over the loop.
    """
    hz = LOW_HZ * (HIGH_HZ / LOW_HZ) ** (np.arange(rows) / (rows - 1))
    step = hz * (np.log(HIGH_HZ / LOW_HZ) / (rows - 1))
    # crossfade between window lengths over an octave, so that no border shows
    reach = np.clip(np.log2(hz / FIRST_HZ) / OCTAVES, 0.0, 1.0) * (len(SIZES) - 1)
    out = np.zeros((rows, columns))
    for n, size in enumerate(SIZES):
        share = np.clip(1.0 - np.abs(reach - n), 0.0, 1.0)
        levels = _frames(x, size, columns).T
        place = hz * size / RATE
        for row in np.flatnonzero(share):
            half = 0.5 * step[row] * size / RATE
            if half > 0.5:
                # a row that covers several bins shows the loudest
                found = levels[round(place[row] - half) : max(round(place[row] + half), round(place[row] - half) + 1)]
                out[row] += share[row] * found.max(axis=0)
            else:
                low = int(place[row])
                part = place[row] - low
                out[row] += share[row] * ((1.0 - part) * levels[low] + part * levels[low + 1])
    return out


def moment(x: NDArray[np.float64], at: float, hz: NDArray[np.float64]) -> NDArray[np.float64]:
    """Levels in dB at frequencies in Hz around one position, 0..1, of a loop x, (channels, n)."""
    n = x.shape[1]
    size = min(SIZES[0], n)
    window = np.hanning(size + 1)[:-1]
    here = (round(at * n) - size // 2 + np.arange(size)) % n
    power = sum(np.abs(np.fft.rfft(c[here] * window)) ** 2 for c in x) / ((0.5 * window.sum()) ** 2 * x.shape[0])
    bins = np.arange(size // 2 + 1) * RATE / size
    levels = 10.0 * np.log10(np.maximum(power, 1e-12))
    return np.asarray(np.interp(hz, bins, levels))
