"""Parts on their own: taken from a patch, inserted into another, stored on the part shelf or in the clipboard."""

from __future__ import annotations

import json
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from typing import Any

from pydantic import TypeAdapter, ValidationError

from ...formats import climb
from ...patch import (
    VERSION,
    ChainItem,
    ControlPath,
    Edit,
    Layer,
    LevelEnvelope,
    Movement,
    Mover,
    NoSuchPath,
    Oscillator,
    Patch,
    Phrase,
    Source,
    Stage,
    ValueProblem,
    Wave,
    free_id,
    free_name,
    get,
    plain,
)
from .arrivals import place_of, stays_single
from .layers import MOST_LAYERS, free_hatch
from .moving_parts import moved_in, movers_named, moving_parts

KINDS = {
    "layer": "Layer",
    "source": "Source",
    "envelope": "Amp envelope",
    "mover": "Mover",
    "stage": "Voice stage",
    "stages": "Voice stages",
    "chain": "Chain",
    "item": "Effect",
    "wave": "Drawn wave",
    "phrase": "Phrase",
}
"""Kinds of parts that can be kept, and their names."""

_CHECKS: dict[str, TypeAdapter[Any]] = {
    "layer": TypeAdapter(Layer),
    "source": TypeAdapter(Source),
    "envelope": TypeAdapter(LevelEnvelope),
    "mover": TypeAdapter(Mover),
    "stage": TypeAdapter(Stage),
    "stages": TypeAdapter(list[Stage]),
    "chain": TypeAdapter(list[ChainItem]),
    "item": TypeAdapter(ChainItem),
    "wave": TypeAdapter(Wave),
    "phrase": TypeAdapter(Phrase),
    "movers": TypeAdapter(list[Mover]),
    "movements": TypeAdapter(list[Movement]),
    "waves": TypeAdapter(list[Wave]),
}


@dataclass(frozen=True)
class StoredPart:
    """A part with its movers, movements and waves, as plain data."""

    kind: str
    name: str
    part: Any
    movers: list[Any]
    movements: list[Any]
    waves: list[Any]

    def plain(self) -> dict[str, Any]:
        """The part as plain JSON data, with its version."""
        return {"version": VERSION, **vars(self)}


def stored_part_from(found: Any) -> StoredPart:
    """A part of any version from plain JSON data. Raises ValueProblem."""
    try:
        version = found.get("version", 1)
        if version < VERSION:
            found = climb(found, version)
        kept = StoredPart(**{k: found[k] for k in ("kind", "name", "part", "movers", "movements", "waves")})
        _CHECKS[kept.kind].validate_python(kept.part)
        for name in ("movers", "movements", "waves"):
            _CHECKS[name].validate_python(getattr(kept, name))
    except ValidationError as problem:
        raise ValueProblem(f"the part can't be used: {plain(problem)}") from None
    except (KeyError, TypeError, ValueError, AttributeError):
        raise ValueProblem("the part can't be used: another version of Kessel stored it") from None
    return kept


def _dump(part: Any) -> Any:
    return [_dump(p) for p in part] if isinstance(part, list) else part.model_dump()


def take_out(patch: Patch, kind: str, path: str) -> StoredPart:
    """The part at ``path`` with all that it needs. Raises ValueProblem or NoSuchPath."""
    if kind not in KINDS:
        raise ValueProblem("that can't be stored")
    part = get(patch, path)
    try:
        _CHECKS[kind].validate_python(_dump(part))
    except (ValidationError, AttributeError):
        raise ValueProblem(f"there is no {KINDS[kind].lower()} there") from None
    steps = ControlPath(path).steps
    owner = patch.layer(steps[1]).name if steps[0] == "layers" and kind != "layer" else ""
    owner = patch.name if kind == "phrase" else owner
    name = str(getattr(part, "name", "")) or f"{owner} {KINDS[kind].lower()}".strip()
    if (isinstance(part, list) and not part) or (isinstance(part, Phrase) and not part.notes):
        raise ValueProblem(f"{name} is empty: there is nothing to store")
    below = f"{path}."
    movers, cut = moving_parts(patch, below) if kind != "mover" else ([], [])
    sources = part.sources if isinstance(part, Layer) else [part] if isinstance(part, Oscillator) else []
    words = {s.wave for s in sources if isinstance(s, Oscillator)}
    waves = [w.model_dump() for w in patch.waves if w.id in words]
    return StoredPart(kind, name[:60], _dump(part), movers, cut, waves)


