"""Grips: what is dragged on the small drawings, and envelopes drawn so that their corners stand where they are dragged.

A grip moves one control across and one up, or only one of them. It stands between two ends of the drawing where the
control stands on its rule.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ....engine import envelope_curve
from ....patch import (
    BandDynamics,
    CeilingItem,
    Compressor,
    Control,
    Declared,
    Envelope,
    Expander,
    LevelEnvelope,
    NoSuchPath,
    Patch,
    declarations,
    get,
    is_shown,
    number,
    write,
)
from ..svg import across, curve

_PAD = 5.0
"""Per cent of a drawing's height above and below what is drawn, as ``svg.curve`` leaves it."""
_LONGEST = {"attack": 25.0, "hold": 14.0, "decay": 27.0, "sustain": 8.0, "release": 26.0}
"""Per cent of the width that a segment of an envelope takes, at its longest."""
_BESIDE = 4.0
"""Per cent of the width by which the grip of the hold stands beside that of the attack."""


@dataclass(frozen=True)
class Axis:
    """A control that a grip moves: the ends of its rule on the drawing in per cent, its place on it 0..1, its value."""

    path: str
    low: float
    high: float
    at: float
    text: str

    @property
    def place(self) -> float:
        """Where it stands, in per cent."""
        return self.low + (self.high - self.low) * self.at


@dataclass(frozen=True)
class Grip:
    """Something to drag, at x and y in per cent. across, up: the controls it moves. None: it doesn't go that way."""

    name: str
    x: float
    y: float
    across: Axis | None = None
    up: Axis | None = None

    @property
    def text(self) -> str:
        """The values of both."""
        return ", ".join(axis.text for axis in (self.across, self.up) if axis is not None)


def _axis(patch: Patch, path: str, low: float, high: float) -> Axis | None:
    """A control along a drawing. None if it has no effect now, or isn't there."""
    try:
        control = number(patch, path)
        value = float(get(patch, path))
        if not is_shown(patch, path):
            return None
    except NoSuchPath:
        return None
    return Axis(path, low, high, control.position(value), f"{control.name.lower()} {control.write(value)}")


def _grip(name: str, along: Axis | None, up: Axis | None, x: float = 50.0, y: float = 50.0) -> list[Grip]:
    """A grip on two axes. x, y: where it stands on the axis that it doesn't go along."""
    if along is None and up is None:
        return []
    return [Grip(name, along.place if along else x, up.place if up else y, along, up)]


def _down(value: float, low: float, high: float) -> float:
    """The place of a value on a drawing from low to high, in per cent from the top."""
    return _PAD + (100.0 - 2.0 * _PAD) * (high - value) / (high - low)


def envelope_drawing(patch: Patch, own: str, part: LevelEnvelope | Envelope) -> tuple[str, str, tuple[Grip, ...]]:
    """An envelope as a line, its caption, and its grips.

    Every segment is as wide as its control stands on its rule, so that a corner stays where it is dropped.
    """
    beats = "_beats" if part.clock == "beats" else ""
    at = {name: _at(patch, f"{own}.{name}{beats}") for name in ("attack", "hold", "decay", "release")}
    wide = [_LONGEST[name] * at.get(name, 1.0) for name in _LONGEST]
    levels, ms = envelope_curve(part, [*wide[:4], max(wide[4], 0.5)], patch.tempo)
    heights = _heights(part, number(patch, f"{own}.sustain"), np.append(levels, 0.0))
    top = max(1.0, float(heights.max()))
    x = dict(zip(_LONGEST, np.cumsum(wide).tolist(), strict=True))
    floor, head = _down(0.0, 0.0, top), _down(1.0, 0.0, top)

    def along(name: str, start: float) -> Axis | None:
        return _axis(patch, f"{own}.{name}{beats}", start, start + _LONGEST[name])

    grips = [
        *_grip("Start", None, _axis(patch, f"{own}.start", floor, head), x=0.0),
        *_grip("Attack", along("attack", 0.0), None, y=head),
        *_grip("Hold", along("hold", x["attack"] + _BESIDE), None, y=head),
        *_grip("Decay and sustain", along("decay", x["hold"]), _axis(patch, f"{own}.sustain", floor, head)),
        *_grip("Release", along("release", x["sustain"]), None, y=floor),
    ]
    line = curve(heights, 0.0, top, 180.0 * x["release"] / 100.0)
    return line, f"{write(ms, 'ms')} long", tuple(grips)


