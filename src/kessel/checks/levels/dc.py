"""Whether the output has a direct current: it costs headroom, and clicks where a sound starts or is cut."""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np
from numpy.typing import NDArray

from ...patch import MINUS, Distortion, Edit, write
from ..evidence import Evidence
from ..finding import Candidate, Finding, Limits
from ..items import stages_in_order
from ..notes import HeardNote, frame_plan

_SILENT = 1e-7
_CUT_HZ = 25.0
_LEAST_FRAMES = 3


def dc_dbfs(e: Evidence) -> float | None:
    """DC of the channel where it is largest, in dBFS. None if there is none.

    It is the mean over the steady parts of all notes (Hann windows of whole periods, so that all harmonics fall on
    their zeros): the mean of the loop alone also counts the half cycles at which notes end. Notes that are too short
    for three windows tell nothing.
    """
    means = [m for note in e.notes for m in _means(e, note)]
    if not any(e.base_ratio(note) for note in e.notes):
        means = [e.loop.sum.mean(axis=1)]
    offset = float(np.abs(np.mean(means, axis=0)).max()) if means else 0.0
    return 20.0 * math.log10(offset) if offset > _SILENT else None


def _means(e: Evidence, note: HeardNote) -> list[NDArray[np.float64]]:
    """The windowed means of a note, each (channels,)."""
    ratio = e.base_ratio(note)
    if ratio is None:
        return []
    starts, size = frame_plan(note, e.note_hz(note, ratio))
    window = np.hanning(size + 1)[:size]
    if starts.size < _LEAST_FRAMES:
        return []
    return [np.asarray(e.stretch(e.loop.sum, note, int(at), size) @ window / window.sum()) for at in starts]


def _candidates(e: Evidence) -> Iterator[Candidate]:
    """The bias of a distortion taken away, and the layer that brings most of it cut below 25 Hz."""
    for path, part, _ in stages_in_order(e.patch):
        if isinstance(part, Distortion) and part.on and part.bias:
            yield f"Take the bias of {part.name} away", (Edit(f"{path}.bias", 0.0),)
    offsets = {x.id: abs(float(e.loop.layers[x.id].mean())) for x in e.patch.layers if not x.mute}
    for layer_id in sorted(offsets, key=lambda i: -offsets[i]):
        layer = e.patch.layer(layer_id)
        if layer.range.low < _CUT_HZ < layer.range.high and offsets[layer_id] > _SILENT:
            path = f"layers.{layer_id}.range"
            yield f"Keep {layer.name} above {write(_CUT_HZ, 'Hz')}", (Edit(f"{path}.low", _CUT_HZ),)


def dc_offset(e: Evidence, limits: Limits) -> list[Finding]:
    """DC at the output."""
    value = dc_dbfs(e)
    fails = value is not None and value > limits.dc_dbfs
    held = value is None or value <= limits.dc_dbfs - 20.0
    return [
        Finding(
            check="dc-offset",
            verdict="fails" if fails else "holds" if held else "look",
            title="No DC at the output" if held else "DC at the output",
            text="None" if value is None else f"{value:.1f} dBFS".replace("-", MINUS),
            value=value,
            unit="dBFS",
            limit=limits.dc_dbfs,
            limit_text=f"{write(limits.dc_dbfs, 'dB')}FS; look from {write(limits.dc_dbfs - 20.0, 'dB')}FS",
            limit_name="dc_dbfs",
            fixes=()
            if held
            else e.sought(lambda: e.full_cure(_candidates(e), dc_dbfs, lambda db: db <= limits.dc_dbfs - 20.0)),
            alone=True,
            goal=limits.dc_dbfs - 20.0,
        )
    ]
