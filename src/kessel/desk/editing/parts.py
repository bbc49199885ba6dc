"""Edits that add, remove and move parts of a patch: layers, sources, voice stages, chain items, movers."""

from __future__ import annotations

import math
from itertools import pairwise
from typing import Any

from ...patch import (
    CHAIN_KINDS,
    HATCHES,
    MOVERS,
    PARTS,
    STAGES,
    AudioRate,
    Branch,
    BranchPath,
    ControlPath,
    Edit,
    Eq,
    EqBand,
    Follower,
    ItemPart,
    Layer,
    Lfo,
    Movement,
    Multiband,
    Noise,
    Oscillator,
    Patch,
    Return,
    Sample,
    Send,
    SourceModulation,
    StagePart,
    ValueProblem,
    amp_envelopes,
    apply,
    free_id,
    free_name,
    get,
    lookup,
    number,
    part_at,
    stage_of,
)

_STAGES, _CHAIN, _MOVERS = (tuple(k.word for k in kinds) for kinds in (STAGES, CHAIN_KINDS, MOVERS))
_FITS = {
    "sources": ("oscillator", "noise", "sample"),
    "stages": _STAGES,
    "chain": _CHAIN,
    "worked": _CHAIN,
    "items": tuple(word for word in _CHAIN if word != "branch"),
    "paths": ("path",),
    "returns": ("return",),
    "movers": _MOVERS,
    "layers": ("layer",),
}


def _list_at(patch: Patch, path: str) -> list[Any]:
    found = get(patch, path)
    if not isinstance(found, list):
        raise ValueProblem("parts are added to lists only")
    return found


def _fits(patch: Patch, path: str) -> tuple[str, ...]:
    """The kinds of parts that a list takes."""
    stem, last = ControlPath(path).parent, ControlPath(path).name
    if last != "bands":
        return _FITS.get(last, ())
    owner = get(patch, stem)
    return ("band",) if isinstance(owner, Eq) else ("dynamics-band",) if isinstance(owner, Multiband) else ()


def _dumped(items: list[Any]) -> list[Any]:
    return [i.model_dump() for i in items]


def add_part(patch: Patch, path: str, kind: str) -> tuple[list[Edit], str, str]:
    """Edits that add a part of ``kind`` to the list at ``path``, its id, and the step as text."""
    items = _list_at(patch, path)
    if kind not in _fits(patch, path):
        raise ValueProblem(f"no {kind[:24]} can be added there")
    label = PARTS[kind].label
    new_id = free_id(label, [i.id for i in items])
    number = new_id.removeprefix(free_id(label, [])).removeprefix("-")
    part = PARTS[kind].make(new_id, f"{label} {number}".strip())
    if isinstance(part, ItemPart) and ControlPath(path).name != "stages" and not PARTS[kind].limits_level:
        # match the new part's level to the old one, so that louder is not mistaken for better
        part = part.model_copy(update={"matched": True})
    if isinstance(part, EqBand):
        part = part.model_copy(update={"frequency": _free_frequency([b.frequency for b in items if not b.tied])})
    if isinstance(part, Layer):
        used = {layer.hatch for layer in patch.layers}
        part = part.model_copy(update={"hatch": next((h for h in HATCHES if h not in used), HATCHES[0])})
    if isinstance(part, Lfo):
        # restarted by each note, a slow one would repeat its first part
        part = part.model_copy(update={"restart": "phrase"})
    if isinstance(part, Oscillator | Sample):
        part = part.model_copy(update={"octave": _octave_of(items)})
    edits = [Edit(path, [*_dumped(items), part.model_dump()])]
    if isinstance(part, Return):
        edits += _with_sends(patch, new_id)
    return edits, new_id, f"Add {part_name(part)}"


def _octave_of(sources: list[Any]) -> int:
    """The octave of the loudest pitched source of a layer, which a new one joins."""
    pitched = [s for s in sources if isinstance(s, Oscillator | Sample)]
    heard = [s for s in pitched if s.to != "modulates only"]
    return int(max(heard or pitched, key=lambda s: s.level).octave) if pitched else 0


def _with_sends(patch: Patch, return_id: str) -> list[Edit]:
    """Edits that give all layers and the worked path a send to a new return."""
    own = Send(id=return_id).model_dump()
    found = []
    for place, sends in [("sends", patch.sends), *((f"layers.{x.id}.sends", x.sends) for x in patch.layers)]:
        there = {r.id for r in patch.returns}
        kept = [s.model_dump() for s in sends if s.id in there and s.id != return_id]
        found.append(Edit(place, [*kept, own]))
    return found


