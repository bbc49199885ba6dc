"""Movers, and the movements that connect them to controls."""

from __future__ import annotations

from typing import Literal

from pydantic import Field, model_validator

from ..base import Id, Name, Part
from ..conditions import counts, unless, when
from ..controls import choice, control, pick, toggle
from .curves import RAMP, CurvePoint, in_order

_ONCE_A_NOTE = "Restarts with each note, with the phrase, or never."


class Curve(Part):
    """A drawn mover: points over a length of time, played once, looped, or held until the note ends."""

    kind: Literal["curve"] = "curve"
    id: Id
    name: Name
    play: Literal["once", "loop", "hold"] = choice(
        "Play", "once", help="Once to its end, looped, or held at a point until the note ends."
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
        turned="fades",
        help="Length of the curve.",
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
        help="Length of the curve in milliseconds.",
    )
    hold_at: float = control(
        "Hold at", "%", 0, 100, 100, step=1, shown_if=when("play", "hold"), help="Point of the curve that is held."
    )
    restart: Literal["note", "phrase", "free"] = choice(
        "Restart", "note", shown_if=unless("play", "hold"), help=_ONCE_A_NOTE
    )
    snap: Literal["off", "1/4", "1/8", "1/8t", "1/16", "1/16t", "1/32"] = choice(
        "Snap", "1/16", shown_if=when("clock", "beats"), help="Drawn points snap to this grid."
    )
    edges: float = control(
        "Step smoothing", "ms", 0, 50, 2, taper="ease", help="Time that a step takes. It keeps steps from clicking."
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
    shape: Literal["sine", "triangle", "saw up", "saw down", "square", "stepped random", "smooth random", "drawn"] = (
        choice("Shape", "sine", help="Waveform of one cycle.")
    )
    clock: Literal["beats", "Hz"] = choice("Clock", "beats", help="Synced to the tempo, or at a rate in Hz.")
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
        turned="fades",
        help="Length of one cycle.",
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
        help="Cycles per second.",
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
        turned="fades",
        help="Share of the cycle that a square is high.",
    )
    phase: float = control("Phase", "deg", 0, 360, 0, help="Point of the cycle at which it starts.")
    restart: Literal["note", "phrase", "free"] = choice("Restart", "note", help=_ONCE_A_NOTE)
    once: bool = toggle("Once", False, help="One cycle, then it stops.")
    fade: float = control(
        "Fade in", "ms", 0, 10000, 0, taper="ease", step=1, help="Time to grow from nothing to full depth."
    )
    edges: float = control(
        "Step smoothing", "ms", 0, 50, 2, taper="ease", help="Time that a step takes. It keeps steps from clicking."
    )
    points: list[CurvePoint] = Field(default=RAMP, min_length=2, max_length=64)

    @model_validator(mode="after")
    def _forward(self) -> Lfo:
        in_order(self.points, self.name)
        return self


class Performance(Part):
    """Velocity, key, wheel, pressure, bend, or a random value of each note."""

    kind: Literal["performance"] = "performance"
    id: Id
    name: Name
    what: Literal["velocity", "key", "wheel", "pressure", "bend", "random"] = choice(
        "Input",
        "wheel",
        help="Velocity or key of the note, wheel, pressure or bend as played, or a new random value for each note.",
    )


class Macro(Part):
    """A named control that drives many others, and can be automated along the phrase."""

    kind: Literal["macro"] = "macro"
    id: Id
    name: Name
    value: float = control("Value", "%", 0, 100, 0, step=0.1, moves=True, help="Position of the macro.")
    drawn: bool = toggle(
        "Automation",
        False,
        shown_if=counts("points", 2),
        help="Follow the curve drawn along the phrase instead of the macro's position.",
    )
    bars: int = control(
        "Length",
        "bars",
        1,
        16,
        2,
        whole=True,
        step=1,
        shown_if=counts("points", 2),
        help="Length of the drawn curve. It repeats.",
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
    attack: float = control("Attack", "ms", 0.1, 500, 5, taper="log", help="Time to rise by 63 %.")
    release: float = control("Release", "ms", 1, 3000, 120, taper="log", help="Time to fall by 63 %.")
    floor: float = control("Floor", "dB", -72, -6, -36, step=1, help="Level in dBFS that counts as silence.")


class AudioRate(Part):
    """A source or a voice stage at audio rate, for voice stages.

    source: the path of the source, or of the stage, which moves the stages after it.
    """

    kind: Literal["audio-rate"] = "audio-rate"
    id: Id
    name: Name
    source: str = pick(
        "Source",
        "audio-rate",
        "",
        help="The source whose wave moves the stages of its layer, or the stage whose output moves those after it.",
    )


MOST_MACROS = 8


class Movement(Part):
    """One mover driving one control.

    amount: from the control's own value, on its taper's scale. lost: name of the target if it was removed; the movement
    then moves nothing until it gets another target. from_off: how a level opens that rests at off or is moved to off:
    evenly in loudness, or evenly in dB as in patches before version 4.
    """

    id: Id
    mover: Id
    target: str = Field(max_length=160)
    amount: float = Field(ge=-20000, le=20000, allow_inf_nan=False)
    both_ways: bool = toggle("Both ways", False, help="Moves to both sides of the control's own value, or to one.")
    curve: float = control(
        "Curve",
        "%",
        -100,
        100,
        0,
        step=1,
        help="0 % is straight. Positive values move the control early, negative late.",
    )
    scaled_by: str = pick(
        "Scaled by", "mover", "", help="A second mover that scales the depth of the movement from 0 to 100 %."
    )
    lost: str = Field(default="", max_length=120)
    from_off: Literal["loudness", "decibels"] = "loudness"
