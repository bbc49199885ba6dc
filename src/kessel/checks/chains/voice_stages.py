"""Whether the voice stages keep the fundamental, and their peaks within bounds."""

from __future__ import annotations

from functools import partial

import numpy as np

from ...engine import complex_response
from ...patch import AllpassRow, Comb, Edit, Filter, Ladder, Layer, Stage, note_name, number, write
from ..evidence import Evidence, HeardNote
from ..finding import Finding, Fix, Limits, Where
from ..lows import note_levels, worst_note

_RINGS = 3.0
"""Resonance in dB from which a stage counts as ringing."""
_FEEDS = 30.0
"""Feedback in per cent from which a stage counts as ringing."""


def _kindest(e: Evidence, layer: Layer, stage: Stage, note: HeardNote, hz: float) -> float:
    """Level in dB that a stage leaves of a frequency, where its moved cutoff leaves most."""
    options = [stage]
    values = e.loop.travel.get(f"layers.{layer.id}.stages.{stage.id}.cutoff")
    if values is not None and np.isfinite(values).any():
        options = [stage.model_copy(update={"cutoff": float(2.0**v)}) for v in (np.nanmin(values), np.nanmax(values))]
    found = []
    for option in options:
        h = complex_response(option, np.array([hz]), float(note.pitch), e.patch.tuning)
        if h is None:
            return 0.0
        found.append(20.0 * float(np.log10(max(abs(h[0]), 1e-5))))
    return max(found)


def _loss(e: Evidence, bare: Evidence, note: HeardNote, hz: float) -> float:
    """How far the fundamental of the sum is below what it is without the stage, in dB."""
    with_it, without = (note_levels(x, note, hz).get("") for x in (e, bare))
    if with_it is None or without is None:
        return 0.0
    return 20.0 * float(np.log10(max(without[0], 1e-9) / max(with_it[0], 1e-9)))


def _gentler(
    e: Evidence, bare: Evidence, note: HeardNote, hz: float, path: str, stage: Stage, limit: float
) -> Fix | None:
    """Candidates with less of the stage, until the fundamental is back."""
    milder = (m for m in (70.0, 50.0, 30.0) if m < stage.mix)
    options = [(f"{stage.name} mix to {m:.0f} %", (Edit(f"{path}.mix", m),)) for m in milder]
    options.append((f"Switch {stage.name} off", (Edit(f"{path}.on", False),)))
    return e.cure(options, lambda x: _loss(x, bare, note, hz), lambda loss: loss <= limit)


def fundamental_shut(e: Evidence, limits: Limits) -> list[Finding]:
    """Stages that remove the fundamental while nothing else carries it."""
    worst = worst_note(e)
    if worst is None:
        return []
    found = []
    note = worst.note
    for layer in e.patch.layers:
        if not e.has_pitch(layer):
            continue
        hz = e.note_hz(note, e.lowest_ratio(layer))
        if layer.range.low > hz:
            continue
        for stage in layer.stages:
            left = _kindest(e, layer, stage, note, hz) if stage.on else 0.0
            if left > -limits.shut_db:
                continue
            path = f"layers.{layer.id}.stages.{stage.id}"
            bare = e.with_edits((Edit(f"{path}.on", False),))
            loss = _loss(e, bare, note, hz)
            if loss <= limits.shut_db:
                continue
            fixes = e.sought(partial(_gentler, e, bare, note, hz, path, stage, limits.shut_db))
            found.append(
                Finding(
                    check="fundamental-shut",
                    verdict="fails",
                    title=f"{stage.name} removes the fundamental of {layer.name}",
                    text=f"It takes {write(loss, 'dB')} off {write(hz, 'Hz')} at {note_name(note.pitch)}, "
                    "and no other layer has it",
                    value=loss,
                    unit="dB",
                    limit=limits.shut_db,
                    limit_text=f"{write(limits.shut_db, 'dB')} taken off",
                    limit_name="shut_db",
                    where=Where((layer.id,), note_name(note.pitch), note.beat, hz / 1.12, hz * 1.12, path),
                    fixes=fixes,
                )
            )
    return found


def _less(e: Evidence, path: str, name: str, present: float, peak: float, limit: float) -> Fix | None:
    """Candidates with less resonance or feedback, until the peak is below the clip point."""
    control = number(e.patch, f"{path}.{name}")
    values = [present * share for share in (0.75, 0.5, 0.25, 0.0)]
    if name == "resonance":
        values[0] = max(0.0, present - peak + limit - 1.0)
    tidied = [control.tidy(v) for v in values]
    fix = e.cure(
        ((f"{control.name} to {control.write(v)}", (Edit(f"{path}.{name}", v),)) for v in tidied),
        lambda x: x.stages[path][0],
        lambda peak: peak <= limit,
    )
    # a change that hardly helps is no cure
    return fix if fix is None or fix.after is None or fix.after <= limit or fix.after < peak - 1.0 else None


def resonance_clips(e: Evidence, limits: Limits) -> list[Finding]:
    """Resonant stages whose peaks exceed the clip point."""
    found = []
    for layer in e.patch.layers:
        for stage in layer.stages:
            if not stage.on or not isinstance(stage, Filter | Ladder | Comb | AllpassRow):
                continue
            path = f"layers.{layer.id}.stages.{stage.id}"
            peak = e.stages.get(path, (None, None))[0]
            if peak is None or peak <= limits.clip_dbfs:
                continue
            name = "resonance" if isinstance(stage, Filter | Ladder) else "feedback"
            control = number(e.patch, f"{path}.{name}")
            values = e.loop.travel.get(f"{path}.{name}")
            most = float(getattr(stage, name)) if values is None else float(np.nanmax(np.abs(values)))
            if abs(most) < (_RINGS if name == "resonance" else _FEEDS):
                continue
            fixes = e.sought(partial(_less, e, path, name, float(getattr(stage, name)), peak, limits.clip_dbfs))
            found.append(
                Finding(
                    check="resonance-clips",
                    verdict="look",
                    title=f"{stage.name} resonates over the clip point on {layer.name}",
                    text=f"Its peak is {write(peak, 'dB')}FS",
                    value=peak,
                    unit="dBFS",
                    limit=limits.clip_dbfs,
                    limit_text=f"{write(limits.clip_dbfs, 'dB')}FS",
                    limit_name="clip_dbfs",
                    where=Where((layer.id,), path=f"{path}.{control.name.lower()}"),
                    fixes=fixes,
                )
            )
    return found
