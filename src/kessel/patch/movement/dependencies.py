"""What leans on what: movers on movers, layers on layers they follow; circles, and an order without them."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from .movers import Follower, Movement, Mover


def cycle_of(edges: dict[str, set[str]]) -> list[str]:
    """A circle in a graph of what leans on what, or nothing."""
    done: set[str] = set()

    def walk(at: str, way: list[str]) -> list[str]:
        if at in way:
            return way[way.index(at) :]
        if at in done:
            return []
        for to in sorted(edges.get(at, ())):
            found = walk(to, [*way, at])
            if found:
                return found
        done.add(at)
        return []

    return next((c for start in sorted(edges) if (c := walk(start, []))), [])


def topological_order(ids: list[str], dependencies: dict[str, set[str]]) -> list[str]:
    """Ids in an order in which each comes after those it leans on; there is no circle."""
    found: list[str] = []

    def put(at: str) -> None:
        if at in found or at not in ids:
            return
        for to in sorted(dependencies.get(at, ())):
            put(to)
        found.append(at)

    for at in ids:
        put(at)
    return found


def mover_dependencies(movements: Iterable[Movement]) -> dict[str, set[str]]:
    """Which movers a mover's own controls are driven by, by id."""
    found: dict[str, set[str]] = {}
    for m in movements:
        parts = m.target.split(".")
        if not m.lost and parts[0] == "movers":
            found.setdefault(parts[1], set()).update({m.mover, m.scaled_by} - {""})
    return found


def movers_of(movements: Sequence[Movement], layer_id: str) -> set[str]:
    """Ids of the movers that a layer's sound depends on, through others too."""
    return movers_below(movements, f"layers.{layer_id}.")


def movers_below(movements: Sequence[Movement], *prefixes: str) -> set[str]:
    """Ids of the movers that drive what stands below one of the paths (with its last dot), through others too."""
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
    """Which layers each layer follows, by id."""
    follows = {m.id: m.layer for m in movers if isinstance(m, Follower) and m.layer}
    return {i: {follows[m] for m in movers_of(movements, i) if m in follows} for i in layers}
