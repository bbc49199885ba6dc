"""Edits of whole layers: duplicate, split off, link, tie at a split."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from pydantic import BaseModel

from ...patch import (
    HATCHES,
    AudioRate,
    ControlPath,
    Edit,
    Layer,
    Movement,
    Noise,
    Oscillator,
    Patch,
    Sample,
    Source,
    Split,
    ValueProblem,
    free_id,
    get,
    linked_layers,
    part_at,
    stage_of,
)

Step = tuple[list[Edit], str]
MOST_LAYERS = 8


def free_hatch(layers: Iterable[Layer]) -> str:
    """A hatch that none of the layers has, or the first."""
    used = {layer.hatch for layer in layers}
    return next((h for h in HATCHES if h not in used), HATCHES[0])


def _room(patch: Patch) -> None:
    if len(patch.layers) >= MOST_LAYERS:
        raise ValueProblem(f"a patch has {MOST_LAYERS} layers at most: delete one first")


def moved_for(patch: Patch, old: str, new: str) -> list[dict[str, Any]]:
    """Copies of a layer's movements for its duplicate, by the same movers.

    Audio-rate sources are left out: they move stages of their own layer only.
    """
    taken = [m.id for m in patch.movements]
    feeds = {m.id for m in patch.movers if isinstance(m, AudioRate)}
    found = []
    for m in patch.movements:
        if m.target.startswith(f"layers.{old}.") and m.mover not in feeds and m.scaled_by not in feeds:
            made = free_id(m.id, taken)
            taken.append(made)
            target = f"layers.{new}." + m.target.removeprefix(f"layers.{old}.")
            found.append(m.model_dump() | {"id": made, "target": target})
    return found


def _beside(patch: Patch, layer: Layer, new: Layer, movements: list[dict[str, Any]]) -> list[Edit]:
    layers = [x.model_dump() for x in patch.layers]
    at = next(i for i, x in enumerate(patch.layers) if x.id == layer.id)
    layers.insert(at + 1, new.model_dump())
    edits = [Edit("layers", layers)]
    if movements:
        edits.append(Edit("movements", [*(m.model_dump() for m in patch.movements), *movements]))
    return edits


def duplicate_layer(patch: Patch, layer_id: str) -> tuple[list[Edit], str, str]:
    """Duplicate a layer above itself, moved by the same movers. Returns the edits, the step as text, the new id."""
    _room(patch)
    layer: Layer = get(patch, f"layers.{layer_id}")
    new = free_id(layer.name, [x.id for x in patch.layers])
    copy = layer.model_copy(
        update={"id": new, "name": f"{layer.name[:54]} copy", "hatch": free_hatch(patch.layers), "link_group": ""}
    )
    edits = _beside(patch, layer, copy, moved_for(patch, layer_id, new))
    return [*edits, *_fed_too(patch, edits, layer_id, new)], f"Duplicate {layer.name}", new


def _fed_too(patch: Patch, edits: list[Edit], old: str, new: str) -> list[Edit]:
    """Edits that give the copy of a layer its own audio-rate movers."""
    prefix = f"layers.{old}."
    feeds, own = _fed_below(patch, prefix)
    if not own:
        return []
    movers = [m.model_dump() for m in patch.movers]
    names: dict[str, str] = {}
    for feed in feeds.values():
        names[feed.id] = free_id(feed.id, [m["id"] for m in movers])
        source = f"layers.{new}." + feed.source.removeprefix(prefix)
        movers.append(feed.model_dump() | {"id": names[feed.id], "source": source})
    found = list(next((e.value for e in edits if e.path == "movements"), _dumps(patch.movements)))
    for m in own:
        target = f"layers.{new}." + m.target.removeprefix(prefix)
        made = free_id(m.id, [x["id"] for x in found])
        by = names.get(m.scaled_by, m.scaled_by)
        found.append(m.model_dump() | {"id": made, "mover": names[m.mover], "target": target, "scaled_by": by})
    return [Edit("movers", movers), Edit("movements", found)]


def _fed_below(patch: Patch, prefix: str) -> tuple[dict[str, AudioRate], list[Movement]]:
    """The audio-rate movers whose sources are below a prefix, by id, and their movements there."""
    feeds = {m.id: m for m in patch.movers if isinstance(m, AudioRate) and m.source.startswith(prefix)}
    return feeds, [m for m in patch.movements if m.mover in feeds and m.target.startswith(prefix) and not m.lost]


def _dumps(parts: Iterable[BaseModel]) -> list[dict[str, Any]]:
    return [p.model_dump() for p in parts]


def split_off(patch: Patch, path: str) -> tuple[list[Edit], str, str]:
    """Move a source, with its modulators, to a layer of its own that is linked with the old one.

    Returns the edits, the step as text, and the id of the new layer.
    """
    _room(patch)
    source: Any = part_at(patch, path, (Oscillator, Noise, Sample), "source")
    layer_id = ControlPath(path).layer
    layer = part_at(patch, f"layers.{layer_id}", Layer, "layer")
    if len(layer.sources) == 1:
        raise ValueProblem(f"{source.name} is the only source of {layer.name} already")
    new = free_id(source.name, [x.id for x in patch.layers])
    here, there = _parted(layer, source.id)
    word = layer.link_group or layer_id
    copy = layer.model_copy(
        update={"id": new, "name": source.name, "hatch": free_hatch(patch.layers), "sources": there, "link_group": word}
    )
    left = layer.model_copy(update={"sources": here, "link_group": word})
    layers = []
    for x in patch.layers:
        layers += _dumps([left, copy] if x.id == layer_id else [x])
    edits = _movements_parted(patch, layer, new, {s.id for s in here}, {s.id for s in there})
    return [*edits, Edit("layers", layers)], f"{source.name} to a layer of its own", new


def _parted(layer: Layer, source_id: str) -> tuple[list[Source], list[Source]]:
    """The sources that stay in the layer, and those of the new one. A modulator of both is in both, unheard."""
    needed = _needed(layer, source_id)
    there = [s if s.id == source_id else unheard(s) for s in layer.sources if s.id in needed or s.id == source_id]
    others = [s for s in layer.sources if s.id != source_id]
    if not any(source_id in _needed(layer, s.id) for s in others):
        return others, there
    return [unheard(s) if s.id == source_id else s for s in layer.sources], there


def _movements_parted(patch: Patch, layer: Layer, new: str, here: set[str], there: set[str]) -> list[Edit]:
    """Edits of the movements before a layer's sources part: those of parts that will be gone are removed."""
    every = {s.id for s in layer.sources}
    gone = every - here
    unfed = {m.id for m in patch.movers if isinstance(m, AudioRate) and _of(f"{m.source}.", layer.id, gone)}
    kept = [m.model_dump() for m in patch.movements if not _of(m.target, layer.id, gone) and m.mover not in unfed]
    added = [m for m in moved_for(patch, layer.id, new) if not _of(m["target"], new, every - there)]
    return [Edit("movements", [*kept, *added]), *(Edit(f"movers.{i}.source", "") for i in sorted(unfed))]


