"""Which edits of a running patch glide by themselves. All others are cross-faded by the engine."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from ..patch import Choice, Control, Part, Patch, declarations

_RAMPED = {
    "layer": {"level", "pan", "width", "delay", "mute", "polarity", "path"},
    "output": {"gain", "trim", "mono_below", "fold"},
}
"""What the mixer and the output stage ramp, by the place of the part."""
UNHEARD = {"name", "note", "hatch", "pins", "bindings", "stances", "blend", "backing", "wanted", "version", "format"}
"""Fields that are not heard."""
_IN_TIME = {"phrase", "splits", "ties"}
"""What plays other notes from the next quantum on, or changes nothing by itself."""


def glides(before: Patch, after: Patch) -> bool:
    """Whether every difference is a control that the engine ramps, or is not heard."""
    return _same_but_for_ramps(before, after, "")


def same_parts(a: Sequence[Any], b: Sequence[Any]) -> bool:
    """Whether two lists hold as many parts, with the same ids in the same order. Points of a curve have none."""
    return [getattr(x, "id", None) for x in a] == [getattr(x, "id", None) for x in b]


def _same_but_for_ramps(a: Any, b: Any, place: str) -> bool:
    if a is b:
        return True
    if isinstance(a, list | tuple) and isinstance(b, list | tuple):
        return same_parts(a, b) and all(_same_but_for_ramps(x, y, place) for x, y in zip(a, b, strict=True))
    if type(a) is not type(b) or not isinstance(a, Part):
        return bool(a == b)
    own = declarations(type(a))
    ramped = _RAMPED.get(place, set()) | UNHEARD | (_IN_TIME if isinstance(a, Patch) else set())
    for name in type(a).model_fields:
        x, y = getattr(a, name), getattr(b, name)
        if x is y or name in ramped:
            continue
        control = own.get(name)
        if isinstance(control, Control | Choice) and control.turned == "anew":
            continue
        if isinstance(control, Control):
            if x != y and (not control.moves or control.turned == "fades"):
                return False
        elif not _same_but_for_ramps(x, y, {"layers": "layer"}.get(name, name)):
            return False
    return True
