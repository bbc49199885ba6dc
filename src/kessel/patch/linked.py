"""Linked layers: their voice stages, their envelopes and what moves those are edited together."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from .base import free_id
from .control_path import ControlPath
from .model import Patch

_PARTS = ("stages", "branches", "envelope")


def linked_layers(patch: Patch, layer_id: str) -> list[str]:
    """Ids of the layers that are linked with a layer."""
    word = next((x.link_group for x in patch.layers if x.id == layer_id), "")
    return [x.id for x in patch.layers if word and x.link_group == word and x.id != layer_id]


def _layer_of(path: str) -> str | None:
    """The layer whose stages or envelope a path belongs to."""
    parts = ControlPath(path).steps
    return parts[1] if len(parts) > 2 and parts[0] == "layers" and parts[2] in _PARTS else None


def is_linked(patch: Patch, path: str) -> bool:
    """Whether other layers follow an edit at this path."""
    parts = ControlPath(path).steps
    if parts[0] == "movements" and len(parts) == 3:
        path = next((m.target for m in patch.movements if m.id == parts[1]), "")
    layer = _layer_of(path)
    return layer is not None and bool(linked_layers(patch, layer))


def _moving(movements: Iterable[dict[str, Any]], layer: str, feeds: Iterable[str] = ()) -> list[dict[str, Any]]:
    """Movements of a layer's stages and envelope, without those of its audio-rate sources."""
    return [m for m in movements if _layer_of(m["target"]) == layer and m["mover"] not in feeds]


def _touched(patch: Patch, data: dict[str, Any], paths: Iterable[str]) -> list[str]:
    """Layers whose stages, envelope or movements are changed by the edits, in order."""
    found: list[str] = []
    for path in paths:
        layer = _layer_of(path)
        if layer is not None:
            found.append(layer)
        elif ControlPath(path).root == "movements":
            before = [m.model_dump() for m in patch.movements]
            found += [
                x.id for x in patch.layers if x.link_group and _moving(before, x.id) != _moving(data["movements"], x.id)
            ]
    return found


def keep_linked(patch: Patch, data: dict[str, Any], paths: Iterable[str]) -> None:
    """Copy the edits of a layer to the layers it is linked with. ``data`` is the dump of the edited patch."""
    done: set[str] = set()
    for lead in _touched(patch, data, paths):
        by_id = {x["id"]: x for x in data["layers"]}
        word = by_id[lead]["link_group"] if lead in by_id else ""
        if not word or word in done:
            continue
        done.add(word)
        for other in data["layers"]:
            if other["link_group"] == word and other["id"] != lead:
                for part in _PARTS:
                    other[part] = by_id[lead][part]
                feeds = [m["id"] for m in data["movers"] if m["kind"] == "audio-rate"]
                data["movements"] = _followed(data["movements"], lead, other["id"], feeds)


def _followed(movements: list[dict[str, Any]], lead: str, other: str, feeds: list[str]) -> list[dict[str, Any]]:
    """All movements, with those of ``other`` replaced by those of ``lead``. Existing ids are kept."""
    prefix = f"layers.{other}."
    wanted = [
        m | {"target": prefix + m["target"].removeprefix(f"layers.{lead}.")} for m in _moving(movements, lead, feeds)
    ]
    found = []
    for m in movements:
        if _layer_of(m["target"]) != other or m["mover"] in feeds:
            found.append(m)
            continue
        same = next((w for w in wanted if (w["mover"], w["target"]) == (m["mover"], m["target"])), None)
        if same is not None:
            wanted.remove(same)
            found.append(same | {"id": m["id"]})
    for m in wanted:
        found.append(m | {"id": free_id(m["id"], [x["id"] for x in found])})
    return found
