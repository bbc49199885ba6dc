"""Numbers as SVG path text, and positions on the shared frequency axis."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ...patch import Control

LOW_HZ, HIGH_HZ = 20.0, 20000.0
TOP_DB, BOTTOM_DB = -10.0, -82.0

_Real = NDArray[np.floating[Any]]


def across(hz: float) -> float:
    """Position of a frequency on the shared axis, 0..100."""
    x = 100.0 * math.log(max(hz, 1e-3) / LOW_HZ) / math.log(HIGH_HZ / LOW_HZ)
    return round(min(max(x, 0.0), 100.0), 3)


def down(db: float, top: float = TOP_DB, bottom: float = BOTTOM_DB) -> float:
    """Position of a level from the top of a drawing, 0..100."""
    return round(100.0 * min(max((top - db) / (top - bottom), 0.0), 1.0), 2)


def polyline(x: _Real, y: _Real) -> str:
    """A line through points."""
    return "M" + " L".join(f"{a:.4g},{b:.4g}" for a, b in zip(x, y, strict=True))


def broken_line(x: _Real, y: _Real) -> str:
    """A line through points, with gaps where y is NaN."""
    found, begun = [], None
    for i in range(y.size + 1):
        there = i < y.size and np.isfinite(y[i])
        if there and begun is None:
            begun = i
        elif not there and begun is not None:
            if i - begun > 1:
                found.append(polyline(x[begun:i], y[begun:i]))
            begun = None
    return " ".join(found)


def way_line(control: Control, values: _Real, most: int = 600) -> str:
    """The values of a moved control on its own scale, as a line in 1000 by 100 that fills the height."""
    values = values[:: max(1, values.size // most)]
    at = np.array([control.position(control.from_scale(float(v))) if np.isfinite(v) else np.nan for v in values])
    low, high = np.nanmin(at), np.nanmax(at)
    y = 90.0 - 80.0 * (at - low) / max(high - low, 1e-9)
    return broken_line(np.linspace(0.0, 1000.0, values.size), y)


def level_line(levels: _Real) -> str:
    """Levels in dB along the axis as a line, one unit per point across and 1000 high."""
    y = 60.0 + 940.0 * np.clip((TOP_DB - levels) / (TOP_DB - BOTTOM_DB), 0.0, 1.0)
    return "M" + " ".join(f"{x},{v}" for x, v in enumerate(y.astype(int).tolist()))


def curve(y: _Real, low: float, high: float, width: float = 180.0, height: float = 60.0, pad: float = 3.0) -> str:
    """Values as a line in a drawing of width by height, ``low`` at the bottom."""
    x = np.linspace(0.0, width, y.size)
    up = pad + (height - 2.0 * pad) * (1.0 - np.clip((y - low) / (high - low), 0.0, 1.0))
    return polyline(x, up)
