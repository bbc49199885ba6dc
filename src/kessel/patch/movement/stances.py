"""Stances: stored positions of all macros, and the blend of two of them."""

from __future__ import annotations

from pydantic import Field, field_validator, model_validator

from ..base import Id, Name, Part
from ..controls import control, pick
from .movers import MOST_MACROS


class Stance(Part):
    """A stored position of all macros: per cent by macro id."""

    id: Id
    name: Name
    values: dict[Id, float] = Field(default_factory=dict, max_length=MOST_MACROS)

    @field_validator("values")
    @classmethod
    def _in_order(cls, values: dict[str, float]) -> dict[str, float]:
        """Sort by id, so that a macro that is removed and restored leaves the document unchanged."""
        return dict(sorted(values.items()))

    @model_validator(mode="after")
    def _inside(self) -> Stance:
        if any(not 0 <= v <= 100 for v in self.values.values()):
            raise ValueError(f"stance “{self.name}” has a macro outside 0 to 100 %")
        return self


class Blend(Part):
    """A blend between two stances."""

    a: str = pick("From", "stance", "", help="The stance at 0 %.")
    b: str = pick("To", "stance", "", help="The stance at 100 %.")
    share: float = control(
        "Blend", "%", 0, 100, 0, step=0.1, help="Blends all macros from the first stance to the second."
    )


def mixed(a: Stance, b: Stance, share: float) -> dict[str, float]:
    """Macro positions between two stances, ``share`` 0..1. A macro of one stance only keeps its position."""
    found = dict(b.values) | a.values
    for macro in set(a.values) & set(b.values):
        found[macro] = a.values[macro] + share * (b.values[macro] - a.values[macro])
    return found
