"""Formants: three parallel band-passes, steered on a chart of mouth opening and tongue position.

Formant frequencies and levels: averages of ten vowels spoken by men, women and children, in Peterson and Barney 1952,
Control methods used in a study of the vowels, table II. Between the vowels on the chart, the formants are interpolated
in octaves (weighted by distance).
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..jit import QUANTUM, inline, kernel, portion
from .blended_svf import bilinear
from .svf import flush_denormals, prewarp

FORMANTS = 3
SPEAKERS = ("deep", "middle", "bright")
WIDTHS_HZ = np.array([70.0, 100.0, 150.0])
"""Bandwidths of the formants at 100 % sharpness."""


@dataclass(frozen=True)
class VowelFormants:
    """One vowel: an example word, its position on the chart (opening and tongue, 0..1), its formants in Hz for each
    speaker and their levels in dB.
    """

    word: str
    opening: float
    tongue: float
    hz: tuple[tuple[float, float, float], ...]
    db: tuple[float, float, float]


VOWELS = (
    VowelFormants("see", 0.0, 0.0, ((270, 2290, 3010), (310, 2790, 3310), (370, 3200, 3730)), (-4, -24, -28)),
    VowelFormants("sit", 0.22, 0.14, ((390, 1990, 2550), (430, 2480, 3070), (530, 2730, 3600)), (-3, -23, -27)),
    VowelFormants("set", 0.52, 0.18, ((530, 1840, 2480), (610, 2330, 2990), (690, 2610, 3570)), (-2, -17, -24)),
    VowelFormants("sat", 0.86, 0.24, ((660, 1720, 2410), (860, 2050, 2850), (1010, 2320, 3320)), (-1, -12, -22)),
    VowelFormants("calm", 1.0, 0.86, ((730, 1090, 2440), (850, 1220, 2810), (1030, 1370, 3170)), (-1, -5, -28)),
    VowelFormants("saw", 0.62, 1.0, ((570, 840, 2410), (590, 920, 2710), (680, 1060, 3180)), (0, -7, -34)),
    VowelFormants("good", 0.24, 0.82, ((440, 1020, 2240), (470, 1160, 2680), (560, 1410, 3310)), (-1, -12, -34)),
    VowelFormants("soon", 0.0, 1.0, ((300, 870, 2240), (370, 950, 2670), (430, 1170, 3260)), (-3, -19, -43)),
    VowelFormants("sun", 0.72, 0.62, ((640, 1190, 2390), (760, 1400, 2780), (850, 1590, 3360)), (-1, -10, -27)),
    VowelFormants("bird", 0.4, 0.5, ((490, 1350, 1690), (500, 1640, 1960), (560, 1820, 2160)), (-5, -15, -20)),
)
_GRID = 49


@cache
def chart(speaker: str) -> NDArray[np.float64]:
    """Log2 of the formants in Hz and their levels in dB over the chart, (grid, grid, 6): by opening, by tongue."""
    who = SPEAKERS.index(speaker)
    place = np.array([(v.opening, v.tongue) for v in VOWELS])
    known = np.array([[*np.log2(v.hz[who]), *v.db] for v in VOWELS], dtype=np.float64)
    axis = np.linspace(0.0, 1.0, _GRID)
    at = np.stack(np.meshgrid(axis, axis, indexing="ij"), axis=-1)
    away = np.sum((at[:, :, None, :] - place) ** 2, axis=-1)
    weight = 1.0 / (away + 1e-4) ** 1.5
    return np.asarray((weight[..., None] * known).sum(axis=2) / weight.sum(axis=2)[..., None])


def formants(
    speaker: str, opening: NDArray[np.float64], tongue: NDArray[np.float64]
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Log2 of the formants in Hz and their levels in dB, each (3, n), at positions 0..1 of the chart, (n,)."""
    table = chart(speaker)
    y, x = np.clip(opening, 0, 1) * (_GRID - 1), np.clip(tongue, 0, 1) * (_GRID - 1)
    i, j = np.minimum(y.astype(int), _GRID - 2), np.minimum(x.astype(int), _GRID - 2)
    v, u = (y - i)[:, None], (x - j)[:, None]
    found = (1 - v) * ((1 - u) * table[i, j] + u * table[i, j + 1]) + v * (
        (1 - u) * table[i + 1, j] + u * table[i + 1, j + 1]
    )
    return np.ascontiguousarray(found[:, :3].T), np.ascontiguousarray(found[:, 3:].T)


