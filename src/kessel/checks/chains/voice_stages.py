"""Whether the voice stages keep the fundamental, and their peaks within bounds."""

from __future__ import annotations

from dataclasses import dataclass
from functools import partial

import numpy as np

from ...patch import AllpassRow, Comb, Control, Edit, Filter, Ladder, Layer, Stage, note_name, number, write
from ..evidence import Evidence
from ..finding import Finding, Fix, Limits, Where
from ..items import stages_in_order
from ..lows import Shut, gentler, shut_on, taken_off, worst_note
from ..notes import HeardNote

_RINGS = 3.0
"""Resonance in dB from which a stage counts as ringing."""
_FEEDS = 30.0
"""Feedback in per cent from which a stage counts as ringing."""


def fundamental_shut(e: Evidence, limits: Limits) -> list[Finding]:
    """Stages and effects of layers that take much of the fundamental while nothing else carries it.

    Where the fundamental is too weak by it, that finding names the cause.
    """
    worst = worst_note(e)
    if worst is None or worst.under > limits.hollow_db:
        return []
    return [_shut(e, it, worst.note, limits) for it in shut_on(e, worst.note, limits)]


def _shut(e: Evidence, it: Shut, note: HeardNote, limits: Limits) -> Finding:
    def seek() -> Fix | None:
        return e.cure(gentler(it), lambda x: taken_off(x, it.bare, note, it.hz), lambda loss: loss <= limits.shut_db)

    return Finding(
        check="fundamental-shut",
        verdict="fails",
        title=f"{it.item.name} removes the fundamental of {it.layer.name}",
        text=f"It takes {write(it.loss, 'dB')} off {write(it.hz, 'Hz')} at {note_name(note.pitch)}, "
        "and no other layer has it",
        value=it.loss,
        unit="dB",
        limit=limits.shut_db,
        limit_text=f"{write(limits.shut_db, 'dB')} taken off",
        limit_name="shut_db",
        where=Where((it.layer.id,), note_name(note.pitch), note.beat, it.hz / 1.12, it.hz * 1.12, it.path),
        fixes=e.sought(seek),
    )


@dataclass(frozen=True)
class Ring:
    """A resonant stage over the clip point. name: of its resonance. alone: its peak in dBFS without it."""

    layer: Layer
    stage: Stage
    path: str
    name: str
    peak: float
    alone: float


def rings(e: Evidence, layer: Layer, stage: Stage, limits: Limits) -> Ring | None:
    """A stage over the clip point, if its resonance accounts for half of that at least."""
    if not stage.on or not isinstance(stage, Filter | Ladder | Comb | AllpassRow):
        return None
    path = f"layers.{layer.id}.stages.{stage.id}"
    peak = e.stages.get(path, (None, None))[0]
    if peak is None or peak <= limits.clip_dbfs:
        return None
    name = "resonance" if isinstance(stage, Filter | Ladder) else "feedback"
    values = e.loop.travel.get(f"{path}.{name}")
    most = float(getattr(stage, name)) if values is None else float(np.nanmax(np.abs(values)))
    if abs(most) < (_RINGS if name == "resonance" else _FEEDS):
        return None
    if abs(most) < 0.5 * (peak - limits.clip_dbfs) and name == "resonance":
        # it cannot add more than its gain
        return None
    still = [Edit("movements", [m.model_dump() for m in e.patch.movements if m.target != f"{path}.{name}"])]
    edits = (Edit(f"{path}.{name}", 0.0), *(still if values is not None else ()))
    alone = e.voice_stage_peak(layer.id, path, edits)
    found = Ring(layer, stage, path, name, peak, -200.0 if alone is None else alone)
    return found if found.peak - found.alone >= 0.5 * (found.peak - limits.clip_dbfs) else None


def less(e: Evidence, it: Ring, limit: float) -> Fix | None:
    """Candidates with less resonance or feedback, until the peak is below the clip point."""
    control = number(e.patch, f"{it.path}.{it.name}")
    present = float(getattr(it.stage, it.name))
    values = [present * share for share in (0.75, 0.5, 0.25, 0.0)]
    if it.name == "resonance":
        values[0] = max(0.0, present - it.peak + limit - 1.0)
    tidied = [control.tidy(v) for v in values]
    return e.cure(
        ((f"{control.name} to {control.write(v)}", (Edit(f"{it.path}.{it.name}", v),)) for v in tidied),
        lambda x: x.stages[it.path][0],
        lambda peak: peak <= limit,
    )


def resonance_clips(e: Evidence, limits: Limits) -> list[Finding]:
    """Stages whose resonance exceeds the clip point behind the first that does: that one names its own cause."""
    found = []
    first = first_over(e, limits)
    for layer in e.patch.layers:
        for stage in layer.stages:
            it = rings(e, layer, stage, limits) if f"layers.{layer.id}.stages.{stage.id}" != first else None
            if it is not None:
                found.append(_ringing(e, it, limits))
    return found


def first_over(e: Evidence, limits: Limits) -> str | None:
    """The path of the first stage or effect whose peak is over the clip point."""
    for path, stage, _ in stages_in_order(e.patch):
        peak = e.stages.get(path, (None, None))[0]
        if stage.on and peak is not None and peak > limits.clip_dbfs:
            return path
    return None


def _ringing(e: Evidence, it: Ring, limits: Limits) -> Finding:
    control = number(e.patch, f"{it.path}.{it.name}")
    return Finding(
        check="resonance-clips",
        verdict="look",
        title=f"{it.stage.name} resonates over the clip point on {it.layer.name}",
        text=ring_words(it, control),
        value=it.peak,
        unit="dBFS",
        limit=limits.clip_dbfs,
        limit_text=f"{write(limits.clip_dbfs, 'dB')}FS",
        limit_name="clip_dbfs",
        where=Where((it.layer.id,), path=f"{it.path}.{it.name}"),
        fixes=e.sought(partial(less, e, it, limits.clip_dbfs)),
    )


def ring_words(it: Ring, control: Control) -> str:
    """Its peak, and what the resonance adds, as text."""
    return (
        f"Its peak is {write(it.peak, 'dB')}FS, of which {control.name.lower()} adds {write(it.peak - it.alone, 'dB')}"
    )
