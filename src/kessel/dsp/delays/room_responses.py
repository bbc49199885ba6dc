"""Room responses from seeded noise: early reflections, and a tail whose bands have decay times of their own."""

from __future__ import annotations

from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from ..jit import RATE
from ..store import remembered

_EDGES = (20.0, 250.0, 1000.0, 4000.0, 12000.0)
ROOMS: dict[str, tuple[tuple[float, float, float, float], float, int, float, float]] = {
    "silo": ((2.6, 2.9, 1.7, 0.7), 22.0, 5, 0.5, 0.75),
    "stairwell": ((1.1, 1.6, 1.5, 0.8), 9.0, 9, 0.8, 0.9),
    "sheet": ((1.0, 1.8, 2.0, 1.6), 0.0, 0, 0.0, 1.0),
    "cistern": ((3.8, 3.2, 1.4, 0.45), 31.0, 4, 0.45, 0.8),
    "closet": ((0.22, 0.28, 0.24, 0.16), 2.0, 6, 1.0, 0.6),
    "culvert": ((0.9, 1.4, 0.8, 0.3), 14.0, 12, 0.9, 0.35),
}
"""For each room: decay times (60 dB, in seconds) below 250 Hz, to 1 kHz, to 4 kHz and above; ms to the first
reflection, number of early reflections, their level, and difference between the sides (0 to 1)."""


@remembered
def room_response(room: str, size: float, decay: float) -> NDArray[np.float64]:
    """A room's response, (2, n). size: 1 is nominal; decay: share of its nominal decay times."""
    times, first, count, level, apart = ROOMS[room]
    seconds = min(6.0, 1.1 * max(times) * decay)
    n = round(seconds * RATE)
    rng = np.random.default_rng(sum(room.encode()) * 7919)
    noise = rng.standard_normal((2, n))
    noise[1] = (1.0 - apart) * noise[0] + np.sqrt(1.0 - (1.0 - apart) ** 2) * noise[1]
    spectrum = np.fft.rfft(noise, axis=1)
    hz = np.fft.rfftfreq(n, 1.0 / RATE)
    t = np.arange(n) / RATE
    out = np.zeros((2, n))
    for (low, high), fall in zip(pairwise(_EDGES), times, strict=True):
        inside = np.sqrt(1.0 / ((1.0 + (low / np.maximum(hz, 1.0)) ** 8) * (1.0 + (hz / high) ** 8)))
        out += np.fft.irfft(spectrum * inside, n, axis=1) * 10.0 ** (-3.0 * t / (fall * decay))
    start = round(first * size * RATE / 1000.0)
    if start:
        out[:, start:] = out[:, :-start] * np.minimum(1.0, np.arange(n - start) / (0.004 * RATE))
        out[:, :start] = 0.0
    out /= np.sqrt(np.sum(out**2) / 2.0)
    for k in range(count):
        for side in range(2):
            at = start + round((k + rng.uniform(0.2, 1.0)) * 3.7 * size * RATE / 1000.0)
            if at < n:
                out[side, at] += level * rng.choice((-1.0, 1.0)) * 0.5 / np.sqrt(count) * 0.9**k
    return np.asarray(out / np.sqrt(np.sum(out**2) / 2.0))
