"""Dependencies between movers and between layers: cycles, and a topological order."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from graphlib import CycleError, TopologicalSorter

from ..control_path import ControlPath
from .kinds import Mover
from .movers import Follower, Movement


def cycle_of(dependencies: dict[str, set[str]]) -> list[str]:
    """A cycle of ids, each of which depends on the next, the smallest first; empty when there is none."""
    try:
        TopologicalSorter({at: sorted(on) for at, on in sorted(dependencies.items())}).prepare()
    except CycleError as found:
        cycle: list[str] = found.args[1][:0:-1]
        first = cycle.index(min(cycle))
        return cycle[first:] + cycle[:first]
    return []


def topological_order(ids: list[str], dependencies: dict[str, set[str]]) -> list[str]:
    """The ids ordered so that each comes after those it depends on. Ids that are not given are left out."""
    known = set(ids)
    return list(TopologicalSorter({at: sorted(dependencies.get(at, set()) & known) for at in ids}).static_order())


def mover_dependencies(movements: Iterable[Movement]) -> dict[str, set[str]]:
    """The movers that drive a mover's own controls, by id."""
    found: dict[str, set[str]] = {}
    for m in movements:
        parts = ControlPath(m.target).steps
        if not m.lost and parts[0] == "movers":
            found.setdefault(parts[1], set()).update({m.mover, m.scaled_by} - {""})
    return found


def movers_of(movements: Sequence[Movement], layer_id: str) -> set[str]:
    """Ids of the movers that a layer's sound depends on, directly or not."""
    return movers_below(movements, f"layers.{layer_id}.")


def movers_below(movements: Sequence[Movement], *prefixes: str) -> set[str]:
    """Ids of the movers that drive controls below one of the path prefixes (with its last dot), directly or not."""
    used = {i for m in movements if not m.lost and m.target.startswith(prefixes) for i in (m.mover, m.scaled_by) if i}
    dependencies = mover_dependencies(movements)
    todo = list(used)
    while todo:
        more = dependencies.get(todo.pop(), set()) - used
        used |= more
        todo += more
    return used


def layer_dependencies(
    layers: Iterable[str], movers: Iterable[Mover], movements: Sequence[Movement]
) -> dict[str, set[str]]:
    """The layers that each layer follows, by id."""
    follows = {m.id: m.layer for m in movers if isinstance(m, Follower) and m.layer}
    return {i: {follows[m] for m in movers_of(movements, i) if m in follows} for i in layers}
