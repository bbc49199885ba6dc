"""What an audio-rate mover is fed by, and what it can move."""

from __future__ import annotations

from collections.abc import Sequence
from contextlib import suppress
from typing import Protocol

from .control_path import ControlPath
from .layer import Layer
from .movement import AudioRate
from .sources import STAGE_PREFIX
from .voice_row import fed_back, voice_row


class Layered(Protocol):
    """A patch, as far as its layers are concerned."""

    @property
    def layers(self) -> Sequence[Layer]:
        """Its layers."""


def source_of(patch: Layered, feed: AudioRate) -> tuple[str, str]:
    """The layer of an audio-rate mover, and the source: its id, or ``stages.`` and the id of a stage.

    Raises ValueError.
    """
    parts = ControlPath(feed.source).steps
    if len(parts) != 4 or parts[0] != "layers" or parts[2] not in ("sources", "stages"):
        raise ValueError(f"{feed.name} needs the path of a source, such as layers.body.sources.saw")
    for layer in patch.layers:
        if layer.id == parts[1] and any(s.id == parts[3] for s in getattr(layer, parts[2])):
            return parts[1], parts[3] if parts[2] == "sources" else STAGE_PREFIX + parts[3]
    raise ValueError(f"{feed.name} is fed by “{feed.source}”, which is no source of this patch")


def can_be_fed(patch: Layered, feed: AudioRate, target: str) -> None:
    """Raise ValueError unless an audio-rate mover can move the control at ``target``.

    A source moves the stages of its layer, a stage those after it. What feeds back to the sources is one loop, in which
    the sound of this moment isn't known beforehand: neither a source nor a stage moves anything in it.
    """
    _, of, _, by = ControlPath(feed.source).steps
    at = ControlPath(target).steps
    if at[:3] != ("layers", of, "stages"):
        raise ValueError(f"{feed.name} moves voice stages of the layer of its source only")
    layer = next(x for x in patch.layers if x.id == of)
    row = voice_row(layer.stages, layer.branches)
    moved = next((s.name for s in layer.stages if s.id == at[3]), at[3])
    by_stage = ControlPath(feed.source).steps[2] == "stages"
    if by_stage and (at[3] == by or all(s.id != by for s in row.up_to(at[3]))):
        raise ValueError(f"{feed.name} moves only the stages after its own: {moved} doesn't hear it")
    back = fed_back(layer)
    if back and (not by_stage or any(s.id == at[3] for i in back for s in row.up_to(i))):
        name = next(s.name for s in layer.stages if s.id == back[0])
        raise ValueError(f"{feed.name} can't move {moved} at audio rate while {name} feeds back to the sources: "
                         "let it modulate a source (FM) instead")  # fmt: skip


def feeding(patch: Layered, target: str) -> list[tuple[str, str]]:
    """The sources and stages that can move the control at ``target`` at audio rate: path and name."""
    steps = ControlPath(target).steps
    layer = next((x for x in patch.layers if steps[0] == "layers" and x.id == steps[1]), None)
    if layer is None:
        return []
    found = []
    named = [(f"sources.{s.id}", s.name) for s in layer.sources] + [(f"stages.{s.id}", s.name) for s in layer.stages]
    for below, name in named:
        path = f"layers.{layer.id}.{below}"
        with suppress(ValueError):
            can_be_fed(patch, AudioRate(id="feed", name="Feed", source=path), target)
            found.append((path, name))
    return found
