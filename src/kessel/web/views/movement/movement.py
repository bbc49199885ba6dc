"""The Movement workspace: the loop in time, the moved controls, and the drawn curve."""

from __future__ import annotations

import math
from collections.abc import Iterator
from contextlib import suppress
from dataclasses import dataclass
from itertools import pairwise
from typing import Any

import numpy as np

from ....desk import Picture
from ....desk.editing import curves as curve_edits
from ....engine import drawn_curve
from ....patch import (
    BeatShape,
    ControlPath,
    Curve,
    CurvePoint,
    Distortion,
    Lfo,
    Macro,
    Mover,
    NoSuchPath,
    Patch,
    ValueProblem,
    note_name,
    number,
    shown_controls,
    title,
)
from ...pictures import content_of
from ..controls import View, control_view, travels
from ..editor import Selection
from ..layers import GRID
from ..svg import across, broken_line, level_line, polyline, way_line

WIDE = 1000.0
_NAME_WIDE = 3.2
"""Per cent of the loop that a note's name takes up on a small screen."""
LOW_HZ, HIGH_HZ = 20.0, 20000.0
_TICKS = (
    (50, "50"),
    (100, "100"),
    (200, "200"),
    (500, "500"),
    (1000, "1k"),
    (2000, "2k"),
    (5000, "5k"),
    (10000, "10k"),
)
_DASHES = ("whole", "long", "short", "dots")


def up(hz: float) -> float:
    """Position of a frequency from the top of the spectrogram, in per cent."""
    share = math.log(min(max(hz, LOW_HZ), HIGH_HZ) / LOW_HZ) / math.log(HIGH_HZ / LOW_HZ)
    return round(100.0 * (1.0 - share), 3)


@dataclass(frozen=True)
class MovedPlace:
    """What is shown: the sum or a layer."""

    word: str
    name: str
    hatch: str
    on: bool


@dataclass(frozen=True)
class MovedPath:
    """The values of a moved control over the loop: a line in 1000 by 100, and its ends as text."""

    path: str
    name: str
    line: str
    span: str
    dash: str
    y: float


@dataclass(frozen=True)
class CurvePointHandle:
    """A point of the drawn curve: index, position and height in per cent of its box."""

    index: int
    x: float
    y: float
    text: str
    bend_x: float | None
    bend_y: float


CURVE_PAD = 7.0
"""Per cent of the curve's box above and below it."""


@dataclass(frozen=True)
class CurveView:
    """The drawn curve. ``x`` and ``width``: its first pass, where it is edited, in per cent of the loop.

    step, fine: shares of the curve that the arrow keys move a point by, without and with Shift. pad: per cent of its
    box above and below it. settings: its length, and how it plays.
    """

    mover: str
    name: str
    line: str
    ghosts: tuple[str, ...]
    handles: tuple[CurvePointHandle, ...]
    x: float
    width: float
    grid: tuple[float, ...]
    touches: tuple[tuple[str, str], ...]
    words: str
    drawn: bool
    longer: int = 0
    zoomed: bool = False
    alone: bool = False
    step: float = 0.02
    fine: float = 0.005
    pad: float = CURVE_PAD
    settings: tuple[View, ...] = ()


@dataclass(frozen=True)
class MovementView:
    """The content of the workspace."""

    whats: tuple[MovedPlace, ...]
    what: str
    picture: str
    beats: tuple[tuple[float, bool, str], ...]
    ticks: tuple[tuple[float, str], ...]
    notes: tuple[tuple[float, float, str], ...]
    cutoffs: tuple[MovedPath, ...]
    lanes: tuple[MovedPath, ...]
    curve: CurveView | None
    curves: tuple[tuple[str, str, bool], ...]
    layers: tuple[str, ...]
    travels: dict[str, tuple[float, float, str]]
    measured: bool
    length: float


