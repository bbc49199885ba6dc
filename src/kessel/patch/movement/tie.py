"""A tie: two frequencies that move together, an interval apart."""

from __future__ import annotations

from pydantic import Field

from ..base import Id, Part
from ..controls import control


class Tie(Part):
    """Two movable frequencies. The second is at the interval above the first.

    A tie with a missing end has no effect until that is back.
    """

    id: Id
    first: str = Field(max_length=160)
    second: str = Field(max_length=160)
    interval: float = control(
        "Interval",
        "st",
        -84,
        84,
        12,
        step=0.01,
        help="Interval of the second frequency above the first.",
    )

    @property
    def ends(self) -> tuple[str, str]:
        """Both paths."""
        return self.first, self.second