def unheard(source: Source) -> Source:
    """The source as a modulator only."""
    return source.model_copy(update={"to": "modulates only"})


def unlink_layer(patch: Patch, layer_id: str) -> Step:
    """Unlink a layer's stages and envelope."""
    layer: Layer = get(patch, f"layers.{layer_id}")
    others = linked_layers(patch, layer_id)
    if not others:
        raise ValueProblem(f"{layer.name} is linked to no other layer")
    # a single remaining member is linked to nothing
    gone = [layer_id, *others] if len(others) == 1 else [layer_id]
    return [Edit(f"layers.{i}.link_group", "") for i in gone], f"Unlink {layer.name}"


def _of(target: str, layer_id: str, sources: set[str]) -> bool:
    return any(target.startswith(f"layers.{layer_id}.sources.{s}.") for s in sources)


def _needed(layer: Layer, source_id: str) -> set[str]:
    """Sources that modulate a source, directly or not."""
    found: set[str] = set()
    waiting = [source_id]
    while waiting:
        at = waiting.pop()
        source = next(s for s in layer.sources if s.id == at)
        works = [m.source for m in source.modulators if not stage_of(m.source)]
        if getattr(source, "sync", "off") == "source" and getattr(source, "sync_to", ""):
            works.append(str(getattr(source, "sync_to", "")))
        for i in works:
            if i not in found and i != source_id:
                found.add(i)
                waiting.append(i)
    return found


def tie_split(patch: Patch, lower: str, upper: str) -> Step:
    """Join the high cut of one layer and the low cut of another at a shared split."""
    low: Layer = get(patch, f"layers.{lower}")
    high: Layer = get(patch, f"layers.{upper}")
    if any(s.lower == lower or s.upper == upper for s in patch.splits):
        raise ValueProblem("one of these edges belongs to another split: untie it first")
    edge = low.range.high if low.range.high < 20000 else high.range.low if high.range.low > 20 else 100.0
    edge = min(max(edge, low.range.low * 1.05), high.range.high * 0.95)
    new = Split(id=free_id(f"{lower}-{upper}", [s.id for s in patch.splits]), lower=lower, upper=upper)
    return [
        Edit(f"layers.{lower}.range.high", edge),
        Edit(f"layers.{upper}.range.low", edge),
        Edit("splits", [*(s.model_dump() for s in patch.splits), new.model_dump()]),
    ], f"Split between {low.name} and {high.name}"


def untie_split(patch: Patch, split_id: str) -> Step:
    """Separate both edges of a split."""
    kept = [s.model_dump() for s in patch.splits if s.id != split_id]
    if len(kept) == len(patch.splits):
        raise ValueProblem("there is no such split")
    return [Edit("splits", kept)], "Untie a split"
