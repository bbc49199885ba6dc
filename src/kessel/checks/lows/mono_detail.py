"""Mono loss by frequency and time, and its causes."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ...engine import places_of_chains
from ...measure import Spectrum, correlation_frames, scope_density, third_octaves
from ...patch import get
from ..evidence import Evidence
from ..finding import Limits

_Real = NDArray[np.float64]
_ALL_GONE = -60.0
_QUIET_DB = 60.0
"""Third-octave bands this many dB below the loudest are not reported."""


@dataclass(frozen=True)
class Third:
    """A third octave: level in dB against a full-scale sine, mono loss in dB, correlation. None if it is silent."""

    hz: float
    low: float
    high: float
    level: float | None
    loss: float | None
    correlation: float | None


@dataclass(frozen=True)
class Bringer:
    """A cause of width: a layer or a stage. low, whole: its mono loss in dB in the lows and in all. share: of the power
    that mono removes from all layers, in the lows and in all.
    """

    path: str
    name: str
    low: float | None
    whole: float | None
    low_share: float
    share: float


@dataclass(frozen=True)
class MonoDetail:
    """Mono loss of the output.

    correlation: every 50 ms of the loop, NaN where it is silent. scope: (rows, columns) distribution over side (across)
    and middle (up), 0..1. changes: by stage, how much each adds to the loss in the lows and in all, in dB.
    """

    thirds: tuple[Third, ...]
    correlation: _Real
    scope: _Real
    layers: tuple[Bringer, ...]
    changes: tuple[tuple[str, str, float | None, float | None], ...]
    whole: float | None
    low: float | None
    side_low_db: float | None


def _side(s: Spectrum, low: float, high: float) -> float:
    return max(0.0, s.power(low, high) - s.power(low, high, "mid"))


def mono_detail(e: Evidence, limits: Limits) -> MonoDetail:
    """Mono loss of the output, of every layer, and of every stage of the chains."""
    s = e.sum.spectrum
    edge = limits.low_hz
    low, side = s.power(20, edge), _side(s, 20, edge)
    return MonoDetail(
        thirds=_thirds(s),
        correlation=correlation_frames(e.loop.sum, keep=True),
        scope=scope_density(e.loop.sum),
        layers=_bringers(e, edge),
        changes=tuple(_changes(e, edge)),
        whole=e.sum.mono_loss_db,
        low=s.mono_loss(20, edge),
        side_low_db=10.0 * float(np.log10(side / low)) if side > 1e-12 and low > 0 else None,
    )


def _thirds(s: Spectrum) -> tuple[Third, ...]:
    loudest = max((x for _, lo, hi in third_octaves() if (x := s.level(lo, hi)) is not None), default=-200.0)
    found = []
    for hz, lo, hi in third_octaves():
        level = s.level(lo, hi)
        if level is None or level <= loudest - _QUIET_DB:
            found.append(Third(hz, lo, hi, None, None, None))
            continue
        loss = s.mono_loss(lo, hi)
        found.append(Third(hz, lo, hi, level, _ALL_GONE if loss is None else loss, s.correlation(lo, hi)))
    return tuple(found)


def _bringers(e: Evidence, edge: float) -> tuple[Bringer, ...]:
    """Mono loss of every layer, and its share of the side in the lows and in all."""
    sides = {x.id: (_side(e.spectrum(x.id), 20, edge), _side(e.spectrum(x.id), 20, 20000)) for x in e.patch.layers}
    whole = [max(sum(v[i] for v in sides.values()), 1e-20) for i in (0, 1)]
    shares = {i: [v[k] / whole[k] if v[k] > 1e-12 else 0.0 for k in (0, 1)] for i, v in sides.items()}
    return tuple(
        Bringer(
            f"layers.{x.id}",
            x.name,
            e.spectrum(x.id).mono_loss(20, edge),
            e.spectrum(x.id).mono_loss(20, 20000),
            *shares[x.id],
        )
        for x in e.patch.layers
        if not x.mute
    )


def _changes(e: Evidence, edge: float) -> list[tuple[str, str, float | None, float | None]]:
    found = []
    for place in places_of_chains(e.patch):
        taps = e.taps(place)
        for item in get(e.patch, place):
            path = f"{place}.{item.id}"
            if not item.on:
                continue
            before, after = (
                e.once(f"spectrum {p}", lambda p=p: Spectrum.of(taps.x[p].astype(np.float64), wrap=True))  # type: ignore[misc]  # noqa: B023
                for p in (taps.before[path], path)
            )
            rows = []
            for high in (edge, 20000.0):
                a, b = before.mono_loss(20, high), after.mono_loss(20, high)
                rows.append(None if a is None or b is None else b - a)
            found.append((path, item.name, rows[0], rows[1]))
    return found