def _with_waves(patch: Patch, kept: StoredPart, sources: list[dict[str, Any]]) -> list[Edit]:
    """Edits that add the waves of the sources where the patch does not have them, and point the sources at them."""
    waves = [w.model_dump() for w in patch.waves]
    known = {json.dumps(w["frames"]): w["id"] for w in waves}
    for wave in kept.waves:
        same = known.get(json.dumps(wave["frames"]))
        new = same or free_id(wave["id"], [w["id"] for w in waves])
        if same is None:
            waves.append(wave | {"id": new})
        for source in sources:
            if source.get("wave") == wave["id"]:
                source["wave"] = new
    return [Edit("waves", waves)] if len(waves) != len(patch.waves) else []


def _with_movers(patch: Patch, kept: StoredPart, path: str) -> list[Edit]:
    """Edits that add movers and movements of the part at ``path``. A mover that exists already is shared."""
    movements = [m for m in patch.movements if not m.target.startswith(f"{path}.")]
    if len(movements) == len(patch.movements) and not kept.movements and not kept.movers:
        return []
    return moved_in(patch, movements, kept.movers, kept.movements, path)


def _with_envelopes(patch: Patch, kept: StoredPart, sources: list[dict[str, Any]], path: str) -> None:
    """Point the amp envelopes of the sources at the movers that come with the part at ``path``."""
    names = movers_named(patch, kept.movers, path)
    for source in sources:
        source["envelope"] = names.get(source.get("envelope", ""), "")


def _chain_at(patch: Patch, path: str) -> str:
    """The path of a chain. Empty if there is none."""
    steps = ControlPath(path).steps
    if path != "worked" and not (len(steps) == 3 and steps[0] in ("layers", "returns") and steps[2] == "chain"):
        return ""
    try:
        return path if isinstance(get(patch, path), list) else ""
    except NoSuchPath:
        return ""


def put_in(patch: Patch, kept: StoredPart, layer_id: str, at: str = "") -> tuple[list[Edit], str, str]:
    """Insert a part into a patch: a layer where layers as low as it stand, other parts into the layer.

    at: the oscillator that plays a wave; the chain that an effect or a chain goes to, by default the layer's.

    Returns the edits, the step as text, and the id of the new part (or of its layer).
    """
    edits, new = _PUT_IN[kept.kind](patch, kept, patch.layer(layer_id) if kept.kind != "layer" else None, at)
    return edits, _step_of(patch, kept, layer_id, at), new


def _step_of(patch: Patch, kept: StoredPart, layer_id: str, at: str) -> str:
    """The step as text. It says whether something is replaced."""
    if kept.kind == "phrase":
        return f"{kept.name} replaces the phrase"
    place = (_chain_at(patch, at) if kept.kind == "chain" else "") or f"layers.{layer_id}.{kept.kind}"
    name = patch.layer(layer_id).name if kept.kind not in ("layer", "mover", "item") else ""
    if kept.kind == "envelope" or (kept.kind in ("stages", "chain") and get(patch, place)):
        owner = name if place.startswith("layers.") else ControlPath(place).steps[-2 if "." in place else 0].title()
        return f"{owner}: {kept.name} replaces the {REPLACED[kept.kind]}"
    return f"{name}: insert {kept.name}" if name else f"Insert {kept.name}"


_Put = tuple[list[Edit], str]
"""Edits that insert a part, and the id of the part or of its layer."""


REPLACED = {"envelope": "amp envelope", "stages": "voice stages", "chain": "chain", "phrase": "phrase"}
"""What a part of a kind takes the place of."""


def _copied(kept: StoredPart, beside: Iterable[Any] = ()) -> Any:
    """The part as plain data, with a name that none of the parts beside it has."""
    part = json.loads(json.dumps(kept.part))
    if isinstance(part, dict) and "name" in part:
        part["name"] = free_name(part["name"], (p.name for p in beside))
    return part


def _put_layer(patch: Patch, kept: StoredPart, layer: Any, at: str) -> _Put:
    if len(patch.layers) >= MOST_LAYERS:
        raise ValueProblem(f"a patch has {MOST_LAYERS} layers at most: delete one first")
    part = _copied(kept, patch.layers)
    new = free_id(part["name"], [x.id for x in patch.layers])
    part |= {"id": new, "hatch": free_hatch(patch.layers), "link_group": ""}
    waves = _with_waves(patch, kept, part["sources"])
    _with_envelopes(patch, kept, part["sources"], f"layers.{new}")
    layers = _dump(list(patch.layers))
    layers.insert(place_of(patch, Layer.model_validate(part)), part)
    return [
        Edit("layers", layers),
        *waves,
        *_with_movers(patch, kept, f"layers.{new}"),
    ], new


