"""Edits of drawn curves: points are added, moved, bent and removed, on a grid if one is set."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from contextlib import suppress
from typing import Any

import numpy as np

from ...engine import drawn_curve
from ...patch import (
    BeatShape,
    Curve,
    CurvePoint,
    Distortion,
    Edit,
    Lfo,
    Macro,
    NoSuchPath,
    Patch,
    ValueProblem,
    apply,
    get,
    read,
)

Step = tuple[list[Edit], str]
_NEAR = 1e-6
Holder = Curve | Lfo | Macro | BeatShape | Distortion
HOLDS_CURVE = (Curve, Lfo, Macro, BeatShape, Distortion)
FEWEST = 2


def curve_of(patch: Patch, mover_id: str) -> Holder:
    """The mover whose curve is drawn, or the chain item at a path. Raises ValueProblem."""
    found: Any = None
    if "." in mover_id:
        with suppress(NoSuchPath):
            found = get(patch, mover_id)
    else:
        found = next((m for m in patch.movers if m.id == mover_id), None)
    if not isinstance(found, HOLDS_CURVE):
        raise ValueProblem("that has no drawn curve: add a curve first")
    return found


def path_of(mover_id: str) -> str:
    """The path of a curve's owner."""
    return mover_id if "." in mover_id else f"movers.{mover_id}"


def most_of(holder: Holder) -> int:
    """The largest number of points of a curve."""
    return 256 if isinstance(holder, Macro) else 32 if isinstance(holder, Distortion) else 64


def beats_of(mover: Holder) -> float | None:
    """The length of the drawing in beats. None if it is not in beats."""
    if isinstance(mover, Macro):
        return 4.0 * mover.bars
    if isinstance(mover, BeatShape):
        return mover.length
    if isinstance(mover, Distortion):
        return None
    return mover.length if mover.clock == "beats" else None


def grid_of(mover: Holder) -> float:
    """The spacing of the grid as a share of the drawing. 0 if there is none."""
    beats = beats_of(mover)
    snap = mover.snap if isinstance(mover, Curve) else "1/16"
    if beats is None or snap == "off":
        return 0.0
    return read(snap, "beats") / beats


def bend_through(patch: Patch, mover_id: str, index: int, value: float) -> Step:
    """The curvature that makes a segment pass through ``value`` half way."""
    points = points_of(curve_of(patch, mover_id))
    _check(points[:-1], index)
    here, there = points[index].value, points[index + 1].value
    if abs(there - here) < 1e-3:
        raise ValueProblem("a level segment can't be bent: move one of its ends first")
    share = min(max((value - here) / (there - here), 0.02), 0.98)
    # at its middle a bend of tension t is at 1 / (1 + exp(-t / 2)); 100 % is a tension of 8
    return bend(patch, mover_id, index, 25.0 * math.log(share / (1.0 - share)))


def points_of(mover: Holder) -> list[CurvePoint]:
    """The points, or a level line if none were drawn yet."""
    points = list(mover.points)
    if len(points) < FEWEST:
        level = mover.value / 100.0 if isinstance(mover, Macro) else 0.0
        points = [CurvePoint(at=0.0, value=level), CurvePoint(at=1.0, value=level)]
    return points


def _snapped(mover: Holder, at: float) -> float:
    grid = grid_of(mover)
    at = min(max(at, 0.0), 1.0)
    return min(1.0, round(round(at / grid) * grid, 9)) if grid > 0 else round(at, 6)


def _kept(mover_id: str, mover: Holder, points: Sequence[CurvePoint], label: str) -> Step:
    own = path_of(mover_id)
    edits = [Edit(f"{own}.points", [p.model_dump() for p in points])]
    if isinstance(mover, Macro) and not mover.drawn:
        edits.append(Edit(f"{own}.drawn", True))
    if isinstance(mover, Lfo) and mover.shape != "drawn":
        edits.append(Edit(f"{own}.shape", "drawn"))
    if isinstance(mover, Distortion) and mover.curve != "drawn":
        edits.append(Edit(f"{own}.curve", "drawn"))
    return edits, f"{mover.name} {label}"


