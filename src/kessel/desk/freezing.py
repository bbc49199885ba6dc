"""Freeze: render a layer, the worked path or the sum into a new sample layer."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from ..measure import detect_pitch
from ..patch import (
    SILENT_DB,
    Edit,
    Layer,
    LevelEnvelope,
    Note,
    Patch,
    Play,
    Sample,
    Send,
    ValueProblem,
    free_id,
    note_name,
    pitch_hz,
)
from .desk import Desk
from .editing import MOST_LAYERS, free_hatch
from .open_patch import Edited, OpenPatch


def _what(patch: Patch, what: str) -> tuple[str, str, Layer | None]:
    """Name, render job, and the layer, if it is one."""
    if what == "sum":
        return "Sum", "sum", None
    if what == "worked":
        return "Worked path", "worked", None
    ids = [layer.id for layer in patch.layers]
    if what not in ids:
        raise ValueProblem("freeze a layer, the worked path or the sum")
    layer = patch.layer(what)
    return layer.name, f"layer:{what}", layer


def _one_note(patch: Patch) -> tuple[Patch, int]:
    """The patch playing its lowest note once, long enough to decay, and the pitch of that note."""
    notes = patch.phrase.notes
    if not notes:
        raise ValueProblem("there is no note to freeze: draw one first")
    pitch = min(n.pitch for n in notes)
    length = max(n.length for n in notes if n.pitch == pitch)
    bars = min(8, max(1, -int(-(length + 2.0) // 4)))
    one = Note(id="one", pitch=pitch, start=0.0, length=min(length, 4.0 * bars), velocity=110)
    return patch.model_copy(
        update={
            "phrase": patch.phrase.model_copy(
                update={"bars": bars, "notes": [one], "bend": [], "wheel": [], "pressure": []}
            )
        }
    ), pitch


def freeze(desk: Desk, source: OpenPatch, target: OpenPatch, what: str, mode: str) -> tuple[Edited, str]:
    """Freeze ``what`` (a layer's id, worked, sum) of one patch into a new layer of this or another patch.

    way: ``phrase`` is a loop in sync with the phrase; ``note`` is one note that can be played. What was frozen in the
    same patch is muted, so that the sound stays. Returns the edit and the id of the new layer.
    """
    patch = source.patch
    name, ask, layer = _what(patch, what)
    if mode not in ("phrase", "note"):
        raise ValueProblem("freeze the phrase or one note")
    root: float | None = None
    if mode == "note":
        played, pitch = _one_note(patch)
        x = _cut(desk.render_worker.audio(played, ask))
        root = _root(detect_pitch(x.astype(np.float64)), pitch_hz(pitch, patch.tuning))
        title = f"{name} {note_name(pitch)}"
    else:
        x = desk.render_worker.audio(patch, ask)
        title = f"{name}, frozen"
    if float(np.abs(x).max(initial=0.0)) < 1e-4:
        raise ValueProblem(f"{name} is silent: there is nothing to freeze")
    card = desk.keep_audio(x, title, root)
    sample: dict[str, Any] = {"id": "frozen", "name": title, "title": title, "audio": card.word, "root": root or 65.406}
    if mode == "phrase":
        sample |= {"play": "loop", "begins": "phrase"}
        play = Play(mode="drone", velocity=0.0, bend_range=0.0)
        envelope = LevelEnvelope(attack=0.5, release=30)
    else:
        sample |= {"follows": "note"}
        play = Play(velocity=6.0)
        envelope = LevelEnvelope(attack=0.5, release=120)
    there = target.patch
    if len(there.layers) >= MOST_LAYERS:
        raise ValueProblem(f"a patch has {MOST_LAYERS} layers at most: delete one first")
    new = Layer(
        id=free_id(title, [x.id for x in there.layers]), name=title, hatch=free_hatch(there), level=0.0,
        path=layer.path if layer is not None else "clean", sources=[Sample(**sample)], play=play, envelope=envelope,
        sends=_sends_of(layer, there),
    )  # fmt: skip
    layers = []
    for x_ in there.layers:
        gone = source is target and (what == "sum" or x_.id == what or (what == "worked" and x_.path == "worked"))
        layers.append((x_.model_copy(update={"mute": True}) if gone else x_).model_dump())
    edited = target.edit([Edit("layers", [*layers, new.model_dump()])], f"Freeze {name}")
    return edited, new.id


def _sends_of(layer: Layer | None, there: Patch) -> list[Send]:
    """The sends of a frozen layer: those of its source, where their returns exist."""
    own = {s.id: s.level for s in layer.sends} if layer is not None else {}
    return [Send(id=r.id, level=own.get(r.id, SILENT_DB)) for r in there.returns]


def _root(found: float | None, played: float) -> float:
    """The root of a frozen note: its own pitch, in the octave that is heard. The heard pitch if that is no octave."""
    if found is None:
        return played
    octave = played * 2.0 ** round(math.log2(found / played))
    return octave if abs(1200.0 * math.log2(found / octave)) < 60.0 else found


def _cut(x: np.ndarray[Any, np.dtype[np.float32]]) -> np.ndarray[Any, np.dtype[np.float32]]:
    """The sound without the silence at its end."""
    loud = np.flatnonzero(np.abs(x).max(axis=0) > 1e-4)
    return x[:, : int(loud[-1]) + 1] if loud.size else x