def _free_frequency(used: list[float]) -> float:
    """The middle of the widest gap between frequencies in Hz, on a log scale, to two digits."""
    if not used:
        return EqBand(id="b").frequency
    edges = sorted([60.0, *used, 12000.0])
    low, high = max(pairwise(edges), key=lambda pair: pair[1] / pair[0])
    middle = math.sqrt(low * high)
    return round(middle, 1 - math.floor(math.log10(middle)))


def part_name(part: Any) -> str:
    """The name of a part."""
    return str(getattr(part, "name", None) or ("a movement" if isinstance(part, Movement) else "band"))


def _split_path(patch: Patch, path: str) -> tuple[str, list[Any], Any]:
    stem, last = ControlPath(path).parent, ControlPath(path).name
    _, _, part = lookup(patch, path)
    if not stem or getattr(part, "id", None) != last:
        raise ValueProblem("there is no part of that name to remove or move")
    return stem, _list_at(patch, stem), part


def remove_part(patch: Patch, path: str) -> tuple[list[Edit], str]:
    """Edits that remove a part and what depends on it, and the step as text."""
    stem, items, part = _split_path(patch, path)
    if stem == "layers" and len(items) == 1:
        raise ValueProblem("a patch keeps at least one layer: add another first")
    edits: list[Edit] = []
    if stem == "movers":
        edits += _without_mover(patch, part.id)
    if stem == "layers":
        edits += _without_layer(patch, part.id)
    edits += [
        Edit(f"movers.{m.id}.source", "")
        for m in patch.movers
        if isinstance(m, AudioRate) and m.source and (m.source + ".").startswith(path + ".")
    ]
    if stem == "returns":
        edits += _without_return(patch, part.id)
    left = _dumped([i for i in items if i.id != part.id])
    if stem.endswith("sources"):
        _let_go(left, part.id)
    return [*edits, Edit(stem, left)], f"Remove {part_name(part)}"


def _without_layer(patch: Patch, layer_id: str) -> list[Edit]:
    followers = [m for m in patch.movers if isinstance(m, Follower) and m.layer == layer_id]
    return [
        Edit("splits", _dumped([s for s in patch.splits if layer_id not in (s.lower, s.upper)])),
        *(Edit(f"movers.{m.id}.layer", "") for m in followers),
    ]


def _without_return(patch: Patch, return_id: str) -> list[Edit]:
    places = [("sends", patch.sends), *((f"layers.{x.id}.sends", x.sends) for x in patch.layers)]
    return [Edit(place, _dumped([s for s in sends if s.id != return_id])) for place, sends in places]


def _let_go(sources: list[dict[str, Any]], gone: str) -> None:
    """Remove a source from the modulators and syncs of the others."""
    for source in sources:
        if "modulators" in source:
            source["modulators"] = [m for m in source["modulators"] if m["source"] != gone]
        if source.get("sync_to") == gone:
            source |= {"sync": "off", "sync_to": ""}


def _without_mover(patch: Patch, mover: str) -> list[Edit]:
    """Edits that remove the movements of a mover, and its scaling of others."""
    kept = [
        m.model_copy(update={"scaled_by": ""}) if m.scaled_by == mover else m
        for m in patch.movements
        if m.mover != mover
    ]
    edits = [Edit("movements", _dumped(kept))] if kept != patch.movements else []
    edits += [Edit(path, "") for path, envelope in amp_envelopes(patch).items() if envelope == mover]
    stances = [
        s.model_copy(update={"values": {k: v for k, v in s.values.items() if k != mover}}) for s in patch.stances
    ]
    return [*edits, Edit("stances", _dumped(stances))] if stances != patch.stances else edits


def turn_into(patch: Patch, path: str, kind: str) -> tuple[list[Edit], str]:
    """Edits that turn a stage into another kind, keeping the controls that both have, and the step as text."""
    stem, items, part = _split_path(patch, path)
    if kind not in _FITS.get(ControlPath(stem).name, ()) or not isinstance(part, StagePart):
        raise ValueProblem(f"no {kind[:24]} can be there")
    old, wanted = PARTS[part.kind], PARTS[kind]  # type: ignore[attr-defined]
    name = part.name.replace(old.label, wanted.label) if part.name.startswith(old.label) else part.name
    new = wanted.make(part.id, name)
    shared = {n: v for n, v in part if n in type(new).model_fields and n not in ("kind", "id", "name")}
    mix = {"mix": part.mix} if old.keeps_mix and wanted.keeps_mix else {}  # type: ignore[attr-defined]
    if kind == "comb" and "cutoff" in shared:
        shared["cutoff"] = min(shared["cutoff"], 3800.0)
    made = type(new).model_validate(new.model_dump() | {k: v for k, v in shared.items() if k != "mix"} | mix)
    return [
        Edit(stem, [made.model_dump() if i.id == part.id else i.model_dump() for i in items])
    ], f"{part.name} becomes a {wanted.label.lower()}"


