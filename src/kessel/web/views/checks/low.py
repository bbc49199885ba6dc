"""The low end: layers' shares, every note's harmonics, rumble."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ....checks import details
from ....patch import note_name, pitch_hz, write
from ...pictures import content_of
from ..svg import polyline
from .look import CheckContext, db

TOP_DB, BOTTOM_DB = -6.0, -66.0


@dataclass(frozen=True)
class Area:
    """A layer's share below the sum's line, as a closed path in 1000 by 1000."""

    name: str
    hatch: str
    path: str


@dataclass(frozen=True)
class NoteRow:
    """A note: harmonics 1..4 as (height in per cent, text), whether its fundamental is weak, and each layer's part of
    it.

    thin: harmonics that are weaker here than on the other notes, as text.
    """

    name: str
    hz: str
    bars: tuple[tuple[float, str], ...]
    hollow: bool
    deep: bool
    thin: str
    under: str
    carried: tuple[tuple[str, str, str], ...]


@dataclass(frozen=True)
class LowEndView:
    """The low end. Positions are on an axis from 20 to 250 Hz, in per cent."""

    areas: tuple[Area, ...]
    line: str
    ticks: tuple[tuple[float, str], ...]
    keys: tuple[tuple[float, float, bool, str], ...]
    notes: tuple[tuple[float, str], ...]
    floor: float
    floor_text: str
    rumble: str
    rows: tuple[NoteRow, ...]
    content: str


def low_across(hz: float) -> float:
    """Position of a frequency between 20 and 250 Hz, 0..100."""
    x = 100.0 * np.log(max(hz, 1e-3) / details.LOW_HZ) / np.log(details.HIGH_HZ / details.LOW_HZ)
    return round(float(min(max(x, 0.0), 100.0)), 3)


def low_keys() -> tuple[tuple[float, float, bool, str], ...]:
    """Piano keys along the axis: position, width, black, names of the Cs."""
    found = []
    for pitch in range(16, 60):
        low, high = pitch_hz(pitch - 0.5), pitch_hz(pitch + 0.5)
        if high <= details.LOW_HZ or low >= details.HIGH_HZ:
            continue
        x = low_across(low)
        name = note_name(pitch) if pitch % 12 in (0, 4, 9) else ""
        found.append((x, round(low_across(high) - x, 3), pitch % 12 in (1, 3, 6, 8, 10), name))
    return tuple(found)


_KEYS = low_keys()
_TICKS = tuple((low_across(hz), str(hz)) for hz in (20, 30, 40, 50, 60, 80, 100, 120, 150, 200, 250))


def _areas(look: CheckContext, d: details.LowDetail) -> tuple[tuple[Area, ...], str]:
    height = 1000.0 * np.clip((d.sum - BOTTOM_DB) / (TOP_DB - BOTTOM_DB), 0.0, 1.0)
    foot = np.zeros_like(height)
    found = []
    for layer in look.patch.layers:
        share = d.shares.get(layer.id)
        if share is None or share.max() < 0.01:
            continue
        top = foot + share * height
        up = np.concatenate([1000.0 - top])
        down = 1000.0 - foot
        x = np.linspace(0.0, 1000.0, height.size)
        points = [f"{a:.0f},{b:.0f}" for a, b in zip(x, up, strict=True)]
        points += [f"{a:.0f},{b:.0f}" for a, b in zip(x[::-1], down[::-1], strict=True)]
        found.append(Area(layer.name, layer.hatch, "M" + " L".join(points) + "Z"))
        foot = top
    return tuple(found), polyline(np.linspace(0.0, 1000.0, height.size), 1000.0 - height)


def low_view(look: CheckContext) -> LowEndView | None:
    """The low end of the loop."""
    d: details.LowDetail | None = look.find("low")
    if d is None:
        return None
    limits = look.limits
    areas, line = _areas(look, d)
    names = {x.id: (x.name, x.hatch) for x in look.patch.layers}
    rows: dict[int, NoteRow] = {}
    for n in sorted(d.notes, key=lambda n: n.note.pitch):
        top = max((x for x in n.sum[:4] if x is not None), default=-100.0)
        bars = tuple(
            (
                0.0 if x is None else round(100.0 * max(0.0, 1.0 + (x - top) / 36.0), 1),
                f"harmonic {k + 1}, {write((k + 1) * n.hz, 'Hz')}: {db(x)} dBFS",
            )
            for k, x in enumerate(n.sum[:4])
        )
        firsts = sorted(((p[0], i) for i, p in n.layers.items() if p[0] is not None and i in names), reverse=True)
        carried = tuple((*names[i], db(level)) for level, i in firsts[:2])
        rows.setdefault(
            n.note.pitch,
            NoteRow(
                note_name(n.note.pitch), write(n.hz, "Hz"), bars, n.under > limits.hollow_db, n.hz < limits.floor_hz,
                ", ".join(f"{k} by {db(by)}" for k, by in d.thin.get(n.note.pitch, ())), db(n.under), carried,
            ),
        )  # fmt: skip
    marks = {round(low_across(n.hz), 2): note_name(n.note.pitch) for n in d.notes}
    return LowEndView(
        areas=areas,
        line=line,
        ticks=_TICKS,
        keys=_KEYS,
        notes=tuple(sorted(marks.items())),
        floor=low_across(limits.floor_hz),
        floor_text=write(limits.floor_hz, "Hz"),
        rumble=db(d.floor_db),
        rows=tuple(rows.values()),
        content=content_of(look.open_patch.patch),
    )
