"""Models of width, auto-pan, frequency shift, beat shape, cabinet and vocoder."""

from __future__ import annotations

from typing import Literal

from pydantic import Field, model_validator

from ..base import Part
from ..conditions import unless, when
from ..controls import choice, control, pick, toggle
from ..movement import PUMP, CurvePoint, in_order
from .delays import Swinging, TimeEffect
from .dynamics import EffectPart


class Width(EffectPart):
    """Scales the side signal above a lowest frequency."""

    kind: Literal["width"] = "width"
    width: float = control("Width", "%", 0, 200, 130, step=1, moves=True, help="0 % is mono, 100 % as it was.")
    low: float = control(
        "From", "Hz", 20, 2000, 180, taper="log", moves=True, off_low="all", help="Below it the width stays as it was."
    )
    below: Literal["as it was", "mono"] = choice("Below", "as it was", help="What becomes of the side below.")


class AutoPan(Swinging):
    """Pans the sound from side to side."""

    kind: Literal["auto-pan"] = "auto-pan"
    depth: float = control("Depth", "%", 0, 100, 60, step=1, moves=True, help="How far it goes.")
    apart: float = control(
        "Sides apart", "deg", 0, 180, 180, step=1, moves=True, help="180° goes from side to side, 0° up and down."
    )


class FrequencyShift(TimeEffect):
    """Shifts all partials by the same number of Hz."""

    kind: Literal["shift"] = "shift"
    shift: float = control("Shift", "Hz", -2000, 2000, 3, step=0.1, moves=True, help="So far each partial is moved.")
    sides: Literal["same", "opposite"] = choice("Sides", "same", help="Both the same way, or the right the other way.")


class Kick(Part):
    """Settings of a duck by the kick of the backing beat."""

    depth: float = control("Depth", "dB", 0, 60, 12, moves=True, help="So far it is turned down.")
    attack: float = control("Attack", "ms", 0.5, 100, 2, taper="log", moves=True, help="Time down, from the kick on.")
    hold: float = control("Hold", "ms", 0, 500, 40, taper="ease", step=1, moves=True, help="Time at the bottom.")
    release: float = control("Release", "ms", 5, 1500, 140, taper="log", moves=True, help="Time back up.")


class BeatShape(EffectPart):
    """A drawn gain per beat, or a duck by the kick."""

    kind: Literal["beat-shape"] = "beat-shape"
    by: Literal["curve", "kick"] = choice(
        "By", "curve", help="A drawn curve over and over, or the backing beat's kick."
    )
    length: float = control(
        "Length",
        "beats",
        1 / 8,
        16,
        1,
        taper="log",
        step=0.001,
        moves=True,
        shown_if=unless("by", "kick"),
        help="Length of the drawn curve.",
    )
    depth: float = control(
        "Depth",
        "dB",
        0,
        60,
        24,
        moves=True,
        shown_if=unless("by", "kick"),
        help="How far down the bottom of the curve lies.",
    )
    soften: float = control(
        "Soften",
        "ms",
        0.5,
        60,
        3,
        taper="log",
        moves=True,
        shown_if=unless("by", "kick"),
        help="So long every step of the curve takes.",
    )
    kick: Kick = Field(default_factory=Kick)
    points: list[CurvePoint] = Field(default=PUMP, min_length=2, max_length=64)

    @model_validator(mode="after")
    def _in_order(self) -> BeatShape:
        in_order(self.points, self.name)
        return self


class Cabinet(EffectPart):
    """A speaker in a cabinet."""

    kind: Literal["cabinet"] = "cabinet"
    way: Literal["built-in", "recorded"] = choice(
        "Way", "built-in", help="One of ours, or a response from the library."
    )
    box: Literal["closed", "open", "horn", "paper", "tin"] = choice(
        "Box", "closed", shown_if=when("way", "built-in"), help="What the speaker stands in."
    )
    audio: str = pick(
        "Response",
        "response",
        "",
        shown_if=when("way", "recorded"),
        help="Audio of the library that is a speaker's response.",
    )
    size: float = control(
        "Size",
        "%",
        30,
        300,
        100,
        taper="log",
        step=1,
        moves=True,
        shown_if=when("way", "built-in"),
        help="A larger one goes lower.",
    )
    bass: float = control(
        "Bass",
        "dB",
        -18,
        18,
        0,
        moves=True,
        shown_if=when("way", "built-in"),
        help="Level around its lowest resonance.",
    )
    treble: float = control(
        "Treble", "dB", -18, 18, 0, moves=True, shown_if=when("way", "built-in"), help="Level where the cone breaks up."
    )
    air: float = control(
        "Air",
        "%",
        0,
        100,
        20,
        step=1,
        moves=True,
        shown_if=when("way", "built-in"),
        help="How much of the room around it is heard.",
    )


class Vocoder(EffectPart):
    """The sound as carrier of a voice."""

    kind: Literal["vocoder"] = "vocoder"
    way: Literal["syllables", "recorded"] = choice("Speaks", "syllables", help="Built-in syllables, or a recording.")
    words: Literal["wa-oh", "ya-ya", "ra-ka-ta", "oh-we-ah", "ta-ka"] = choice(
        "Syllables", "wa-oh", shown_if=when("way", "syllables"), help="Which ones, one after the other."
    )
    audio: str = pick(
        "Recording",
        "audio",
        "",
        shown_if=when("way", "recorded"),
        help="What speaks, from the library; it runs with the phrase.",
    )
    step: float = control(
        "Step",
        "beats",
        1 / 8,
        4,
        0.5,
        taper="log",
        step=0.001,
        shown_if=when("way", "syllables"),
        help="Length of a syllable.",
    )
    bands: int = control("Bands", "count", 6, 24, 14, whole=True, step=1, help="Few is rough, many is clear.")
    low: float = control("From", "Hz", 40, 800, 110, taper="log", help="Lowest band; below it nothing is heard of it.")
    high: float = control("To", "Hz", 2000, 16000, 8000, taper="log", help="Highest band.")
    formant: float = control("Formants", "st", -24, 24, 0, moves=True, help="A larger or smaller mouth.")
    attack: float = control("Attack", "ms", 0.5, 100, 4, taper="log", moves=True, help="How quickly bands open.")
    release: float = control("Release", "ms", 2, 500, 30, taper="log", moves=True, help="How quickly they close.")
    keep_lows: bool = toggle("Keep lows", True, help="What lies below the lowest band passes as it is.")
