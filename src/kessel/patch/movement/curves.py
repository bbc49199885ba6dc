"""Points of drawn curves."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise

from pydantic import Field

from ..base import Part


class CurvePoint(Part):
    """A point of a drawn curve.

    at: position along its length, 0..1. value: 0..1. bend: curvature to the next point in per cent; above 0 it rises
    early. Two points at one position are a step.
    """

    at: float = Field(ge=0, le=1, allow_inf_nan=False)
    value: float = Field(ge=0, le=1, allow_inf_nan=False)
    bend: float = Field(default=0.0, ge=-100, le=100, allow_inf_nan=False)


RAMP = [CurvePoint(at=0.0, value=1.0, bend=0.0), CurvePoint(at=1.0, value=0.0, bend=0.0)]
"""A new curve: a fall from the far end to rest."""


DRAWN_CURVE = [
    CurvePoint(at=0.0, value=0.1, bend=0.0),
    CurvePoint(at=0.3, value=0.15, bend=0.0),
    CurvePoint(at=0.5, value=0.5, bend=0.0),
    CurvePoint(at=0.65, value=0.9, bend=0.0),
    CurvePoint(at=1.0, value=1.0, bend=0.0),
]
"""A new transfer curve: input -1 to 1 across, output -1 to 1 up."""

PUMP = [
    CurvePoint(at=0.0, value=0.0, bend=0.0),
    CurvePoint(at=0.5, value=1.0, bend=-30.0),
    CurvePoint(at=1.0, value=1.0, bend=0.0),
]
"""A new beat shape: down on the beat, then up again."""


def in_order(points: Sequence[CurvePoint], name: str) -> None:
    """Raise ValueError unless the points are ordered in time."""
    if any(b.at < a.at for a, b in pairwise(points)):
        raise ValueError(f"the points of {name} have to go forward in time")
