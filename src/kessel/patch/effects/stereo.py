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
    width: float = control(
        "Width", "%", 0, 200, 130, step=1, moves=True, help="0 % is mono, 100 % leaves it unchanged."
    )
    low: float = control(
        "From",
        "Hz",
        20,
        2000,
        180,
        taper="log",
        moves=True,
        off_low="all",
        help="The width stays unchanged below this.",
        handle="edge",
    )
    below: Literal["as it was", "mono"] = choice(
        "Below", "as it was", help="Whether the sound below is left or made mono."
    )


class AutoPan(Swinging):
    """Pans the sound from side to side."""

    kind: Literal["auto-pan"] = "auto-pan"
    depth: float = control("Depth", "%", 0, 100, 60, step=1, moves=True, help="Depth of the modulation.")
    stereo_offset: float = control(
        "Stereo offset",
        "deg",
        0,
        180,
        180,
        step=1,
        moves=True,
        turned="fades",
        help="180° pans from side to side. 0° changes the level of both.",
    )


class FrequencyShift(TimeEffect):
    """Shifts all partials by the same number of Hz."""

    kind: Literal["shift"] = "shift"
    shift: float = control(
        "Shift", "Hz", -2000, 2000, 3, step=0.1, moves=True, help="Each partial is shifted by this frequency."
    )
    sides: Literal["same", "opposite"] = choice(
        "Sides", "same", help="Shift both sides the same way, or the right side the other way."
    )


class Kick(Part):
    """Settings of a duck by the kick of the backing beat."""

    depth: float = control("Depth", "dB", 0, 60, 12, moves=True, help="How far the level is reduced.")
    attack: float = control(
        "Attack",
        "ms",
        0.5,
        100,
        2,
        taper="log",
        moves=True,
        help="Time in which the level falls after the kick starts.",
    )
    hold: float = control("Hold", "ms", 0, 500, 40, taper="ease", step=1, moves=True, help="Time at the lowest level.")
    release: float = control(
        "Release", "ms", 5, 1500, 140, taper="log", moves=True, help="Time in which the level recovers."
    )


class BeatShape(EffectPart):
    """A drawn gain per beat, or a duck by the kick."""

    kind: Literal["beat-shape"] = "beat-shape"
    by: Literal["curve", "kick"] = choice(
        "Driven by", "curve", help="A drawn curve that repeats, or the kick of the built-in beat."
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
        turned="fades",
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
        help="Reduction at the bottom of the curve.",
    )
    soften: float = control(
        "Smoothing",
        "ms",
        0.5,
        60,
        3,
        taper="log",
        moves=True,
        shown_if=unless("by", "kick"),
        help="Time that every step of the curve takes.",
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
    mode: Literal["built-in", "recorded"] = choice(
        "Mode", "built-in", help="A built-in cabinet, or an impulse response from the library."
    )
    box: Literal["closed", "open", "horn", "paper", "tin"] = choice(
        "Box", "closed", shown_if=when("mode", "built-in"), help="Type of cabinet."
    )
    audio: str = pick(
        "Impulse response",
        "response",
        "",
        shown_if=when("mode", "recorded"),
        help="Audio from the library, used as the speaker's impulse response.",
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
        shown_if=when("mode", "built-in"),
        help="A larger cabinet reaches lower.",
    )
    bass: float = control(
        "Bass",
        "dB",
        -18,
        18,
        0,
        moves=True,
        shown_if=when("mode", "built-in"),
        help="Level around the lowest resonance.",
    )
    treble: float = control(
        "Treble",
        "dB",
        -18,
        18,
        0,
        moves=True,
        shown_if=when("mode", "built-in"),
        help="Level where the cone breaks up.",
    )
    air: float = control(
        "Air",
        "%",
        0,
        100,
        20,
        step=1,
        moves=True,
        shown_if=when("mode", "built-in"),
        help="Level of the room around the cabinet.",
    )


class Vocoder(EffectPart):
    """The sound as carrier of a voice."""

    kind: Literal["vocoder"] = "vocoder"
    mode: Literal["syllables", "recorded"] = choice(
        "Modulator", "syllables", help="Built-in syllables, or a recording."
    )
    words: Literal["wa-oh", "ya-ya", "ra-ka-ta", "oh-we-ah", "ta-ka"] = choice(
        "Syllables", "wa-oh", shown_if=when("mode", "syllables"), help="The syllables, in turn."
    )
    audio: str = pick(
        "Recording",
        "audio",
        "",
        shown_if=when("mode", "recorded"),
        help="Audio from the library that modulates the sound, in sync with the phrase.",
    )
    step: float = control(
        "Step",
        "beats",
        1 / 8,
        4,
        0.5,
        taper="log",
        step=0.001,
        shown_if=when("mode", "syllables"),
        help="Length of a syllable.",
    )
    bands: int = control(
        "Bands", "count", 6, 24, 14, whole=True, step=1, help="Fewer bands are rougher, more are clearer."
    )
    low: float = control("From", "Hz", 40, 800, 110, taper="log", turned="anew", help="Lowest band.")
    high: float = control("To", "Hz", 2000, 16000, 8000, taper="log", help="Highest band.")
    formant: float = control(
        "Formants", "st", -24, 24, 0, moves=True, turned="anew", help="Shifts the formants: a smaller or larger mouth."
    )
    attack: float = control("Attack", "ms", 0.5, 100, 4, taper="log", moves=True, help="Time in which bands open.")
    release: float = control("Release", "ms", 2, 500, 30, taper="log", moves=True, help="Time in which bands close.")
    keep_lows: bool = toggle("Keep lows", True, help="Passes everything below the lowest band unchanged.")
