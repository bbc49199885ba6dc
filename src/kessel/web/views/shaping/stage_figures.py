"""Small drawings of a stage: its curve with the range of the signal, harmonics, its gain over the loop."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ....checks import StageReport
from ....desk import Picture
from ....engine import static_curve, transfer_of
from ....patch import MINUS, BeatShape, Distortion, Multiband
from ..svg import polyline


@dataclass(frozen=True)
class Lane:
    """Gain of an effect over the loop: a line in 1000 by 100 from 0 dB at the top, its scale, its extreme."""

    name: str
    line: str
    scale: str
    most: str


@dataclass(frozen=True)
class Figure:
    """A square drawing of 100 by 100: title, line, range of the signal (position, width), dots (x, y), bars (x, before,
    after, name), and text below.
    """

    title: str
    line: str = ""
    reach: tuple[float, float] | None = None
    core: tuple[float, float] | None = None
    dots: tuple[tuple[float, float], ...] = ()
    density: str = ""
    ends: tuple[str, str, str, str] = ("", "", "", "")


@dataclass(frozen=True)
class Partial:
    """A harmonic before and after, in per cent of the height, and as text."""

    number: int
    before: float
    after: float
    text: str


def decibels(value: float | None, unit: str = "dB") -> str:
    return "silent" if value is None else f"{value:.1f} {unit}".replace("-", MINUS)


def transfer_figure(part: Distortion, report: StageReport | None) -> Figure:
    made = transfer_of(part, 129)
    assert made is not None
    x, y = made
    line = polyline(50.0 + 50.0 * x, 50.0 - 46.0 * np.clip(y, -1.08, 1.08))
    if report is None:
        return Figure("Transfer curve", line, ends=("−1", "1", "in", "out"))
    half, _, peak = (min(v, 1.0) for v in report.reach)
    over = "" if report.reach[2] <= 1.0 else f", peaks reach {report.reach[2]:.1f}"
    words = f"shaded: range of the signal; dark: the middle half{over}"
    return Figure(
        "Transfer curve",
        line,
        (50.0 - 50.0 * peak, 100.0 * peak),
        (50.0 - 50.0 * half, 100.0 * half),
        ends=("−1", "1", words, ""),
    )


def static_figure(part: Any, report: StageReport | None) -> Figure | None:
    made = static_curve(part)
    if made is None:
        return None
    x, y = made

    def at(v: NDArray[np.floating[Any]]) -> NDArray[np.floating[Any]]:
        return np.asarray(100.0 * (v + 72.0) / 78.0)

    line = polyline(at(x), 100.0 - np.clip(at(y), 0.0, 100.0))
    if report is None or not report.inside.any():
        return Figure("Static curve", line, ends=("−72", "6 dBFS", "", ""))
    shape = report.inside / report.inside.max()
    levels = np.arange(-72.0, 7.0)
    density = polyline(at(levels), 100.0 - 30.0 * shape) + " L100,100 L0,100Z"
    words = "hatched: how often the signal is at each level"
    return Figure("Static curve", line, density=density, ends=("−72", "6 dBFS", words, ""))


def partials_of(report: StageReport | None) -> tuple[Partial, ...]:
    if report is None:
        return ()
    high = max((v for pair in report.partials for v in pair if v is not None), default=0.0)

    def tall(v: float | None) -> float:
        return 0.0 if v is None else round(100.0 * min(max((v - high + 60.0) / 60.0, 0.0), 1.0), 1)

    found = []
    for n, (a, b) in enumerate(report.partials, 1):
        change = "" if a is None or b is None else f", {b - a:+.1f} dB".replace("-", MINUS)
        found.append(Partial(n, tall(a), tall(b), f"harmonic {n}: {decibels(a)} → {decibels(b)}{change}"))
    return tuple(found)


def lanes_of(picture: Picture | None, path: str, part: Any) -> tuple[Lane, ...]:
    if picture is None:
        return ()
    wanted = [(path, "Gain over the loop")]
    if isinstance(part, Multiband):
        wanted = [(f"{path}.bands.{b.id}", b.name) for b in part.bands]
    elif isinstance(part, BeatShape):
        wanted = [(path, "Level over the loop")]
    elif path == "output":
        wanted = [("output.duck", "Duck"), ("output.ceiling", "Ceiling")]
    found = []
    for own, name in wanted:
        values = picture.traces.get(own)
        if values is None:
            continue
        low, high = float(np.min(values)), float(np.max(values))
        reach = max(6.0, math.ceil(max(-low, high) / 6.0) * 6.0)
        step = max(1, values.size // 900)
        trimmed = values[: values.size // step * step].reshape(-1, step)
        drawn = trimmed[np.arange(trimmed.shape[0]), np.abs(trimmed).argmax(axis=1)]
        top = reach if high > 0.05 else 0.0
        y = 100.0 * (top - drawn) / (top + reach)
        most = f"to {decibels(low)}" if high <= 0.05 else f"{decibels(low)} to {decibels(high).replace(MINUS, '')} up"
        found.append(Lane(name, polyline(np.linspace(0, 1000, y.size), y), f"{MINUS}{reach:.0f} dB", most))
    return tuple(found)
