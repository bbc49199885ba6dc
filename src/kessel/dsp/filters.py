"""State-variable filters, topology-preserving (trapezoidal).

Zavalishin, The Art of VA Filter Design; Simper's notes on the trapezoidal state-variable filter, whose mixing
coefficients the EQ bands use. The tangent comes from a table over log2 of the cutoff.
"""

from __future__ import annotations

import math
from typing import Any

import numpy as np
from numpy.typing import NDArray

from .jit import RATE, inline, kernel

LOWPASS, HIGHPASS, BANDPASS, NOTCH = 0, 1, 2, 3
BUTTERWORTH = math.sqrt(2.0)
FOURTH_1 = 2.0 * math.cos(math.pi / 8.0)
FOURTH_2 = 2.0 * math.cos(3.0 * math.pi / 8.0)

LOG_LOW = math.log2(8.0)
LOG_HIGH = math.log2(0.49 * RATE)
_POINTS = 8192
_PER = (_POINTS - 1) / (LOG_HIGH - LOG_LOW)
TANGENTS = np.tan(np.pi * 2.0 ** np.linspace(LOG_LOW, LOG_HIGH, _POINTS) / RATE)
TANGENTS = np.append(TANGENTS, TANGENTS[-1])


@inline
def _tangent(table: Any, log_hz: Any) -> Any:
    x = (min(max(log_hz, LOG_LOW), LOG_HIGH) - LOG_LOW) * _PER
    i = int(x)
    return table[i] + (x - i) * (table[i + 1] - table[i])


@inline
def _svf(x: Any, s: Any, g: Any, k: Any, a1: Any, kind: Any) -> Any:
    v3 = x - s[1]
    v1 = a1 * (s[0] + g * v3)
    v2 = s[1] + g * v1
    s[0] = 2.0 * v1 - s[0]
    s[1] = 2.0 * v2 - s[1]
    if kind == 0:
        return v2
    if kind == 1:
        return x - k * v1 - v2
    if kind == 2:
        return k * v1
    return x - k * v1


@kernel("void(f8[:,::1], i8, i8, i8, b1, f8[::1], f8[::1], f8[::1], f8[::1], b1, f8[:,::1], f8[::1])")
def filter_svf(
    x: Any,
    a: Any,
    b: Any,
    kind: Any,
    double: Any,
    log_hz: Any,
    k1: Any,
    k2: Any,
    mix: Any,
    steady: Any,
    state: Any,
    tangents: Any,
) -> Any:
    """Filter x, (channels, n), in place, samples a..b; 12 dB per octave, or 24 with ``double``.

    log_hz: (n,) log2 of the cutoff in Hz. k1, k2: (n,) damping (1/Q) of the first and second section.
    mix: (n,) share of the filtered sound, 0..1. steady: the four do not change over a..b. state: (channels, 4).
    """
    if b <= a:
        return
    g = _tangent(tangents, log_hz[a])
    p = 1.0 / (1.0 + g * (g + k1[a]))
    q = 1.0 / (1.0 + g * (g + k2[a]))
    for c in range(x.shape[0]):
        s1 = state[c, 0:2]
        s2 = state[c, 2:4]
        for i in range(a, b):
            if not steady:
                g = _tangent(tangents, log_hz[i])
                p = 1.0 / (1.0 + g * (g + k1[i]))
            y = _svf(x[c, i], s1, g, k1[i], p, kind)
            if double:
                if not steady:
                    q = 1.0 / (1.0 + g * (g + k2[i]))
                y = _svf(y, s2, g, k2[i], q, kind)
            x[c, i] = y if mix[i] == 1.0 else x[c, i] + mix[i] * (y - x[c, i])
        for j in range(4):
            if abs(state[c, j]) < 1e-30:
                state[c, j] = 0.0


