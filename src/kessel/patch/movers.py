"""Movers, and the movements that tie them to controls."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from .base import Id, Name, Part
from .controls import choice, control

_CURVE = "0 % is a straight line; above it the change comes early, below it late."


class LevelEnvelope(Part):
    """The level of a note in time."""

    attack: float = control("Attack", "ms", 0.5, 10000, 3, taper="log", help="Time from nothing to full level.")
    hold: float = control("Hold", "ms", 0, 5000, 0, taper="ease", step=1, help="Time at full level before the decay.")
    decay: float = control("Decay", "ms", 1, 20000, 400, taper="log", help="Time from full level to the sustain level.")
    sustain: float = control("Sustain", "dB", -72, 0, 0, off_low="off", help="Level kept while the note is held.")
    release: float = control("Release", "ms", 2, 20000, 60, taper="log", help="Time to silence after the note's end.")
    attack_curve: float = control("Attack curve", "%", -100, 100, 0, step=1, help=_CURVE)
    decay_curve: float = control("Decay curve", "%", -100, 100, 50, step=1, help=_CURVE)
    release_curve: float = control("Release curve", "%", -100, 100, 50, step=1, help=_CURVE)


class Envelope(Part):
    """A mover that every note starts anew."""

    kind: Literal["envelope"] = "envelope"
    id: Id
    name: Name
    attack: float = control("Attack", "ms", 0.5, 10000, 2, taper="log", help="Time from rest to the far end.")
    hold: float = control("Hold", "ms", 0, 5000, 0, taper="ease", step=1, help="Time at the far end before the decay.")
    decay: float = control("Decay", "ms", 1, 20000, 250, taper="log", help="Time from the far end to the sustain.")
    sustain: float = control("Sustain", "%", 0, 100, 0, step=1, help="Share of the way kept while the note is held.")
    release: float = control("Release", "ms", 2, 20000, 120, taper="log", help="Time back to rest after the note.")
    attack_curve: float = control("Attack curve", "%", -100, 100, 0, step=1, help=_CURVE)
    decay_curve: float = control("Decay curve", "%", -100, 100, 50, step=1, help=_CURVE)
    release_curve: float = control("Release curve", "%", -100, 100, 50, step=1, help=_CURVE)


class Lfo(Part):
    """A mover that swings."""

    kind: Literal["lfo"] = "lfo"
    id: Id
    name: Name
    shape: Literal["sine", "triangle", "saw up", "saw down", "square", "stepped chance"] = choice(
        "Shape", "sine", help="Form of one swing."
    )
    clock: Literal["beats", "Hz"] = choice("Clock", "beats", help="Swings tied to the tempo, or at a free rate.")
    length: float = control(
        "Length", "beats", 1 / 12, 32, 1, taper="log", step=0.001, help="Length of one swing in note values."
    )
    rate: float = control("Rate", "Hz", 0.01, 40, 2, taper="log", step=0.01, help="Swings a second.")
    phase: float = control("Start phase", "deg", 0, 360, 0, help="Point of the swing at which it starts.")
    restart: Literal["note", "phrase", "free"] = choice(
        "Restart", "note", help="Begins again with each note, with the phrase, or never."
    )
    fade: float = control("Fade in", "ms", 0, 10000, 0, taper="ease", step=1, help="Time to grow from nothing.")


class Hand(Part):
    """A mover that comes from the note or from the player's hands."""

    kind: Literal["hand"] = "hand"
    id: Id
    name: Name
    what: Literal["velocity", "key", "wheel", "pressure", "bend"] = choice(
        "Comes from", "wheel", help="The note's velocity or key, or the wheel, the pressure or the bend as played."
    )


class Macro(Part):
    """A named hand on many controls at once."""

    kind: Literal["macro"] = "macro"
    id: Id
    name: Name
    value: float = control("Value", "%", 0, 100, 0, step=0.1, help="Where the macro stands.")


Mover = Annotated[Envelope | Lfo | Hand | Macro, Field(discriminator="kind")]
MOST_MACROS = 8


class Movement(Part):
    """One mover driving one control."""

    id: Id
    mover: Id
    target: str = Field(max_length=160)
    amount: float = Field(ge=-20000, le=20000, allow_inf_nan=False)
    both_ways: bool = False
