"""Movers, and the movements that connect them to controls."""

from __future__ import annotations

from typing import Literal

from pydantic import Field, field_validator, model_validator

from ..base import Id, Name, Part
from ..conditions import above, counts, unless, when
from ..controls import choice, control, pick, toggle
from .curves import RAMP, CurvePoint, in_order

_CURVE = "0 % is a straight line; above it the change comes early, below it late."
_ONCE_A_NOTE = "Begins again with each note, with the phrase, or never."


class Segments(Part):
    """Times and curvatures of all envelopes. A moved time takes effect with the next note."""

    clock: Literal["ms", "beats"] = choice("Clock", "ms", help="Times in milliseconds, or in note values.")
    attack: float = control(
        "Attack",
        "ms",
        0.5,
        10000,
        2,
        taper="log",
        moves=True,
        shown_if=when("clock", "ms"),
        help="Time from the start to the far end.",
    )
    hold: float = control(
        "Hold",
        "ms",
        0,
        5000,
        0,
        taper="ease",
        step=1,
        moves=True,
        shown_if=when("clock", "ms"),
        help="Time at the far end.",
    )
    decay: float = control(
        "Decay",
        "ms",
        1,
        20000,
        250,
        taper="log",
        moves=True,
        shown_if=when("clock", "ms"),
        help="Time from the far end to the sustain.",
    )
    release: float = control(
        "Release",
        "ms",
        2,
        20000,
        120,
        taper="log",
        moves=True,
        shown_if=when("clock", "ms"),
        help="Time back to rest after the note's end.",
    )
    attack_beats: float = control(
        "Attack",
        "beats",
        1 / 128,
        16,
        1 / 32,
        taper="log",
        step=0.001,
        moves=True,
        shown_if=when("clock", "beats"),
        help="Time from the start to the far end.",
    )
    hold_beats: float = control(
        "Hold",
        "beats",
        0,
        16,
        0,
        taper="ease",
        step=0.001,
        moves=True,
        shown_if=when("clock", "beats"),
        help="Time at the far end.",
    )
    decay_beats: float = control(
        "Decay",
        "beats",
        1 / 32,
        32,
        1,
        taper="log",
        step=0.001,
        moves=True,
        shown_if=when("clock", "beats"),
        help="Time from the far end to the sustain.",
    )
    release_beats: float = control(
        "Release",
        "beats",
        1 / 64,
        32,
        0.25,
        taper="log",
        step=0.001,
        moves=True,
        shown_if=when("clock", "beats"),
        help="Time back to rest after the note's end.",
    )
    attack_curve: float = control("Attack curve", "%", -100, 100, 0, step=1, help=_CURVE)
    decay_curve: float = control("Decay curve", "%", -100, 100, 50, step=1, help=_CURVE)
    release_curve: float = control("Release curve", "%", -100, 100, 50, step=1, help=_CURVE)
    accent_decay: float = control(
        "Accent decay",
        "ms",
        1,
        2000,
        40,
        taper="log",
        moves=True,
        shown_if=above("accent", 0),
        help="Time in which the accent is gone.",
    )


class LevelEnvelope(Segments):
    """The level envelope of a layer's notes."""

    attack: float = control(
        "Attack",
        "ms",
        0.5,
        10000,
        3,
        taper="log",
        moves=True,
        shown_if=when("clock", "ms"),
        help="Time from nothing to full level.",
    )
    decay: float = control(
        "Decay",
        "ms",
        1,
        20000,
        400,
        taper="log",
        moves=True,
        shown_if=when("clock", "ms"),
        help="Time from full level to the sustain level.",
    )
    sustain: float = control(
        "Sustain", "dB", -72, 0, 0, moves=True, off_low="off", help="Level kept while the note is held."
    )
    release: float = control(
        "Release",
        "ms",
        2,
        20000,
        60,
        taper="log",
        moves=True,
        shown_if=when("clock", "ms"),
        help="Time to silence after the note's end.",
    )
    start: float = control("Start level", "dB", -72, 0, -72, off_low="off", help="Level at which a note begins.")
    accent: float = control(
        "Accent", "dB", 0, 24, 0, moves=True, help="How far the beginning of a note stands out over its level."
    )