def move_point(patch: Patch, mover_id: str, index: int, at: float, value: float) -> Step:
    """Move a point, no further than its neighbours."""
    mover = curve_of(patch, mover_id)
    points = points_of(mover)
    _check(points, index)
    low = points[index - 1].at if index else 0.0
    high = points[index + 1].at if index + 1 < len(points) else 1.0
    if index in (0, len(points) - 1):
        # the end points keep their positions
        low = high = float(index > 0)
    at = min(max(_snapped(mover, at), low), high)
    points[index] = points[index].model_copy(update={"at": at, "value": round(min(max(value, 0.0), 1.0), 4)})
    return _kept(mover_id, mover, points, "point moved")


def add_point(patch: Patch, mover_id: str, at: float, value: float) -> Step:
    """Add a point."""
    mover = curve_of(patch, mover_id)
    points = points_of(mover)
    at = _snapped(mover, at)
    index = sum(p.at <= at for p in points)
    if at >= 1.0:
        index = len(points) - 1
    new = CurvePoint(at=at, value=round(min(max(value, 0.0), 1.0), 4))
    return _kept(mover_id, mover, [*points[:index], new, *points[index:]], "point added")


def remove_point(patch: Patch, mover_id: str, index: int) -> Step:
    """Remove a point. The ends stay."""
    mover = curve_of(patch, mover_id)
    points = points_of(mover)
    _check(points, index)
    if index in (0, len(points) - 1):
        raise ValueProblem("the first and last points stay: they only move up and down")
    return _kept(mover_id, mover, [p for i, p in enumerate(points) if i != index], "point removed")


def bend(patch: Patch, mover_id: str, index: int, percent: float) -> Step:
    """Bend the segment from a point to the next; above 0 it rises early."""
    mover = curve_of(patch, mover_id)
    points = points_of(mover)
    _check(points[:-1], index)
    points[index] = points[index].model_copy(update={"bend": round(min(max(percent, -100.0), 100.0), 1)})
    return _kept(mover_id, mover, points, "bent")


def line_of(patch: Patch, mover_id: str, count: int = 240) -> list[float]:
    """The curve over its length as values 0..1, for a drawing."""
    return [round(float(v), 4) for v in drawn_curve(points_of(curve_of(patch, mover_id)), count)]


def _check(points: Sequence[CurvePoint], index: int) -> None:
    if not 0 <= index < len(points):
        raise ValueProblem("that point is no longer there")


def stroke(patch: Patch, mover_id: str, line: Sequence[tuple[float, float]]) -> Step:
    """Replace a stretch by a drawn stroke, (position, value), as points on the grid."""
    mover = curve_of(patch, mover_id)
    if len(line) < 2:
        raise ValueProblem("draw a line from one place to another")
    new = _points_of_line(line, grid_of(mover))
    before = points_of(mover)
    curve = drawn_curve(before, 4097)
    first, last = new[0].at, new[-1].at
    for place, border in ((0, new[0]), (len(new) + 1, new[-1])):
        # the old curve continues on both sides of the line, with a step where the values differ
        old = round(float(curve[round(4096 * border.at)]), 4)
        if 0.0 < border.at < 1.0 and abs(old - border.value) > 0.02:
            new.insert(place, CurvePoint(at=border.at, value=old))
    points = [*(p for p in before if p.at < first - _NEAR), *new, *(p for p in before if p.at > last + _NEAR)]
    for end in (0.0, 1.0):
        if not any(p.at == end for p in points):
            value_there = round(float(curve[round(4096 * end)]), 4)
            points.insert(0 if end == 0.0 else len(points), CurvePoint(at=end, value=value_there))
    most = most_of(mover)
    if len(points) > most:
        raise ValueProblem(f"a curve has {most} points at most: remove some first")
    return _kept(mover_id, mover, points, "drawn")


def _points_of_line(line: Sequence[tuple[float, float]], grid: float) -> list[CurvePoint]:
    """The points of a drawn line, (position, value), at the steps of a grid."""
    drawn = sorted((min(max(a, 0.0), 1.0), min(max(v, 0.0), 1.0)) for a, v in line)
    at, value = (np.array(q) for q in zip(*drawn, strict=True))
    fewest = max((at[-1] - at[0]) / 24.0, 1.0 / 128.0)
    step = grid * math.ceil(fewest / grid) if grid > 0 else fewest
    places = np.unique(np.clip(np.round(np.arange(at[0], at[-1] + 0.5 * step, step) / step) * step, 0.0, 1.0))
    # points close to an end snap to it
    places[places < 0.5 * step], places[places > 1.0 - 0.5 * step] = 0.0, 1.0
    places = np.unique(places)
    if places.size < 2:
        places = np.array([at[0], at[-1]])
    values = np.interp(places, at, value)
    return [CurvePoint(at=round(float(a), 9), value=round(float(v), 4)) for a, v in zip(places, values, strict=True)]


