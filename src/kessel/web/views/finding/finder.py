"""The search of a workspace: any control, part, command or patch by name, and where it is."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, field
from typing import Any

from ....patch import ControlPath, NoSuchPath, Patch, is_shown, shown, title, walk
from ..controls import element_id
from ..editor import Selection, editor_view, group_of, tabs_of

MOST = 12
"""Most entries that are shown."""

COMMANDS: tuple[tuple[str, str], ...] = (
    ("Play or stop", " "),
    ("Loop on or off", "l"),
    ("Keys and controller", "n"),
    ("Record into the phrase", "r"),
    ("Note editor", "p"),
    ("Listen in mono", "m"),
    ("Solo the layer", "s"),
    ("Mute the layer", "x"),
    ("Layer an octave down", ","),
    ("Layer an octave up", "."),
    ("Whole patch an octave down", "<"),
    ("Whole patch an octave up", ">"),
    ("Layers, workspace 1", "1"),
    ("Movement, workspace 2", "2"),
    ("Shaping, workspace 3", "3"),
    ("Checks, workspace 4", "4"),
    ("Undo", "undo"),
    ("Redo", "redo"),
    ("All keys, help", "?"),
)
"""Names of what a key does on every workspace, and the key."""
_MIX = {"level", "pan", "width", "polarity", "delay", "path", "range"}
_OF_LAYER = {"stages": "stages", "envelope": "envelope", "play": "voices", "unison": "voices", "branches": "stages"}


@dataclass(frozen=True)
class Found:
    """An entry: its name, what it is, its present value, and how to get there.

    asks: what the page is to show. focus: id of the element that gets the focus. press: the key of a command. href: the
    address of a patch.
    """

    name: str
    kind: str
    text: str = ""
    asks: dict[str, str] = field(default_factory=dict)
    focus: str = ""
    press: str = ""
    href: str = ""


def finder(patch: Patch, view: str, words: str, patches: Sequence[tuple[str, str]]) -> list[Found]:
    """What has all the words in its name, or else in its help; what begins with them first. patches: slug and name."""
    wanted = words.casefold().split()
    if not wanted:
        return []
    ranked = []
    for n, (entry, about) in enumerate(_entries(patch, view, patches)):
        name = entry.name.casefold()
        if all(w in name for w in wanted):
            begins = sum(any(word.startswith(w) for word in name.split()) for w in wanted)
            ranked.append(((0, -begins, len(name)), n, entry))
        elif all(w in f"{name} {about.casefold()}" for w in wanted):
            ranked.append(((1, 0, len(name)), n, entry))
    found: list[Found] = []
    drawn: dict[tuple[tuple[str, str], ...], set[str]] = {}
    for _, _, entry in sorted(ranked, key=lambda r: r[:2]):
        if entry.kind != "control" or entry.focus in _drawn(patch, entry.asks, drawn):
            found.append(entry)
        if len(found) == MOST:
            break
    return found


def _drawn(patch: Patch, asks: dict[str, str], known: dict[tuple[tuple[str, str], ...], set[str]]) -> set[str]:
    """Ids of the controls that the editor shows."""
    key = tuple(sorted(asks.items()))
    if key not in known:
        fields: dict[str, Any] = dict(asks)
        known[key] = {v.id for v in editor_view(patch, None, Selection(**fields)).panel.views}
    return known[key]


def _entries(patch: Patch, view: str, patches: Sequence[tuple[str, str]]) -> Iterator[tuple[Found, str]]:
    """All entries, each with more words about it."""
    for name, key in COMMANDS:
        yield Found(name, "command", press=key), ""
    for path, declared, _ in walk(patch):
        asks = shown_at(patch, path)
        if asks is not None and _has_effect(patch, path):
            seen = view if asks["tab"] in tabs_of(view) else "shaping" if asks["tab"] == "returns" else "layers"
            yield (
                Found(title(patch, path), "control", shown(patch, path), asks | {"view": seen}, element_id(path)),
                declared.help,
            )
    yield from ((part, "") for part in _parts(patch, view))
    for slug, name in patches:
        yield Found(name, "patch", href=f"/patch/{slug}"), ""


def _has_effect(patch: Patch, path: str) -> bool:
    try:
        return is_shown(patch, path)
    except NoSuchPath:
        return False


def _parts(patch: Patch, view: str) -> Iterable[Found]:
    """Layers, sources, stages, items and movers."""
    for layer in patch.layers:
        yield Found(layer.name, "layer", asks={"layer": layer.id, "item": ""}, focus=f"strip-{layer.id}")
        own = f"layers.{layer.id}"
        for kind, parts in (("source", layer.sources), ("stage", layer.stages), ("effect", layer.chain)):
            word = {"source": "sources", "stage": "stages", "effect": "chain"}[kind]
            for part in parts:
                asks = shown_at(patch, f"{own}.{word}.{part.id}.on") or {}
                yield Found(
                    f"{layer.name} {part.name}", kind, asks=asks | _view_of(asks, view), focus=f"chip-{part.id}"
                )
    for item in patch.worked:
        asks = {"tab": "worked", "item": item.id}
        yield Found(f"Worked path {item.name}", "effect", asks=asks | _view_of(asks, view), focus=f"chip-{item.id}")
    for mover in patch.movers:
        asks = {"tab": "movers", "item": mover.id}
        yield Found(mover.name, "mover", asks=asks | _view_of(asks, view), focus=f"chip-{mover.id}")


def _view_of(asks: dict[str, str], view: str) -> dict[str, str]:
    return {"view": view if asks.get("tab") in tabs_of(view) else "layers"}


def shown_at(patch: Patch, path: str) -> dict[str, str] | None:
    """What the editor has to show for the control at ``path``. None if it is in no tab."""
    steps = ControlPath(path).steps
    if steps[0] == "layers" and len(steps) > 2:
        return _in_layer(patch, steps)
    if steps[0] == "movers":
        return {"tab": "movers", "item": steps[1]}
    if steps[0] == "worked" and len(steps) > 2:
        return {"tab": "worked", **_item(steps[1:])}
    if steps[0] == "returns" and len(steps) > 3 and steps[2] == "chain":
        return {"tab": "returns", "what": steps[1], **_item(steps[3:])}
    if steps[0] in ("returns", "sends") and len(steps) == 3:
        return {"tab": "returns", "what": steps[1], "item": ""}
    return {"tab": "output", "item": ""} if steps[0] == "output" or path == "tuning" else None


def _in_layer(patch: Patch, steps: Sequence[str]) -> dict[str, str] | None:
    layer, where = {"layer": steps[1]}, steps[2]
    if where == "sources" and len(steps) > 4:
        kind = next(s.kind for s in patch.layer(steps[1]).sources if s.id == steps[3])
        return layer | {"tab": "sources", "item": steps[3], "group": group_of(kind, steps[4])}
    if where == "sends":
        return layer | {"tab": "returns", "what": steps[3], "item": ""}
    if where == "chain" and len(steps) > 4:
        return layer | {"tab": "chain", **_item(steps[3:])}
    if where in _OF_LAYER:
        return layer | {"tab": _OF_LAYER[where], "item": steps[3] if where == "stages" else ""}
    return layer | {"tab": "mix", "item": ""} if where in _MIX else None


def _item(steps: Sequence[str]) -> dict[str, str]:
    """The item of a chain, and the band in it."""
    if "bands" in steps[:-2]:
        at = steps.index("bands")
        return {"item": ".".join(steps[:at]), "group": steps[at + 1]}
    # a part of an item without an id of its own is shown with the item
    inside = [s for s in steps[:-1] if s != "kick"]
    return {"item": ".".join(inside), "group": ""}


__all__ = ["COMMANDS", "Found", "finder", "shown_at"]
