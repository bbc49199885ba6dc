"""Edits of movements: added, reversed, mirrored, retargeted."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from typing import Any

from pydantic import BaseModel

from ...patch import (
    AudioRate,
    Control,
    ControlPath,
    Edit,
    Movement,
    Patch,
    ValueProblem,
    amp_envelopes,
    free_id,
    get,
    is_shown,
    movable,
    said,
    title,
    walk,
)
from .new_movers import NEW, first_amount, new_mover

Step = tuple[list[Edit], str]


def movable_controls(
    patch: Patch, layer_id: str = "", movers: bool = False, hidden: bool = False
) -> list[tuple[str, str]]:
    """Paths and names of the movable controls of one layer or of all, and of movers if wanted.

    hidden: whether those are among them that have no effect as the patch stands.
    """
    found: list[str] = []
    for layer in patch.layers:
        if layer_id in ("", layer.id):
            found += _moving_paths(layer, f"layers.{layer.id}")
    if not layer_id:
        found += [p for p in _moving_paths(patch, "") if ControlPath(p).root in ("worked", "returns", "sends")]
    for mover in patch.movers if movers else ():
        found += _moving_paths(mover, f"movers.{mover.id}")
    return told_apart([(path, title(patch, path)) for path in found if hidden or is_shown(patch, path)])


def told_apart(rows: Sequence[tuple[str, str]]) -> list[tuple[str, str]]:
    """Rows of a list by path and name, of which no two read the same: the second of a name is followed by 2."""
    seen: Counter[str] = Counter()
    found = []
    for path, name in rows:
        seen[name] += 1
        found.append((path, name if seen[name] == 1 else f"{name} ({seen[name]})"))
    return found


def _moving_paths(part: BaseModel, at: str) -> list[str]:
    return [path for path, control, _ in walk(part, at) if isinstance(control, Control) and control.moves]


def movement_of(patch: Patch, movement_id: str) -> Movement:
    """The movement of this id. Raises ValueProblem."""
    found = next((m for m in patch.movements if m.id == movement_id), None)
    if found is None:
        raise ValueProblem("that movement no longer exists")
    return found


def _kept(patch: Patch) -> list[dict[str, Any]]:
    return [m.model_dump() for m in patch.movements]


def add_movement(patch: Patch, mover: str, target: str) -> Step:
    """Edits that let a mover drive a control, and the step as text. ``new:lfo`` adds an LFO first."""
    movable(patch, target)
    edits: list[Edit] = []
    if mover.startswith(NEW):
        edits, made = new_mover(patch, mover.removeprefix(NEW), target)
        mover, name = made["id"], made["name"]
    else:
        found = next((m for m in patch.movers if m.id == mover), None)
        if found is None:
            raise ValueProblem("there is no such mover: add one first")
        name = found.name
        if isinstance(found, AudioRate) and not found.source:
            raise ValueProblem(f"{name} has no source yet: pick one under Movers first")
    taken = [m.id for m in patch.movements]
    new = Movement(id=free_id(f"{mover}-moves", taken), mover=mover, target=target, amount=first_amount(patch, target))
    edits.append(Edit("movements", [*_kept(patch), new.model_dump()]))
    return edits, f"{title(patch, target)} moves by {name}"


def mirror(patch: Patch, movement_id: str, target: str) -> Step:
    """Edits that let the mover of a movement drive another control the opposite way, and the step as text."""
    first = movement_of(patch, movement_id)
    control = movable(patch, target)
    if first.lost:
        raise ValueProblem("its target is gone: choose another first")
    same = movable(patch, first.target)
    amount = -first.amount if (control.unit, control.taper) == (same.unit, same.taper) else -first_amount(patch, target)
    made = first.model_copy(
        update={
            "id": free_id(first.mover + "-moves", [m.id for m in patch.movements]),
            "target": target,
            "amount": amount,
        }
    )
    return [Edit("movements", [*_kept(patch), made.model_dump()])], (
        f"{title(patch, target)} moves opposite to {title(patch, first.target)}"
    )


def aim(patch: Patch, movement_id: str, target: str) -> Step:
    """Edits that give a movement another target, and the step as text."""
    movement = movement_of(patch, movement_id)
    control = movable(patch, target)
    amount = first_amount(patch, target)
    if not movement.lost:
        before = movable(patch, movement.target)
        if (before.unit, before.taper) == (control.unit, control.taper):
            amount = movement.amount
    new = movement.model_copy(update={"target": target, "amount": amount, "lost": ""})
    kept = [new.model_dump() if m.id == movement_id else m.model_dump() for m in patch.movements]
    return [Edit("movements", kept)], f"{said(patch, movement).by} to {title(patch, target)}"


def turn_round(patch: Patch, movement_id: str) -> Step:
    """Edits that swap the start and the end of a movement, and the step as text."""
    movement = movement_of(patch, movement_id)
    if movement.lost:
        raise ValueProblem("its target is gone: choose another first")
    if movement.both_ways:
        return [
            Edit(f"movements.{movement_id}.amount", -movement.amount)
        ], f"Turn round {title(patch, movement.target)}"
    control = movable(patch, movement.target)
    rest = control.to_scale(float(get(patch, movement.target)))
    end = control.tidy(control.from_scale(rest + movement.amount))
    back = round(rest - control.to_scale(end), 6)
    value: Any = int(end) if control.whole else end
    return [Edit(movement.target, value), Edit(f"movements.{movement_id}.amount", back)], (
        f"Turn round {title(patch, movement.target)}"
    )


def clear_lost(patch: Patch) -> Step:
    """Edits that remove the movements without target, and the step as text."""
    kept = [m.model_dump() for m in patch.movements if not m.lost]
    if len(kept) == len(patch.movements):
        raise ValueProblem("no movement has lost its target")
    return [Edit("movements", kept)], "Remove movements without a target"


def unused(patch: Patch) -> list[str]:
    """Ids of the movers that move and scale nothing, and are no amp envelope."""
    used = {i for m in patch.movements if not m.lost for i in (m.mover, m.scaled_by)}
    used |= set(amp_envelopes(patch).values())
    return [m.id for m in patch.movers if m.id not in used]


__all__ = [
    "NEW",
    "Step",
    "add_movement",
    "aim",
    "clear_lost",
    "mirror",
    "movable_controls",
    "turn_round",
    "unused",
]
