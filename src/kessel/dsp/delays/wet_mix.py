"""Mixing of the wet sound of an effect, with its lows cut."""

from __future__ import annotations

from typing import Any

from ..filters.svf import BUTTERWORTH, fixed_coefficients, flush_denormals, prewarp, svf_step
from ..jit import QUANTUM, inline, kernel, portion

_K = BUTTERWORTH
STATE = 2


@inline
def _cut(x: Any, s1: Any, s2: Any, g: Any, p: Any) -> Any:
    v1 = p * (s1 + g * (x - s2))
    v2 = s2 + g * v1
    return x - _K * v1 - v2, 2.0 * v1 - s1, 2.0 * v2 - s2


@portion
def _meet(
    x: Any, wet: Any, a: Any, b: Any, mix: Any, beside: Any, low_cut: Any, state: Any, prewarp_table: Any
) -> None:
    log_hz, cut, steady = low_cut
    n = b - a
    left, right, one, two, share = x[0, a:b], x[1, a:b], wet[0, a:b], wet[1, a:b], mix[a:b]
    if not beside:
        for i in range(n):
            one[i] -= left[i]
            two[i] -= right[i]
    if cut:
        g = prewarp(prewarp_table, log_hz[0])
        p = 1.0 / (1.0 + g * (g + _K))
        a0, a1, b0, b1 = state[0, 0], state[0, 1], state[1, 0], state[1, 1]
        if steady:
            c = fixed_coefficients(g, _K, 1.0, -_K, -1.0)
            for i in range(n):
                one[i], a0, a1 = svf_step(c, one[i], a0, a1)
                two[i], b0, b1 = svf_step(c, two[i], b0, b1)
        else:
            for i in range(n):
                g = prewarp(prewarp_table, log_hz[i])
                p = 1.0 / (1.0 + g * (g + _K))
                one[i], a0, a1 = _cut(one[i], a0, a1, g, p)
                two[i], b0, b1 = _cut(two[i], b0, b1, g, p)
        state[0, 0], state[0, 1], state[1, 0], state[1, 1] = (
            flush_denormals(a0),
            flush_denormals(a1),
            flush_denormals(b0),
            flush_denormals(b1),
        )
    if beside:
        for i in range(n):
            dry, much = min(1.0, 2.0 - 2.0 * share[i]), min(1.0, 2.0 * share[i])
            left[i] = dry * left[i] + much * one[i]
            right[i] = dry * right[i] + much * two[i]
    else:
        for i in range(n):
            left[i] += share[i] * one[i]
            right[i] += share[i] * two[i]


@kernel("void(f8[:,::1], f8[:,::1], f8[::1], b1, f8[::1], b1, b1, f8[:,::1], f8[::1])")
def meet(
    x: Any, wet: Any, mix: Any, beside: bool, log_hz: Any, cut: bool, steady: bool, state: Any, prewarp_table: Any
) -> None:
    """Mix the wet sound, (2, n), into x, (2, n), in place. wet is overwritten.

    mix: (n,) 0..1. beside: the dry sound stays whole up to a half and fades above; otherwise what the effect changes is
    added. cut: the wet sound, or the change, is high-passed at log2 of a frequency in Hz, (n,), 12 dB per octave;
    steady: that is constant, and log_hz may be shorter. state: (2, STATE).
    """
    for q in range(0, x.shape[1], QUANTUM):
        _meet(x, wet, q, min(q + QUANTUM, x.shape[1]), mix, beside, (log_hz, cut, steady), state, prewarp_table)
