"""Paths: addresses of controls, such as ``layers.body.stages.filter.cutoff``.

A step is a field name, or the id of an item if the field is a list.
"""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import suppress
from typing import Any, TypeVar

from pydantic import BaseModel

from .base import Part
from .control_path import ControlPath
from .controls import Control, Declared, declarations, declared
from .fixed import why_fixed
from .units import ValueProblem

_P = TypeVar("_P", bound=BaseModel)


class NoSuchPath(KeyError):
    """A path that does not exist. Its text is one line."""

    def __str__(self) -> str:
        return f"no control at “{str(self.args[0])[:120]}”"


def lookup(root: BaseModel, path: str) -> tuple[BaseModel, str, Any]:
    """The owner, field name and value at ``path``. Raises NoSuchPath."""
    here: Any = root
    owner: BaseModel = root
    name = ""
    for step in ControlPath(path).steps:
        if isinstance(here, BaseModel):
            if step not in type(here).model_fields:
                raise NoSuchPath(path)
            owner, name, here = here, step, getattr(here, step)
        elif isinstance(here, list):
            found = [item for item in here if getattr(item, "id", None) == step]
            if not found:
                raise NoSuchPath(path)
            owner, name, here = found[0], step, found[0]
        else:
            raise NoSuchPath(path)
    return owner, name, here


def get(root: BaseModel, path: str) -> Any:
    """The value at ``path``. Raises NoSuchPath."""
    return lookup(root, path)[2]


def part_at(root: BaseModel, path: str, kind: type[_P] | tuple[type[_P], ...], what: str) -> _P:
    """The part at ``path``, of a given class. Raises ValueProblem, which names ``what`` was expected, for anything
    else.
    """
    try:
        found = get(root, path)
    except NoSuchPath:
        found = None
    if not isinstance(found, kind):
        raise ValueProblem(f"there is no {what} at “{path[:60]}”: it may have been removed")
    return found


def declaration(root: BaseModel, path: str) -> Declared:
    """The declaration of the control at ``path``. Raises NoSuchPath if there is none."""
    owner, name, value = lookup(root, path)
    found = None if isinstance(value, BaseModel | list) else declared(type(owner), name)
    if found is None:
        raise NoSuchPath(path)
    return found


def number(root: BaseModel, path: str) -> Control:
    """The declaration of a number control. Raises NoSuchPath."""
    found = declaration(root, path)
    if not isinstance(found, Control):
        raise NoSuchPath(path)
    return found


def movable(root: BaseModel, path: str) -> Control:
    """The declaration of a movable control. Raises ValueProblem if it can't be moved."""
    try:
        found = number(root, path)
    except NoSuchPath as problem:
        raise ValueProblem(f"a movement drives nothing: {problem}") from None
    if not found.moves or ControlPath(path).root not in ("layers", "movers", "worked", "returns", "sends"):
        raise ValueProblem(f"{found.name} can't be moved: {why_fixed(path, found)}")
    return found


def is_shown(patch: BaseModel, path: str) -> bool:
    """Whether the control at ``path`` has an effect as the patch stands. Raises NoSuchPath."""
    part, name, _ = lookup(patch, path)
    spec = declared(type(part), name)
    steps = ControlPath(path).steps
    layers = getattr(patch, "layers", ()) if steps[0] == "layers" else ()
    owner = next((layer for layer in layers if layer.id == steps[1]), None)
    return spec is None or spec.shown_if is None or spec.shown_if.holds(part, owner)


def walk(root: BaseModel, at: str = "") -> Iterator[tuple[str, Declared, Any]]:
    """Every control below ``root`` with its path, declaration and value."""
    own = declarations(type(root))
    for name in type(root).model_fields:
        value = getattr(root, name)
        path = f"{at}.{name}" if at else name
        if name in own:
            yield path, own[name], value
        elif isinstance(value, BaseModel):
            yield from walk(value, path)
        elif isinstance(value, list):
            for item in value:
                if isinstance(item, BaseModel) and hasattr(item, "id"):
                    yield from walk(item, f"{path}.{item.id}")


def title(root: BaseModel, path: str) -> str:
    """A control's full name: ``Body filter cutoff``."""
    steps = ControlPath(path).steps
    if steps[0] == "movements" and len(steps) == 3:
        return _title_in_movement(root, steps[1], steps[2])
    if steps[0] == "ties" and len(steps) == 3:
        return _title_of_tie(root, steps[1])
    words: list[str] = []
    last_field = ""
    here: Any = root
    for step in steps:
        if isinstance(here, BaseModel):
            if step not in type(here).model_fields:
                raise NoSuchPath(path)
            field = _field_words(here, step, bool(words))
            if last_field and field.startswith(f"{last_field} "):
                # "range cuts" of the range
                words.pop()
            words += [field] if field else []
            last_field = field
            here = getattr(here, step)
        elif isinstance(here, list):
            item = next((i for i in here if getattr(i, "id", None) == step), None)
            if item is None:
                raise NoSuchPath(path)
            name = _name_of_item(root, path, here, item)
            words += [name] if name else []
            last_field = ""
            here = item
    text = " ".join(words)
    return text[:1].upper() + text[1:]


def _field_words(part: BaseModel, field: str, inside: bool) -> str:
    """A field in a title. inside: words come before it."""
    found = declared(type(part), field)
    if found is None and field == "sends" and not inside:
        return "Worked path"
    if found is None:
        return field if field in _SPOKEN else ""
    return found.name.lower() if inside and not found.name[:2].isupper() else found.name


_SPOKEN = ("envelope", "unison", "range", "ceiling", "output")
"""Parts without a name of their own that are said in a title."""


def _title_in_movement(root: BaseModel, movement_id: str, field: str) -> str:
    movement = lookup(root, f"movements.{movement_id}")[2]
    found = declarations(type(movement)).get(field)
    about = movement.lost or title(root, movement.target)
    what = f"{about} movement by {_name_at(root, 'movers', movement.mover)}"
    return what if found is None else f"{what} {found.name.lower()}"


def _title_of_tie(root: BaseModel, tie_id: str) -> str:
    tie = lookup(root, f"ties.{tie_id}")[2]
    with suppress(NoSuchPath):
        return f"{title(root, tie.second)} above {title(root, tie.first)}"
    return "Tied to a removed control"


def _name_of_item(root: BaseModel, path: str, items: list[Any], item: Any) -> str:
    """What a title calls an item of a list: by its name, by what it stands for, or ``band 2`` by its place."""
    if hasattr(item, "name"):
        return str(item.name)
    if not isinstance(item, Part):
        return ""
    named = _name_at(root, *item.name_of(ControlPath(path))) or "removed"
    return item.in_titles.format(place=items.index(item) + 1, name=named)


def _name_at(root: BaseModel, *steps: str) -> str:
    with suppress(NoSuchPath):
        return str(lookup(root, ControlPath.of(*steps))[2].name)
    return ""