def _ways(patch: Patch, picture: Picture | None, layer: str) -> tuple[list[MovedPath], list[MovedPath]]:
    """Moved cutoffs and all other moved controls, of one layer (with those of its movers) or of all."""
    cutoffs: list[MovedPath] = []
    lanes: list[MovedPath] = []
    for path, values in (picture.paths if picture is not None else {}).items():
        steps = ControlPath(path).steps
        if (layer and steps[0] == "layers" and steps[1] != layer) or not np.isfinite(values).any():
            continue
        with suppress(NoSuchPath):
            control = number(patch, path)
            step = max(1, values.size // 600)
            shown = values[::step]
            x = np.linspace(0.0, WIDE, shown.size)
            low, high = (control.from_scale(float(f(shown))) for f in (np.nanmin, np.nanmax))
            span = f"{control.write(low)} to {control.write(high)}"
            if control.unit == "Hz" and control.taper == "log" and steps[-1] != "rate":
                y = np.array([up(2.0**v) if np.isfinite(v) else np.nan for v in shown])
                dash = _DASHES[len(cutoffs) % len(_DASHES)]
                last = y[np.isfinite(y)][-1]
                cutoffs.append(MovedPath(path, title(patch, path), broken_line(x, y), span, dash, float(last)))
            else:
                lanes.append(MovedPath(path, title(patch, path), way_line(control, values), span, "whole", 50.0))
    return cutoffs, lanes


def _down(value: Any) -> Any:
    """Position of a curve's value from the top of its box, in per cent."""
    return CURVE_PAD + (100.0 - 2.0 * CURVE_PAD) * (1.0 - value)


def _starts(patch: Patch, mover: curve_edits.Holder, length: float) -> list[float]:
    """Beats at which a curve starts within the loop."""
    beats = patch.phrase.beats
    by_note = isinstance(mover, Curve | Lfo) and mover.restart == "note"
    if by_note or (isinstance(mover, Curve) and mover.play == "hold"):
        firsts = sorted({n.start for n in patch.phrase.notes}) or [0.0]
    else:
        firsts = [0.0]
    again = isinstance(mover, Lfo | Macro | BeatShape) or (isinstance(mover, Curve) and mover.play == "loop")
    if not again:
        return firsts
    found: list[float] = []
    for first, end in zip(firsts, [*firsts[1:], beats], strict=True):
        found += [first + k * length for k in range(min(64, math.ceil((end - first) / length - 1e-9)))]
    return found


_NARROW = 0.2
"""Share of the loop below which a curve is shown enlarged, unless it is shown in step with the loop."""


def curve_view(patch: Patch, mover_id: str, zoom: str = "") -> CurveView | None:
    """The drawn curve of a mover or of a chain item at a path, aligned with the loop or (``whole``) enlarged. None if
    it has none.
    """
    try:
        mover = curve_edits.curve_of(patch, mover_id)
    except ValueProblem:
        return None
    beats = patch.phrase.beats
    of_levels = isinstance(mover, Distortion)
    length = _length(patch, mover)
    share = length / beats
    zoomed = share > 1.0 or of_levels or zoom == "whole" or (share < _NARROW and zoom != "step")
    points = curve_edits.points_of(mover)
    starts = _starts(patch, mover, length)
    grid = curve_edits.grid_of(mover)
    return CurveView(
        mover_id,
        mover.name,
        polyline(np.linspace(0, WIDE, 240), _down(drawn_curve(points, 240))),
        () if zoomed else tuple(_ghosts(points, [*starts[1:], beats], length, beats)),
        tuple(_point_handles(mover, points, length)),
        0.0 if zoomed else round(100.0 * (starts[0] if starts else 0.0) / beats, 3),
        100.0 if zoomed else round(100.0 * share, 3),
        tuple(round(100.0 * k * grid, 3) for k in range(1, math.ceil(1 / grid))) if grid > 1 / 130 else (),
        tuple((slug, word) for slug, (word, _) in curve_edits.TOUCHES.items()),
        _curve_words(mover, len(points), length, beats),
        _is_drawn(mover),
        mover.bars if isinstance(mover, Macro) and share > 1.0 else 0,
        zoomed,
        of_levels,
        max(0.01, grid) if grid > 1 / 130 else 0.02,
        settings=_settings(patch, mover),
    )


def _settings(patch: Patch, mover: curve_edits.Holder) -> tuple[View, ...]:
    """The length of a mover's curve, and how it plays. None for an effect."""
    if not isinstance(mover, Macro | Curve | Lfo):
        return ()
    names = ("bars",) if isinstance(mover, Macro) else ("length", "length_ms", "rate", "play", "restart", "once")
    shown = set(shown_controls(mover)) | {"bars"}
    return tuple(control_view(patch, f"movers.{mover.id}.{n}") for n in names if n in shown)


def _length(patch: Patch, mover: curve_edits.Holder) -> float:
    """Length of a curve in beats; that of the loop for a curve that isn't played in time."""
    if isinstance(mover, Distortion):
        return patch.phrase.beats
    length = curve_edits.beats_of(mover)
    if length is not None:
        return length
    seconds = mover.length_ms / 1000.0 if isinstance(mover, Curve) else 1.0 / mover.rate  # type: ignore[union-attr]
    return float(seconds * patch.tempo / 60.0)


def _is_drawn(mover: curve_edits.Holder) -> bool:
    """Whether the drawn curve is in use."""
    if isinstance(mover, Macro):
        return mover.drawn
    if isinstance(mover, Distortion):
        return mover.curve == "drawn"
    return mover.shape == "drawn" if isinstance(mover, Lfo) else True


def _curve_words(mover: curve_edits.Holder, count: int, length: float, beats: float) -> str:
    if isinstance(mover, Distortion):
        return f"{count} points: input across, output up"
    words = f"{count} points over {length:.3g} beat" + ("" if length == 1 else "s")
    return f"{words}, the loop has {beats:g}" if length > beats else words


def _ghosts(points: list[CurvePoint], starts: list[float], length: float, beats: float) -> Iterator[str]:
    """The curve where it plays again, from every start to the next."""
    y = _down(drawn_curve(points, 240))
    for a, b in pairwise(starts):
        n = max(2, min(240, round(240 * min(1.0, (b - a) / length))))
        yield polyline(WIDE * a / beats + np.arange(n) / 239.0 * WIDE * length / beats, y[:n])


def _point_handles(mover: curve_edits.Holder, points: list[CurvePoint], length: float) -> Iterator[CurvePointHandle]:
    line = drawn_curve(points, 4801)
    for i, p in enumerate(points):
        bend_x = bend_y = None
        if i + 1 < len(points) and points[i + 1].at - p.at > 0.01:
            middle = 0.5 * (p.at + points[i + 1].at)
            bend_x, bend_y = round(100.0 * middle, 3), round(float(_down(line[round(4800 * middle)])), 2)
        place = f"{p.at * length:.3g} beats" if curve_edits.beats_of(mover) else f"{100 * p.at:.3g} %"
        if isinstance(mover, Distortion):
            place = f"an input of {round(200 * p.at - 100)} %"
        text = f"point {i + 1} of {len(points)}: {round(100 * p.value)} % at {place}"
        yield CurvePointHandle(i, round(100.0 * p.at, 3), round(float(_down(p.value)), 2), text, bend_x, bend_y or 0.0)


def ruler_of(patch: Patch) -> tuple[tuple[float, bool, str], ...]:
    """Beats of the loop: position in per cent, whether a bar starts there, and its number."""
    beats = patch.phrase.beats
    return tuple(
        (100.0 * b / beats, b % 4 == 0, f"{b // 4 + 1}" if b % 4 == 0 else "") for b in range(math.ceil(beats))
    )


def _notes(patch: Patch) -> tuple[tuple[float, float, str], ...]:
    """Position and width of every note in per cent of the loop, and its name if there is room."""
    beats = patch.phrase.beats
    found: list[tuple[float, float, str]] = []
    free = 0.0
    for n in sorted(patch.phrase.notes, key=lambda n: n.start):
        at, wide = 100.0 * n.start / beats, 100.0 * min(n.length, beats - n.start) / beats
        name = note_name(n.pitch) if free <= at <= 100.0 - _NAME_WIDE else ""
        if name:
            free = at + _NAME_WIDE
        found.append((round(at, 3), round(wide, 3), name))
    return tuple(found)


def _has_curve(mover: Mover) -> bool:
    return isinstance(mover, Curve | Macro) or (isinstance(mover, Lfo) and mover.shape == "drawn")


def _places(patch: Patch, layer: str) -> tuple[MovedPlace, ...]:
    """The sum and all layers, with the selected one."""
    layers = (MovedPlace(x.id, x.name, x.hatch, x.id == layer) for x in reversed(patch.layers))
    return (MovedPlace("sum", "Sum", "", not layer), *layers)


def moving_view(patch: Patch, picture: Picture | None, asked: Selection, slug: str, version: int) -> MovementView:
    """The workspace of a patch with the newest measures."""
    ids = [layer.id for layer in patch.layers]
    layer = asked.what if asked.what in ids else ""
    cutoffs, lanes = _ways(patch, picture, layer)
    curves = [m for m in patch.movers if _has_curve(m)]
    chosen = next((m for m in curves if m.id == asked.curve), next(iter(curves), None))
    address = f"/patch/{slug}/spectrogram.png?what={f'layer:{layer}' if layer else 'sum'}"
    return MovementView(
        whats=_places(patch, layer),
        what=layer or "sum",
        picture=f"{address}&of={content_of(picture.patch)}" if picture is not None else "",
        beats=ruler_of(patch),
        ticks=tuple((up(hz), text) for hz, text in _TICKS),
        notes=_notes(patch),
        cutoffs=tuple(cutoffs),
        lanes=tuple(lanes),
        curve=curve_view(patch, chosen.id, asked.zoom) if chosen is not None else None,
        curves=tuple((m.id, m.name, m is chosen) for m in curves),
        layers=tuple(ids),
        travels=travels(patch, picture),
        measured=picture is not None and picture.version >= version,
        length=patch.phrase.beats,
    )


@dataclass(frozen=True)
class MomentView:
    """One moment of the loop: its spectrum on the shared axis, and the value of every moved cutoff."""

    at: float
    words: str
    line: str
    marks: tuple[tuple[float, str], ...]
    grid: tuple[tuple[float, bool], ...]
    ticks: tuple[tuple[float, str], ...]


def moment_view(patch: Patch, levels: np.ndarray, picture: Picture | None, at: float) -> MomentView:
    """The moment at a position of the loop, 0..1. Levels are in dB along the axis."""
    marks = []
    for path, values in (picture.paths if picture is not None else {}).items():
        with suppress(NoSuchPath):
            control = number(patch, path)
            value = float(values[min(int(at * values.size), values.size - 1)])
            if control.unit == "Hz" and control.taper == "log" and not path.endswith(".rate") and math.isfinite(value):
                marks.append((across(2.0**value), f"{title(patch, path)} {control.write(2.0**value)}"))
    return MomentView(
        at=round(100.0 * at, 3),
        words=f"at beat {1 + at * patch.phrase.beats:.2f}",
        line=level_line(levels),
        marks=tuple(marks),
        grid=GRID,
        ticks=tuple((across(hz), text) for hz, text in _TICKS),
    )
