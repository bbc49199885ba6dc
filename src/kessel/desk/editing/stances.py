"""Stances: stored positions of all macros, switched or blended; and pinned controls."""

from __future__ import annotations

from ...patch import Edit, Macro, Patch, Stance, ValueProblem, declaration, free_id, mixed, title

Step = tuple[list[Edit], str]
MOST_PINS = 16


def _macros(patch: Patch) -> list[Macro]:
    found = [m for m in patch.movers if isinstance(m, Macro)]
    if not found:
        raise ValueProblem("there is no macro yet: add one first")
    return found


def stance_of(patch: Patch, stance_id: str) -> Stance:
    """The stance of this id. Raises ValueProblem."""
    found = next((s for s in patch.stances if s.id == stance_id), None)
    if found is None:
        raise ValueProblem("that stance is no longer there")
    return found


def keep_stance(patch: Patch, over: str = "") -> Step:
    """Edits that store the positions of all macros as a new stance or over one, and the step as text."""
    values = {m.id: m.value for m in _macros(patch)}
    if over:
        found = stance_of(patch, over)
        return [Edit(f"stances.{over}.values", values)], f"Store the macros in {found.name}"
    names = {s.name for s in patch.stances}
    number = next(n for n in range(1, 99) if f"Stance {n}" not in names)
    new = Stance(id=free_id(f"stance-{number}", [s.id for s in patch.stances]), name=f"Stance {number}", values=values)
    return [Edit("stances", [*(s.model_dump() for s in patch.stances), new.model_dump()])], f"Keep {new.name}"


def take_stance(patch: Patch, stance_id: str) -> Step:
    """Edits that set all macros to a stance, and the step as text."""
    found = stance_of(patch, stance_id)
    there = {m.id for m in _macros(patch)}
    return [Edit(f"movers.{i}.value", float(v)) for i, v in found.values.items() if i in there], f"Stance {found.name}"


def blended(patch: Patch, share: float) -> list[Edit]:
    """Edits of a blend's share, with the macros that it sets, so that undo restores them."""
    by_id = {s.id: s for s in patch.stances}
    a, b = by_id.get(patch.blend.a), by_id.get(patch.blend.b)
    if a is None or b is None:
        raise ValueProblem("pick two stances to blend between first")
    there = {m.id for m in _macros(patch)}
    values = mixed(a, b, share / 100.0)
    return [
        Edit("blend.share", share),
        *(Edit(f"movers.{i}.value", round(v, 3)) for i, v in values.items() if i in there),
    ]


def pin(patch: Patch, path: str) -> Step:
    """Edits that pin a control to the strip or unpin it, and the step as text."""
    if path in patch.pins:
        return [Edit("pins", [p for p in patch.pins if p != path])], "Unpin a control"
    declaration(patch, path)
    if len(patch.pins) >= MOST_PINS:
        raise ValueProblem(f"{MOST_PINS} controls can be pinned at most: unpin one first")
    return [Edit("pins", [*patch.pins, path])], f"Pin {title(patch, path)}"
