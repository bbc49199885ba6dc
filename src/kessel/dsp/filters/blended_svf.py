"""State-variable filters with any blend of low, band and high, 6 to 24 dB per octave, with or without drive.

Zavalishin, The Art of VA Filter Design. The states are those of ``filter_svf``, so that a filter can change between
both loops while it sounds.
"""

from __future__ import annotations

from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..jit import F1, QUANTUM, RATE, inline, kernel, portion
from .soft_edge import edge_between
from .svf import damping, flush_denormals, prewarp

SHAPED_STATE = 5
"""Two states for each of two sections, and the last sample after the drive."""


class ShapedCurves(NamedTuple):
    """The controls of a filter, each (n,).

    log_hz: log2 of the cutoff in Hz. k1, k2: damping of the first and second section. low, band, high: weights of a
    section's outputs. drive, after: linear gain into and out of the soft edge; share: its weight, 0..1. mix: 0..1.
    """

    log_hz: F1
    k1: F1
    k2: F1
    low: F1
    band: F1
    high: F1
    drive: F1
    share: F1
    after: F1
    mix: F1


@inline
def driven_step(x: Any, drive: Any, share: Any, after: Any, past: Any) -> Any:
    """The drive of one sample. Returns it and what the next one needs."""
    now = x * drive
    y = x
    if share > 0.0:
        y += share * (edge_between(now, past) * after - y)
    return y, now


@inline
def one_pole_step(x: Any, g: Any, low: Any, high: Any, s: Any) -> Any:
    """One pole: its output and state."""
    u = (x - s) * g / (1.0 + g)
    y = u + s
    return low * y + high * (x - y), y + u


@inline
def blended_step(x: Any, g: Any, k: Any, low: Any, band: Any, high: Any, s1: Any, s2: Any) -> Any:
    """One section: its output and states."""
    p = 1.0 / (1.0 + g * (g + k))
    v1 = p * (s1 + g * (x - s2))
    v2 = s2 + g * v1
    return low * v2 + k * band * v1 + high * (x - k * v1 - v2), 2.0 * v1 - s1, 2.0 * v2 - s2


@portion
def _filter_shaped(x: Any, a: Any, b: Any, poles: Any, curves: Any, state: Any, prewarp_table: Any) -> None:
    log_hz, k1, k2, low, band, high = curves.log_hz, curves.k1, curves.k2, curves.low, curves.band, curves.high
    drive, share, after, mix = curves.drive, curves.share, curves.after, curves.mix
    for c in range(x.shape[0]):
        s1, s2, s3, s4, past = state[c, 0], state[c, 1], state[c, 2], state[c, 3], state[c, 4]
        for i in range(a, b):
            dry = x[c, i]
            v, past = driven_step(dry, drive[i], share[i], after[i], past)
            g = prewarp(prewarp_table, log_hz[i])
            if poles == 1:
                v, s1 = one_pole_step(v, g, low[i], high[i], s1)
            else:
                v, s1, s2 = blended_step(v, g, k1[i], low[i], band[i], high[i], s1, s2)
                if poles == 4:
                    v, s3, s4 = blended_step(v, g, k2[i], low[i], band[i], high[i], s3, s4)
            x[c, i] = dry + mix[i] * (v - dry)
        state[c, 0], state[c, 1], state[c, 2] = flush_denormals(s1), flush_denormals(s2), flush_denormals(s3)
        state[c, 3], state[c, 4] = flush_denormals(s4), flush_denormals(past)


@kernel("void(f8[:,::1], i8, i8, i8, ShapedCurves, f8[:,::1], f8[::1])", ShapedCurves)
def filter_shaped(x: Any, a: Any, b: Any, poles: Any, curves: Any, state: Any, prewarp_table: Any) -> Any:
    """Filter x, (channels, n), in place, samples a..b. ``poles`` is 1, 2 or 4. state: (channels, SHAPED_STATE)."""
    for q in range(a // QUANTUM * QUANTUM, b, QUANTUM):
        _filter_shaped(x, max(q, a), min(q + QUANTUM, b), poles, curves, state, prewarp_table)


def blend_of(
    kind: str, resonance_db: NDArray[np.float64], morph: NDArray[np.float64], sections: int
) -> tuple[NDArray[np.float64], NDArray[np.float64], NDArray[np.float64], NDArray[np.float64]]:
    """(damping, low, band, high) of each section, all (n,). morph: 0..1."""
    k = damping(resonance_db)
    one, none = np.ones_like(k), np.zeros_like(k)
    if kind == "peak":
        # the sections together rise by the resonance and become narrower with it
        lift = 10.0 ** (resonance_db / (20.0 * sections))
        return np.sqrt(2.0 / lift), one, lift, one
    if kind == "morph":
        t = 2.0 * morph
        return k, np.clip(1.0 - t, 0.0, 1.0), 1.0 - np.abs(t - 1.0), np.clip(t - 1.0, 0.0, 1.0)
    low = one if kind in ("low-pass", "notch") else none
    high = one if kind in ("high-pass", "notch") else none
    return k, low, one if kind == "band-pass" else none, high


def bilinear(hz: NDArray[np.float64], cutoff: NDArray[np.float64] | float) -> NDArray[np.complex128]:
    """s of an analog filter with its cutoff at 1, at frequencies in Hz under the bilinear transform."""
    return np.asarray(1j * np.tan(np.pi * hz / RATE) / np.tan(np.pi * np.asarray(cutoff) / RATE))


def shaped_response(
    poles: int,
    cutoff: float,
    dampings: tuple[float, float],
    blend: tuple[float, float, float],
    hz: NDArray[np.float64],
) -> NDArray[np.complex128]:
    """Response of ``filter_shaped`` with constant controls and no drive, at frequencies in Hz."""
    s = bilinear(hz, cutoff)
    low, band, high = blend
    if poles == 1:
        return np.asarray((low + high * s) / (1.0 + s))
    out = np.ones(hz.shape, dtype=np.complex128)
    for k in dampings[: poles // 2]:
        out = out * (low + band * k * s + high * s * s) / (s * s + k * s + 1.0)
    return out