def record_macro(patch: Patch, mover_id: str, played: Sequence[tuple[float, float]]) -> list[Edit]:
    """Edits that record values of a macro, (beat, value), over its automation."""
    mover = curve_of(patch, mover_id)
    if not isinstance(mover, Macro) or len(played) < 2:
        return []
    edits: list[Edit] = []
    if len(mover.points) < FEWEST and mover.bars != patch.phrase.bars:
        edits = [Edit(f"movers.{mover_id}.bars", patch.phrase.bars)]
        patch = apply(patch, edits)
    beats = 4.0 * curve_of(patch, mover_id).bars  # type: ignore[union-attr]
    line: list[tuple[float, float]] = []
    passed = int(played[0][0] // beats)
    for beat, value in [*played, (float("inf"), 0.0)]:
        if beat == float("inf") or int(beat // beats) != passed:
            if len(line) > 1 and line[-1][0] > line[0][0]:
                edits_now, _ = stroke(patch, mover_id, line)
                patch = apply(patch, edits_now)
            if beat == float("inf"):
                break
            line, passed = [], int(beat // beats)
        line.append(((beat % beats) / beats, value))
    now = curve_of(patch, mover_id)
    edits.append(Edit(f"movers.{mover_id}.points", [p.model_dump() for p in now.points]))
    return [*edits, Edit(f"movers.{mover_id}.drawn", True)]


def _turned(points: list[CurvePoint]) -> list[CurvePoint]:
    back = [p.model_copy(update={"at": round(1.0 - p.at, 9)}) for p in reversed(points)]
    bends = [-p.bend for p in reversed(points[:-1])] + [0.0]
    return [p.model_copy(update={"bend": b}) for p, b in zip(back, bends, strict=True)]


def _flipped(points: list[CurvePoint]) -> list[CurvePoint]:
    return [p.model_copy(update={"value": round(1.0 - p.value, 4)}) for p in points]


def _twice(points: list[CurvePoint]) -> list[CurvePoint]:
    half = [p.model_copy(update={"at": round(p.at / 2.0, 9)}) for p in points]
    return half + [p.model_copy(update={"at": round(0.5 + p.at / 2.0, 9)}) for p in points]


def _made(*points: tuple[float, float, float]) -> Callable[[list[CurvePoint]], list[CurvePoint]]:
    return lambda _: [CurvePoint(at=a, value=v, bend=b) for a, v, b in points]


def _gate(_: list[CurvePoint]) -> list[CurvePoint]:
    return [
        CurvePoint(at=(n + part) / 4.0, value=v)
        for n in range(4)
        for part, v in ((0.0, 1.0), (0.6, 1.0), (0.6, 0.0), (1.0, 0.0))
    ]


TOUCHES: dict[str, tuple[str, Callable[[list[CurvePoint]], list[CurvePoint]]]] = {
    "fall": ("Fall", _made((0, 1, 60), (1, 0, 0))),
    "rise": ("Rise", _made((0, 0, -60), (1, 1, 0))),
    "hill": ("Hill", _made((0, 0, 40), (0.4, 1, -40), (1, 0, 0))),
    "gate": ("Gate", _gate),
    "turn": ("Reverse", _turned),
    "flip": ("Invert", _flipped),
    "twice": ("Repeat", _twice),
}
"""One-click changes of a whole curve: word, label and function of its points."""


def touch(patch: Patch, mover_id: str, what: str) -> Step:
    """Replace the whole curve, or transform the present one."""
    mover = curve_of(patch, mover_id)
    if what not in TOUCHES:
        raise ValueProblem(f"a curve can be {', '.join(TOUCHES)}")
    word, make = TOUCHES[what]
    points = make(points_of(mover))
    most = most_of(mover)
    if len(points) > most:
        raise ValueProblem(f"a curve has {most} points at most: remove some first")
    return _kept(mover_id, mover, points, word.lower())
