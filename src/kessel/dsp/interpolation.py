"""Cubic interpolation through four points (Lagrange)."""

from __future__ import annotations

from typing import Any

from .jit import inline

_SIXTH = 1.0 / 6.0


@inline
def cubic(d: Any, y0: Any, y1: Any, y2: Any, y3: Any) -> Any:
    """The value at ``d``, 0..1, past y1 on the cubic through four evenly spaced points."""
    # Newton's form: first, second and third differences
    rise = y2 - y1
    second = rise + (y0 - y1)
    third = (y3 - y2) - rise - second
    return y1 + d * (rise + (d - 1.0) * (0.5 * second + (d + 1.0) * _SIXTH * third))
