"""Movements as sentences: ``Body cutoff moves between 180 Hz and 1.3 kHz, moved by Curve 1, once per note``."""

from __future__ import annotations

from dataclasses import dataclass

from .controls import Control
from .model import Patch
from .movement import Movement, kind_of, manner
from .paths import get, number, title
from .units import write


@dataclass(frozen=True)
class Said:
    """A movement as text: its target, its start and end, its mover, and in which way that moves."""

    target: str
    start: str
    end: str
    by: str
    manner: str
    lost: bool = False

    @property
    def sentence(self) -> str:
        """The whole sentence."""
        if self.lost:
            return f"{self.target} is gone, so {self.by} moves nothing: choose another target, or remove it"
        return f"{self.target} moves between {self.start} and {self.end}, {self.by}, {self.manner}"


def ends(patch: Patch, movement: Movement) -> tuple[float, float]:
    """The start and end value of a movement. Raises NoSuchPath."""
    control = number(patch, movement.target)
    rest = control.to_scale(float(get(patch, movement.target)))
    start = rest - movement.amount if movement.both_ways else rest
    return control.from_scale(start), control.from_scale(rest + movement.amount)


def said(patch: Patch, movement: Movement) -> Said:
    """A movement as text."""
    mover = next(m for m in patch.movers if m.id == movement.mover)
    how = manner(mover)
    if movement.scaled_by:
        how += f", scaled by {next(m.name for m in patch.movers if m.id == movement.scaled_by)}"
    if movement.lost:
        return Said(movement.lost, "", "", mover.name, how, lost=True)
    control: Control = number(patch, movement.target)
    start, end = (control.write(v) for v in ends(patch, movement))
    return Said(title(patch, movement.target), start, end, f"{kind_of(mover).verb} {mover.name}", how)


def shaped_by(patch: Patch, envelope: str) -> list[str]:
    """The sources that have an envelope as their amp envelope, with their layers: ``Reed: Mouth``."""
    return [f"{x.name}: {s.name}" for x in patch.layers for s in x.sources if s.envelope == envelope]


def reach_text(patch: Patch, movement: Movement) -> str:
    """What a movement reaches, as a step of the history tells it: ``Talk cutoff now falls from 2.4 kHz to 960 Hz with
    Words``.
    """
    control: Control = number(patch, movement.target)
    first, last = ends(patch, movement)
    does = "swings between" if movement.both_ways else "rises from" if last > first else "falls from"
    joined = f"{control.write(first)} {'and' if movement.both_ways else 'to'} {control.write(last)}"
    name = next(m.name for m in patch.movers if m.id == movement.mover)
    return f"{title(patch, movement.target)} now {does} {joined} with {name}"


def amount_text(patch: Patch, movement: Movement) -> str:
    """A movement's amount on the control's scale: ``+2.4 oct``, ``−6 dB``."""
    control = number(patch, movement.target)
    if control.taper == "log":
        if control.unit != "Hz":
            return f"×{2.0**movement.amount:.3g}"
        text = write(movement.amount, "oct")
    else:
        text = write(movement.amount, control.unit)
    sign = "+" if movement.amount > 0 and not text.startswith("×") else ""
    return ("±" if movement.both_ways else sign) + (text.lstrip("−") if movement.both_ways else text)