def bands(
    speaker: str,
    opening: NDArray[np.float64],
    tongue: NDArray[np.float64],
    size: NDArray[np.float64],
    sharpness: NDArray[np.float64],
    spread: NDArray[np.float64],
    follow: NDArray[np.float64] | float = 0.0,
) -> tuple[NDArray[np.float64], NDArray[np.float64], NDArray[np.float64]]:
    """Log2 Hz, damping and linear level of the three band-passes, each (3, n).

    opening, tongue: 0..1. size: of the voice, 1 is as measured. sharpness: 1 is as measured. spread: 1 is as measured,
    0 puts all formants on one. follow: octaves added to all.
    """
    log_hz, db = formants(speaker, opening, tongue)
    middle = log_hz.mean(axis=0)
    log_hz = middle + spread * (log_hz - middle)
    wide = WIDTHS_HZ[:, None] / np.exp2(log_hz) / sharpness
    log_hz = np.clip(log_hz - np.log2(size) + follow, np.log2(20.0), np.log2(20000.0))
    return np.ascontiguousarray(log_hz), np.ascontiguousarray(wide), np.ascontiguousarray(10.0 ** (db / 20.0))


@inline
def formant_step(x: Any, g: Any, k: Any, state: Any, row: Any, j: Any) -> Any:
    """One sample through formant j, whose states are in a row of ``state``."""
    s1, s2 = state[row, 2 * j], state[row, 2 * j + 1]
    v1 = (s1 + g * (x - s2)) / (1.0 + g * (g + k))
    v2 = s2 + g * v1
    state[row, 2 * j] = 2.0 * v1 - s1
    state[row, 2 * j + 1] = 2.0 * v2 - s2
    return k * v1


@portion
def _vowel(
    x: Any, a: Any, b: Any, log_hz: Any, damping: Any, level: Any, after: Any, mix: Any, state: Any, prewarp_table: Any
) -> None:
    for c in range(x.shape[0]):
        for i in range(a, b):
            dry = x[c, i]
            y, turn = 0.0, after[i]
            for j in range(FORMANTS):
                g = prewarp(prewarp_table, log_hz[j, i])
                y += turn * level[j, i] * formant_step(dry, g, damping[j, i], state, c, j)
                turn = -turn
            x[c, i] = dry + mix[i] * (y - dry)
        for j in range(2 * FORMANTS):
            state[c, j] = flush_denormals(state[c, j])


@kernel("void(f8[:,::1], i8, i8, f8[:,::1], f8[:,::1], f8[:,::1], f8[::1], f8[::1], f8[:,::1], f8[::1])")
def vowel(
    x: Any, a: Any, b: Any, log_hz: Any, damping: Any, level: Any, after: Any, mix: Any, state: Any, prewarp_table: Any
) -> Any:
    """Apply the formants to x, (channels, n), in place, samples a..b.

    log_hz, damping, level: (FORMANTS, n). after: (n,) gain. mix: (n,) 0..1. state: (channels, 2 FORMANTS). Neighbours
    are summed with opposite polarity, which avoids a notch between them.
    """
    for q in range(a // QUANTUM * QUANTUM, b, QUANTUM):
        _vowel(x, max(q, a), min(q + QUANTUM, b), log_hz, damping, level, after, mix, state, prewarp_table)


def vowel_response(
    log_hz: NDArray[np.float64], damping: NDArray[np.float64], level: NDArray[np.float64], hz: NDArray[np.float64]
) -> NDArray[np.complex128]:
    """Response of the formants alone, at frequencies in Hz. log_hz, damping, level: (FORMANTS,)."""
    out = np.zeros(hz.shape, dtype=np.complex128)
    for j in range(FORMANTS):
        s = bilinear(hz, 2.0 ** log_hz[j])
        out += (-1.0) ** j * level[j] * damping[j] * s / (s * s + damping[j] * s + 1.0)
    return out
