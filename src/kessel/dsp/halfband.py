"""Twice the rate and back, by half-band filters made of two all-pass chains.

Regalia, Mitra and Vaidyanathan 1988 (all-pass sums); coefficients by the elliptic design of Valenzuela and
Constantinides 1983, from the nome of the transition band.
"""

from __future__ import annotations

import math
from typing import Any

import numpy as np
from numpy.typing import NDArray

from .jit import RATE, inline, kernel

SECTIONS = 8
TRANSITION = 0.045


def design(sections: int, transition: float) -> NDArray[np.float64]:
    """All-pass coefficients of an elliptic half-band filter, rising, shape (sections,).

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
STATE = 2 * SECTIONS

DELAY = float(sum((1.0 - c) / (1.0 + c) for c in _C))
"""Delay in samples at low frequencies of going up and down again."""

LATENCY = round(DELAY)


@inline
def up_pair(x: Any, s: Any) -> Any:
    """Two samples at twice the rate from one; s: (STATE,)."""
    e = x
    o = x
    for j in range(0, SECTIONS, 2):
        ye = _C[j] * (e - s[2 * j + 1]) + s[2 * j]
        s[2 * j] = e
        s[2 * j + 1] = ye
        e = ye
        yo = _C[j + 1] * (o - s[2 * j + 3]) + s[2 * j + 2]
        s[2 * j + 2] = o
        s[2 * j + 3] = yo
        o = yo
    return e, o


@inline
def down_pair(x0: Any, x1: Any, s: Any) -> Any:
    """One sample from two at twice the rate; s: (STATE,)."""
    e = x1
    o = x0
    for j in range(0, SECTIONS, 2):
        ye = _C[j] * (e - s[2 * j + 1]) + s[2 * j]
        s[2 * j] = e
        s[2 * j + 1] = ye
        e = ye
        yo = _C[j + 1] * (o - s[2 * j + 3]) + s[2 * j + 2]
        s[2 * j + 2] = o
        s[2 * j + 3] = yo
        o = yo
    return 0.5 * (e + o)


@kernel("void(f8[:,::1], f8[:,::1], i8, i8, f8[:,::1])")
def halve(x2: Any, out: Any, a: int, b: int, state: Any) -> None:
    """Add x2, (channels, 2 n) at twice the rate, into out, (channels, n), samples a..b. state: (channels, STATE)."""
    for c in range(out.shape[0]):
        s = state[c]
        for i in range(a, b):
            out[c, i] += down_pair(x2[c, 2 * i], x2[c, 2 * i + 1], s)


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
