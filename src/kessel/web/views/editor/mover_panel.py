"""The tabs of movers, and of movements as sentences."""

from __future__ import annotations

from functools import singledispatch

from ....desk import movable_controls, unused
from ....engine import drawn_curve, lfo_curve
from ....patch import (
    MOVERS,
    AudioRate,
    ControlPath,
    Curve,
    Envelope,
    Lfo,
    Macro,
    Mover,
    Patch,
    Segments,
    manner,
    shaped_by,
)
from ..controls import with_ends
from ..svg import curve
from .grips import envelope_drawing
from .movement_list import movement_list, movement_row
from .panel import ActPick, Drawing, Panel, PanelContext, adders, chips, chosen, fields, keeping

_IN_ORDER = (
    "clock", "attack", "attack_beats", "hold", "hold_beats", "decay", "decay_beats", "sustain", "release",
    "release_beats", "start", "accent", "accent_decay", "attack_curve", "decay_curve", "release_curve",
)  # fmt: skip


def envelope_fields(part: Segments) -> list[str]:
    """An envelope's shown controls in the order of a note."""
    shown = fields(part)
    return [f for f in _IN_ORDER if f in shown]


@singledispatch
def _drawing(mover: Mover, patch: Patch) -> Drawing:
    """A mover as a curve; in words alone for those that have none."""
    return Drawing(mover.name, manner(mover), (), copper=True)


@_drawing.register
def _(mover: Envelope, patch: Patch) -> Drawing:
    line, caption, grips = envelope_drawing(patch, f"movers.{mover.id}", mover)
    return Drawing(mover.name, caption, (line,), copper=True, grips=grips)


@_drawing.register
def _(mover: Lfo, patch: Patch) -> Drawing:
    swings = "one swing" if mover.once else "two swings"
    return Drawing(mover.name, swings, (curve(lfo_curve(mover), -1.1, 1.1),), copper=True)


@_drawing.register(Curve)
@_drawing.register(Macro)
def _(mover: Curve | Macro, patch: Patch) -> Drawing:
    lines = (curve(drawn_curve(mover.points), -0.05, 1.05),) if len(mover.points) > 1 else ()
    return Drawing(mover.name, manner(mover), lines, copper=True)


def movers_panel(look: PanelContext) -> Panel:
    """Movers, and their movements."""
    patch = look.patch
    mover = chosen(list(patch.movers), look.item)
    idle = set(unused(patch))
    found = [c if c.id not in idle else c.resting() for c in chips(list(patch.movers), "movers", mover)]
    panel = Panel(found, adders("movers", *(kind.word for kind in MOVERS)))
    if mover is None:
        panel.empty = "No movers: add an envelope, a curve or an LFO, or Alt-click the control to move."
        return panel
    own = f"movers.{mover.id}"
    panel.drawing = _drawing(mover, patch)
    shown = envelope_fields(mover) if isinstance(mover, Envelope) else fields(mover)
    panel.views = with_ends(patch, [f"{own}.{f}" for f in shown], look.picture)
    _movements_of(look, panel, mover.id)
    panel.rows += [f"Amp envelope of {name}" for name in shaped_by(patch, mover.id)]
    if not panel.rows and not panel.moves:
        panel.rows.append(f"{mover.name} moves nothing")
    panel.acts = keeping("mover", own)
    panel.name_path = f"{own}.name"
    if isinstance(mover, Curve | Macro) or (isinstance(mover, Lfo) and mover.shape == "drawn"):
        panel.goto = (mover.id, "Draw it over the loop")
    panel.picks = [ActPick("let-move", {"mover": mover.id}, "target", "Move with it", _targets(look, mover))]
    return panel


def _movements_of(look: PanelContext, panel: Panel, mover: str) -> None:
    """All that a mover moves, with both ends to type over, and what it scales."""
    for m in look.patch.movements:
        if mover in (m.mover, m.scaled_by):
            panel.moves.append(movement_row(look.patch, m, look.picture))


def _targets(look: PanelContext, mover: Mover) -> tuple[tuple[str, str], ...]:
    """The controls that a mover can move."""
    targets = movable_controls(look.patch, look.layer.id, movers=True)
    if isinstance(mover, AudioRate):
        layer = ControlPath(mover.source).layer
        targets = [(p, n) for p, n in targets if p.startswith(f"layers.{layer}.stages.")] if layer else []
    return tuple((p, n) for p, n in targets if not ControlPath(p).is_below(f"movers.{mover.id}"))


def movements_panel(look: PanelContext) -> Panel:
    """All movements, as sentences."""
    panel = Panel(movements=movement_list(look.patch, look.picture, look.sort, look.only))
    if not look.patch.movements:
        panel.empty = "No movements: Alt-click a control, or choose one here."
    return panel
