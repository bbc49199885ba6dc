"""Level matches: the static gains with which the loop is as loud behind an item as before it."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from itertools import groupby
from operator import itemgetter
from typing import Any

from ..engine import CancelToken, RenderCache, RenderCancelled, places_of_chains, tap_chain
from ..patch import ChainItem, ControlPath, Edit, Patch, apply, get, highest_match
from .place_levels import SILENT_LUFS, ChainLevels, StageLevels, levels_of

_ROUNDS = 3
"""Most rounds of settling: an item that is matched changes what the next one gets."""
_SLACK_LU = 0.05


def matches_wanted(patch: Patch, levels: ChainLevels, slack: float = _SLACK_LU) -> list[tuple[str, float]]:
    """New gains of all level matches that are off, by path. Later items of a chain may need another round."""
    found: list[tuple[str, float]] = []
    for _, path in _matched(patch):
        change = levels.change(path)
        if change is not None and abs(change) > slack:
            part = get(patch, path)
            present = part.match
            wanted = round(min(max(present - change, -60.0), highest_match(part)), 2)
            if abs(wanted - present) > 0.02:
                found.append((f"{path}.match", wanted))
    return found


def any_matched(patch: Patch) -> bool:
    """Whether any audible item has a level match."""
    return any(True for _ in _matched(patch))


def match_of(patch: Patch, path: str, takes: RenderCache, stop: CancelToken | None = None) -> float:
    """The gain in dB that makes the loop as loud behind an item as before it. 0 if that is undefined."""
    place = next((p for p in places_of_chains(patch) if path.startswith(f"{p}.")), None)
    if place is None:
        return 0.0
    taps = tap_chain(patch, place, takes, stop)
    before, after = (levels_of(taps.x[p]).loudness for p in (taps.before[path], path))
    if before is None or after is None or min(before, after) <= SILENT_LUFS:
        return 0.0
    part = get(patch, path)
    return round(min(max(float(part.match) + before - after, -60.0), highest_match(part)), 2)


def settling(patch: Patch, edits: Sequence[Edit], takes: RenderCache, stop: CancelToken) -> tuple[Edit, ...]:
    """The gains that the level matches of a patch settle to with edits applied, as edits. Raises RenderCancelled."""
    gains: dict[str, float] = {}
    patch = apply(patch, edits)
    for _ in range(_ROUNDS):
        at: dict[str, StageLevels] = {}
        before: dict[str, str] = {}
        for place, paths in groupby(_matched(patch), key=itemgetter(0)):
            if not any(_reaches(e.path, place) for e in edits):
                continue
            taps = tap_chain(patch, place, takes, stop)
            for _, path in paths:
                if stop.asked:
                    raise RenderCancelled
                before[path] = taps.before[path]
                at |= {p: levels_of(taps.x[p]) for p in (path, taps.before[path])}
        wanted = matches_wanted(patch, ChainLevels(at, before))
        if not wanted:
            break
        gains |= dict(wanted)
        patch = apply(patch, [Edit(path, value) for path, value in wanted])
    return tuple(Edit(path, value) for path, value in gains.items())


def _matched(patch: Patch) -> Iterator[tuple[str, str]]:
    """The chain and the path of every audible item with a level match."""
    for place in places_of_chains(patch):
        for path in _paths(get(patch, place), place):
            part = get(patch, path)
            if part.matched and part.on:
                yield place, path


def _reaches(edited: str, place: str) -> bool:
    """Whether an edit can change what enters a chain, or its items."""
    steps, chain = ControlPath(edited).steps, ControlPath(place).steps
    if steps[0] == "output":
        return False
    if steps[0] != "layers" or len(steps) < 2:
        return steps[0] != "worked" or chain[0] in ("worked", "returns")
    return chain[0] != "layers" or steps[1] == chain[1]


def _paths(items: list[ChainItem], place: str) -> list[str]:
    """Paths of all items of a chain. Items in branches come before the branch."""
    found: list[str] = []
    for item in items:
        paths: list[Any] = getattr(item, "paths", [])
        for branch_path in paths:
            found += _paths(branch_path.items, f"{place}.{item.id}.paths.{branch_path.id}.items")
        found.append(f"{place}.{item.id}")
    return found
