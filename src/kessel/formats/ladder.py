"""Upgrades of the patch file, one for every version, as small changes of plain JSON data.

An upgrade changes a document of the version before it, in place. It never uses the models, which describe the newest
version, and it never changes later. Where a default changes, the upgrade writes the old one into documents that do not
state it (``spell_out``), so that they sound as before.
"""

from __future__ import annotations

import copy
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass
from typing import Any

from ..patch import ControlPath, visible

Document = dict[str, Any]


@dataclass(frozen=True)
class Rung:
    """The upgrade to version ``to``.

    change: takes a whole patch, or a part of one (a layer, a list of items). edit: takes a patch, and a path and its
    new value from a history of edits, and gives both in the words of this version; without it an edit stays as it is.
    """

    to: int
    why: str
    change: Callable[[Any], None]
    edit: Callable[[Any, str, Any], tuple[str, Any]] | None = None


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


_FIELDS: dict[str, dict[str, str]] = {
    "ceiling": {"way": "mode"},
    "compressor": {
        "way": "mode",
        "detect": "detector",
        "ahead": "look_ahead",
        "most": "max_reduction",
        "listen_low": "detector_low_cut",
    },
    "expander": {"most": "max_reduction"},
    "multiband": {"most": "max_boost"},
    "space": {"way": "mode", "ahead": "pre_delay"},
    "cabinet": {"way": "mode"},
    "vocoder": {"way": "mode"},
    "branch": {"ways": "paths"},
    "phaser": {"apart": "stereo_offset"},
    "flanger": {"apart": "stereo_offset"},
    "auto-pan": {"apart": "stereo_offset"},
    "echo": {"apart": "stereo_offset", "loop_low": "feedback_low_cut", "loop_high": "feedback_high_cut"},
    "oscillator": {"chance": "random_range"},
}
"""Version 3: new names of fields, by kind of part."""

_FIELDS_OF_ANY = {"in_step": "link_group", "way": "mode"}
"""Version 3: new names of fields of parts without a kind. ``branches`` is on its own."""

_PLAYED: dict[str, dict[str, str]] = {
    "start": {"restart": "retrigger", "free": "free-running", "chance": "random"},
    "to": {"past": "past the stages", "nowhere": "modulates only"},
}
_VALUES: dict[str, dict[str, dict[str, str]]] = {
    "oscillator": _PLAYED,
    "noise": _PLAYED,
    "sample": {"to": _PLAYED["to"]},
    "hand": {"what": {"chance": "random"}},
    "lfo": {"shape": {"stepped chance": "stepped random", "smooth chance": "smooth random"}},
}
"""Version 3: new words for choices, by kind of part and field."""

_KINDS = {"hand": "performance", "feed": "audio-rate"}
"""Version 3: new words for kinds of movers."""


def _rename(found: Document, names: dict[str, str]) -> None:
    """Rename fields and keep their order."""
    if names.keys() & found.keys():
        renamed = {names.get(name, name): value for name, value in found.items()}
        found.clear()
        found.update(renamed)


def _new_name(owner: Document, above: str, name: str) -> str:
    """The name in version 3 of a field of an object. above: the name of the field that holds the object."""
    if above == "branches" and name == "way":
        return "routing"
    kind = owner.get("kind")
    return (_FIELDS.get(kind, {}) if isinstance(kind, str) else _FIELDS_OF_ANY).get(name, name)


def _renamed_path(tree: Any, path: Any) -> Any:
    """A path to a control in the words of version 3. ``tree`` is a patch, or a part stored with its movements."""
    if not isinstance(path, str):
        return path
    here = tree.get("part", tree) if isinstance(tree, dict) else tree
    steps = [""]
    for old in ControlPath(path).steps:
        new = old
        if isinstance(here, dict):
            new = _new_name(here, steps[-1], old)
            here = here.get(new, here.get(old))
        elif isinstance(here, list):
            here = next((x for x in here if isinstance(x, dict) and x.get("id") == old), None)
        steps.append(new)
    return str(ControlPath.of(*steps[1:]))


def _part_at(tree: Any, steps: Iterable[str]) -> Any:
    """What is at a path in a document. None if nothing is."""
    here: Any = tree
    for step in steps:
        if isinstance(here, list):
            here = next((x for x in here if isinstance(x, dict) and x.get("id") == step), None)
        else:
            here = here.get(step) if isinstance(here, dict) else None
    return here


def _new_word(kind: Any, field: str, value: Any) -> Any:
    """The word in version 3 for a choice."""
    if not isinstance(value, str):
        return value
    words = {"flipped": "inverted"} if field == "polarity" else _VALUES.get(str(kind), {}).get(field, {})
    return words.get(value, value)