@kernel("void(f8[:,::1], i8, i8, f8[::1], f8[::1], f8[:,::1])")
def filter_mixed(x: Any, a: Any, b: Any, old: Any, new: Any, state: Any) -> Any:
    """One EQ band in place; its coefficients (g, k, m0, m1, m2) go in a straight line from old to new.

    x: (channels, n), samples a..b. state: (channels, 2).
    """
    n = b - a
    if n <= 0:
        return
    moving = False
    for j in range(5):
        if old[j] != new[j]:
            moving = True
    for c in range(x.shape[0]):
        s1, s2 = state[c, 0], state[c, 1]
        g, k, m0, m1, m2 = new[0], new[1], new[2], new[3], new[4]
        a1 = 1.0 / (1.0 + g * (g + k))
        for i in range(a, b):
            if moving:
                t = (i - a + 1) / n
                g = old[0] + t * (new[0] - old[0])
                k = old[1] + t * (new[1] - old[1])
                m0 = old[2] + t * (new[2] - old[2])
                m1 = old[3] + t * (new[3] - old[3])
                m2 = old[4] + t * (new[4] - old[4])
                a1 = 1.0 / (1.0 + g * (g + k))
            v = x[c, i]
            v3 = v - s2
            v1 = a1 * (s1 + g * v3)
            v2 = s2 + g * v1
            s1 = 2.0 * v1 - s1
            s2 = 2.0 * v2 - s2
            x[c, i] = m0 * v + m1 * v1 + m2 * v2
        state[c, 0] = s1 if abs(s1) > 1e-30 else 0.0
        state[c, 1] = s2 if abs(s2) > 1e-30 else 0.0


def damping(resonance_db: NDArray[np.float64] | float) -> NDArray[np.float64]:
    """1/Q of a section whose rise at the cutoff over a flat corner is ``resonance_db``."""
    return np.asarray(BUTTERWORTH * 10.0 ** (-np.asarray(resonance_db, dtype=np.float64) / 20.0))


def band_coefficients(kind: str, hz: float, gain_db: float, q: float) -> NDArray[np.float64]:
    """(g, k, m0, m1, m2) of an EQ band: bell, low-shelf, high-shelf, low-cut, high-cut or notch."""
    g = math.tan(math.pi * min(hz, 0.49 * RATE) / RATE)
    lift = 10.0 ** (gain_db / 40.0)
    k = 1.0 / q
    if kind == "bell":
        k = 1.0 / (q * lift)
        return np.array([g, k, 1.0, k * (lift * lift - 1.0), 0.0])
    if kind == "low-shelf":
        return np.array([g / math.sqrt(lift), k, 1.0, k * (lift - 1.0), lift * lift - 1.0])
    if kind == "high-shelf":
        return np.array([g * math.sqrt(lift), k, lift * lift, k * (1.0 - lift) * lift, 1.0 - lift * lift])
    if kind == "low-cut":
        return np.array([g, k, 1.0, -k, -1.0])
    if kind == "high-cut":
        return np.array([g, k, 0.0, 0.0, 1.0])
    return np.array([g, k, 1.0, -k, 0.0])


def svf_response(
    kind: int, double: bool, cutoff: float, resonance_db: float, hz: NDArray[np.float64]
) -> NDArray[np.complex128]:
    """Response of ``filter_svf`` at rest, at frequencies in Hz: the analytic curve under the bilinear transform."""
    s = 1j * np.tan(np.pi * hz / RATE) / math.tan(math.pi * cutoff / RATE)
    k = float(damping(resonance_db))
    pair = (FOURTH_1, k * FOURTH_2 / BUTTERWORTH) if double and kind in (LOWPASS, HIGHPASS) else (k, k)
    out = np.ones(hz.shape, dtype=np.complex128)
    for section in pair if double else (k,):
        above = {LOWPASS: 1.0 + 0.0 * s, HIGHPASS: s * s, BANDPASS: section * s, NOTCH: s * s + 1.0}[kind]
        out = out * above / (s * s + section * s + 1.0)
    return out


def band_response(coefficients: NDArray[np.float64], hz: NDArray[np.float64]) -> NDArray[np.complex128]:
    """Response of an EQ band from its (g, k, m0, m1, m2), at frequencies in Hz."""
    g, k, m0, m1, m2 = coefficients
    s = 1j * np.tan(np.pi * hz / RATE) / g
    return np.asarray(m0 + (m1 * s + m2) / (s * s + k * s + 1.0))
