"""The phrase: the looped notes, and their lanes."""

from __future__ import annotations

from itertools import pairwise
from typing import Literal

from pydantic import Field, model_validator

from ..base import Id, Part, distinct
from ..controls import choice, control

SCALES: dict[str, tuple[int, ...]] = {
    "minor": (0, 2, 3, 5, 7, 8, 10),
    "major": (0, 2, 4, 5, 7, 9, 11),
    "dorian": (0, 2, 3, 5, 7, 9, 10),
    "phrygian": (0, 1, 3, 5, 7, 8, 10),
    "harmonic minor": (0, 2, 3, 5, 7, 8, 11),
    "locrian": (0, 1, 3, 5, 6, 8, 10),
    "minor pentatonic": (0, 3, 5, 7, 10),
    "blues": (0, 3, 5, 6, 7, 10),
}
ROOTS = ("C", "C#", "D", "Eb", "E", "F", "F#", "G", "Ab", "A", "Bb", "B")
LANES = ("bend", "wheel", "pressure")


MOST_NOTES = 512
"""Most notes of a phrase, and points of a lane."""


class Note(Part):
    """One note. Start and length are in beats from the start of the phrase."""

    id: Id
    pitch: int = Field(ge=0, le=127)
    start: float = Field(ge=0, lt=64, allow_inf_nan=False)
    length: float = Field(gt=0, le=64, allow_inf_nan=False)
    velocity: int = Field(default=100, ge=1, le=127)


class Point(Part):
    """A point of a lane: a beat, and a value, −1..1 for bend and 0..1 for wheel and pressure."""

    beat: float = Field(ge=0, le=64, allow_inf_nan=False)
    value: float = Field(ge=-1, le=1, allow_inf_nan=False)


class Phrase(Part):
    """Notes over one to sixteen bars of four beats."""

    bars: int = control("Bars", "bars", 1, 16, 2, whole=True, step=1, help="Length of the loop.")
    root: Literal["C", "C#", "D", "Eb", "E", "F", "F#", "G", "Ab", "A", "Bb", "B"] = choice(
        "Key", "F", help="Root of the key."
    )
    scale: Literal["minor", "major", "dorian", "phrygian", "harmonic minor", "locrian", "minor pentatonic", "blues"] = (
        choice("Scale", "minor", help="Scale of the key.")
    )
    notes: list[Note] = Field(default_factory=list, max_length=MOST_NOTES)
    bend: list[Point] = Field(default_factory=list, max_length=MOST_NOTES)
    wheel: list[Point] = Field(default_factory=list, max_length=MOST_NOTES)
    pressure: list[Point] = Field(default_factory=list, max_length=MOST_NOTES)

    @property
    def beats(self) -> float:
        """Length in beats."""
        return 4.0 * self.bars

    def in_scale(self, pitch: int) -> bool:
        """Whether a pitch belongs to the key."""
        return (pitch - ROOTS.index(self.root)) % 12 in SCALES[self.scale]

    @model_validator(mode="after")
    def _inside(self) -> Phrase:
        distinct(list(self.notes), "notes")
        for n in self.notes:
            if n.start >= self.beats:
                raise ValueError(f"note “{n.id}” starts after the end of the phrase")
        for name in LANES:
            points = getattr(self, name)
            if any(b.beat < a.beat for a, b in pairwise(points)):
                raise ValueError(f"the points of the {name} lane have to go forward in time")
            if name != "bend" and any(p.value < 0 for p in points):
                raise ValueError(f"the {name} lane goes from 0 to 1")
        return self
