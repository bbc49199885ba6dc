"""Freeze: render a layer, the worked path or the sum into a new sample layer."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..engine import RATE
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


Audio = NDArray[np.float32]
BANDS: dict[int, tuple[tuple[str, ...], tuple[float, ...]]] = {
    1: (("",), ()),
    2: (("lows", "highs"), (120.0,)),
    3: (("lows", "mids", "highs"), (120.0, 1200.0)),
    4: (("lows", "low mids", "high mids", "highs"), (120.0, 600.0, 3000.0)),
}
"""Names of the bands that a sound can be split into, and their edges in Hz, by number."""


def freeze(
    desk: Desk, source: OpenPatch, target: OpenPatch, what: str, mode: str, bands: int = 1
) -> tuple[Edited, str]:
    """Freeze ``what`` (a layer's id, worked, sum) of one patch into a new layer of this or another patch, or into a
    layer for each of two to four bands, which add up to the whole.

    mode: ``phrase`` is a loop in sync with the phrase; ``note`` is one note that can be played. What was frozen in the
    same patch is muted, so that the sound stays. Returns the edit and the id of the new layer, the lowest of several.
    """
    if bands not in BANDS:
        raise ValueProblem(f"split it into {min(BANDS) + 1} to {max(BANDS)} bands, not {bands}")
    if len(target.patch.layers) + bands > MOST_LAYERS:
        many = f"{bands} more do" if bands > 1 else "another does"
        raise ValueProblem(f"a patch has {MOST_LAYERS} layers at most, so {many} not fit: delete some first")
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
    sample: dict[str, Any] = {"id": "frozen", "root": root or 65.406}
    if mode == "phrase":
        sample |= {"play": "loop", "begins": "phrase"}
        play = Play(mode="drone", velocity=0.0, bend_range=0.0)
        envelope = LevelEnvelope(attack=0.5, release=30)
    else:
        sample |= {"follows": "note"}
        play = Play(velocity=6.0)
        envelope = LevelEnvelope(attack=0.5, release=120)
    there = target.patch
    parts: list[Layer] = []
    for word, y in zip(BANDS[bands][0], split(x, BANDS[bands][1], mode == "phrase"), strict=True):
        own = f"{title[:48]} {word}".strip()
        card = desk.keep_audio(y, own, root)
        taken = [*there.layers, *parts]
        part = Sample(**sample, name=own, title=own, audio=card.word)
        parts.append(
            Layer(
                id=free_id(own, [x.id for x in taken]), name=own, hatch=free_hatch(taken), level=0.0,
                path=layer.path if layer is not None else "clean", sources=[part], play=play, envelope=envelope,
                sends=_sends_of(layer, there),
            )
        )  # fmt: skip
    layers = []
    for x_ in there.layers:
        gone = source is target and (what == "sum" or x_.id == what or (what == "worked" and x_.path == "worked"))
        layers.append((x_.model_copy(update={"mute": True}) if gone else x_).model_dump())
    into = f" in {bands} bands" if bands > 1 else ""
    edits = [Edit("layers", [*layers, *(x.model_dump() for x in parts)])]
    return target.edit(edits, f"Freeze {name}{into}"), parts[0].id


def split(x: Audio, edges: tuple[float, ...], loops: bool) -> list[Audio]:
    """Bands of x, (channels, n), between edges in Hz, the lowest first. They add up to x.

    Slopes of 24 dB per octave without any shift of phase: the magnitudes of Linkwitz-Riley filters (1976), whose sum is
    one. loops: x repeats; otherwise half a second of silence stands around it.
    """
    around = 0 if loops else RATE // 2
    spectrum = np.fft.rfft(np.pad(x.astype(np.float64), ((0, 0), (around, around))), axis=1)
    size = x.shape[1] + 2 * around
    hz = np.fft.rfftfreq(size, 1.0 / RATE)
    bands = []
    left = np.ones_like(hz)
    for edge in edges:
        low = 1.0 / (1.0 + (hz / edge) ** 4)
        bands.append(left * low)
        left = left * (1.0 - low)
    found = [np.fft.irfft(spectrum * band, size, axis=1) for band in (*bands, left)]
    return [np.ascontiguousarray(y[:, around : around + x.shape[1]], dtype=np.float32) for y in found]


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


def _cut(x: Audio) -> Audio:
    """The sound without the silence at its end."""
    loud = np.flatnonzero(np.abs(x).max(axis=0) > 1e-4)
    return x[:, : int(loud[-1]) + 1] if loud.size else x
