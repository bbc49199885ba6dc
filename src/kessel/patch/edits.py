"""Edits: changes of a patch as (path, value) pairs, applied all or none."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Any

from pydantic import ValidationError

from .control_path import ControlPath
from .controls import Choice, Control, Pick, Toggle
from .linked import is_linked, keep_linked
from .model import Patch
from .movement import Stance, mixed
from .paths import NoSuchPath, declaration, get, lookup, title
from .sources import Sample, click_name, wave_name
from .ties import is_tied, keep_tied, place_in
from .units import Typing, ValueProblem


@dataclass(frozen=True)
class Edit:
    """One new value. ``value`` is plain data: a number, a word, or the dump of a part."""

    path: str
    value: Any


def plain(problem: ValidationError, data: Any = None) -> str:
    """The first error of a ValidationError as one line.

    data: what was validated; with it the place is told by names (``range of Body``), without it by the path in a file.
    """
    first = problem.errors()[0]
    steps = [p for p in first["loc"] if p not in ("function-after",)]
    place = ".".join(str(p) for p in steps) if data is None else _named(steps, data)
    message = first["msg"].removeprefix("Value error, ")
    if first["type"] == "too_long" and isinstance(first["input"], list):
        message = f"{first['ctx']['max_length']} at most: remove one first"
    if first["type"] == "too_short" and isinstance(first["input"], list):
        message = f"{first['ctx']['min_length']} at least: add one first"
    more = len(problem.errors()) - 1
    return (f"{place}: {message}" if place else message)[:300] + (f" (and {more} more)" if more else "")


def _named(steps: list[Any], data: Any) -> str:
    """A place as a field and the nearest part that has a name: ``stages of Body``."""
    here, owner, field = data, "", ""
    for step in steps:
        inside = isinstance(here, dict) and step in here
        if not inside and not (isinstance(here, list) and isinstance(step, int) and step < len(here)):
            # the word of a kind, which pydantic puts between a part and its field
            continue
        here = here[step]
        if isinstance(here, dict) and here.get("name"):
            owner, field = str(here["name"]), ""
        elif inside:
            field = str(step).replace("_", " ")
    return f"{field} of {owner}" if field and owner else field or owner


def _put(data: Any, patch: Patch, path: str, value: Any) -> None:
    lookup(patch, path)
    here = data
    steps = ControlPath(path).steps
    for step in steps[:-1]:
        here = here[step] if isinstance(here, dict) else next(i for i in here if i["id"] == step)
    if isinstance(here, dict):
        here[steps[-1]] = value
    else:
        here[next(n for n, i in enumerate(here) if i["id"] == steps[-1])] = value


def beside_split(patch: Patch, path: str) -> str | None:
    """The path of the edge that a split shares with the edge at ``path``."""
    parts = ControlPath(path).steps
    if len(parts) == 4 and parts[0] == "layers" and parts[2] == "range":
        for split in patch.splits:
            if parts[3] == "high" and split.lower == parts[1]:
                return f"layers.{split.upper}.range.low"
            if parts[3] == "low" and split.upper == parts[1]:
                return f"layers.{split.lower}.range.high"
    return None


_TOGETHER = frozenset({"range", "phrase", "blend"})
"""Parts whose controls are validated together."""


def _plain_control(patch: Patch, edit: Edit) -> bool:
    """Whether the edit sets one control, on which nothing else depends, to a value within its limits."""
    together = not _TOGETHER.isdisjoint(ControlPath(edit.path).steps)
    if together or is_linked(patch, edit.path) or is_tied(patch, edit.path):
        return False
    try:
        found = declaration(patch, edit.path)
    except NoSuchPath:
        return False
    if isinstance(found, Control):
        kind = int if found.whole else float
        return type(edit.value) is kind and found.low <= edit.value <= found.high
    if isinstance(found, Choice):
        return edit.value in found.options
    if isinstance(found, Pick):
        return False
    return isinstance(edit.value, bool)


def _put_control(part: Any, steps: Sequence[str], value: Any) -> Any:
    """A copy of a part with one value changed. All other parts are shared."""
    first, rest = steps[0], steps[1:]
    if isinstance(part, list):
        return [_put_control(i, rest, value) if i.id == first else i for i in part]
    new = _put_control(getattr(part, first), rest, value) if rest else value
    return part.model_copy(update={first: new})


def apply(patch: Patch, edits: Iterable[Edit]) -> Patch:
    """A new patch with the edits applied. ``patch`` is not changed.

    Raises ValueProblem with one line if the result is no valid patch, NoSuchPath for a bad path.
    """
    edits = list(edits)
    if len(edits) == 1 and _plain_control(patch, edits[0]):
        changed: Patch = _put_control(patch, ControlPath(edits[0].path).steps, edits[0].value)
        return changed
    data = patch.model_dump()
    for edit in edits:
        _put(data, patch, edit.path, edit.value)
        other = beside_split(patch, edit.path)
        if other is not None:
            _put(data, patch, other, edit.value)
    keep_linked(patch, data, [e.path for e in edits])
    named = {ControlPath(e.path).root for e in edits}
    _keep_aim(patch, data)
    _let_go_of_stages(patch, data)
    if "blend" in named and "movers" not in named:
        _blend(data, any(e.path == "blend.share" for e in edits))
    try:
        if data["ties"]:
            # only a valid value is passed on to tied controls
            data = Patch.model_validate(data).model_dump()
            keep_tied(patch, data, [e.path for e in edits])
        return Patch.model_validate(data)
    except ValidationError as problem:
        raise ValueProblem(plain(problem, data)) from None


def _keep_aim(patch: Patch, data: dict[str, Any]) -> None:
    """Mark movements whose target was removed, with its name, and restore those whose target is back."""
    for m in data["movements"]:
        here = place_in(data, m["target"]) is not None
        if here and m.get("lost"):
            m["lost"] = ""
        elif not here and not m.get("lost"):
            try:
                m["lost"] = title(patch, m["target"])
            except NoSuchPath:
                continue


def _let_go_of_stages(patch: Patch, data: dict[str, Any]) -> None:
    """Remove the modulations and audio-rate sources by voice stages that were removed."""
    gone = {
        f"layers.{layer.id}.stages.{stage.id}"
        for layer in patch.layers
        for stage in layer.stages
        if place_in(data, f"layers.{layer.id}.stages.{stage.id}.id") is None
    }
    for layer in patch.layers if gone else ():
        for source in layer.sources:
            found = place_in(data, f"layers.{layer.id}.sources.{source.id}.modulators")
            if found is not None:
                here, name = found
                here[name] = [m for m in here[name] if f"layers.{layer.id}.{m['source']}" not in gone]
    for mover in data["movers"]:
        if mover["kind"] == "audio-rate" and mover.get("source") in gone:
            mover["source"] = ""


def _blend(data: dict[str, Any], wanted: bool) -> None:
    """Set the macros between the two stances that are blended."""
    by_id = {s["id"]: Stance.model_validate(s) for s in data["stances"]}
    a, b = (by_id.get(data["blend"][end]) for end in ("a", "b"))
    if a is None or b is None:
        if wanted:
            raise ValueProblem("pick two stances to blend between first")
        return
    for macro, value in mixed(a, b, data["blend"]["share"] / 100.0).items():
        for mover in data["movers"]:
            if mover["id"] == macro:
                mover["value"] = round(value, 3)


def typed(patch: Patch, path: str, text: str) -> Edit:
    """The edit for typed text or a chosen word. Raises ValueProblem or NoSuchPath."""
    found = declaration(patch, path)
    if isinstance(found, Control):
        value: Any = found.read(text, Typing(patch.tempo, float(get(patch, path))))
        return Edit(path, int(value) if found.whole else value)
    if isinstance(found, Choice):
        if text not in found.options:
            raise ValueProblem(f"{found.name} is one of {', '.join(found.options)}, not “{text[:24]}”")
        return Edit(path, text)
    if isinstance(found, Pick):
        return Edit(path, text.strip()[:80])
    if text not in ("on", "off"):
        raise ValueProblem(f"{found.name} is on or off, not “{text[:24]}”")
    return Edit(path, text == "on")


def shown(patch: Patch, path: str, value: Any = None) -> str:
    """A control's value as text with its unit, from ``patch`` unless ``value`` is given."""
    found = declaration(patch, path)
    value = get(patch, path) if value is None else value
    if isinstance(found, Control):
        return found.write(float(value))
    if isinstance(found, Toggle):
        return "on" if value else "off"
    if isinstance(found, Pick):
        return picked_name(patch, found, str(value))
    return str(value)


