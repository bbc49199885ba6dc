"""Cubic interpolation through four points (Lagrange)."""

from __future__ import annotations

from typing import Any

from .jit import inline

_THIRD, _SIXTH = 1.0 / 3.0, 1.0 / 6.0


@inline
def cubic(d: Any, y0: Any, y1: Any, y2: Any, y3: Any) -> Any:
    """The value ``d``, 0..1, past y1 on the curve through four evenly spaced points."""
    c1 = y2 - y0 * _THIRD - 0.5 * y1 - y3 * _SIXTH
    c2 = 0.5 * (y0 + y2) - y1
    c3 = (y3 - y0) * _SIXTH + 0.5 * (y1 - y2)
    return ((c3 * d + c2) * d + c1) * d + y1
