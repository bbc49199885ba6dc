"""Oversampling by two with half-band filters of two all-pass chains.

Regalia, Mitra and Vaidyanathan 1988 (all-pass sums); coefficients by the elliptic design of Valenzuela and
Constantinides 1983, from the nome of the transition band.
"""

from __future__ import annotations

import math
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..jit import QUANTUM, RATE, inline, kernel, portion

SECTIONS = 8
TRANSITION = 0.045


def design(sections: int, transition: float) -> NDArray[np.float64]:
    """All-pass coefficients of an elliptic half-band filter, rising, (sections,).

    transition: width of the transition band as a share of the doubled rate, 0..0.5.
    """
    k = math.tan((1.0 - 2.0 * transition) * math.pi / 4.0) ** 2
    root = (1.0 - k * k) ** 0.25
    e = 0.5 * (1.0 - root) / (1.0 + root)
    q = e + 2.0 * e**5 + 15.0 * e**9 + 150.0 * e**13
    order = 2 * sections + 1
    found = []
    for c in range(1, sections + 1):
        over = sum((-1) ** i * q ** (i * (i + 1)) * math.sin((2 * i + 1) * c * math.pi / order) for i in range(12))
        under = 0.5 + sum((-1) ** i * q ** (i * i) * math.cos(2 * i * c * math.pi / order) for i in range(1, 12))
        w = (q**0.25 * over / under) ** 2
        x = math.sqrt((1.0 - w * k) * (1.0 - w / k)) / (1.0 + w)
        found.append((1.0 - x) / (1.0 + x))
    return np.array(found)


COEFFICIENTS = design(SECTIONS, TRANSITION)
_C = tuple(float(c) for c in COEFFICIENTS)

DELAY = float(sum((1.0 - c) / (1.0 + c) for c in _C))
"""Delay in samples, at low frequencies, of going up to twice the rate and down again."""

LATENCY = round(DELAY)
DOWN_LATENCY = round(0.5 * DELAY - 0.25)
"""Latency in samples of coming down from twice the rate, where the first of two samples marks the time."""


_K = tuple((_C[j], _C[j + 1], _C[j], _C[j + 1]) for j in range(0, SECTIONS, 2))
_K0, _K1, _K2, _K3 = _K
LINE = 20
"""State of one direction, up or down, for two channels: five rows of four."""


@inline
def load(state: Any, at: Any) -> Any:
    """Five rows of four from a flat state."""
    return (
        (state[at], state[at + 1], state[at + 2], state[at + 3]),
        (state[at + 4], state[at + 5], state[at + 6], state[at + 7]),
        (state[at + 8], state[at + 9], state[at + 10], state[at + 11]),
        (state[at + 12], state[at + 13], state[at + 14], state[at + 15]),
        (state[at + 16], state[at + 17], state[at + 18], state[at + 19]),
    )


@inline
def save(state: Any, at: Any, rows: Any) -> Any:
    """Store rows in a flat state, with denormals flushed."""
    for j in range(5):
        for q in range(4):
            v = rows[j][q]
            state[at + 4 * j + q] = 0.0 if abs(v) < 1e-30 else v


@inline
def _section(k: Any, v: Any, was: Any, out: Any) -> Any:
    return (
        k[0] * (v[0] - out[0]) + was[0],
        k[1] * (v[1] - out[1]) + was[1],
        k[2] * (v[2] - out[2]) + was[2],
        k[3] * (v[3] - out[3]) + was[3],
    )


@inline
def chains(v: Any, s: Any) -> Any:
    """Both all-pass chains of two channels: v is (even, odd) of the left, (even, odd) of the right.

    The output of a section is the input of the next, so five rows hold the state of four sections, in registers, four
    lanes side by side.
    """
    t0 = _section(_K0, v, s[0], s[1])
    t1 = _section(_K1, t0, s[1], s[2])
    t2 = _section(_K2, t1, s[2], s[3])
    t3 = _section(_K3, t2, s[3], s[4])
    return t3, (v, t0, t1, t2, t3)


