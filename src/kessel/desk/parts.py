"""Adding, taking away and moving the parts of a patch: layers, sources, voice stages, chain items, movers."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from ..patch import (
    HATCHES,
    Control,
    Distortion,
    Edit,
    Envelope,
    Eq,
    EqBand,
    Filter,
    Hand,
    Layer,
    Lfo,
    Macro,
    Modulator,
    Movement,
    Noise,
    Oscillator,
    Patch,
    Sample,
    ValueProblem,
    free_id,
    get,
    lookup,
    movable,
    number,
    title,
    walk,
)

_Made = Callable[[str, str], Any]


def _layer(i: str, name: str) -> Layer:
    return Layer(id=i, name=name, path="clean", sources=[Oscillator(id="sine", name="Sine", shape="sine")])


PARTS: dict[str, tuple[str, _Made]] = {
    "oscillator": ("Oscillator", lambda i, n: Oscillator(id=i, name=n)),
    "noise": ("Noise", lambda i, n: Noise(id=i, name=n)),
    "sample": ("Sample", lambda i, n: Sample(id=i, name=n)),
    "filter": ("Filter", lambda i, n: Filter(id=i, name=n)),
    "distortion": ("Distortion", lambda i, n: Distortion(id=i, name=n)),
    "eq": ("EQ", lambda i, n: Eq(id=i, name=n, bands=[EqBand(id="b1")])),
    "band": ("Band", lambda i, n: EqBand(id=i)),
    "envelope": ("Envelope", lambda i, n: Envelope(id=i, name=n)),
    "lfo": ("LFO", lambda i, n: Lfo(id=i, name=n)),
    "hand": ("Hand", lambda i, n: Hand(id=i, name=n)),
    "macro": ("Macro", lambda i, n: Macro(id=i, name=n)),
    "layer": ("Layer", _layer),
}
"""Kind: its name, and how one is made from an id and a name."""

_FITS = {
    "sources": ("oscillator", "noise", "sample"),
    "stages": ("filter", "distortion"),
    "chain": ("distortion", "eq", "filter"),
    "worked": ("distortion", "eq", "filter"),
    "bands": ("band",),
    "movers": ("envelope", "lfo", "hand", "macro"),
    "layers": ("layer",),
}


def _list_at(patch: Patch, path: str) -> list[Any]:
    found = get(patch, path)
    if not isinstance(found, list):
        raise ValueProblem("parts are added to lists only")
    return found


def _dumped(items: list[Any]) -> list[Any]:
    return [i.model_dump() for i in items]


def add_part(patch: Patch, path: str, kind: str) -> tuple[list[Edit], str, str]:
    """Edits that add a part of ``kind`` to the list at ``path``, its id, and the step in words."""
    items = _list_at(patch, path)
    if kind not in _FITS.get(path.rsplit(".", 1)[-1], ()):
        raise ValueProblem(f"no {kind[:24]} can be added there")
    word, make = PARTS[kind]
    new_id = free_id(word, [i.id for i in items])
    number = new_id.removeprefix(free_id(word, [])).removeprefix("-")
    part = make(new_id, f"{word} {number}".strip())
    if isinstance(part, Layer):
        used = {layer.hatch for layer in patch.layers}
        part = part.model_copy(update={"hatch": next((h for h in HATCHES if h not in used), HATCHES[0])})
    return [Edit(path, [*_dumped(items), part.model_dump()])], new_id, f"Add {part_name(part)}"


def part_name(part: Any) -> str:
    """What a part is called."""
    return str(getattr(part, "name", None) or ("a movement" if isinstance(part, Movement) else "band"))


def _split_path(patch: Patch, path: str) -> tuple[str, list[Any], Any]:
    stem, _, last = path.rpartition(".")
    _, _, part = lookup(patch, path)
    if not stem or getattr(part, "id", None) != last:
        raise ValueProblem("there is no part of that name to take away or move")
    return stem, _list_at(patch, stem), part


def remove_part(patch: Patch, path: str) -> tuple[list[Edit], str]:
    """Edits that take a part away with all that hangs on it, and the step in words."""
    stem, items, part = _split_path(patch, path)
    if stem == "layers" and len(items) == 1:
        raise ValueProblem("a patch keeps at least one layer: add another first")
    edits: list[Edit] = []
    kept = [
        m
        for m in patch.movements
        if not m.target.startswith(path + ".") and not (stem == "movers" and m.mover == part.id)
    ]
    if len(kept) != len(patch.movements):
        edits.append(Edit("movements", _dumped(kept)))
    if stem == "layers":
        edits.append(Edit("splits", _dumped([s for s in patch.splits if part.id not in (s.lower, s.upper)])))
    left = _dumped([i for i in items if i.id != part.id])
    if stem.endswith("sources"):
        for source in left:
            if "modulators" in source:
                source["modulators"] = [m for m in source["modulators"] if m["source"] != part.id]
            if source.get("sync_to") == part.id:
                source |= {"sync": "off", "sync_to": ""}
    edits.append(Edit(stem, left))
    return edits, f"Remove {part_name(part)}"


def move_part(patch: Patch, path: str, by: int, to: int | None = None) -> tuple[list[Edit], str]:
    """Edits that move a part up (negative) or down its list, or to a place in it, and the step in words."""
    stem, items, part = _split_path(patch, path)
    at = next(n for n, i in enumerate(items) if i.id == part.id)
    to = min(max(at + by if to is None else to, 0), len(items) - 1)
    order = [i for i in items if i.id != part.id]
    order.insert(to, part)
    return [Edit(stem, _dumped(order))], f"Move {part_name(part)}"


def move_octave(patch: Patch, layer_id: str, by: int) -> tuple[list[Edit], str]:
    """Edits that move a whole layer by octaves, modulators too, so that its ratios hold; and the step in words."""
    layer = get(patch, f"layers.{layer_id}")
    edits = [
        Edit(f"layers.{layer_id}.sources.{s.id}.octave", s.octave + by)
        for s in layer.sources
        if isinstance(s, Oscillator | Sample)
    ]
    if not edits:
        raise ValueProblem(f"{layer.name} has no oscillator to move by octaves")
    control = number(patch, edits[0].path)
    if not all(control.low <= e.value <= control.high for e in edits):
        raise ValueProblem(f"{layer.name} can't go further {'up' if by > 0 else 'down'}: an octave goes from −4 to 4")
    return edits, f"{layer.name} an octave {'up' if by > 0 else 'down'}"


def modulate(patch: Patch, target: str, source: str, way: str = "phase") -> tuple[list[Edit], str]:
    """Edits that let one source of a layer work on another, and the step in words."""
    found = get(patch, target)
    if not isinstance(found, Oscillator | Noise | Sample):
        raise ValueProblem("only a source can be modulated")
    if way not in ("phase", "ring"):
        raise ValueProblem("a source works on another's phase (FM) or its level (ring)")
    if way == "phase" and isinstance(found, Noise):
        raise ValueProblem(f"{found.name} is noise and has no phase to swing: let it be rung instead")
    if any(m.source == source and m.way == way for m in found.modulators):
        raise ValueProblem(f"{found.name} is already modulated by that source")
    new = Modulator(
        id=free_id(source, [m.id for m in found.modulators]),
        source=source,
        way=way,
        depth=45.0,  # type: ignore[arg-type]
    )
    word = "FM of" if way == "phase" else "Ring on"
    return [Edit(f"{target}.modulators", [*_dumped(found.modulators), new.model_dump()])], f"{word} {found.name}"


def movable_controls(patch: Patch, layer_id: str) -> list[tuple[str, str]]:
    """Paths and names of a layer's controls that movers can drive."""
    found = []
    for path, control, _ in walk(patch.layer(layer_id), f"layers.{layer_id}"):
        if isinstance(control, Control) and control.moves and path.split(".")[2] != "chain":
            found.append((path, title(patch, path)))
    return found


def add_movement(patch: Patch, mover: str, target: str) -> tuple[list[Edit], str]:
    """Edits that let a mover drive a control, over a fifth of its rule to begin with; and the step in words."""
    found = next((m for m in patch.movers if m.id == mover), None)
    if found is None:
        raise ValueProblem("there is no such mover: add one first")
    control = movable(patch, target)
    rest = float(get(patch, target))
    at = control.position(rest)
    far = control.at(at + 0.2 if at <= 0.8 else at - 0.2)
    amount = round(control.to_scale(far) - control.to_scale(rest), 6)
    new = Movement(
        id=free_id(f"{mover}-moves", [m.id for m in patch.movements]), mover=mover, target=target, amount=amount
    )
    return [
        Edit("movements", [*_dumped(list(patch.movements)), new.model_dump()])
    ], f"{title(patch, target)} moves by {found.name}"