def _put_source(patch: Patch, kept: StoredPart, layer: Layer, at: str) -> _Put:
    part, base = _copied(kept, layer.sources), f"layers.{layer.id}.sources"
    ids = {s.id for s in layer.sources}
    new = free_id(part["name"], list(ids))
    part |= {"id": new, "modulators": [m for m in part["modulators"] if m["source"] in ids]}
    if part.get("sync_to") and part["sync_to"] not in ids:
        part |= {"sync": "off", "sync_to": ""}
    came = _CHECKS["source"].validate_python(part)
    if layer.unison.copies > 1 and isinstance(came, Oscillator) and stays_single(patch, layer, came):
        part["unison"] = False
    waves = _with_waves(patch, kept, [part])
    _with_envelopes(patch, kept, [part], f"{base}.{new}")
    return [Edit(base, [*_dump(list(layer.sources)), part]), *waves, *_with_movers(patch, kept, f"{base}.{new}")], new


def _put_envelope(patch: Patch, kept: StoredPart, layer: Layer, at: str) -> _Put:
    return [Edit(f"layers.{layer.id}.envelope", _copied(kept))], layer.id


def _put_phrase(patch: Patch, kept: StoredPart, layer: Layer, at: str) -> _Put:
    return [Edit("phrase", _copied(kept))], layer.id


def _put_item(patch: Patch, kept: StoredPart, layer: Layer, at: str) -> _Put:
    place = _chain_at(patch, at) or f"layers.{layer.id}.chain"
    items = get(patch, place)
    part = _copied(kept, items)
    new = free_id(part["name"], [i.id for i in items])
    return [
        *_with_movers(patch, kept, f"{place}.{new}"),
        Edit(place, [*_dump(list(items)), part | {"id": new}]),
    ], new


def _put_stage(patch: Patch, kept: StoredPart, layer: Layer, at: str) -> _Put:
    part, place = _copied(kept, layer.stages), f"layers.{layer.id}.stages"
    new = free_id(part["name"], [i.id for i in layer.stages])
    return [
        *_with_movers(patch, kept, f"{place}.{new}"),
        Edit(place, [*_dump(list(layer.stages)), part | {"id": new}]),
    ], new


def _put_row(patch: Patch, kept: StoredPart, layer: Layer, at: str) -> _Put:
    """Voice stages or a chain, in place of those that are there. Movements of the replaced ones are removed."""
    path = (_chain_at(patch, at) if kept.kind == "chain" else "") or f"layers.{layer.id}.{kept.kind}"
    left = [m.model_dump() for m in patch.movements if not m.target.startswith(f"{path}.")]
    movers = _with_movers(patch, kept, path)
    if not movers and len(left) != len(patch.movements):
        movers = [Edit("movements", left)]
    return [*movers, Edit(path, _copied(kept))], layer.id


def _put_mover(patch: Patch, kept: StoredPart, layer: Layer, at: str) -> _Put:
    part = _copied(kept, patch.movers)
    new = free_id(part["id"], [m.id for m in patch.movers])
    return [Edit("movers", [*_dump(list(patch.movers)), part | {"id": new}])], new


def _put_wave(patch: Patch, kept: StoredPart, layer: Layer, at: str) -> _Put:
    part = _copied(kept, patch.waves)
    new = free_id(part["id"], [w.id for w in patch.waves])
    edits = [Edit("waves", [*_dump(list(patch.waves)), part | {"id": new}])]
    if any(s.id == at and isinstance(s, Oscillator) for s in layer.sources):
        own = f"layers.{layer.id}.sources.{at}"
        edits += [Edit(f"{own}.wave", new), Edit(f"{own}.shape", "drawn")]
    return edits, new


_PUT_IN: dict[str, Callable[[Patch, StoredPart, Any, str], _Put]] = {
    "layer": _put_layer,
    "source": _put_source,
    "envelope": _put_envelope,
    "item": _put_item,
    "stage": _put_stage,
    "stages": _put_row,
    "chain": _put_row,
    "mover": _put_mover,
    "wave": _put_wave,
    "phrase": _put_phrase,
}
"""How every kind of part is inserted."""
