"""Views of the history, the part shelf and the backing."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ....desk import KINDS, REPLACED, StoredPart
from ....library import HistoryStep
from ....patch import Patch
from ..controls import View, control_view


@dataclass(frozen=True)
class StepView:
    """One step: its number, its text, whether it is undone or the last, and its time.

    ``sitting``: the period of work, shown at its newest step only.
    """

    id: int
    label: str
    undone: bool
    now: bool
    at: str
    sitting: str


def history_view(steps: Sequence[HistoryStep]) -> list[StepView]:
    """Steps, newest first."""
    standing = [s.id for s in steps if not s.undone]
    newest = standing[-1] if standing else 0
    found: list[StepView] = []
    last: int | None = -1
    for s in reversed(steps):
        made = s.made.astimezone()
        sitting = f"{made.day} {made:%B, until %H:%M}" if s.sitting != last else ""
        last = s.sitting
        found.append(StepView(s.id, s.label, s.undone, s.id == newest, f"{made:%H:%M:%S}", sitting))
    return found


@dataclass(frozen=True)
class ShelfGroup:
    """Parts of one kind: number, name, and whether it is the user's own. replaces: what they take the place of."""

    kind: str
    name: str
    parts: tuple[tuple[int, str, bool], ...]
    replaces: str


@dataclass(frozen=True)
class PartShelf:
    """The part shelf, of one kind or of all."""

    kind: str
    kinds: tuple[tuple[str, str], ...]
    groups: tuple[ShelfGroup, ...]


def shelf_view(parts: Sequence[tuple[int, StoredPart]], kind: str) -> PartShelf:
    """Parts by kind."""
    groups = []
    for slug, name in KINDS.items():
        found = tuple((i, p.name, i > 0) for i, p in parts if p.kind == slug)
        if found:
            groups.append(ShelfGroup(slug, name, found, REPLACED.get(slug, "")))
    return PartShelf(kind, tuple(KINDS.items()), tuple(groups))


@dataclass(frozen=True)
class Beside:
    """One imported loop or other patch."""

    path: str
    name: str
    views: tuple[View, ...]


@dataclass(frozen=True)
class BackingView:
    """The beat, and the other tracks of the backing."""

    beat: tuple[View, ...]
    others: tuple[Beside, ...]
    choices: tuple[tuple[str, str], ...]


def backing_view(patch: Patch, choices: Sequence[tuple[str, str]]) -> BackingView:
    """The backing of a patch."""
    names = ("on", "pattern", "level", "kick_pitch", "kick", "snare", "hats")
    others = []
    for loop in patch.backing.loops:
        base = f"backing.loops.{loop.id}"
        views = tuple(control_view(patch, f"{base}.{n}") for n in ("on", "level", "tempo", "offset"))
        others.append(Beside(base, loop.name, views))
    for part in patch.backing.patches:
        base = f"backing.patches.{part.id}"
        others.append(Beside(base, part.name, tuple(control_view(patch, f"{base}.{n}") for n in ("on", "level"))))
    beat = tuple(control_view(patch, f"backing.beat.{n}") for n in names)
    return BackingView(beat, tuple(others), tuple(choices))
