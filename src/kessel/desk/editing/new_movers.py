"""New movers for a control: of a named kind, named for what they do, over a range that is heard."""

from __future__ import annotations

from typing import Any

from ...patch import (
    MOVERS,
    SILENT_DB,
    Control,
    ControlPath,
    Edit,
    Patch,
    ValueProblem,
    free_name,
    get,
    lookup,
    movable,
    title,
)
from .parts import add_part

NEW = "new:"
"""Prefix of the word of a mover to be created."""
_PERFORMED = ("velocity", "key", "pressure", "wheel", "bend", "random")
_FIELDS: dict[str, dict[str, Any]] = {
    "curve:loop": {"play": "loop", "restart": "phrase", "length": 1.0},
    **{f"performance:{what}": {"what": what} for what in _PERFORMED},
}
"""What new movers begin with, by word."""


def new_movers(patch: Patch, target: str = "") -> list[tuple[str, str]]:
    """Words and names of the movers that can be created, for a control or for any. A word is taken by ``new_mover``."""
    kinds = {k.word: k.label for k in MOVERS}
    found = [("envelope", kinds["envelope"]), ("curve", "Curve once per note"), ("curve:loop", "Looped curve")]
    found += [("lfo", kinds["lfo"]), ("macro", kinds["macro"])]
    found += [(f"performance:{what}", "Random per note" if what == "random" else what.title()) for what in _PERFORMED]
    own = ControlPath(target).layer if target.startswith("layers.") else ""
    found += [(f"follower:{x.id}", f"Level of {x.name}") for x in patch.layers if x.id != own]
    # kinds that are added later
    known = {word.partition(":")[0] for word, _ in found}
    found += [(k.word, k.label) for k in MOVERS if k.word not in known and not k.needs_source]
    return [(NEW + word, name) for word, name in found]


def new_mover(patch: Patch, word: str, target: str) -> tuple[list[Edit], dict[str, Any]]:
    """Edits that add a mover for a control, and the mover as plain data. ``word``: of ``new_movers`` without prefix, or
    ``audio-rate:`` and the path of a source. Raises ValueProblem.
    """
    kind, _, of = word.partition(":")
    if kind not in {k.word for k in MOVERS}:
        raise ValueProblem(f"there is no mover of the kind {kind[:24]}")
    edits, _, _ = add_part(patch, "movers", kind)
    made: dict[str, Any] = edits[0].value[-1]
    made |= _FIELDS.get(word, {})
    if kind == "audio-rate" and of:
        made |= {"source": of}
    if kind == "follower" and of:
        if all(x.id != of for x in patch.layers):
            raise ValueProblem("there is no such layer to follow: choose another")
        made |= {"layer": of}
    made["name"] = free_name(_called(patch, kind, of, target), (m.name for m in patch.movers))
    return edits, made


def _called(patch: Patch, kind: str, of: str, target: str) -> str:
    """What a new mover is called: what it reads, or what it does."""
    if kind == "performance":
        return of.title() if of else "Wheel"
    if kind == "follower" and of:
        return f"Level of {patch.layer(of).name}"
    if kind == "audio-rate" and of:
        # named after its source
        return f"{getattr(lookup(patch, of)[2], 'name', 'Source')} at audio rate"
    does, steps = title(patch, target), ControlPath(target).steps
    if steps[0] == "layers" and len(steps) > 4:
        # a part says enough without its layer
        does = does.removeprefix(patch.layer(steps[1]).name).strip() or does
    does = does[:1].upper() + does[1:]
    label = next(k.label for k in MOVERS if k.word == kind)
    return does if kind == "macro" else f"{does} {label if label.isupper() else label.lower()}"


def first_amount(patch: Patch, target: str) -> float:
    """The amount of a new movement, on the control's own scale: far enough to be heard, inside its range."""
    control = movable(patch, target)
    rest = float(get(patch, target))
    far = next((x for x in _ends(control, rest) if control.low <= x <= control.high), None)
    if far is None:
        at = control.position(rest)
        far = control.at(at + 0.2 if at <= 0.8 else at - 0.2)
    return round(control.to_scale(far) - control.to_scale(rest), 6)


def _ends(control: Control, rest: float) -> tuple[float, ...]:
    """Ends of a useful range, the first that the control can take: two octaves, 12 dB, an octave, two fifths of all."""
    if control.unit == "Hz" and control.taper == "log":
        return rest * 4.0, rest / 4.0
    if control.unit == "dB":
        if control.off_low and rest <= SILENT_DB:
            # opened from off to a level that is heard
            return (-6.0,)
        return (rest - 12.0,) if control.off_low else (rest + 12.0, rest - 12.0)
    span = control.high - control.low
    step = {"st": 12.0, "ct": 20.0, "deg": 120.0, "%": 0.4 * span}.get(control.unit)
    if step is None:
        return (rest * 2.0, rest / 2.0) if control.taper == "log" else ()
    return rest + step, rest - step
