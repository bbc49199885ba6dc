"""Crossovers whose bands sum to an all-pass.

Linkwitz 1976: two Butterworth low-passes in series, and the rest of the all-pass that they form with their high-pass
twins. The all-pass comes out of the first filter, so that a split costs two filters. Bands below later splits pass the
all-passes of those, so that the phases of all bands match.
"""

from __future__ import annotations

import math
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..jit import QUANTUM, RATE, inline, kernel, portion
from .svf import BUTTERWORTH, fixed_coefficients, flush_denormals, prewarp, svf_step

_K = BUTTERWORTH
STATE = 4


def rest(splits: int) -> NDArray[np.float64]:
    """The initial state of a crossover: a row for every pass, (passes, 2, STATE)."""
    return np.zeros((splits + splits * (splits - 1) // 2, 2, STATE))


@inline
def _turn(x: Any, s1: Any, s2: Any, g: Any, p: Any) -> Any:
    """One step of the filter: band, low, and the two states."""
    v1 = p * (s1 + g * (x - s2))
    v2 = s2 + g * v1
    return v1, v2, 2.0 * v1 - s1, 2.0 * v2 - s2


@portion
def _split(
    x: Any, low: Any, high: Any, a: Any, b: Any, log_hz: Any, steady: Any, state: Any, prewarp_table: Any
) -> None:
    n = b - a
    a0, a1, a2, a3 = state[0, 0], state[0, 1], state[0, 2], state[0, 3]
    b0, b1, b2, b3 = state[1, 0], state[1, 1], state[1, 2], state[1, 3]
    g = prewarp(prewarp_table, log_hz[0])
    p = 1.0 / (1.0 + g * (g + _K))
    left, right, where = x[0, a:b], x[1, a:b], log_hz[:n]
    low_l, low_r, high_l, high_r = low[0, a:b], low[1, a:b], high[0, a:b], high[1, a:b]
    if steady:
        # both outputs and both states are weighted sums of input and states: two additions per sample in sequence
        c = fixed_coefficients(g, _K, 0.0, 0.0, 1.0)
        d = fixed_coefficients(g, _K, 1.0, -2.0 * _K, 0.0)
        q, one, two = c
        t = d[0]
        for i in range(n):
            v, w = left[i], right[i]
            under, whole = q[0] * v + (q[1] * a0 + q[2] * a1), t[0] * v + (t[1] * a0 + t[2] * a1)
            a0, a1 = one[0] * v + (one[1] * a0 + one[2] * a1), two[0] * v + (two[1] * a0 + two[2] * a1)
            deep = q[0] * under + (q[1] * a2 + q[2] * a3)
            a2, a3 = one[0] * under + (one[1] * a2 + one[2] * a3), two[0] * under + (two[1] * a2 + two[2] * a3)
            low_l[i], high_l[i] = deep, whole - deep
            under, whole = q[0] * w + (q[1] * b0 + q[2] * b1), t[0] * w + (t[1] * b0 + t[2] * b1)
            b0, b1 = one[0] * w + (one[1] * b0 + one[2] * b1), two[0] * w + (two[1] * b0 + two[2] * b1)
            deep = q[0] * under + (q[1] * b2 + q[2] * b3)
            b2, b3 = one[0] * under + (one[1] * b2 + one[2] * b3), two[0] * under + (two[1] * b2 + two[2] * b3)
            low_r[i], high_r[i] = deep, whole - deep
    else:
        for i in range(n):
            g = prewarp(prewarp_table, where[i])
            p = 1.0 / (1.0 + g * (g + _K))
            v, w = left[i], right[i]
            band, under, a0, a1 = _turn(v, a0, a1, g, p)
            _, deep, a2, a3 = _turn(under, a2, a3, g, p)
            low_l[i] = deep
            high_l[i] = (v - 2.0 * _K * band) - deep
            band, under, b0, b1 = _turn(w, b0, b1, g, p)
            _, deep, b2, b3 = _turn(under, b2, b3, g, p)
            low_r[i] = deep
            high_r[i] = (w - 2.0 * _K * band) - deep
    state[0, 0], state[0, 1], state[0, 2], state[0, 3] = (
        flush_denormals(a0),
        flush_denormals(a1),
        flush_denormals(a2),
        flush_denormals(a3),
    )
    state[1, 0], state[1, 1], state[1, 2], state[1, 3] = (
        flush_denormals(b0),
        flush_denormals(b1),
        flush_denormals(b2),
        flush_denormals(b3),
    )


@kernel("void(f8[:,::1], f8[:,::1], f8[:,::1], f8[::1], b1, f8[:,::1], f8[::1])")
def split(x: Any, low: Any, high: Any, log_hz: Any, steady: Any, state: Any, prewarp_table: Any) -> None:
    """Split x, (2, n), into low and high, (2, n), at log2 of a frequency in Hz, (n,). low may be x itself.

    steady: the frequency is constant; then log_hz may be shorter. state: (2, STATE).
    """
    for q in range(0, x.shape[1], QUANTUM):
        _split(x, low, high, q, min(q + QUANTUM, x.shape[1]), log_hz, steady, state, prewarp_table)


@portion
def _turn_along(x: Any, a: Any, b: Any, log_hz: Any, steady: Any, state: Any, prewarp_table: Any) -> None:
    n = b - a
    a0, a1, b0, b1 = state[0, 0], state[0, 1], state[1, 0], state[1, 1]
    g = prewarp(prewarp_table, log_hz[0])
    p = 1.0 / (1.0 + g * (g + _K))
    left, right, where = x[0, a:b], x[1, a:b], log_hz[:n]
    if steady:
        c = fixed_coefficients(g, _K, 1.0, -2.0 * _K, 0.0)
        for i in range(n):
            left[i], a0, a1 = svf_step(c, left[i], a0, a1)
            right[i], b0, b1 = svf_step(c, right[i], b0, b1)
        state[0, 0], state[0, 1], state[1, 0], state[1, 1] = (
            flush_denormals(a0),
            flush_denormals(a1),
            flush_denormals(b0),
            flush_denormals(b1),
        )
        return
    for i in range(n):
        g = prewarp(prewarp_table, where[i])
        p = 1.0 / (1.0 + g * (g + _K))
        band, _, a0, a1 = _turn(left[i], a0, a1, g, p)
        left[i] -= 2.0 * _K * band
        band, _, b0, b1 = _turn(right[i], b0, b1, g, p)
        right[i] -= 2.0 * _K * band
    state[0, 0], state[0, 1], state[1, 0], state[1, 1] = (
        flush_denormals(a0),
        flush_denormals(a1),
        flush_denormals(b0),
        flush_denormals(b1),
    )


@kernel("void(f8[:,::1], f8[::1], b1, f8[:,::1], f8[::1])")
def turn_along(x: Any, log_hz: Any, steady: Any, state: Any, prewarp_table: Any) -> None:
    """Apply the all-pass of a split to x, (2, n), in place. log_hz, steady: as in ``split``. state: (2, STATE)."""
    for q in range(0, x.shape[1], QUANTUM):
        _turn_along(x, q, min(q + QUANTUM, x.shape[1]), log_hz, steady, state, prewarp_table)


def crossover(
    x: NDArray[np.float64],
    bands: NDArray[np.float64],
    log_hz: list[NDArray[np.float64]],
    steady: bool,
    state: NDArray[np.float64],
    prewarp_table: NDArray[np.float64],
) -> None:
    """Split x, (2, n), into bands, (splits + 1, 2, n), lowest first.

    log_hz: log2 of each split's frequency in Hz, (n,), rising. state: from ``rest``.
    """
    last = len(log_hz)
    for s, edge in enumerate(log_hz):
        # split the upper remainder again, in place
        split(x if s == 0 else bands[s], bands[s], bands[s + 1], edge, steady, state[s], prewarp_table)
    row = last
    for s in range(last):
        for t in range(s + 1, last):
            turn_along(bands[s], log_hz[t], steady, state[row], prewarp_table)
            row += 1


def response(hz: NDArray[np.float64], splits: list[float]) -> NDArray[np.complex128]:
    """Response of every band, lowest first, at frequencies in Hz: (splits + 1, n)."""
    rest_of: NDArray[np.complex128] = np.ones(hz.shape, dtype=np.complex128)
    found: list[NDArray[np.complex128]] = []
    for at in splits:
        s = 1j * np.tan(np.pi * hz / RATE) / math.tan(math.pi * at / RATE)
        under = 1.0 / (s * s + _K * s + 1.0)
        whole = (s * s - _K * s + 1.0) * under
        found = [f * whole for f in found]
        found.append(rest_of * under * under)
        rest_of = rest_of * (whole - under * under)
    return np.array([*found, rest_of])
