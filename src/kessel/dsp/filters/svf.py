"""State-variable filters, topology-preserving (trapezoidal).

Zavalishin, The Art of VA Filter Design; Simper's notes on the trapezoidal state-variable filter, whose mixing
coefficients the EQ bands use. The prewarped frequency comes from a table over log2 of the cutoff.
"""

from __future__ import annotations

import math
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..jit import F1, QUANTUM, RATE, inline, kernel, portion

LOWPASS, HIGHPASS, BANDPASS, NOTCH = 0, 1, 2, 3
BUTTERWORTH = math.sqrt(2.0)
FOURTH_1 = 2.0 * math.cos(math.pi / 8.0)
FOURTH_2 = 2.0 * math.cos(3.0 * math.pi / 8.0)

LOG_LOW = math.log2(8.0)
LOG_HIGH = math.log2(0.49 * RATE)
_POINTS = 8192
_PER = (_POINTS - 1) / (LOG_HIGH - LOG_LOW)
PREWARP_TABLE = np.tan(np.pi * 2.0 ** np.linspace(LOG_LOW, LOG_HIGH, _POINTS) / RATE)
PREWARP_TABLE = np.append(PREWARP_TABLE, PREWARP_TABLE[-1])


@inline
def prewarp(table: Any, log_hz: Any) -> Any:
    x = (min(max(log_hz, LOG_LOW), LOG_HIGH) - LOG_LOW) * _PER
    i = int(x)
    return table[i] + (x - i) * (table[i + 1] - table[i])


def prewarp_array(log_hz: NDArray[np.float64]) -> NDArray[np.float64]:
    """tan(pi f / rate) of log2 of frequencies in Hz, with the table that the loops use."""
    x = (np.clip(log_hz, LOG_LOW, LOG_HIGH) - LOG_LOW) * _PER
    i = x.astype(np.int64)
    return np.asarray(PREWARP_TABLE[i] + (x - i) * (PREWARP_TABLE[i + 1] - PREWARP_TABLE[i]))


@inline
def _svf(x: Any, s1: Any, s2: Any, g: Any, p: Any, m0: Any, m1: Any, m2: Any) -> Any:
    """One step: the output m0 x + m1 band + m2 low, and the two states."""
    v1 = p * (s1 + g * (x - s2))
    v2 = s2 + g * v1
    return m0 * x + m1 * v1 + m2 * v2, 2.0 * v1 - s1, 2.0 * v2 - s2


@inline
def _weights(g: Any, p: Any, m0: Any, m1: Any, m2: Any) -> Any:
    """The step of ``_svf`` as weighted sums of the input and the two states: for the output and the new states.

    Two dependent additions per sample instead of eight.
    """
    u = p * g
    v = u * g
    return (
        (m0 + m1 * u + m2 * v, m1 * p + m2 * u, m2 - m1 * u - m2 * v),
        (2.0 * u, 2.0 * p - 1.0, -2.0 * u),
        (2.0 * v, 2.0 * u, 1.0 - 2.0 * v),
    )


@inline
def fixed_coefficients(g: Any, k: Any, m0: Any, m1: Any, m2: Any) -> Any:
    """The sums of ``_weights`` for constant controls."""
    return _weights(g, 1.0 / (1.0 + g * (g + k)), m0, m1, m2)


@inline
def svf_step(c: Any, x: Any, s1: Any, s2: Any) -> Any:
    y, one, two = c
    return (
        y[0] * x + (y[1] * s1 + y[2] * s2),
        one[0] * x + (one[1] * s1 + one[2] * s2),
        two[0] * x + (two[1] * s1 + two[2] * s2),
    )


@inline
def flush_denormals(x: Any) -> Any:
    return 0.0 if abs(x) < 1e-30 else x


class SvfCurves(NamedTuple):
    """The controls of a filter, each (n,).

    log_hz: log2 of the cutoff in Hz. k1, k2: damping (1/Q) of the first and second section. mix: share of the filtered
    sound, 0..1.
    """

    log_hz: F1
    k1: F1
    k2: F1
    mix: F1


