"""The phrase: the notes that loop."""

from __future__ import annotations

from typing import Literal

from pydantic import Field, model_validator

from .base import Id, Part, distinct
from .controls import choice, control


class Note(Part):
    """One note; start and length in beats from the start of the phrase."""

    id: Id
    pitch: int = Field(ge=0, le=127)
    start: float = Field(ge=0, lt=32, allow_inf_nan=False)
    length: float = Field(gt=0, le=32, allow_inf_nan=False)
    velocity: int = Field(default=100, ge=1, le=127)


class Phrase(Part):
    """Notes over one to eight bars of four beats."""

    bars: int = control("Bars", "bars", 1, 8, 2, whole=True, step=1, help="Length of the loop.")
    root: Literal["C", "C#", "D", "Eb", "E", "F", "F#", "G", "Ab", "A", "Bb", "B"] = choice(
        "Key", "F", help="Root of the key."
    )
    scale: Literal["minor", "major", "dorian", "phrygian"] = choice("Scale", "minor", help="Scale of the key.")
    notes: list[Note] = Field(default_factory=list, max_length=512)

    @property
    def beats(self) -> float:
        """Length in beats."""
        return 4.0 * self.bars

    @model_validator(mode="after")
    def _inside(self) -> Phrase:
        distinct(list(self.notes), "notes")
        for n in self.notes:
            if n.start >= self.beats:
                raise ValueError(f"note “{n.id}” starts after the end of the phrase")
        return self