class Envelope(Segments):
    """An envelope, started by every note."""

    kind: Literal["envelope"] = "envelope"
    id: Id
    name: Name
    sustain: float = control(
        "Sustain", "%", 0, 100, 0, step=1, moves=True, help="Share of the way kept while the note is held."
    )
    start: float = control("Start level", "%", 0, 100, 0, step=1, help="Share of the way at which a note begins.")
    accent: float = control(
        "Accent", "%", 0, 100, 0, step=1, moves=True, help="How far the beginning of a note goes past the far end."
    )


class Curve(Part):
    """A drawn mover: points over a length of time, played once, looped, or held until the note ends."""

    kind: Literal["curve"] = "curve"
    id: Id
    name: Name
    play: Literal["once", "loop", "hold"] = choice(
        "Play", "once", help="Once to its end, over and over, or held at a point until the note is let go."
    )
    clock: Literal["beats", "ms"] = choice("Clock", "beats", help="Length in note values, or in milliseconds.")
    length: float = control(
        "Length",
        "beats",
        1 / 8,
        64,
        4,
        taper="log",
        step=0.001,
        moves=True,
        shown_if=when("clock", "beats"),
        help="Length of the drawing.",
    )
    length_ms: float = control(
        "Length",
        "ms",
        5,
        30000,
        500,
        taper="log",
        moves=True,
        shown_if=when("clock", "ms"),
        help="Length of the drawing in time.",
    )
    hold_at: float = control(
        "Hold at", "%", 0, 100, 100, step=1, shown_if=when("play", "hold"), help="Place along the drawing that is held."
    )
    restart: Literal["note", "phrase", "free"] = choice(
        "Restart", "note", shown_if=unless("play", "hold"), help=_ONCE_A_NOTE
    )
    snap: Literal["off", "1/4", "1/8", "1/8t", "1/16", "1/16t", "1/32"] = choice(
        "Snap", "1/16", shown_if=when("clock", "beats"), help="Drawn points go to the nearest of these places."
    )
    edges: float = control(
        "Edges", "ms", 0, 50, 2, taper="ease", help="Time that a step takes, so that it can't click."
    )
    points: list[CurvePoint] = Field(default=RAMP, min_length=2, max_length=64)

    @model_validator(mode="after")
    def _forward(self) -> Curve:
        in_order(self.points, self.name)
        return self


class Lfo(Part):
    """A low-frequency oscillator."""

    kind: Literal["lfo"] = "lfo"
    id: Id
    name: Name
    shape: Literal["sine", "triangle", "saw up", "saw down", "square", "stepped chance", "smooth chance", "drawn"] = (
        choice("Shape", "sine", help="Form of one swing.")
    )
    clock: Literal["beats", "Hz"] = choice("Clock", "beats", help="Swings tied to the tempo, or at a free rate.")
    length: float = control(
        "Length",
        "beats",
        1 / 12,
        32,
        1,
        taper="log",
        step=0.001,
        moves=True,
        shown_if=when("clock", "beats"),
        help="Length of one swing.",
    )
    rate: float = control(
        "Rate",
        "Hz",
        0.01,
        40,
        2,
        taper="log",
        step=0.01,
        moves=True,
        shown_if=when("clock", "Hz"),
        help="Swings a second.",
    )
    width: float = control(
        "Width",
        "%",
        5,
        95,
        50,
        step=1,
        moves=True,
        shown_if=when("shape", "square"),
        help="Share of the swing a square stays up.",
    )
    phase: float = control("Start phase", "deg", 0, 360, 0, help="Point of the swing at which it starts.")
    restart: Literal["note", "phrase", "free"] = choice("Restart", "note", help=_ONCE_A_NOTE)
    once: bool = toggle("Once", False, help="One swing, then it rests.")
    fade: float = control("Fade in", "ms", 0, 10000, 0, taper="ease", step=1, help="Time to grow from nothing.")
    edges: float = control(
        "Edges", "ms", 0, 50, 2, taper="ease", help="Time that a step takes, so that it can't click."
    )
    points: list[CurvePoint] = Field(default=RAMP, min_length=2, max_length=64)

    @model_validator(mode="after")
    def _forward(self) -> Lfo:
        in_order(self.points, self.name)
        return self


