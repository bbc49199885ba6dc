"""A vocoder: the bands of one sound are controlled by those of another."""

from __future__ import annotations

from typing import Any

from ..jit import inline, kernel
from .svf import flush_denormals, prewarp

STATE = 13
"""States per band: two sections for both channels of the carrier and of the modulator, and the detected level."""


@inline
def _band(x: Any, s1: Any, s2: Any, g: Any, k: Any, p: Any) -> Any:
    v1 = p * (s1 + g * (x - s2))
    v2 = s2 + g * v1
    return k * v1, 2.0 * v1 - s1, 2.0 * v2 - s2


@kernel("void(f8[:,::1], f8[::1], f8[:,::1], f8[::1], f8[::1], f8, f8, f8, f8[:,::1], f8[::1])")
def speak(
    x: Any,
    voice: Any,
    wet: Any,
    hears: Any,
    sounds: Any,
    k: float,
    rise: float,
    fall: float,
    state: Any,
    prewarp_table: Any,
) -> None:
    """Write x, (2, n), spoken by ``voice``, (n,), into wet, (2, n).

    hears, sounds: log2 of the middles of bands in Hz of what speaks and of the sound, (bands,). k: their damping.
    rise, fall: share of the way that a band's level goes each sample. state: (bands, STATE).
    """
    n = x.shape[1]
    for i in range(n):
        wet[0, i], wet[1, i] = 0.0, 0.0
    for j in range(hears.size):
        s = state[j]
        g = prewarp(prewarp_table, hears[j])
        p = 1.0 / (1.0 + g * (g + k))
        h = prewarp(prewarp_table, sounds[j])
        q = 1.0 / (1.0 + h * (h + k))
        m0, m1, m2, m3 = s[0], s[1], s[2], s[3]
        a0, a1, a2, a3 = s[4], s[5], s[6], s[7]
        b0, b1, b2, b3 = s[8], s[9], s[10], s[11]
        level = s[12]
        for i in range(n):
            v, m0, m1 = _band(voice[i], m0, m1, g, k, p)
            v, m2, m3 = _band(v, m2, m3, g, k, p)
            v = abs(v)
            level += (rise if v > level else fall) * (v - level)
            y, a0, a1 = _band(x[0, i], a0, a1, h, k, q)
            y, a2, a3 = _band(y, a2, a3, h, k, q)
            wet[0, i] += y * level
            y, b0, b1 = _band(x[1, i], b0, b1, h, k, q)
            y, b2, b3 = _band(y, b2, b3, h, k, q)
            wet[1, i] += y * level
        s[0], s[1], s[2], s[3] = flush_denormals(m0), flush_denormals(m1), flush_denormals(m2), flush_denormals(m3)
        s[4], s[5], s[6], s[7] = flush_denormals(a0), flush_denormals(a1), flush_denormals(a2), flush_denormals(a3)
        s[8], s[9], s[10], s[11] = flush_denormals(b0), flush_denormals(b1), flush_denormals(b2), flush_denormals(b3)
        s[12] = flush_denormals(level)