@portion
def _filter_svf(
    x: Any,
    a: Any,
    b: Any,
    at: Any,
    kind: Any,
    double: Any,
    curves: Any,
    steady: Any,
    state: Any,
    prewarp_table: Any,
) -> None:
    log_hz, k1, k2, mix = curves.log_hz, curves.k1, curves.k2, curves.mix
    g = prewarp(prewarp_table, log_hz[at])
    ka, kb = k1[at], k2[at]
    m0 = 1.0 if kind in (HIGHPASS, NOTCH) else 0.0
    turn = 1.0 if kind == BANDPASS else (0.0 if kind == LOWPASS else -1.0)
    m2 = 1.0 if kind == LOWPASS else (-1.0 if kind == HIGHPASS else 0.0)
    stereo = x.shape[0] == 2
    r = x.shape[0] - 1
    n = b - a
    # non-negative indices need no test for counting from the end
    left, right, cutoff, one, two, shares = x[0, a:b], x[r, a:b], log_hz[a:b], k1[a:b], k2[a:b], mix[a:b]
    # states stay in registers, and both channels run in parallel
    a0, a1, a2, a3 = state[0, 0], state[0, 1], state[0, 2], state[0, 3]
    b0, b1, b2, b3 = state[r, 0], state[r, 1], state[r, 2], state[r, 3]
    if steady and mix[at] == 1.0:
        c, d = fixed_coefficients(g, ka, m0, turn * ka, m2), fixed_coefficients(g, kb, m0, turn * kb, m2)
        if double and stereo:
            for i in range(n):
                y, a0, a1 = svf_step(c, left[i], a0, a1)
                z, b0, b1 = svf_step(c, right[i], b0, b1)
                left[i], a2, a3 = svf_step(d, y, a2, a3)
                right[i], b2, b3 = svf_step(d, z, b2, b3)
        elif double:
            for i in range(n):
                y, a0, a1 = svf_step(c, left[i], a0, a1)
                left[i], a2, a3 = svf_step(d, y, a2, a3)
        elif stereo:
            for i in range(n):
                left[i], a0, a1 = svf_step(c, left[i], a0, a1)
                right[i], b0, b1 = svf_step(c, right[i], b0, b1)
        else:
            for i in range(n):
                left[i], a0, a1 = svf_step(c, left[i], a0, a1)
    else:
        # compute what needs no state before what waits for the state
        gs, ps, qs = np.empty(n), np.empty(n), np.empty(n)
        for i in range(n):
            gs[i] = prewarp(prewarp_table, cutoff[i])
        for i in range(n):
            g = gs[i]
            ps[i], qs[i] = 1.0 / (1.0 + g * (g + one[i])), 1.0 / (1.0 + g * (g + two[i]))
        if double and stereo:
            for i in range(n):
                c = _weights(gs[i], ps[i], m0, turn * one[i], m2)
                d = _weights(gs[i], qs[i], m0, turn * two[i], m2)
                v, w, share = left[i], right[i], shares[i]
                y, a0, a1 = svf_step(c, v, a0, a1)
                z, b0, b1 = svf_step(c, w, b0, b1)
                y, a2, a3 = svf_step(d, y, a2, a3)
                z, b2, b3 = svf_step(d, z, b2, b3)
                left[i] = y if share == 1.0 else v + share * (y - v)
                right[i] = z if share == 1.0 else w + share * (z - w)
        elif stereo:
            for i in range(n):
                c = _weights(gs[i], ps[i], m0, turn * one[i], m2)
                v, w, share = left[i], right[i], shares[i]
                y, a0, a1 = svf_step(c, v, a0, a1)
                z, b0, b1 = svf_step(c, w, b0, b1)
                left[i] = y if share == 1.0 else v + share * (y - v)
                right[i] = z if share == 1.0 else w + share * (z - w)
        else:
            for i in range(n):
                c = _weights(gs[i], ps[i], m0, turn * one[i], m2)
                v, share = left[i], shares[i]
                y, a0, a1 = svf_step(c, v, a0, a1)
                if double:
                    y, a2, a3 = svf_step(_weights(gs[i], qs[i], m0, turn * two[i], m2), y, a2, a3)
                left[i] = y if share == 1.0 else v + share * (y - v)
    if stereo:
        state[1, 0], state[1, 1], state[1, 2], state[1, 3] = (
            flush_denormals(b0),
            flush_denormals(b1),
            flush_denormals(b2),
            flush_denormals(b3),
        )
    state[0, 0], state[0, 1], state[0, 2], state[0, 3] = (
        flush_denormals(a0),
        flush_denormals(a1),
        flush_denormals(a2),
        flush_denormals(a3),
    )


