"""Edits that tie two frequencies at their present interval, and untie them."""

from __future__ import annotations

import math

from ...patch import Control, Edit, Patch, Tie, ValueProblem, all_tied, declared, free_id, frequency, get, title
from .movements import Step, movable_controls


def frequencies(patch: Patch, hidden: bool = False) -> list[tuple[str, str]]:
    """Paths and names of the frequencies that can be tied. hidden: also of those that have no effect now."""
    found = []
    for path, name in movable_controls(patch, hidden=hidden):
        try:
            frequency(patch, path)
        except ValueProblem:
            continue
        found.append((path, name))
    return found


def tie(patch: Patch, path: str, other: str) -> Step:
    """Edits that tie the frequency at ``path`` to another at their present interval, and the step as text."""
    for end in (path, other):
        frequency(patch, end)
    if other in all_tied(patch, path):
        raise ValueProblem(f"{title(patch, path)} is tied to {title(patch, other)} already")
    interval = round(12.0 * math.log2(float(get(patch, path)) / float(get(patch, other))), 2)
    span = declared(Tie, "interval")
    if not isinstance(span, Control) or not span.low <= interval <= span.high:
        raise ValueProblem("they are over seven octaves apart: bring them closer, then tie them")
    # a tie that lost both ends is shown nowhere and would only take up space
    there = dict(frequencies(patch, hidden=True))
    kept = [t for t in patch.ties if t.first in there or t.second in there]
    made = Tie(id=free_id("tie", [t.id for t in kept]), first=other, second=path, interval=interval)
    edits = [Edit("ties", [t.model_dump() for t in (*kept, made)])]
    return edits, f"Tie {title(patch, path)} to {title(patch, other)}"


def untie(patch: Patch, tie_id: str) -> Step:
    """Edits that untie two frequencies, and the step as text."""
    found = next((t for t in patch.ties if t.id == tie_id), None)
    if found is None:
        raise ValueProblem("that tie no longer exists")
    edits = [Edit("ties", [t.model_dump() for t in patch.ties if t.id != tie_id])]
    return edits, f"Untie {title(patch, f'ties.{tie_id}.interval')}"


__all__ = ["frequencies", "tie", "untie"]
