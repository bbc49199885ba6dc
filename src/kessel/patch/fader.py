"""The law of faders: where a level in dB stands on its rule."""

from __future__ import annotations

from bisect import bisect_right
from functools import lru_cache
from itertools import pairwise

POINTS = ((-72.0, 0.0), (-40.0, 0.1), (-20.0, 0.25), (-10.0, 0.5), (0.0, 0.75), (12.0, 1.0), (24.0, 1.25))
"""Levels in dB and positions, smooth between. The lowest level is off; a fader that ends elsewhere ends at 1 there."""


def _slopes() -> tuple[float, ...]:
    """The slope at every point: the harmonic mean of the slopes beside it, so that the curve rises everywhere (Fritsch
    and Butland, SIAM J. Sci. Stat. Comput. 5, 1984).
    """
    sides = [(b[1] - a[1]) / (b[0] - a[0]) for a, b in pairwise(POINTS)]
    inner = (2.0 * a * b / (a + b) for a, b in pairwise(sides))
    return (sides[0], *inner, sides[-1])


_SLOPES = _slopes()


def position_of(level: float, highest: float) -> float:
    """The position, 0..1, of a level in dB on a fader that ends at ``highest``."""
    return _place(level) / _place(highest)


@lru_cache(maxsize=4096)
def level_at(position: float, highest: float) -> float:
    """The level in dB at a position, 0..1, of a fader that ends at ``highest``."""
    low, high = POINTS[0][0], highest
    for _ in range(60):
        middle = 0.5 * (low + high)
        low, high = (middle, high) if position_of(middle, highest) < position else (low, middle)
    return 0.5 * (low + high)


def _place(level: float) -> float:
    """The cubic curve through the points."""
    n = min(max(bisect_right(POINTS, (level, 2.0)) - 1, 0), len(POINTS) - 2)
    (x0, y0), (x1, y1) = POINTS[n], POINTS[n + 1]
    wide = x1 - x0
    t = min(max((level - x0) / wide, 0.0), 1.0)
    a, b = _SLOPES[n] * wide, _SLOPES[n + 1] * wide
    rise = y1 - y0
    return y0 + t * (a + t * (3.0 * rise - 2.0 * a - b + t * (a + b - 2.0 * rise)))
