"""Changes of a control: typed, dragged, stepped or reset, as edits."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Any

from ...patch import (
    Control,
    ControlPath,
    Edit,
    Movement,
    NoSuchPath,
    Patch,
    Typing,
    ValueProblem,
    amount_text,
    declaration,
    free_name,
    get,
    movable,
    read,
    shown,
    typed,
)

AXIS_LOW, AXIS_HIGH = 20.0, 20000.0
"""Hz: the ends of the shared frequency axis."""


EACH = "*"
"""A path step that stands for every part of a list."""


def spread(patch: Patch, path: str) -> list[str]:
    """The paths that a path with EACH in it stands for. Raises NoSuchPath."""
    before, _, after = path.partition(f".{EACH}.")
    parts = get(patch, before)
    if not isinstance(parts, list) or not parts or not after or EACH in after:
        raise NoSuchPath(path)
    return [f"{before}.{part.id}.{after}" for part in parts]


@dataclass(frozen=True)
class ControlChange:
    """One way of changing the control at ``path``: typed text, a position on the rule 0..1, a position on the shared
    frequency axis 0..1, arrow steps, or the default.
    """

    path: str
    text: str | None = None
    at: float | None = None
    axis: float | None = None
    steps: float | None = None
    default: bool = False


def movement_end(patch: Patch, path: str) -> tuple[Movement, Control] | None:
    """The movement and the moved control if ``path`` is a movement's amount."""
    parts = ControlPath(path).steps
    if len(parts) != 3 or parts[0] != "movements" or parts[2] != "amount":
        return None
    found = next((m for m in patch.movements if m.id == parts[1]), None)
    return (found, movable(patch, found.target)) if found is not None and not found.lost else None


def end_of(patch: Patch, movement: Movement, control: Control) -> float:
    """The end value of a movement."""
    rest = float(get(patch, movement.target))
    return control.from_scale(control.to_scale(rest) + movement.amount)


def distance_of(patch: Patch, path: str) -> tuple[Movement, Control] | None:
    """The movement and the moved control if ``path`` is a movement's distance: its amount on the control's scale."""
    if not path.endswith(".distance"):
        return None
    return movement_end(patch, path.removesuffix("distance") + "amount")


def _distance(control: Control, text: str) -> float:
    """Typed text for a movement's amount, on the control's own scale."""
    text = text.strip().lstrip("±")
    if control.taper != "log":
        return read(text, control.unit)
    if control.unit == "Hz":
        return read(text, "oct")
    factor = read(text.lstrip("×"), "x")
    if factor <= 0:
        raise ValueProblem("a factor must be above 0: type for example ×2 or 1/2")
    return math.log2(factor)


@dataclass(frozen=True)
class Shown:
    """A control's value as text, its position on its rule, and on the frequency axis if it is in Hz; both 0..1."""

    text: str
    at: float | None
    axis: float | None


def value_shown(patch: Patch, path: str) -> Shown:
    """How the control at ``path`` is shown; for a movement's amount, its end value; for all parts at once, the first.

    Raises NoSuchPath.
    """
    if f".{EACH}." in path:
        return value_shown(patch, spread(patch, path)[0])
    end = movement_end(patch, path)
    if end is not None:
        movement, control = end
        value = end_of(patch, movement, control)
        return Shown(control.write(value), control.position(value), None)
    distance = distance_of(patch, path)
    if distance is not None:
        return Shown(amount_text(patch, distance[0]), None, None)
    present = get(patch, path)
    if ControlPath(path).name == "name" and isinstance(present, str):
        return Shown(present, None, None)
    found = declaration(patch, path)
    if not isinstance(found, Control):
        return Shown(shown(patch, path), None, None)
    value = float(present)
    axis = math.log(value / AXIS_LOW) / math.log(AXIS_HIGH / AXIS_LOW) if found.unit == "Hz" and value > 0 else None
    return Shown(found.write(value), found.position(value), axis)


def _number(control: Control, present: float, turn: ControlChange, tempo: float) -> float:
    if turn.text is not None:
        return control.read(turn.text, Typing(tempo, present))
    if turn.at is not None:
        return control.at(turn.at)
    if turn.axis is not None:
        if control.unit != "Hz":
            raise ValueProblem(f"{control.name} is not a frequency")
        return control.tidy(AXIS_LOW * (AXIS_HIGH / AXIS_LOW) ** min(max(turn.axis, 0.0), 1.0))
    if turn.steps is not None:
        return control.nudged(present, turn.steps)
    return control.default


def apply_change(patch: Patch, turn: ControlChange) -> list[Edit]:
    """The edits of a change: one, or one for each part. Raises ValueProblem with one line, or NoSuchPath.

    A drag or a step moves all parts as far as the first. Typed text is applied to all.
    """
    if f".{EACH}." not in turn.path:
        edit = _turned(patch, turn)
        return [edit, *_named_by_content(patch, edit)]
    first, *others = spread(patch, turn.path)
    lead = _turned(patch, replace(turn, path=first))
    found = declaration(patch, first)
    if turn.text is not None or turn.default or not isinstance(found, Control):
        return [lead, *(_turned(patch, replace(turn, path=p)) for p in others)]
    distance = found.to_scale(float(lead.value)) - found.to_scale(float(get(patch, first)))
    moved = (found.tidy(found.from_scale(found.to_scale(float(get(patch, p))) + distance)) for p in others)
    return [lead, *(Edit(p, v) for p, v in zip(others, moved, strict=True))]


_BANDS = {"Low", "Lower mid", "Mid", "Upper mid", "High"}
"""Names that the paths of a branch have as bands."""


def _named_by_content(patch: Patch, edit: Edit) -> list[Edit]:
    """Edits that name the paths of a branch that becomes copies for what they hold, where bands gave the names."""
    owner = ControlPath(edit.path).parent
    if ControlPath(edit.path).name != "into" or edit.value != "copies":
        return []
    taken: list[str] = []
    found = []
    for path in get(patch, f"{owner}.paths"):
        name = path.name
        if name in _BANDS:
            name = free_name(path.items[0].name if path.items else "Dry", taken)
            found.append(Edit(f"{owner}.paths.{path.id}.name", name))
        taken.append(name)
    return found


def _turned(patch: Patch, turn: ControlChange) -> Edit:
    end = movement_end(patch, turn.path)
    if end is not None:
        movement, control = end
        rest = float(get(patch, movement.target))
        value = rest if turn.default else _number(control, end_of(patch, movement, control), turn, patch.tempo)
        return Edit(turn.path, round(control.to_scale(value) - control.to_scale(rest), 6))
    distance = distance_of(patch, turn.path)
    if distance is not None:
        movement, control = distance
        amount = 0.0 if turn.text is None else _distance(control, turn.text)
        return Edit(f"movements.{movement.id}.amount", round(amount, 6))
    if ControlPath(turn.path).name == "name" and turn.text is not None and isinstance(get(patch, turn.path), str):
        return Edit(turn.path, turn.text)
    found = declaration(patch, turn.path)
    if not isinstance(found, Control):
        if turn.default:
            return Edit(turn.path, found.default)
        if turn.text is None:
            raise ValueProblem(f"{found.name} needs one of its options")
        return typed(patch, turn.path, turn.text)
    value = _number(found, float(get(patch, turn.path)), turn, patch.tempo)
    new: Any = int(value) if found.whole else value
    return Edit(turn.path, new)