@kernel("void(f8[:,::1], i8, i8, i8, b1, SvfCurves, b1, f8[:,::1], f8[::1])", SvfCurves)
def filter_svf(
    x: Any, a: Any, b: Any, kind: Any, double: Any, curves: Any, steady: Any, state: Any, prewarp_table: Any
) -> Any:
    """Filter x, (channels, n), in place, samples a..b; 12 dB per octave, or 24 if ``double``.

    steady: all curves are constant over a..b; if the mix is 1, only their values at a are read, and they may be
    shorter. state: (channels, 4).
    """
    for q in range(a // QUANTUM * QUANTUM, b, QUANTUM):
        at = min(max(q, a), curves.log_hz.size - 1)
        _filter_svf(x, max(q, a), min(q + QUANTUM, b), at, kind, double, curves, steady, state, prewarp_table)


@portion
def _filter_mixed(x: Any, a: Any, b: Any, old: Any, new: Any, state: Any) -> None:
    n = b - a
    moving = False
    for j in range(5):
        if old[j] != new[j]:
            moving = True
    r = x.shape[0] - 1
    a1, a2, b1, b2 = state[0, 0], state[0, 1], state[r, 0], state[r, 1]
    g, k, m0, m1, m2 = new[0], new[1], new[2], new[3], new[4]
    if not moving:
        c = fixed_coefficients(g, k, m0, m1, m2)
        if r == 1:
            for i in range(a, b):
                x[0, i], a1, a2 = svf_step(c, x[0, i], a1, a2)
                x[1, i], b1, b2 = svf_step(c, x[1, i], b1, b2)
        else:
            for i in range(a, b):
                x[0, i], a1, a2 = svf_step(c, x[0, i], a1, a2)
    else:
        for i in range(a, b):
            t = (i - a + 1) / n
            g = old[0] + t * (new[0] - old[0])
            k = old[1] + t * (new[1] - old[1])
            m0 = old[2] + t * (new[2] - old[2])
            m1 = old[3] + t * (new[3] - old[3])
            m2 = old[4] + t * (new[4] - old[4])
            p = 1.0 / (1.0 + g * (g + k))
            y, a1, a2 = _svf(x[0, i], a1, a2, g, p, m0, m1, m2)
            if r == 1:
                x[1, i], b1, b2 = _svf(x[1, i], b1, b2, g, p, m0, m1, m2)
            x[0, i] = y
    if r == 1:
        state[1, 0], state[1, 1] = flush_denormals(b1), flush_denormals(b2)
    state[0, 0], state[0, 1] = flush_denormals(a1), flush_denormals(a2)


@kernel("void(f8[:,::1], i8, i8, f8[::1], f8[::1], f8[:,::1])")
def filter_mixed(x: Any, a: Any, b: Any, old: Any, new: Any, state: Any) -> Any:
    """Apply one EQ band in place. Its coefficients (g, k, m0, m1, m2) are interpolated from old to new.

    x: (channels, n), samples a..b, at most a quantum while they change. state: (channels, 2).
    """
    for q in range(a // QUANTUM * QUANTUM, b, QUANTUM):
        _filter_mixed(x, max(q, a), min(q + QUANTUM, b), old, new, state)


def damping(resonance_db: NDArray[np.float64] | float) -> NDArray[np.float64]:
    """1/Q of a section that lifts the cutoff by ``resonance_db`` over a flat corner."""
    return np.asarray(BUTTERWORTH * np.exp(np.asarray(resonance_db, dtype=np.float64) * (-math.log(10.0) / 20.0)))


def band_coefficients(kind: str, hz: float, gain_db: float, q: float) -> NDArray[np.float64]:
    """(g, k, m0, m1, m2) of an EQ band: bell, low-shelf, high-shelf, low-cut, high-cut or notch."""
    g = math.tan(math.pi * min(hz, 0.49 * RATE) / RATE)
    lift = 10.0 ** (gain_db / 40.0)
    k = 1.0 / q
    if kind == "bell":
        k = 1.0 / (q * lift)
        return np.array([g, k, 1.0, k * (lift * lift - 1.0), 0.0])
    if kind == "low-shelf":
        return np.array([g / math.sqrt(lift), k, 1.0, k * (lift - 1.0), lift * lift - 1.0])
    if kind == "high-shelf":
        return np.array([g * math.sqrt(lift), k, lift * lift, k * (1.0 - lift) * lift, 1.0 - lift * lift])
    if kind == "low-cut":
        return np.array([g, k, 1.0, -k, -1.0])
    if kind == "high-cut":
        return np.array([g, k, 0.0, 0.0, 1.0])
    return np.array([g, k, 1.0, -k, 0.0])


def span_of_band(kind: str, hz: float, q: float) -> list[NDArray[np.float64]]:
    """Coefficients of the sections that isolate a band's region: around a bell or notch, beyond a corner."""
    g = math.tan(math.pi * min(hz, 0.49 * RATE) / RATE)
    if kind in ("bell", "notch"):
        return [np.array([g, 1.0 / q, 0.0, 1.0 / q, 0.0])] * 2
    if kind in ("low-shelf", "low-cut"):
        return [np.array([g, k, 0.0, 0.0, 1.0]) for k in (FOURTH_1, FOURTH_2)]
    return [np.array([g, k, 1.0, -k, -1.0]) for k in (FOURTH_1, FOURTH_2)]


def sections_of(kind: str, slope: int, hz: float, gain_db: float, q: float) -> list[NDArray[np.float64]]:
    """Coefficients of the sections of an EQ band, as in ``band_coefficients``. slope: of cuts, in dB per octave.

    Cuts are Butterworth filters; q above a flat corner lifts the last pair of poles.
    """
    if kind not in ("low-cut", "high-cut"):
        return [band_coefficients(kind, hz, gain_db, q)]
    order = slope // 6
    g = math.tan(math.pi * min(hz, 0.49 * RATE) / RATE)
    found = []
    if order % 2:
        # one pole: two poles, one of which is cancelled
        found.append(np.array([g, 2.0, 1.0, -1.0, -1.0] if kind == "low-cut" else [g, 2.0, 0.0, 1.0, 1.0]))
    pairs = order // 2
    for n in range(pairs):
        angle = math.pi * (2 * n + (2 if order % 2 else 1)) / (2 * order)
        damp = 2.0 * math.cos(angle)
        if n == pairs - 1:
            damp *= math.sqrt(0.5) / q if abs(q - 0.71) > 5e-3 else 1.0
        found.append(np.array([g, damp, 1.0, -damp, -1.0] if kind == "low-cut" else [g, damp, 0.0, 0.0, 1.0]))
    return found


def svf_response(
    kind: int, double: bool, cutoff: float, resonance_db: float, hz: NDArray[np.float64]
) -> NDArray[np.complex128]:
    """Response of ``filter_svf`` with constant controls, at frequencies in Hz: the analytic curve under the bilinear
    transform.
    """
    s = 1j * np.tan(np.pi * hz / RATE) / math.tan(math.pi * cutoff / RATE)
    k = float(damping(resonance_db))
    pair = (FOURTH_1, k * FOURTH_2 / BUTTERWORTH) if double and kind in (LOWPASS, HIGHPASS) else (k, k)
    out = np.ones(hz.shape, dtype=np.complex128)
    for section in pair if double else (k,):
        above = {LOWPASS: 1.0 + 0.0 * s, HIGHPASS: s * s, BANDPASS: section * s, NOTCH: s * s + 1.0}[kind]
        out = out * above / (s * s + section * s + 1.0)
    return out


def band_response(coefficients: NDArray[np.float64], hz: NDArray[np.float64]) -> NDArray[np.complex128]:
    """Response of an EQ band from its (g, k, m0, m1, m2), at frequencies in Hz."""
    g, k, m0, m1, m2 = coefficients
    s = 1j * np.tan(np.pi * hz / RATE) / g
    return np.asarray(m0 + (m1 * s + m2) / (s * s + k * s + 1.0))
