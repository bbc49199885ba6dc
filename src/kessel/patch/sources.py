"""Sources: what makes sound inside a layer."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from .base import Id, Name, Part
from .controls import choice, control, toggle

Destination = Literal["stages", "past", "nowhere"]


class Modulator(Part):
    """Phase modulation of an oscillator by another source of its layer."""

    id: Id
    source: Id
    depth: float = control(
        "FM depth",
        "deg",
        0,
        1800,
        0,
        taper="ease",
        step=0.1,
        moves=True,
        help="How far the other source swings this one's phase at its peak; 57.3° is an FM index of 1.",
    )


class Oscillator(Part):
    """A periodic source."""

    kind: Literal["oscillator"] = "oscillator"
    id: Id
    name: Name
    shape: Literal["sine", "triangle", "saw", "pulse"] = choice(
        "Shape", "saw", help="The plain wave: a sine has one partial, a triangle and a square odd ones, a saw all."
    )
    pulse_width: float = control(
        "Pulse width", "%", 1, 99, 50, moves=True, help="Share of the cycle a pulse stays up; 50 % is a square."
    )
    octave: int = control("Octave", "count", -4, 4, 0, whole=True, step=1, help="Whole octaves up or down.")
    semitones: float = control(
        "Semitones", "st", -24, 24, 0, step=1, moves=True, help="Pitch against the note played, in semitones."
    )
    cents: float = control("Cents", "ct", -100, 100, 0, moves=True, help="Fine pitch in hundredths of a semitone.")
    offset: float = control(
        "Offset", "Hz", -50, 50, 0, step=0.01, help="A fixed distance in Hz: beats equally fast on every note."
    )
    level: float = control(
        "Level", "dB", -72, 12, 0, moves=True, off_low="off", help="Level of this source within its layer."
    )
    polarity: Literal["normal", "flipped"] = choice(
        "Polarity", "normal", help="Flipped turns the wave upside down, so that it takes away where it used to add."
    )
    start: Literal["restart", "free", "chance"] = choice(
        "Start",
        "restart",
        help="Where a note finds the cycle: always at the start phase, wherever it runs, or near it.",
    )
    phase: float = control(
        "Start phase", "deg", 0, 360, 0, step=0.1, help="Point of the cycle at which every note begins."
    )
    chance: float = control(
        "Phase chance", "deg", 0, 180, 30, help="How far either side of the start phase a note may begin."
    )
    unison: bool = toggle("In unison", True, help="Off keeps this source single while its layer is in unison.")
    to: Destination = choice(
        "Goes to", "stages", help="Into the voice stages, past them, or nowhere: heard only through what it modulates."
    )
    modulators: list[Modulator] = Field(default_factory=list, max_length=4)


class Noise(Part):
    """An unpitched source."""

    kind: Literal["noise"] = "noise"
    id: Id
    name: Name
    level: float = control(
        "Level", "dB", -72, 12, -12, moves=True, off_low="off", help="Level of this source within its layer."
    )
    width: float = control(
        "Width", "%", 0, 100, 0, step=1, help="0 % is one noise in the middle, 100 % one of its own for each side."
    )
    polarity: Literal["normal", "flipped"] = choice("Polarity", "normal", help="Flipped turns the wave upside down.")
    to: Destination = choice(
        "Goes to", "stages", help="Into the voice stages, past them, or nowhere: heard only through what it modulates."
    )


Source = Annotated[Oscillator | Noise, Field(discriminator="kind")]
