"""How the sound of an effect meets the dry one, its own lows cut."""

from __future__ import annotations

from typing import Any

from .filters import BUTTERWORTH, _quiet, _tangent
from .jit import inline, kernel

_K = BUTTERWORTH
STATE = 2


@inline
def _cut(x: Any, s1: Any, s2: Any, g: Any, p: Any) -> Any:
    v1 = p * (s1 + g * (x - s2))
    v2 = s2 + g * v1
    return x - _K * v1 - v2, 2.0 * v1 - s1, 2.0 * v2 - s2


@kernel("void(f8[:,::1], f8[:,::1], f8[::1], b1, f8[::1], b1, f8[:,::1], f8[::1])")
def meet(x: Any, wet: Any, mix: Any, beside: bool, log_hz: Any, cut: bool, state: Any, tangents: Any) -> None:
    """Put the sound of an effect, wet, (2, n), into x, (2, n), in place.

    mix: (n,) 0..1. beside: the dry sound stays whole up to a half, and from there on goes away; else what the effect
    changes is added. cut: the wet sound, or the change, has nothing below log2 of a frequency in Hz, (n,), 12 dB per
    octave. state: (2, STATE).
    """
    for c in range(2):
        s1, s2 = state[c, 0], state[c, 1]
        row, other = x[c], wet[c]
        g = _tangent(tangents, log_hz[0])
        p = 1.0 / (1.0 + g * (g + _K))
        last = log_hz[0]
        for i in range(row.size):
            v, m = row[i], mix[i]
            w = other[i] if beside else other[i] - v
            if cut:
                if log_hz[i] != last:
                    last = log_hz[i]
                    g = _tangent(tangents, last)
                    p = 1.0 / (1.0 + g * (g + _K))
                w, s1, s2 = _cut(w, s1, s2, g, p)
            if beside:
                row[i] = (v if m <= 0.5 else 2.0 * (1.0 - m) * v) + min(1.0, 2.0 * m) * w
            else:
                row[i] = v + m * w
        state[c, 0], state[c, 1] = _quiet(s1), _quiet(s2)
