"""Voice stages and chain items: what the sound goes through."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from .base import Id, Name, Part
from .controls import choice, control, toggle

_ON = "Off is the same as if it were not there."


class Filter(Part):
    """A state-variable filter."""

    kind: Literal["filter"] = "filter"
    id: Id
    name: Name
    on: bool = toggle("On", True, help=_ON)
    type: Literal["low-pass", "high-pass", "band-pass", "notch"] = choice(
        "Type", "low-pass", help="What it lets through: below the cutoff, above it, around it, or all but it."
    )
    slope: Literal["12", "24"] = choice("Slope", "24", help="Steepness in dB per octave.")
    cutoff: float = control(
        "Cutoff", "Hz", 20, 20000, 800, taper="log", moves=True, help="Frequency at which the filter begins to work."
    )
    resonance: float = control("Resonance", "dB", 0, 36, 0, moves=True, help="Rise at the cutoff over a flat corner.")
    key_follow: float = control(
        "Key follow", "%", 0, 150, 0, step=1, help="How far the cutoff goes along with the note; 100 % keeps the tone."
    )
    mix: float = control("Mix", "%", 0, 100, 100, step=1, help="Share of the filtered sound.")


class Distortion(Part):
    """A soft saturating curve."""

    kind: Literal["distortion"] = "distortion"
    id: Id
    name: Name
    on: bool = toggle("On", True, help=_ON)
    drive: float = control("Drive", "dB", 0, 48, 12, moves=True, help="Level into the curve.")
    bias: float = control(
        "Bias", "%", -50, 50, 0, step=1, help="Pushes the wave off centre, which adds even harmonics; no DC is left."
    )
    mix: float = control("Mix", "%", 0, 100, 100, step=1, help="Share of the distorted sound.")
    trim: float = control("Trim", "dB", -24, 12, 0, help="Level after it.")
    level_match: bool = toggle("Level match", True, help="Takes back, by a fixed rule, the level that the drive adds.")


class EqBand(Part):
    """One band of an EQ."""

    id: Id
    on: bool = toggle("On", True, help=_ON)
    type: Literal["bell", "low-shelf", "high-shelf", "low-cut", "high-cut", "notch"] = choice(
        "Type", "bell", help="Shape of the band; cuts fall by 12 dB per octave."
    )
    frequency: float = control("Frequency", "Hz", 20, 20000, 300, taper="log", help="Centre or corner of the band.")
    gain: float = control("Gain", "dB", -24, 24, 0, help="Lift or cut; cuts and notches have none.")
    q: float = control("Width", "Q", 0.1, 18, 0.71, taper="log", step=0.01, help="Higher is narrower.")


class Eq(Part):
    """Up to eight bands."""

    kind: Literal["eq"] = "eq"
    id: Id
    name: Name
    on: bool = toggle("On", True, help=_ON)
    mix: float = control("Mix", "%", 0, 100, 100, step=1, help="Share of the equalised sound.")
    trim: float = control("Trim", "dB", -24, 12, 0, help="Level after it.")
    bands: list[EqBand] = Field(default_factory=list, max_length=8)


Stage = Annotated[Filter | Distortion, Field(discriminator="kind")]
ChainItem = Annotated[Distortion | Eq | Filter, Field(discriminator="kind")]
