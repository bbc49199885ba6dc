"""A row of first-order all-passes with a delay-free feedback loop.

Zavalishin, The Art of VA Filter Design, chapter 10 (phasers).
"""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..jit import QUANTUM, inline, kernel, portion
from .blended_svf import bilinear
from .svf import flush_denormals, prewarp

MOST_PASSES = 12


@inline
def allpass_step(x: Any, g: Any, passes: Any, feedback: Any, state: Any, row: Any) -> Any:
    """One sample through the passes, whose states are a row of ``state``."""
    q = g / (1.0 + g)
    k = 2.0 * q - 1.0
    whole, held = 1.0, 0.0
    for j in range(passes):
        held = k * held + 2.0 * (1.0 - q) * state[row, j]
        whole *= k
    u = x + feedback * ((whole * x + held) / (1.0 - feedback * whole))
    for j in range(passes):
        low = q * u + (1.0 - q) * state[row, j]
        state[row, j] = 2.0 * low - state[row, j]
        u = 2.0 * low - u
    return u


@portion
def _allpass_row(
    x: Any, a: Any, b: Any, passes: Any, log_hz: Any, feedback: Any, mix: Any, state: Any, prewarp_table: Any
) -> None:
    for c in range(x.shape[0]):
        for i in range(a, b):
            dry = x[c, i]
            y = allpass_step(dry, prewarp(prewarp_table, log_hz[i]), passes, feedback[i], state, c)
            x[c, i] = dry + mix[i] * (y - dry)
        for j in range(passes):
            state[c, j] = flush_denormals(state[c, j])


@kernel("void(f8[:,::1], i8, i8, i8, f8[::1], f8[::1], f8[::1], f8[:,::1], f8[::1])")
def allpass_row(
    x: Any, a: Any, b: Any, passes: Any, log_hz: Any, feedback: Any, mix: Any, state: Any, prewarp_table: Any
) -> Any:
    """Apply the row to x, (channels, n), in place, samples a..b.

    log_hz: (n,) log2 of the corner in Hz. feedback: (n,) -1..1. mix: (n,) 0..1. state: (channels, MOST_PASSES).
    """
    for q in range(a // QUANTUM * QUANTUM, b, QUANTUM):
        _allpass_row(x, max(q, a), min(q + QUANTUM, b), passes, log_hz, feedback, mix, state, prewarp_table)


def allpass_response(passes: int, cutoff: float, feedback: float, hz: NDArray[np.float64]) -> NDArray[np.complex128]:
    """Response of the row alone, with constant controls, at frequencies in Hz."""
    s = bilinear(hz, cutoff)
    row = ((1.0 - s) / (1.0 + s)) ** passes
    return np.asarray(row / (1.0 - feedback * row))
