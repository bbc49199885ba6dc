"""Loudness and peaks over the loop, and the levels of the layers."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ....checks.levels import LevelDetail
from ..frame import FindingView
from ..svg import down, polyline
from .look import CheckContext, db, signed

_LOUD = (0.0, -36.0)
_PEAK = (3.0, -24.0)
_Real = NDArray[np.float64]


@dataclass(frozen=True)
class LayerRow:
    """A layer's figures as text."""

    name: str
    hatch: str
    loudness: str
    peak: str
    without: str


@dataclass(frozen=True)
class LevelView:
    """Lines in 1000 by 100; positions from the top in per cent."""

    facts: tuple[tuple[str, str], ...]
    momentary: str
    short: str
    peaks: str
    loud_ticks: tuple[tuple[float, str], ...]
    peak_ticks: tuple[tuple[float, str], ...]
    soft_limit: float
    loud_limit: float
    peak_limit: float
    rows: tuple[LayerRow, ...]
    findings: tuple[FindingView, ...]


def _line(levels: _Real, span: tuple[float, float]) -> str:
    """A line. Silence, and levels below the drawing, are outside of it."""
    y = np.array([down(float(v), *span) if v > span[1] else 104.0 for v in levels])
    return polyline(np.linspace(0.0, 1000.0, max(y.size, 2))[: y.size], y)


def _unit(text: str, unit: str) -> str:
    return text if text == "silent" else f"{text} {unit}"


def level_view(look: CheckContext, findings: tuple[FindingView, ...]) -> LevelView | None:
    """The levels of the output."""
    d: LevelDetail | None = look.find("level")
    if d is None:
        return None
    limits, patch = look.limits, look.patch
    layers = {x.id: x for x in patch.layers}
    over = "off" if not patch.output.ceiling.on else "silent" if d.over is None else f"{signed(d.over)} dB"
    return LevelView(
        facts=(
            ("loudness", _unit(db(d.integrated), "LUFS")),
            ("loudest 0.4 s", _unit(db(d.loudest), "LUFS")),
            ("loudest 3 s", _unit(db(d.loudest_short), "LUFS")),
            ("range", "too short" if d.range is None else f"{db(d.range)} LU"),
            ("true peak", _unit(db(d.true_peak), "dBTP")),
            ("crest", _unit(db(d.crest), "dB")),
            ("against the ceiling", over),
            ("offset", f"{100.0 * d.dc:.2f} %".replace("-", "−")),
        ),
        momentary=_line(d.momentary, _LOUD),
        short=_line(d.short, _LOUD),
        peaks=_line(d.peaks, _PEAK),
        loud_ticks=tuple((down(v, *_LOUD), db(v, 0)) for v in (-6.0, -12.0, -18.0, -24.0, -30.0)),
        peak_ticks=tuple((down(v, *_PEAK), db(v, 0)) for v in (0.0, -6.0, -12.0, -18.0)),
        soft_limit=down(limits.soft_lufs, *_LOUD),
        loud_limit=down(limits.loud_lufs, *_LOUD),
        peak_limit=down(limits.peak_dbtp, *_PEAK),
        rows=tuple(
            LayerRow(
                layers[x.layer].name,
                layers[x.layer].hatch,
                db(x.loudness),
                db(x.peak),
                "all of it" if len(d.layers) == 1 else signed(None if x.without is None else -x.without),
            )
            for x in d.layers
            if x.layer in layers
        ),
        findings=findings,
    )