class Hand(Part):
    """Velocity, key, wheel, pressure, bend, or a random value of each note."""

    kind: Literal["hand"] = "hand"
    id: Id
    name: Name
    what: Literal["velocity", "key", "wheel", "pressure", "bend", "chance"] = choice(
        "Comes from",
        "wheel",
        help="The note's velocity or key, the wheel, pressure or bend as played, or chance, thrown anew for each note.",
    )


class Macro(Part):
    """A named control that drives many others, and can be automated along the phrase."""

    kind: Literal["macro"] = "macro"
    id: Id
    name: Name
    value: float = control("Value", "%", 0, 100, 0, step=0.1, moves=True, help="Where the macro stands.")
    drawn: bool = toggle(
        "Automation",
        False,
        shown_if=counts("points", 2),
        help="Follow what is drawn along the phrase instead of the hand.",
    )
    bars: int = control(
        "Over",
        "bars",
        1,
        16,
        2,
        whole=True,
        step=1,
        shown_if=counts("points", 2),
        help="Length of what is drawn; it repeats.",
    )
    points: list[CurvePoint] = Field(default_factory=list, max_length=256)

    @model_validator(mode="after")
    def _forward(self) -> Macro:
        in_order(self.points, self.name)
        return self


class Follower(Part):
    """An envelope follower of a layer's level, before its fader."""

    kind: Literal["follower"] = "follower"
    id: Id
    name: Name
    layer: str = pick("Follows", "layer", "", help="The layer whose level it follows.")
    attack: float = control("Attack", "ms", 0.1, 500, 5, taper="log", help="Time to rise by two thirds.")
    release: float = control("Release", "ms", 1, 3000, 120, taper="log", help="Time to fall by two thirds.")
    floor: float = control("Floor", "dB", -72, -6, -36, step=1, help="Level in dBFS that counts as nothing.")


class Feed(Part):
    """A source at audio rate, for voice stages."""

    kind: Literal["feed"] = "feed"
    id: Id
    name: Name
    source: str = pick("Source", "feed", "", help="The source of a layer whose wave moves that layer's stages.")


MOST_MACROS = 8


class Movement(Part):
    """One mover driving one control.

    amount: from the control's own value, on its taper's scale. lost: name of the target if it was removed; the movement
    then moves nothing until it gets another target.
    """

    id: Id
    mover: Id
    target: str = Field(max_length=160)
    amount: float = Field(ge=-20000, le=20000, allow_inf_nan=False)
    both_ways: bool = toggle("Both ways", False, help="From the resting value to both sides, or from it to one end.")
    curve: float = control(
        "Curve", "%", -100, 100, 0, step=1, help="0 % is even; above it the control goes early, below it late."
    )
    scaled_by: str = pick("Scaled by", "mover", "", help="A second mover that takes the movement from nothing to all.")
    lost: str = Field(default="", max_length=120)


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
    share: float = control("Blend", "%", 0, 100, 0, step=0.1, help="From the first stance to the second, all macros.")


def mixed(a: Stance, b: Stance, share: float) -> dict[str, float]:
    """Macro positions between two stances, ``share`` 0..1. A macro of one stance only keeps its position."""
    found = dict(b.values) | a.values
    for macro in set(a.values) & set(b.values):
        found[macro] = a.values[macro] + share * (b.values[macro] - a.values[macro])
    return found