def picked_name(patch: Patch, found: Pick, value: str) -> str:
    """The name of what a pick refers to."""
    if found.of == "wave":
        return wave_name(patch.waves, value)
    if found.of == "audio":
        named = (s for layer in patch.layers for s in layer.sources if isinstance(s, Sample))
        return next((s.title for s in named if s.audio == value and s.title), click_name(value))
    of_patch: dict[str, list[tuple[str, str]]] = {
        "layer": [(x.id, x.name) for x in patch.layers],
        "mover": [(m.id, m.name) for m in patch.movers],
        "envelope": [(m.id, m.name) for m in patch.movers],
        "stance": [(t.id, t.name) for t in patch.stances],
        "audio-rate": [
            (f"layers.{x.id}.{kind}.{t.id}", t.name)
            for x in patch.layers
            for kind, parts in (("sources", x.sources), ("stages", x.stages))
            for t in parts
        ],
    }
    return dict(of_patch.get(found.of, [])).get(value, value) or "none"


def sentence(patch: Patch, edits: Sequence[Edit]) -> str:
    """The edits as text: ``Body filter cutoff 820 Hz → 1.2 kHz``. ``patch`` is the patch before them."""
    parts = []
    for edit in edits[:3]:
        try:
            declaration(patch, edit.path)
            old, new = shown(patch, edit.path), shown(patch, edit.path, edit.value)
            parts.append(f"{title(patch, edit.path)} {old} → {new}")
        except NoSuchPath:
            if edit.path.endswith(".name"):
                parts.append(f"{get(patch, edit.path)} is now called {edit.value}")
            else:
                parts.append(edit.path.replace(".", " "))
    if len(edits) > 3:
        parts.append(f"{len(edits) - 3} more")
    return ", ".join(parts)