WIDE, WIDER = design(3, 0.29), design(2, 0.375)
"""The second and third doubling, to four and eight times the rate, where nothing stands above the sound: few sections
and a wide transition."""
_W0, _W1, _W2 = (float(c) for c in WIDE)
_V0, _V1 = (float(c) for c in WIDER)
FAR = 18
"""State of the second and third doubling of one channel, up and down."""
DELAY_4 = DELAY + 0.5 * float(sum((1.0 - c) / (1.0 + c) for c in WIDE))
DELAY_8 = DELAY_4 + 0.25 * float(sum((1.0 - c) / (1.0 + c) for c in WIDER))
"""Delays in samples, at low frequencies, of going up to four and eight times the rate and down again."""


@inline
def wide(even: Any, odd: Any, s: Any) -> Any:
    """Both chains of the second doubling and its state: coefficients 0 and 2 for the even one, 1 for the odd one."""
    a = _W0 * (even - s[1]) + s[0]
    b = _W2 * (a - s[2]) + s[1]
    c = _W1 * (odd - s[4]) + s[3]
    return b, c, (even, a, b, odd, c)


@inline
def wider(even: Any, odd: Any, s: Any) -> Any:
    """Both chains of the third doubling and its state."""
    a = _V0 * (even - s[1]) + s[0]
    b = _V1 * (odd - s[3]) + s[2]
    return a, b, (even, a, odd, b)


@portion
def _halve(x2: Any, out: Any, a: Any, b: Any, state: Any) -> None:
    s = load(state, 0)
    r = x2.shape[0] - 1
    for i in range(a, b):
        y, s = chains((x2[0, 2 * i + 1], x2[0, 2 * i], x2[r, 2 * i + 1], x2[r, 2 * i]), s)
        out[0, i] += 0.5 * (y[0] + y[1])
        if r == 1:
            out[1, i] += 0.5 * (y[2] + y[3])
    save(state, 0, s)


@kernel("void(f8[:,::1], f8[:,::1], i8, i8, f8[::1])")
def halve(x2: Any, out: Any, a: int, b: int, state: Any) -> None:
    """Add x2, (channels, 2 n) at twice the rate, to out, (channels, n), samples a..b. state: (LINE,)."""
    for q in range(a // QUANTUM * QUANTUM, b, QUANTUM):
        _halve(x2, out, max(q, a), min(q + QUANTUM, b), state)


@portion
def _double(x: Any, out2: Any, a: Any, b: Any, state: Any) -> None:
    s = load(state, 0)
    for i in range(a, b):
        v, w = x[0, i], x[1, i]
        y, s = chains((v, v, w, w), s)
        out2[0, 2 * i], out2[0, 2 * i + 1] = y[0], y[1]
        out2[1, 2 * i], out2[1, 2 * i + 1] = y[2], y[3]
    save(state, 0, s)


@kernel("void(f8[:,::1], f8[:,::1], i8, i8, f8[::1])")
def double(x: Any, out2: Any, a: int, b: int, state: Any) -> None:
    """Write x, (2, n), samples a..b, at twice the rate to out2, (2, 2 n). state: (LINE,)."""
    for q in range(a // QUANTUM * QUANTUM, b, QUANTUM):
        _double(x, out2, max(q, a), min(q + QUANTUM, b), state)


def response(hz: NDArray[np.float64]) -> NDArray[np.complex128]:
    """Complex response of the filter at frequencies in Hz, at twice the rate."""
    z1 = np.exp(-2j * np.pi * hz / (2 * RATE))
    z2 = z1 * z1
    even = np.ones_like(z2)
    odd = np.ones_like(z2)
    for j, c in enumerate(_C):
        section = (c + z2) / (1.0 + c * z2)
        if j % 2 == 0:
            even = even * section
        else:
            odd = odd * section
    return np.asarray(0.5 * (even + z1 * odd))
