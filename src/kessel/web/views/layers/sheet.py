"""The section drawing: measured strips over the shared frequency axis."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field

import numpy as np

from ....desk import Picture, axis, end_of
from ....engine import complex_response
from ....measure import BANDS
from ....patch import (
    Control,
    Distortion,
    Layer,
    Patch,
    Stage,
    beside_split,
    describe,
    note_name,
    number,
    pitch_hz,
    shown_controls,
    voice_row,
    write,
)
from ..controls import Rule, Words, control_view, mover_name, travels
from ..frame import figure
from ..svg import across, down, level_line

ROW = 15
"""Pixels between two brackets of a strip."""


@dataclass(frozen=True)
class FrequencyHandle:
    """A handle on the drawing that is dragged along the axis: an edge, a split, a cutoff, its reach, the mono edge."""

    path: str
    label: str
    text: str
    x: float
    kind: str
    row: int = 0
    also: str = ""
    also_at: float = 0.0
    y: float | None = None

    @property
    def id(self) -> str:
        """Id of the element."""
        return "h-" + self.path.replace(".", "-")


@dataclass(frozen=True)
class RangeBracket:
    """The measured travel of a moved cutoff."""

    x: float
    width: float
    text: str
    end: float
    words_x: float
    left: bool
    row: int


@dataclass(frozen=True)
class LayerStrip:
    """The strip of one layer."""

    id: str
    number: int
    name: str
    hatch: str
    words: str
    level: Rule
    path: Words
    mute: bool
    line: str
    low: float
    high: float
    handles: tuple[FrequencyHandle, ...]
    brackets: tuple[RangeBracket, ...]
    chosen: bool
    response: str = ""


@dataclass(frozen=True)
class SumView:
    """The strip of the output."""

    line: str
    hold: str
    notes: tuple[tuple[float, str], ...]
    mono: FrequencyHandle | None
    bands: tuple[tuple[str, str, str], ...]
    levels: tuple[tuple[float, str], ...] = ()


@dataclass(frozen=True)
class SheetView:
    """All strips, the highest layer first."""

    strips: tuple[LayerStrip, ...]
    sum: SumView
    ticks: tuple[tuple[float, str, bool], ...]
    grid: tuple[tuple[float, bool], ...]
    keys: tuple[tuple[float, float, bool, str], ...]
    measured: bool
    layers: tuple[str, ...] = field(default=())
    travels: dict[str, tuple[float, float, str]] = field(default_factory=dict)


_TICKS = ((20, "20"), (50, "50"), (100, "100"), (200, "200"), (500, "500"), (1000, "1k"), (2000, "2k"), (5000, "5k"))
GRID = tuple((across(m * d), m == 1) for d in (10, 100, 1000, 10000) for m in range(1, 10) if 20 < m * d < 20000)


def _keys() -> tuple[tuple[float, float, bool, str], ...]:
    found = []
    for pitch in range(24, 73):
        x, wide = across(pitch_hz(pitch - 0.5)), across(pitch_hz(pitch + 0.5)) - across(pitch_hz(pitch - 0.5))
        black = pitch % 12 in (1, 3, 6, 8, 10)
        found.append((x, round(wide, 3), black, note_name(pitch) if pitch % 12 == 0 else ""))
    return tuple(found)


KEYS = _keys()
TICKS = (
    *((across(hz), text, hz in (100, 1000)) for hz, text in _TICKS), (across(10000), "10k", True), (100.0, "20k", False)
)  # fmt: skip
"""Positions, labels and emphasis of the figures along the axis."""


def _edge(patch: Patch, layer: Layer, which: str) -> FrequencyHandle:
    path = f"layers.{layer.id}.range.{which}"
    view = control_view(patch, path)
    assert isinstance(view, Rule)
    other = beside_split(patch, path)
    label = f"{layer.name} {which} edge"
    if other is not None:
        label = f"Split between {layer.name} and {patch.layer(other.split('.')[1]).name}"
    return FrequencyHandle(path, label, view.text, across(getattr(layer.range, which)), "split" if other else "edge")


def _cutoffs(patch: Patch, layer: Layer, picture: Picture | None) -> tuple[list[FrequencyHandle], list[RangeBracket]]:
    handles, brackets = [], []
    row = 0
    for stage in layer.stages:
        for name, control in shown_controls(stage, layer).items() if stage.on else ():
            if not isinstance(control, Control) or control.handle != "cutoff":
                continue
            own = f"layers.{layer.id}.stages.{stage.id}"
            path, second, value = f"{own}.{name}", f"{own}.{control.paired}", float(getattr(stage, name))
            place = number(patch, second).position(float(getattr(stage, control.paired)))
            label = f"{layer.name} {stage.name} {control.name.lower()}"
            text = write(value, "Hz")
            # where the two meet, the cutoff is on top
            handles += _ends(patch, path, label, row)
            handles.append(FrequencyHandle(path, label, text, across(value), "cutoff", row, second, round(place, 4)))
            bracket = _bracket(patch, path, stage.name, across(value), picture, row)
            brackets += [] if bracket is None else [bracket]
            row += ROW
    return handles, brackets


def _ends(patch: Patch, path: str, label: str, row: int) -> list[FrequencyHandle]:
    """Handles of where movements take a frequency: the other end of its bracket."""
    found = []
    for m in patch.movements:
        if m.target == path and not m.lost:
            hz = end_of(patch, m, number(patch, path))
            name = f"Reach of {label} by {mover_name(patch, m)}"
            found.append(
                FrequencyHandle(f"movements.{m.id}.amount", name, write(hz, "Hz"), across(hz), "range-end", row)
            )
    return found


def _bracket(patch: Patch, path: str, name: str, at: float, picture: Picture | None, row: int) -> RangeBracket | None:
    """The travel of a moved frequency whose handle is at a position."""
    reach = picture.travel.get(path) if picture else None
    if reach is None or not any(m.target == path for m in patch.movements):
        return None
    low, high = (2.0**v for v in reach)
    x, end = across(low), across(high)
    text = f"{name} {write(low, 'Hz')} → {write(high, 'Hz')}"
    left = max(end, at) >= 78.0
    return RangeBracket(x, round(end - x, 3), text, end, min(x, at) if left else max(end, at), left, row)


RESPONSE_TOP, RESPONSE_BOTTOM = 30.0, -48.0
"""Levels in dB at the top and bottom of a strip, for the response of its stages."""


def response_line(patch: Patch, layer: Layer) -> str:
    """The response of a layer's unmoved stages along the axis, one unit per point across and 1000 high."""
    hz = axis()
    pitch = float(min((n.pitch for n in patch.phrase.notes), default=36) + layer.play.transpose)
    row = voice_row(layer.stages, layer.branches)

    def through(stages: Iterable[Stage]) -> np.ndarray:
        total = np.ones(hz.size, dtype=np.complex128)
        for stage in stages:
            h = complex_response(stage, hz, pitch, patch.tuning) if stage.on else None
            total = total if h is None else total * h
        return total

    share = layer.branches.mix / 100.0 if row.split else 0.0
    whole = through((*row.before, *row.after)) * ((1.0 - share) * through(row.a) + share * through(row.b))
    if not any(s.on and not isinstance(s, Distortion) for s in layer.stages):
        return ""
    db = 20.0 * np.log10(np.maximum(np.abs(whole), 1e-5))
    y = 1000.0 * np.clip((RESPONSE_TOP - db) / (RESPONSE_TOP - RESPONSE_BOTTOM), 0.0, 1.0)
    return "M" + " ".join(f"{x},{v}" for x, v in enumerate(y.astype(int).tolist()))


