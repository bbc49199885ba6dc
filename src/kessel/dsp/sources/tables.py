"""Band-limited single cycles at third-octave steps.

Row ``r`` of a shape has the partials that stay below the audible limit for fundamentals up to a third octave above the
row's lowest. Within a row, the highest partial may exceed half the sample rate by so little that its alias stays above
16 kHz.
"""

from __future__ import annotations

from functools import cache

import numpy as np
from numpy.typing import NDArray

POINTS = 8192
LOWEST_HZ = 16.0
STEPS_PER_OCTAVE = 3
ROWS = 32
KEPT_HZ = 20000.0

SINE_ROW = 0
SAW_ROW = 1
TRIANGLE_ROW = 1 + ROWS


def _cycle(levels: NDArray[np.float64]) -> NDArray[np.float64]:
    """One cycle of POINTS samples from sine partial levels (partial k at index k)."""
    spectrum = np.zeros(POINTS // 2 + 1, dtype=np.complex128)
    spectrum[: levels.size] = -0.5j * POINTS * levels
    return np.fft.irfft(spectrum, POINTS)


def partials_kept(row: int) -> int:
    """Number of partials in a third-octave row."""
    lowest = LOWEST_HZ * 2.0 ** (row / STEPS_PER_OCTAVE)
    return max(1, min(int(KEPT_HZ / lowest), POINTS // 8))


@cache
def tables() -> NDArray[np.float64]:
    """All cycles, shape (1 + 2 * ROWS, POINTS + 3): each with one sample before and two after for interpolation.

    Row 0 is a sine, then ROWS falling saws, then ROWS triangles; every shape has its fundamental in sine phase.
    A saw and a triangle span -1..1 before band limiting.
    """
    rows = [_cycle(np.array([0.0, 1.0]))]
    for r in range(ROWS):
        k = np.arange(1, partials_kept(r) + 1)
        rows.append(_cycle(np.concatenate([[0.0], 2.0 / (np.pi * k)])))
    for r in range(ROWS):
        k = np.arange(1, partials_kept(r) + 1)
        odd = np.where(k % 2 == 1, 8.0 / np.pi**2 / k**2 * np.where(k % 4 == 1, 1.0, -1.0), 0.0)
        rows.append(_cycle(np.concatenate([[0.0], odd])))
    cycles = np.stack(rows)
    made = np.ascontiguousarray(np.concatenate([cycles[:, -1:], cycles, cycles[:, :2]], axis=1))
    return made
