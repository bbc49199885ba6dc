"""Delay lines with fractional delays: chorus copies, flanger, echo."""

from __future__ import annotations

from typing import Annotated, Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..filters.svf import flush_denormals
from ..jit import F1, F2, QUANTUM, inline, kernel, portion

SHORT = 8192
"""Samples of a delay line for copies and flangers."""
LONG = 1 << 20
"""Samples of a delay line for echoes."""
LEAST = 2.0
"""Least delay in samples, so that the interpolation has samples on both sides."""
ECHO_STATE = 4


@inline
def _weights(t: Any) -> Any:
    """Weights of the four samples around a position, a share t past the second of them (Lagrange)."""
    return (
        t * (t - 1.0) * (t - 2.0) * (-1.0 / 6.0),
        (t + 1.0) * (t - 1.0) * (t - 2.0) * 0.5,
        (t + 1.0) * t * (t - 2.0) * (-0.5),
        (t + 1.0) * t * (t - 1.0) * (1.0 / 6.0),
    )


@inline
def _read(line: Any, at: Any, delay: Any) -> Any:
    """Read a line ``delay`` samples before position ``at``, by cubic interpolation (Lagrange)."""
    size = line.size
    whole = int(delay)
    t = delay - whole
    mask = size - 1
    y0 = line[(at - whole + 1) & mask]
    y1 = line[(at - whole) & mask]
    y2 = line[(at - whole - 1) & mask]
    y3 = line[(at - whole - 2) & mask]
    a, b, c, d = _weights(t)
    return a * y0 + b * y1 + c * y2 + d * y3


@inline
def _bounded(x: Any) -> Any:
    """Linear up to full scale, saturating above, never more than twice full scale."""
    if x > 1.0:
        return 2.0 - 1.0 / x
    if x < -1.0:
        return -2.0 - 1.0 / x
    return x


@kernel("void(f8[:,::1], f8[:,::1], f8[:,::1], i8, f8[:,:,::1], f8[:,::1])")
def copies(x: Any, wet: Any, line: Any, at: int, delay: Any, gain: Any) -> None:
    """Write x, (2, n), to a line (2, SHORT) from position ``at``, and the sum of its copies to wet, (2, n).

    delay: (voices, 2, n) in samples. gain: (voices, 2).
    """
    mask = line.shape[1] - 1
    n = x.shape[1]
    for c in range(2):
        own, row = line[c], wet[c]
        for i in range(n):
            own[(at + i) & mask] = x[c, i]
            row[i] = 0.0
        for v in range(delay.shape[0]):
            far, much = delay[v, c], gain[v, c]
            for i in range(n):
                row[i] += much * _read(own, at + i, max(far[i], LEAST))


@kernel("void(f8[:,::1], f8[:,::1], f8[:,::1], i8, f8[:,::1], f8[::1])")
def flange(x: Any, wet: Any, line: Any, at: int, delay: Any, feedback: Any) -> None:
    """Write the output of a delay line (2, SHORT) with feedback for x, (2, n), to wet. delay: (2, n) samples; feedback:
    (n,).
    """
    mask = line.shape[1] - 1
    for c in range(2):
        own = line[c]
        for i in range(x.shape[1]):
            y = _read(own, at + i, max(delay[c, i], LEAST))
            own[(at + i) & mask] = flush_denormals(_bounded(x[c, i] + feedback[i] * y))
            wet[c, i] = y


class EchoCurves(NamedTuple):
    """The controls of an echo.

    delay: (2, n) samples; steady: they are constant. feedback: (n,) 0..1.1; cross: (n,) share that changes sides. low,
    high: (n,) coefficients of one-pole filters in the loop, high-pass and low-pass; 0 and 1 are off.
    """

    delay: F2
    steady: Annotated[bool, "b1"]
    feedback: F1
    cross: F1
    low: F1
    high: F1


@portion
def _echo(x: Any, wet: Any, q: Any, e: Any, line: Any, at: Any, curves: Any, state: Any) -> None:
    delay, steady = curves.delay, curves.steady
    feedback, cross, low, high = curves.feedback[q:e], curves.cross[q:e], curves.low[q:e], curves.high[q:e]
    n, size = e - q, line.shape[1]
    mask = size - 1
    left, right, one, two, into, side = line[0], line[1], wet[0, q:e], wet[1, q:e], x[0, q:e], x[1, q:e]
    far0, far1 = delay[0, q:e], delay[1, q:e]
    far = steady and min(far0[0], far1[0]) > n + 4.0
    if far:
        # nothing written in this block is read in it, so the whole block is read at once
        for c in range(2):
            away = far0[0] if c == 0 else far1[0]
            whole = int(away)
            a, b, d, f = _weights(away - whole)
            own, row = line[c], one if c == 0 else two
            first = (at - whole - 2) & mask
            if first + n + 4 <= size:
                part = own[first : first + n + 3]
                for i in range(n):
                    row[i] = a * part[i + 3] + b * part[i + 2] + d * part[i + 1] + f * part[i]
            else:
                for i in range(n):
                    p = first + i
                    row[i] = (
                        a * own[(p + 3) & mask] + b * own[(p + 2) & mask] + d * own[(p + 1) & mask] + f * own[p & mask]
                    )
    under0, over0, under1, over1 = state[0, 0], state[0, 1], state[1, 0], state[1, 1]
    for i in range(n):
        if far:
            y, z = one[i], two[i]
        else:
            y, z = _read(left, at + i, max(far0[i], LEAST)), _read(right, at + i, max(far1[i], LEAST))
            one[i], two[i] = y, z
        if high[i] < 1.0:
            over0 += high[i] * (y - over0)
            over1 += high[i] * (z - over1)
            y, z = over0, over1
        if low[i] > 0.0:
            under0 += low[i] * (y - under0)
            under1 += low[i] * (z - under1)
            y, z = y - under0, z - under1
        k = cross[i]
        back, other = feedback[i] * (y + k * (z - y)), feedback[i] * (z + k * (y - z))
        # the input alternates sides as well, so that a centered sound goes from side to side
        middle = 0.5 * (into[i] + side[i]) * k
        left[(at + i) & mask] = flush_denormals(_bounded((1.0 - k) * into[i] + middle + back))
        right[(at + i) & mask] = flush_denormals(_bounded((1.0 - k) * side[i] + other))
    state[0, 0], state[0, 1], state[1, 0], state[1, 1] = (
        flush_denormals(under0),
        flush_denormals(over0),
        flush_denormals(under1),
        flush_denormals(over1),
    )


@kernel("void(f8[:,::1], f8[:,::1], f8[:,::1], i8, EchoCurves, f8[:,::1])", EchoCurves)
def echo(x: Any, wet: Any, line: Any, at: int, curves: Any, state: Any) -> None:
    """Write the repeats of x, (2, n), through a line (2, LONG) to wet. state: (2, ECHO_STATE)."""
    for q in range(0, x.shape[1], QUANTUM):
        e = min(q + QUANTUM, x.shape[1])
        _echo(x, wet, q, e, line, at + q, curves, state)


def line(size: int) -> NDArray[np.float64]:
    """An empty line."""
    return np.zeros((2, size))
