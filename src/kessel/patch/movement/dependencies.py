"""Dependencies between movers and between layers: cycles, and a topological order."""

from __future__ import annotations

from collections.abc import Iterable, Sequence, Set
from graphlib import CycleError, TopologicalSorter
from typing import Any, Protocol

from ..control_path import ControlPath
from .kinds import Mover
from .movers import Follower, Movement


class Moved(Protocol):
    """A patch, as far as movers are concerned."""

    @property
    def layers(self) -> Sequence[Any]:
        """Its layers."""

    @property
    def movers(self) -> Sequence[Mover]:
        """Its movers."""

    @property
    def movements(self) -> Sequence[Movement]:
        """Its movements."""


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


def amp_envelopes(patch: Moved) -> dict[str, str]:
    """The envelope that each source has as its amp envelope, by the path of its pick."""
    return {
        f"layers.{layer.id}.sources.{source.id}.envelope": source.envelope
        for layer in patch.layers
        for source in layer.sources
        if source.envelope
    }


def movers_of(patch: Moved, layer_id: str) -> set[str]:
    """Ids of the movers that a layer's sound depends on, directly or not."""
    return movers_below(patch, f"layers.{layer_id}.")


def movers_below(patch: Moved, *prefixes: str) -> set[str]:
    """Ids of the movers that drive controls, or are amp envelopes, below one of the path prefixes (with its last dot),
    directly or not.
    """
    movements = patch.movements
    used = {i for m in movements if not m.lost and m.target.startswith(prefixes) for i in (m.mover, m.scaled_by) if i}
    used |= {envelope for path, envelope in amp_envelopes(patch).items() if path.startswith(prefixes)}
    return with_their_movers(movements, used)


def with_their_movers(movements: Iterable[Movement], used: Set[str], away: Set[str] = frozenset()) -> set[str]:
    """The movers with all movers that move them, except those that are away."""
    dependencies = mover_dependencies(movements)
    used = set(used)
    todo = list(used)
    while todo:
        more = dependencies.get(todo.pop(), set()) - used - away
        used |= more
        todo += more
    return used


def layer_dependencies(patch: Moved) -> dict[str, set[str]]:
    """The layers that each layer follows, by id."""
    follows = {m.id: m.layer for m in patch.movers if isinstance(m, Follower) and m.layer}
    return {x.id: {follows[m] for m in movers_of(patch, x.id) if m in follows} for x in patch.layers}
