"""The items of a patch's chains: their paths, their layers and their inputs."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from ..engine import places_of_chains
from ..patch import ControlPath, Edit, Layer, Patch, get


def items_below(items: list[Any], place: str) -> Iterator[tuple[str, Any]]:
    """Items of a chain with their paths. Items in branches come before the branch."""
    for item in items:
        for branch_path in getattr(item, "paths", []):
            yield from items_below(branch_path.items, f"{place}.{item.id}.paths.{branch_path.id}.items")
        yield f"{place}.{item.id}", item


def all_items(patch: Patch) -> Iterator[tuple[str, str, Any]]:
    """Place, path and item of everything that is on."""
    for place in places_of_chains(patch):
        for path, item in items_below(get(patch, place), place):
            if item.on and item.mix > 0:
                yield place, path, item


def whose_of(patch: Patch, path: str) -> tuple[tuple[str, ...], str]:
    """The layer that a path belongs to, and its name or that of the path."""
    steps = ControlPath(path).steps
    if steps[0] == "layers":
        return (steps[1],), patch.layer(steps[1]).name
    if steps[0] == "returns":
        return (), next(r.name for r in patch.returns if r.id == steps[1])
    return (), "the worked path"


def stages_in_order(patch: Patch) -> Iterator[tuple[str, Any, Layer | None]]:
    """Path, part and layer of every voice stage, then of every chain item, in the order of the signal."""
    for layer in patch.layers:
        for stage in layer.stages:
            yield f"layers.{layer.id}.stages.{stage.id}", stage, layer
    for place in places_of_chains(patch):
        for path, item in items_below(get(patch, place), place):
            yield path, item, None


def less_of(patch: Patch, path: str, mixes: tuple[float, ...]) -> Iterator[tuple[str, tuple[Edit, ...]]]:
    """The item with ever less of its effect."""
    item = get(patch, path)
    for mix in mixes:
        yield f"{item.name} mix to {min(mix, item.mix):.0f} %", (Edit(f"{path}.mix", min(mix, item.mix)),)


def before_item(patch: Patch, place: str, path: str) -> str:
    """The path of an item's input: the item before it, or the chain or branch path that it stands in."""
    stem, last = ControlPath(path).parent, ControlPath(path).name
    items = get(patch, stem)
    at = next(n for n, i in enumerate(items) if i.id == last)
    if at:
        return f"{stem}.{items[at - 1].id}"
    return place if stem == place else stem
