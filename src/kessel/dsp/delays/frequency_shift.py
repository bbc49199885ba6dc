"""Frequency shift: all partials by the same number of Hz.

Two chains of all-passes in quadrature: a half-band filter (``halfband.design``) rotated by a quarter of the rate, so
that it passes positive frequencies only.
"""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..filters.svf import flush_denormals
from ..jit import RATE, kernel
from ..nonlinear.halfband import design

SECTIONS = 12
LOWEST = 18.0
"""Frequency in Hz from which the phase shift is 90 degrees."""
COEFFICIENTS = design(SECTIONS, 2.0 * LOWEST / RATE)
STATE = 4 * SECTIONS + 1


@kernel("void(f8[:,::1], f8[:,::1], f8[:,::1], f8[:,::1], f8[:,::1], f8[::1])")
def shift(x: Any, wet: Any, cosine: Any, sine: Any, state: Any, coefficients: Any) -> None:
    """Write x, (2, n), shifted by rotations with the given cosine and sine, (2, n), to wet. state: (2, STATE)."""
    sections = coefficients.size
    for c in range(2):
        own = state[c]
        for i in range(x.shape[1]):
            v = x[c, i]
            even, odd = v, own[4 * sections]
            own[4 * sections] = v
            for j in range(sections):
                k = coefficients[j]
                u = even if j % 2 == 0 else odd
                # input and output two samples ago
                y = k * (u + own[4 * j + 3]) - own[4 * j + 1]
                own[4 * j + 1], own[4 * j] = own[4 * j], u
                own[4 * j + 3], own[4 * j + 2] = own[4 * j + 2], y
                if j % 2 == 0:
                    even = y
                else:
                    odd = y
            wet[c, i] = cosine[c, i] * even - sine[c, i] * odd
        for j in range(own.size):
            own[j] = flush_denormals(own[j])


def rest() -> NDArray[np.float64]:
    """The initial state."""
    return np.zeros((2, STATE))
