"""Edits of what MIDI controllers turn."""

from __future__ import annotations

from ...patch import (
    HIGHEST_CONTROLLER,
    MOST_BINDINGS,
    Binding,
    Control,
    Edit,
    NoSuchPath,
    Patch,
    ValueProblem,
    controller_name,
    declaration,
    title,
)


def bind(patch: Patch, controller: int, path: str) -> tuple[list[Edit], str]:
    """Edits that let a controller turn a control instead of what it turned before, and the step as text."""
    if not 0 <= controller <= HIGHEST_CONTROLLER:
        raise ValueProblem(f"controllers go from 0 to {HIGHEST_CONTROLLER}")
    found = declaration(patch, path)
    if not isinstance(found, Control):
        raise ValueProblem(f"{found.name} is a choice: a controller turns numbers only")
    kept = [b for b in patch.bindings if b.controller != controller]
    if len(kept) >= MOST_BINDINGS:
        raise ValueProblem(f"a patch has {MOST_BINDINGS} bindings at most: remove one first")
    new = Binding(id=f"controller-{controller}", controller=controller, target=path)
    edits = [Edit("bindings", [b.model_dump() for b in (*kept, new)])]
    return edits, f"{controller_name(controller)} turns {title(patch, path)}"


def unbind(patch: Patch, controller: int) -> tuple[list[Edit], str]:
    """Edits that free a controller, and the step as text."""
    kept = [b.model_dump() for b in patch.bindings if b.controller != controller]
    if len(kept) == len(patch.bindings):
        raise ValueProblem(f"{controller_name(controller)} is bound to nothing")
    return [Edit("bindings", kept)], f"Free {controller_name(controller)}"


def bound(patch: Patch, controller: int) -> str:
    """The path of the control that a controller turns. Empty if there is none, or it is gone."""
    path = next((b.target for b in patch.bindings if b.controller == controller), "")
    try:
        return path if path and isinstance(declaration(patch, path), Control) else ""
    except NoSuchPath:
        return ""