def let_through(patch: Patch, path: str) -> tuple[list[Edit], str]:
    """Edits that switch the level match of an effect off, and the step as text."""
    part = part_at(patch, path, ItemPart, "effect")
    return [Edit(f"{path}.matched", False)], f"{part.name} without level match"


def move_part(patch: Patch, path: str, by: int, to: int | None = None) -> tuple[list[Edit], str]:
    """Edits that move a part by some places in its list, or to a place, and the step as text."""
    stem, items, part = _split_path(patch, path)
    at = next(n for n, i in enumerate(items) if i.id == part.id)
    to = min(max(at + by if to is None else to, 0), len(items) - 1)
    order = [i for i in items if i.id != part.id]
    order.insert(to, part)
    return [Edit(stem, _dumped(order))], f"Move {part_name(part)}"


def move_octave(patch: Patch, layer_id: str, by: int) -> tuple[list[Edit], str]:
    """Edits that move a whole layer by octaves, with its modulators, so that ratios stay, and the step as text."""
    layer = get(patch, f"layers.{layer_id}")
    edits = [
        Edit(f"layers.{layer_id}.sources.{s.id}.octave", s.octave + by)
        for s in layer.sources
        if isinstance(s, Oscillator | Sample)
    ]
    if not edits:
        raise ValueProblem(f"{layer.name} has no oscillator to transpose")
    control = number(patch, edits[0].path)
    if not all(control.low <= e.value <= control.high for e in edits):
        raise ValueProblem(f"{layer.name} can't go further {'up' if by > 0 else 'down'}: an octave goes from −4 to 4")
    return edits, f"{layer.name} an octave {'up' if by > 0 else 'down'}"


def branch_around(patch: Patch, path: str) -> tuple[list[Edit], str, str]:
    """Edits that put a chain item into the upper band of a new branch, its id, and the step as text."""
    stem, items, part = _split_path(patch, path)
    if ControlPath(stem).name not in ("chain", "worked") or isinstance(part, Branch):
        raise ValueProblem("there is no branch inside a branch")
    new_id = free_id("Branch", [i.id for i in items])
    made = Branch(
        id=new_id,
        name="Branch",
        paths=[BranchPath(id="low", name="Low"), BranchPath(id="high", name="High", items=[part])],
    )
    left = [made.model_dump() if i.id == part.id else i.model_dump() for i in items]
    return [Edit(stem, left)], new_id, f"Branch around {part_name(part)}"


NEW_SOURCE = "new:sine"
"""In the place of a source that modulates: one that is added."""


def _modulated_by_new(patch: Patch, target: str, mode: str) -> tuple[list[Edit], str]:
    """As ``modulate``, by a new sine that is not heard itself."""
    stem = ControlPath(target).parent
    added, new_id, _ = add_part(patch, stem, "oscillator")
    sources: list[dict[str, Any]] = added[0].value
    name = free_name("Modulator", (s["name"] for s in sources))
    sources[-1] |= {"name": name, "to": "modulates only", "shape": "sine"}
    (linked,), words = modulate(apply(patch, added), target, new_id, mode)
    for s in sources:
        if f"{stem}.{s['id']}" == target:
            s["modulators"] = linked.value
    return added, f"{words} by a new sine"


def modulate(patch: Patch, target: str, source: str, mode: str = "phase") -> tuple[list[Edit], str]:
    """Edits that let a source of a layer, or a filter (``stages.`` and its id), modulate a source, and the step as
    text. source: NEW_SOURCE for a sine that is added for it.
    """
    if source == NEW_SOURCE:
        return _modulated_by_new(patch, target, mode)
    found = get(patch, target)
    if not isinstance(found, Oscillator | Noise | Sample):
        raise ValueProblem("only a source can be modulated")
    if mode not in ("phase", "ring"):
        raise ValueProblem("a source modulates another's phase (FM) or multiplies it (ring)")
    if mode == "phase" and isinstance(found, Noise):
        raise ValueProblem(f"{found.name} is noise and has no phase to modulate: use ring modulation")
    if any(m.source == source and m.mode == mode for m in found.modulators):
        raise ValueProblem(f"{found.name} is already modulated by that source")
    new = SourceModulation(
        id=free_id(stage_of(source) or source, [m.id for m in found.modulators]),
        source=source,
        mode=mode,
        depth=45.0,
    )
    word = "FM of" if mode == "phase" else "Ring on"
    return [Edit(f"{target}.modulators", [*_dumped(found.modulators), new.model_dump()])], f"{word} {found.name}"
