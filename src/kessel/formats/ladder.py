"""Upgrades of the patch file, one for every version, as small changes of plain JSON data.

An upgrade changes a document of the version before it, in place. It never uses the models, which describe the newest
version, and it never changes later. Where a default changes, the upgrade writes the old one into documents that do not
state it (``spell_out``), so that they sound as before.
"""

from __future__ import annotations

import copy
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any

from ..patch import visible

Document = dict[str, Any]


@dataclass(frozen=True)
class Rung:
    """The upgrade to version ``to``. ``change`` takes a whole patch, or a part of one (a layer, a list of items)."""

    to: int
    why: str
    change: Callable[[Any], None]


def objects(tree: Any) -> Iterator[Document]:
    """Every object of a document, outer ones first."""
    if isinstance(tree, dict):
        yield tree
        for value in tree.values():
            yield from objects(value)
    elif isinstance(tree, list):
        for value in tree:
            yield from objects(value)


def spell_out(tree: Any, kind: str, field: str, value: Any) -> None:
    """Write an old default into every object of a kind that does not state the field."""
    for found in objects(tree):
        if found.get("kind") == kind:
            found.setdefault(field, copy.deepcopy(value))


def _names_can_be_seen(tree: Any) -> None:
    for found in objects(tree):
        name = found.get("name")
        if isinstance(name, str):
            found["name"] = visible(name)[:60].strip() or "Unnamed"


LADDER: tuple[Rung, ...] = (
    Rung(2, "names hold characters that can be seen, and no others", _names_can_be_seen),
)  # fmt: skip


def climb(tree: Any, version: int, ladder: tuple[Rung, ...] = LADDER) -> Any:
    """A document of an older version as one of the newest. The argument is not changed."""
    tree = copy.deepcopy(tree)
    for rung in ladder:
        if rung.to > version:
            rung.change(tree)
    if isinstance(tree, dict) and "format" in tree and ladder:
        tree["version"] = max(version, ladder[-1].to)
    return tree
