"""Four one-pole low-passes in a loop that saturates.

Zavalishin, The Art of VA Filter Design, chapter 5: the loop is solved without delay as if it were linear, and the input
of the first pole is then saturated by the soft edge. It is linear for small signals at a drive of 0 dB.
"""

from __future__ import annotations

from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..jit import F1, QUANTUM, inline, kernel, portion
from .blended_svf import bilinear
from .soft_edge import edge, level_back
from .svf import flush_denormals, prewarp


class LadderCurves(NamedTuple):
    """The controls of a ladder, each (n,).

    log_hz: log2 of the cutoff in Hz. loop: loop gain, below 4. lows: 0..1, compensation of the lows. drive: linear gain
    into the edge, after: output gain. mix: 0..1.
    """

    log_hz: F1
    loop: F1
    lows: F1
    drive: F1
    after: F1
    mix: F1


@inline
def ladder_step(x: Any, g: Any, k: Any, lows: Any, drive: Any, s1: Any, s2: Any, s3: Any, s4: Any) -> Any:
    """One sample: the output of the last pole, and the four states."""
    q = g / (1.0 + g)
    r = 1.0 - q
    held = r * (s4 + q * (s3 + q * (s2 + q * s1)))
    q2 = q * q
    u = (x * (1.0 + lows * k) - k * held) / (1.0 + k * q2 * q2)
    u = edge(u * drive) / drive
    y1 = q * u + r * s1
    y2 = q * y1 + r * s2
    y3 = q * y2 + r * s3
    y4 = q * y3 + r * s4
    return y4, 2.0 * y1 - s1, 2.0 * y2 - s2, 2.0 * y3 - s3, 2.0 * y4 - s4


@portion
def _ladder(x: Any, a: Any, b: Any, curves: Any, state: Any, prewarp_table: Any) -> None:
    log_hz, loop, lows, drive, after, mix = (
        curves.log_hz, curves.loop, curves.lows, curves.drive, curves.after, curves.mix,
    )  # fmt: skip
    for c in range(x.shape[0]):
        s1, s2, s3, s4 = state[c, 0], state[c, 1], state[c, 2], state[c, 3]
        for i in range(a, b):
            dry = x[c, i]
            g = prewarp(prewarp_table, log_hz[i])
            y, s1, s2, s3, s4 = ladder_step(dry, g, loop[i], lows[i], drive[i], s1, s2, s3, s4)
            x[c, i] = dry + mix[i] * (y * after[i] - dry)
        state[c, 0], state[c, 1], state[c, 2], state[c, 3] = (
            flush_denormals(s1),
            flush_denormals(s2),
            flush_denormals(s3),
            flush_denormals(s4),
        )


@kernel("void(f8[:,::1], i8, i8, LadderCurves, f8[:,::1], f8[::1])", LadderCurves)
def ladder(x: Any, a: Any, b: Any, curves: Any, state: Any, prewarp_table: Any) -> Any:
    """Filter x, (channels, n), in place, samples a..b. state: (channels, 4)."""
    for q in range(a // QUANTUM * QUANTUM, b, QUANTUM):
        _ladder(x, max(q, a), min(q + QUANTUM, b), curves, state, prewarp_table)


def loop_gain(resonance_db: NDArray[np.float64] | float) -> NDArray[np.float64]:
    """Loop gain that lifts the cutoff by ``resonance_db`` over no resonance. 4 would oscillate."""
    return np.asarray(4.0 * (1.0 - 10.0 ** (-np.asarray(resonance_db, dtype=np.float64) / 20.0)))


def ladder_gain(drive_db: NDArray[np.float64]) -> NDArray[np.float64]:
    """Output gain that keeps the level of a driven sine at -9 dBFS. 1 without drive."""
    return np.asarray(10.0 ** (drive_db / 20.0) * level_back(drive_db) / level_back(np.zeros(1))[0])


def ladder_response(cutoff: float, resonance_db: float, lows: float, hz: NDArray[np.float64]) -> NDArray[np.complex128]:
    """Small-signal response with constant controls and no drive, at frequencies in Hz. lows: 0..1."""
    k = float(loop_gain(resonance_db))
    return np.asarray((1.0 + lows * k) / ((1.0 + bilinear(hz, cutoff)) ** 4 + k))
