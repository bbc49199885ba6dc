"""The strip of all workspaces: macros, stances, pinned controls."""

from __future__ import annotations

from contextlib import suppress
from dataclasses import dataclass

from ....desk import Picture, bound
from ....patch import MOST_MACROS, Macro, NoSuchPath, Patch, controller_name, said, title
from ..controls import Picker, Rule, View, control_view


@dataclass(frozen=True)
class MacroView:
    """One macro and what it moves."""

    id: str
    name: str
    rule: Rule
    moves: tuple[str, ...]
    drawn: bool


@dataclass(frozen=True)
class BoundControl:
    """A control that a MIDI controller turns. there: whether it is still part of the patch."""

    controller: int
    controller_name: str
    target: str
    there: bool


def bound_controls(patch: Patch) -> list[BoundControl]:
    """What MIDI controllers turn, by number."""
    found = []
    for b in sorted(patch.bindings, key=lambda b: b.controller):
        there = bool(bound(patch, b.controller))
        target = title(patch, b.target) if there else "a removed control"
        found.append(BoundControl(b.controller, controller_name(b.controller), target, there))
    return found


@dataclass(frozen=True)
class StripRow:
    """The content of the strip."""

    macros: tuple[MacroView, ...]
    room: bool
    stances: tuple[tuple[str, str, bool], ...]
    blend: tuple[Picker, Picker, Rule] | None
    pins: tuple[View, ...]


def strip_row(patch: Patch, picture: Picture | None) -> StripRow:
    """The strip of a patch."""
    macros = []
    for m in patch.movers:
        if isinstance(m, Macro):
            rule = control_view(patch, f"movers.{m.id}.value", picture, name=m.name)
            assert isinstance(rule, Rule)
            moves = tuple(said(patch, x).sentence for x in patch.movements if m.id in (x.mover, x.scaled_by))
            macros.append(MacroView(m.id, m.name, rule, moves, m.drawn and len(m.points) > 1))
    now = {m.id: m.value for m in patch.movers if isinstance(m, Macro)}
    stances = tuple(
        (s.id, s.name, all(abs(now.get(k, v) - v) < 0.05 for k, v in s.values.items())) for s in patch.stances
    )
    blend = None
    if len(patch.stances) > 1:
        a, b, share = (control_view(patch, f"blend.{n}", picture) for n in ("a", "b", "share"))
        assert isinstance(a, Picker) and isinstance(b, Picker) and isinstance(share, Rule)
        blend = a, b, share
    pins: list[View] = []
    for path in patch.pins:
        with suppress(NoSuchPath):
            view = control_view(patch, path, picture)
            pins.append(control_view(patch, path, picture, name=view.full))
    return StripRow(tuple(macros), len(macros) < MOST_MACROS, stances, blend, tuple(pins))
