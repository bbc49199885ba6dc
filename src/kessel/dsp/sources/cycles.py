"""One cycle of an oscillator, from its plain wave through everything that shapes it, as partials and as tables.

A cycle is y(t) = sum of Re(c_k exp(2 pi j k t)) over k = 1..MOST, t in cycles. Whatever keeps a wave periodic (a mix,
drawn frames, hard sync, a twin, skew, a window over the partials, their scattering) is worked into the partials, so
that a table built from them never holds more than the sample rate can.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from ..chance import key
from ..store import remembered
from .tables import POINTS, partials_kept
from .waves import frame_partials

MOST = 1024
FINE = 16384
"""Points on which a wave is warped in time."""

_Partials = NDArray[np.complex128]
_Real = NDArray[np.float64]
_K = np.arange(1, MOST + 1)


@dataclass(frozen=True)
class Cycle:
    """What shapes one cycle. Everything is at rest in its default.

    blend: 0..1 from shape a to b. frames: two frames and the share of the second. width: 0..1. sync: how many times
    faster the wave runs than the cycle that cuts it, and begin: where in its own cycle it then begins, 0..1. shift:
    cycles. skew: -1..1. low, high, edge: partials. scatter: 0..1, by chance of ``seed``.
    """

    shape: str = "saw"
    width: float = 0.5
    a: str = "sine"
    b: str = "sine"
    blend: float = 0.0
    frames: tuple[str, str, float] = ("", "", 0.0)
    sync: float = 1.0
    begin: float = 0.0
    twin: str = "off"
    shift: float = 0.0
    skew: float = 0.0
    low: float = 1.0
    high: float = 256.0
    edge: float = 1.0
    scatter: float = 0.0
    seed: int = 0


@remembered
def plain_partials(shape: str, width: float = 0.5) -> _Partials:
    """Partials 1..MOST of a plain wave, with the fundamental in sine phase. A pulse starts with its rise."""
    saw = -1j * 2.0 / (np.pi * _K)
    if shape == "sine":
        return np.asarray(np.where(_K == 1, -1j, 0j))
    if shape == "triangle":
        turn = np.where(_K % 4 == 1, 1.0, -1.0)
        return np.asarray(np.where(_K % 2 == 1, -1j * 8.0 / np.pi**2 / _K**2 * turn, 0j))
    if shape in ("pulse", "square"):
        return np.asarray(saw * (1.0 - np.exp(-2j * np.pi * _K * width)))
    return np.asarray(saw, dtype=np.complex128)


def points_of(partials: _Partials, points: int = FINE) -> _Real:
    """The cycle at evenly spaced points, (points,)."""
    spectrum = np.zeros(points // 2 + 1, dtype=np.complex128)
    n = min(partials.size, points // 2 - 1)
    spectrum[1 : n + 1] = 0.5 * points * partials[:n]
    return np.asarray(np.fft.irfft(spectrum, points))


def partials_of_points(y: _Real, most: int = MOST) -> _Partials:
    """Partials 1..most of a cycle given by evenly spaced points, without DC."""
    found = np.fft.rfft(y) * (2.0 / y.size)
    out = np.zeros(most, dtype=np.complex128)
    n = min(most, found.size - 2)
    out[:n] = found[1 : n + 1]
    return out


def _bent(partials: _Partials, phase: _Real, fastest: float) -> _Partials:
    """The wave read at ``phase`` (cycles, (FINE,)), at most ``fastest`` times as fast."""
    kept = partials[: max(1, int((FINE // 2 - 1) / max(fastest, 1.0)))]
    y = points_of(kept)
    at = np.mod(phase, 1.0) * FINE
    i = at.astype(np.int64)
    part = at - i
    y1, y2 = y[i % FINE], y[(i + 1) % FINE]
    return partials_of_points(y1 + part * (y2 - y1))


_T = np.arange(FINE) / FINE


@remembered
def scattered_order(seed: int, most: int = 64) -> NDArray[np.int64]:
    """For each of the first partials, the one that takes its place. The first stays."""
    order = np.arange(most)
    order[1:] = 1 + np.argsort([key(seed, "scatter", k) for k in range(1, most)])
    return order


def _window(low: float, high: float, edge: float) -> _Real:
    if high >= 256.0:
        high = float(MOST)
    width = max(edge, 1e-3)
    rise = np.clip((_K - (low - width)) / width, 0.0, 1.0) if low > 1.0 else np.ones(MOST)
    fall = np.clip(((high + width) - _K) / width, 0.0, 1.0)
    return np.asarray(np.sin(0.5 * np.pi * rise) ** 2 * np.sin(0.5 * np.pi * fall) ** 2)


@remembered
def partials_of(cycle: Cycle) -> _Partials:
    """Partials 1..MOST of a shaped cycle."""
    if cycle.shape == "mix":
        c = (1.0 - cycle.blend) * plain_partials(cycle.a) + cycle.blend * plain_partials(cycle.b)
    elif cycle.shape == "drawn":
        one, two, share = cycle.frames
        c = frame_partials(one, MOST)
        if share > 0.0:
            c = (1.0 - share) * c + share * frame_partials(two, MOST)
    else:
        c = plain_partials(cycle.shape, cycle.width)
    if cycle.sync != 1.0 or cycle.begin != 0.0:
        c = _bent(c, cycle.begin + cycle.sync * _T, cycle.sync)
    if cycle.twin == "multiply":
        y = points_of(c)
        other = points_of(c * np.exp(2j * np.pi * _K * cycle.shift))
        c = partials_of_points(y * other)
    elif cycle.twin != "off":
        turn = np.exp(2j * np.pi * _K * cycle.shift)
        c = 0.5 * c * (1.0 + turn if cycle.twin == "add" else 1.0 - turn)
    if cycle.skew != 0.0:
        s = 0.5 * (1.0 + cycle.skew)
        phase = np.where(s > _T, 0.5 * _T / s, 0.5 + 0.5 * (_T - s) / (1.0 - s))
        c = _bent(c, phase, 0.5 / min(s, 1.0 - s))
    if cycle.scatter > 0.0:
        order = scattered_order(cycle.seed)
        mixed = c.copy()
        mixed[: order.size] = (1.0 - cycle.scatter) * c[: order.size] + cycle.scatter * c[order]
        c = mixed
    if cycle.low > 1.0 or cycle.high < 256.0:
        c = c * _window(cycle.low, cycle.high, cycle.edge)
    return np.asarray(c)


def _padded(y: _Real) -> _Real:
    return np.concatenate([y[-1:], y, y[:2]])


@remembered
def table_of(cycle: Cycle, row: int) -> _Real:
    """The cycle with the partials of a third-octave row, (POINTS + 3,): one sample before and two after."""
    return _padded(points_of(partials_of(cycle)[: partials_kept(row)], POINTS))


@remembered
def stretched_tables(cycle: Cycle, row: int, stretch: float) -> tuple[_Real, _Real]:
    """Real and imaginary part of the sum of c_k exp(2 pi j (k - 1) t), each (POINTS + 3,).

    Turned by exp(2 pi j f t) and read at (1 + stretch) f, partial k stands at f (k + stretch (k - 1)).
    """
    most = partials_kept(row)
    kept = max(1, math.floor((most - 1) / (1.0 + max(stretch, 0.0))) + 1) if stretch > 0 else most
    spectrum = np.zeros(POINTS, dtype=np.complex128)
    c = partials_of(cycle)[: min(kept, POINTS // 2)]
    spectrum[: c.size] = POINTS * c
    z = np.fft.ifft(spectrum)
    return _padded(np.ascontiguousarray(z.real)), _padded(np.ascontiguousarray(z.imag))


def coarse(cycle: Cycle) -> Cycle:
    """The cycle with moved controls rounded to coarse steps, so that tables can be cached."""
    one, two, share = cycle.frames
    return replace(
        cycle,
        width=round(cycle.width * 200.0) / 200.0,
        blend=round(cycle.blend * 64.0) / 64.0,
        frames=(one, two, round(share * 32.0) / 32.0),
        sync=2.0 ** (round(math.log2(cycle.sync) * 240.0) / 240.0),
        shift=round(cycle.shift * 360.0) / 360.0,
        skew=round(cycle.skew * 128.0) / 128.0,
        low=round(cycle.low * 16.0) / 16.0,
        high=round(cycle.high * 16.0) / 16.0,
        scatter=round(cycle.scatter * 64.0) / 64.0,
    )