def strip_view(patch: Patch, layer: Layer, number: int, picture: Picture | None, chosen: str) -> LayerStrip:
    """The strip of one layer."""
    base = f"layers.{layer.id}"
    level, path = control_view(patch, f"{base}.level", picture), control_view(patch, f"{base}.path")
    assert isinstance(level, Rule) and isinstance(path, Words)
    levels = picture.layers.get(layer.id) if picture else None
    cutoffs, brackets = _cutoffs(patch, layer, picture)
    low, high = _edge(patch, layer, "low"), _edge(patch, layer, "high")
    return LayerStrip(
        id=layer.id,
        number=number,
        name=layer.name,
        hatch=layer.hatch,
        words=describe(layer, patch.waves),
        level=level,
        path=path,
        mute=layer.mute,
        line=level_line(levels) if levels is not None else "",
        low=low.x,
        high=high.x,
        handles=(low, high, *cutoffs),
        brackets=tuple(brackets),
        chosen=layer.id == chosen,
        response=response_line(patch, layer),
    )


def _sum_view(patch: Patch, picture: Picture | None) -> SumView:
    mono = None
    if patch.output.fold:
        edge = patch.output.mono_below
        mono = FrequencyHandle("output.mono_below", "Mono below", write(edge, "Hz"), across(edge), "mono")
    pitches = sorted({n.pitch for n in patch.phrase.notes})
    names = tuple((across(pitch_hz(p, patch.tuning)), note_name(p)) for p in pitches)
    levels = {b.name: b.level_db for b in picture.bands} if picture else {}
    bands = tuple((name, f"{low:g}–{high:g} Hz", figure(levels.get(name), "–")) for name, low, high in BANDS)
    return SumView(
        line=level_line(picture.sum) if picture else "",
        hold=level_line(picture.sum_hold) if picture else "",
        notes=names,
        mono=mono,
        bands=bands,
        levels=tuple((6.0 + 0.94 * down(db), f"{db:.0f}".replace("-", "−")) for db in (-24.0, -48.0, -72.0)),
    )


def sheet_view(patch: Patch, picture: Picture | None, chosen: str = "", version: int = 0) -> SheetView:
    """The drawing of a patch with the newest measures. ``version`` is the patch's own."""
    strips = [strip_view(patch, layer, n + 1, picture, chosen) for n, layer in enumerate(patch.layers)]
    return SheetView(
        strips=tuple(reversed(strips)),
        sum=_sum_view(patch, picture),
        ticks=TICKS,
        grid=GRID,
        keys=KEYS,
        measured=picture is not None and picture.version >= version,
        layers=tuple(layer.id for layer in patch.layers),
        travels=travels(patch, picture),
    )