def _at(patch: Patch, path: str) -> float:
    return number(patch, path).position(float(get(patch, path)))


def _heights(part: LevelEnvelope | Envelope, sustain: Control, levels: NDArray[np.float64]) -> NDArray[np.float64]:
    """Levels as they stand on the rule of the sustain, so that a line meets its grip. What is above full goes on."""
    if isinstance(part, Envelope):
        return levels
    return np.array([max(1.0, v) if v >= 1.0 else sustain.position(20.0 * np.log10(max(v, 1e-9))) for v in levels])


def _cutoff(patch: Patch, own: str, part: Any, reach: tuple[float, float]) -> list[Grip]:
    """The cutoff across the axis from 20 Hz to 20 kHz, and what belongs to it: a gain where it is drawn, others as far
    as the drawing goes. reach: the levels in dB at its bottom and top.
    """
    name, control = next(((n, c) for n, c in declarations(type(part)).items() if _is_cutoff(c)), ("", None))
    if not isinstance(control, Control):
        return []
    zero, lift = _down(0.0, *reach), control.paired
    ends = (100.0 - _PAD, _PAD)
    beside = declarations(type(part)).get(lift)
    if isinstance(beside, Control) and beside.unit == "dB":
        ends = (zero, _PAD) if beside.low >= 0.0 else (_down(beside.low, *reach), _down(beside.high, *reach))
    along = _axis(patch, f"{own}.{name}", across(control.low), across(control.high))
    up = _axis(patch, f"{own}.{lift}", *ends) if along and lift else None
    return _grip(f"{control.name} and {lift}" if lift else control.name, along, up, y=zero)


def _is_cutoff(found: Declared) -> bool:
    return isinstance(found, Control) and found.handle == "cutoff"


def _level_in(db: float) -> float:
    """The place of a level on the axis from -72 to 0 dBFS, in per cent."""
    return 100.0 * (db + 72.0) / 72.0


def _thresholds(*names: str) -> Callable[[Patch, str, Any], list[Grip]]:
    """Grips of a static curve: thresholds across where in and out are alike, and what they do at its ends."""

    def found(patch: Patch, own: str, part: Any) -> list[Grip]:
        grips: list[Grip] = []
        for name in names:
            db = float(getattr(part, name))
            control = number(patch, f"{own}.{name}")
            along = _axis(patch, f"{own}.{name}", _level_in(control.low), _level_in(control.high))
            grips += _grip(control.name, along, None, y=_down(db, -72.0, 6.0))
        return grips

    return found


def _compressor(patch: Patch, own: str, part: Compressor) -> list[Grip]:
    """The threshold on the line of no change, and the ratio at the end of the curve that it bends."""
    grips = _thresholds("threshold")(patch, own, part)
    flat = _down(part.threshold, -72.0, 6.0)
    straight, x = (_down(0.0, -72.0, 6.0), 100.0) if part.mode == "downward" else (_down(-72.0, -72.0, 6.0), 0.0)
    return grips + _grip("Ratio", None, _axis(patch, f"{own}.ratio", straight, flat), x=x)


def _ceiling(patch: Patch, own: str, part: CeilingItem) -> list[Grip]:
    control = number(patch, f"{own}.limit")
    ends = (_down(v, -72.0, 6.0) for v in (control.low, control.high))
    return _grip("Limit", None, _axis(patch, f"{own}.limit", *ends), x=100.0)


_GRIPS: dict[type, Callable[[Patch, str, Any], list[Grip]]] = {
    Compressor: _compressor,
    Expander: _thresholds("threshold"),
    BandDynamics: _thresholds("up_threshold", "down_threshold"),
    CeilingItem: _ceiling,
}


def grips_of(patch: Patch, own: str, part: Any, reach: tuple[float, float]) -> tuple[Grip, ...]:
    """The grips on the drawing of a stage, an effect or one of its bands.

    own: its path. reach: the levels in dB at the bottom and the top of a frequency response.
    """
    found = _GRIPS.get(type(part))
    return tuple(found(patch, own, part) if found else _cutoff(patch, own, part, reach))