def _rename_paths(rows: Any, tree: Any) -> None:
    """Rename the paths in movements, ties and pins. ``rows`` holds some of these lists; the paths are of ``tree``."""
    for name, fields in (("movements", ("target",)), ("ties", ("first", "second"))):
        found = rows.get(name)
        for row in found if isinstance(found, list) else ():
            for field in fields:
                if isinstance(row, dict) and field in row:
                    row[field] = _renamed_path(tree, row[field])
    if isinstance(rows.get("pins"), list):
        rows["pins"] = [_renamed_path(tree, path) for path in rows["pins"]]


def _standard_names(tree: Any) -> None:
    """Rename fields, choices and kinds to the trade's terms. Paths come first: the old names still stand then."""
    if isinstance(tree, dict):
        _rename_paths(tree, tree)
    for found in list(objects(tree)):
        branches = found.get("branches")
        if isinstance(branches, dict):
            _rename(branches, {"way": "routing"})
            if branches.get("routing") == "branches":
                branches["routing"] = "parallel"
        kind = found.get("kind")
        for field in list(found):
            found[field] = _new_word(kind, field, found[field])
        if isinstance(kind, str):
            found["kind"] = _KINDS.get(kind, kind)
        _rename(found, _FIELDS.get(kind, {}) if isinstance(kind, str) else _FIELDS_OF_ANY)


def _edit_in_standard_names(tree: Any, path: str, value: Any) -> tuple[str, Any]:
    """An edit of version 2 in the words of version 3. ``tree`` is a patch of either."""
    new = _renamed_path(tree, path)
    *steps, field = ControlPath(new).steps
    here = _part_at(tree, steps)
    if field == "routing":
        return new, "parallel" if value == "branches" else value
    holder = {field: copy.deepcopy(value)}
    _rename_paths(holder, tree)
    _standard_names(holder)
    kind = here.get("kind") if isinstance(here, dict) else None
    return new, _new_word(kind, field, next(iter(holder.values())))


def _levels_open_in_decibels(tree: Any) -> None:
    """Movements made before version 4 open a level that is off evenly in dB."""
    for found in objects(tree):
        if {"mover", "target", "amount"} <= found.keys():
            found.setdefault("from_off", "decibels")


def _unison_is_even(tree: Any) -> None:
    """The copies of a layer made before version 4 start evenly spread."""
    for found in objects(tree):
        if isinstance(found.get("sources"), list) and "envelope" in found:
            found.setdefault("unison", {})
        if isinstance(found.get("unison"), dict):
            found["unison"].setdefault("phases", "even")


def _as_before_4(tree: Any) -> None:
    _levels_open_in_decibels(tree)
    _unison_is_even(tree)
    if isinstance(tree, dict) and "format" in tree:
        tree.setdefault("wanted", [])


def _edit_before_4(tree: Any, path: str, value: Any) -> tuple[str, Any]:
    value = copy.deepcopy(value)
    _as_before_4(value)
    if path.endswith(".unison") and isinstance(value, dict):
        value.setdefault("phases", "even")
    return path, value


def _synced_to_another(source: Any) -> bool:
    return isinstance(source, dict) and source.get("sync") == "source" and bool(source.get("sync_to"))


def _synced_begin_at_nought(tree: Any) -> None:
    """The start phase of an oscillator that another one restarts was not heard before version 5."""
    for found in objects(tree):
        if _synced_to_another(found) and found.get("phase"):
            found["phase"] = 0.0


def _edit_before_5(tree: Any, path: str, value: Any) -> tuple[str, Any]:
    value = copy.deepcopy(value)
    _synced_begin_at_nought(value)
    *steps, field = ControlPath(path).steps
    return path, 0.0 if field == "phase" and _synced_to_another(_part_at(tree, steps)) else value


LADDER: tuple[Rung, ...] = (
    Rung(2, "names hold characters that can be seen, and no others", _names_can_be_seen),
    Rung(3, "fields and choices have the trade's names", _standard_names, _edit_in_standard_names),
    Rung(4, "levels open evenly in loudness, and unison keeps the lows", _as_before_4, _edit_before_4),
    Rung(5, "a synced oscillator begins at its start phase", _synced_begin_at_nought, _edit_before_5),
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


def climb_edit(tree: Any, path: str, value: Any, ladder: tuple[Rung, ...] = LADDER) -> tuple[str, Any]:
    """An edit of version 1 in the words of the newest. ``tree`` is the patch it is made on, of the newest version."""
    for rung in ladder:
        if rung.edit is not None:
            path, value = rung.edit(tree, path, value)
    return path, value
