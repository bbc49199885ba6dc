"""A feedback comb filter with a fractional delay and a low-pass in its loop.

The delay is read by a windowed sinc (Laakso, Välimäki and others 1996, Splitting the unit delay), so that the ring
keeps its level up to 0.4 of the rate.
"""

from __future__ import annotations

from functools import cache
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..jit import F1, QUANTUM, RATE, inline, kernel, portion
from .blended_svf import bilinear

TAPS = 24
PHASES = 512
LINE = 4096
SHORTEST = float(TAPS // 2)
LONGEST = float(LINE - TAPS - 2)
BOUND = 16.0
"""Largest sample in the feedback loop: 24 dB above full scale."""


@cache
def sincs() -> NDArray[np.float64]:
    """Weights of TAPS samples around a position between two samples, for PHASES positions and the next whole one."""
    place = np.arange(PHASES + 1) / PHASES
    t = np.arange(TAPS) - TAPS // 2 + 1
    d = t[None, :] - place[:, None]
    window = np.i0(8.6 * np.sqrt(np.maximum(0.0, 1.0 - (d / (TAPS / 2)) ** 2))) / np.i0(8.6)
    h = np.sinc(d) * window
    return np.asarray(h / h.sum(axis=1, keepdims=True))


class CombCurves(NamedTuple):
    """The controls of a comb, each (n,).

    delay: samples, SHORTEST to LONGEST. feedback: -1..1. dull: g/(1+g) of a one-pole low-pass in the loop, 1 is off.
    after: gain. mix: 0..1.
    """

    delay: F1
    feedback: F1
    dull: F1
    after: F1
    mix: F1


@inline
def comb_step(x: Any, delay: Any, feedback: Any, dull: Any, line: Any, row: Any, p: Any, s: Any, table: Any) -> Any:
    """One sample, written to a row of the delay lines at p. Returns it and the state of the low-pass."""
    whole = int(delay)
    part = (delay - whole) * PHASES
    n = int(part)
    part -= n
    # weight t belongs to index p - whole - t
    echo = 0.0
    q = p - whole - (TAPS // 2)
    for t in range(TAPS):
        j = TAPS - 1 - t
        w = table[n, j] + part * (table[n + 1, j] - table[n, j])
        echo += w * line[row, (q + t) & (LINE - 1)]
    held = s
    if dull < 1.0:
        v = (echo - s) * dull
        echo = v + s
        held = echo + v
    y = min(max(x + feedback * echo, -BOUND), BOUND)
    y = 0.0 if abs(y) < 1e-30 else y
    line[row, p & (LINE - 1)] = y
    return y, held


@portion
def _comb(x: Any, a: Any, b: Any, curves: Any, line: Any, mem: Any, at: Any, table: Any) -> None:
    delay, feedback, dull, after, mix = curves.delay, curves.feedback, curves.dull, curves.after, curves.mix
    for c in range(x.shape[0]):
        s = mem[c, 0]
        p = at
        for i in range(a, b):
            y, s = comb_step(x[c, i], delay[i], feedback[i], dull[i], line, c, p, s, table)
            p += 1
            x[c, i] += mix[i] * (y * after[i] - x[c, i])
        mem[c, 0] = 0.0 if abs(s) < 1e-30 else s


@kernel("void(f8[:,::1], i8, i8, CombCurves, f8[:,::1], f8[:,::1], i8, f8[:,::1])", CombCurves)
def comb(x: Any, a: Any, b: Any, curves: Any, line: Any, mem: Any, at: Any, table: Any) -> Any:
    """Apply the comb to x, (channels, n), in place, samples a..b.

    line: (channels, LINE) ring, written from ``at`` on; mem: (channels, 1). table: ``sincs()``.
    """
    for q in range(a // QUANTUM * QUANTUM, b, QUANTUM):
        _comb(x, max(q, a), min(q + QUANTUM, b), curves, line, mem, at + max(q, a) - a, table)


def comb_gain(feedback: NDArray[np.float64] | float) -> NDArray[np.float64]:
    """Gain that keeps the level of white noise."""
    return np.asarray(np.sqrt(1.0 - np.asarray(feedback) ** 2))


def comb_delay(hz: NDArray[np.float64], damping_hz: NDArray[np.float64]) -> NDArray[np.float64]:
    """Delay in samples that resonates at ``hz``, with the low-pass of the loop."""
    late = np.where(damping_hz < 20000.0, 0.5 / np.tan(np.pi * damping_hz / RATE), 0.0)
    return np.clip(RATE / hz - late, SHORTEST, LONGEST)


def comb_response(delay: float, feedback: float, damping_hz: float, hz: NDArray[np.float64]) -> NDArray[np.complex128]:
    """Response with constant controls, at frequencies in Hz, for an ideal fractional delay."""
    low = 1.0 / (1.0 + bilinear(hz, damping_hz)) if damping_hz < 20000.0 else 1.0
    return np.asarray(comb_gain(feedback) / (1.0 - feedback * low * np.exp(-2j * np.pi * hz * delay / RATE)))
