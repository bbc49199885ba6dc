"""Models of filters, distortion and EQ, as voice stages and chain items."""

from __future__ import annotations

from typing import Literal

from pydantic import Field, model_validator

from ..base import Id, Name, Part, distinct
from ..conditions import IN_CHAINS, NEVER, unless, when
from ..controls import choice, control, toggle
from ..movement import DRAWN_CURVE, CurvePoint, in_order

ON = "Off is the same as if it were not there."
_FOLLOW = "How far it goes along with the note; 100 % keeps the tone over the keys."


class ItemPart(Part):
    """Controls of all voice stages and chain items.

    matched: whether a static gain compensates what the item adds to the loudness of the loop. match: that gain, which
    the desk sets. Both apply in chains only.
    """

    id: Id
    name: Name
    on: bool = toggle("On", True, help=ON)
    matched: bool = toggle(
        "Level match",
        False,
        shown_if=IN_CHAINS,
        help="Takes back what it adds to the loudness of the loop, so that louder is not better.",
    )
    match: float = control(
        "Match", "dB", -60, 60, 0, step=0.01, shown_if=NEVER, help="The gain that the level match gives it now."
    )


class StagePart(ItemPart):
    """Controls of all voice stages."""

    branch: Literal["A", "B"] = choice(
        "Branch", "A", shown_if=when("owner.branches.way", "branches"), help="Which of the two branches it stands in."
    )


class Filter(StagePart):
    """A state-variable filter."""

    kind: Literal["filter"] = "filter"
    type: Literal["low-pass", "high-pass", "band-pass", "notch", "peak", "morph"] = choice(
        "Type",
        "low-pass",
        help="What it lets through: below the cutoff, above it, around it, all but it; a rise at it; "
        "or from below through around to above.",
    )
    slope: Literal["6", "12", "24"] = choice(
        "Slope", "24", help="Steepness in dB per octave; 6 dB has no resonance and is for low-pass and high-pass."
    )
    cutoff: float = control(
        "Cutoff", "Hz", 20, 20000, 800, taper="log", moves=True, help="Frequency at which the filter begins to work."
    )
    resonance: float = control(
        "Resonance",
        "dB",
        0,
        36,
        0,
        moves=True,
        shown_if=unless("slope", "6") | unless("type", "low-pass", "high-pass"),
        help="Rise at the cutoff over a flat corner.",
    )
    morph: float = control(
        "Morph",
        "%",
        0,
        100,
        0,
        step=1,
        moves=True,
        shown_if=when("type", "morph"),
        help="0 % is low-pass, 50 % band-pass, 100 % high-pass.",
    )
    drive: float = control("Drive", "dB", 0, 36, 0, moves=True, help="Level into a soft edge before the filter.")
    key_follow: float = control("Key follow", "%", 0, 150, 0, step=1, help=_FOLLOW)
    mix: float = control("Mix", "%", 0, 100, 100, step=1, moves=True, help="Share of the filtered sound.")
    trim: float = control("Trim", "dB", -24, 24, 0, moves=True, help="Level after it.")


class Ladder(StagePart):
    """Four poles in a loop that saturates."""

    kind: Literal["ladder"] = "ladder"
    cutoff: float = control(
        "Cutoff", "Hz", 20, 20000, 600, taper="log", moves=True, help="Frequency above which it falls by 24 dB."
    )
    resonance: float = control("Resonance", "dB", 0, 36, 6, moves=True, help="Rise at the cutoff over no resonance.")
    lows: float = control(
        "Keep lows", "%", 0, 100, 50, step=1, moves=True, help="Gives back the lows that resonance takes."
    )
    drive: float = control("Drive", "dB", 0, 36, 0, moves=True, help="Level into the loop, which saturates.")
    key_follow: float = control("Key follow", "%", 0, 150, 0, step=1, help=_FOLLOW)
    mix: float = control("Mix", "%", 0, 100, 100, step=1, moves=True, help="Share of the filtered sound.")
    trim: float = control("Trim", "dB", -24, 24, 0, moves=True, help="Level after it.")


class Comb(StagePart):
    """A tuned comb filter with feedback."""

    kind: Literal["comb"] = "comb"
    tuned: Literal["note", "Hz"] = choice("Tuned", "note", help="To the note that plays, or to a frequency.")
    interval: float = control(
        "Interval",
        "st",
        -24,
        36,
        0,
        step=1,
        moves=True,
        shown_if=when("tuned", "note"),
        help="Distance of the ring from the note in semitones.",
    )
    cutoff: float = control(
        "Pitch",
        "Hz",
        20,
        3800,
        110,
        taper="log",
        moves=True,
        shown_if=when("tuned", "Hz"),
        help="Frequency at which it rings.",
    )
    feedback: float = control(
        "Feedback", "%", -98, 98, 70, step=1, moves=True, help="How long it rings; below 0 % only odd partials ring."
    )
    damping: float = control(
        "Damping", "Hz", 200, 20000, 8000, taper="log", moves=True, off_high="open", help="The ring dulls above this."
    )
    key_follow: float = control("Key follow", "%", 0, 150, 0, step=1, shown_if=when("tuned", "Hz"), help=_FOLLOW)
    mix: float = control("Mix", "%", 0, 100, 50, step=1, moves=True, help="Share of the ringing sound.")
    trim: float = control("Trim", "dB", -24, 24, 0, moves=True, help="Level after it.")


class Vowel(StagePart):
    """Three formants, steered on a vowel chart."""

    kind: Literal["vowel"] = "vowel"
    opening: float = control(
        "Mouth", "%", 0, 100, 80, step=1, moves=True, help="How far the mouth is open: 0 % closed, as in see or soon."
    )
    tongue: float = control(
        "Tongue", "%", 0, 100, 90, step=1, moves=True, help="Where the tongue stands: 0 % in front, 100 % at the back."
    )
    speaker: Literal["deep", "middle", "bright"] = choice(
        "Speaker", "deep", help="Whose formants: measured averages of men, women and children."
    )
    size: float = control(
        "Voice size", "%", 50, 200, 100, taper="log", step=1, moves=True, help="A larger voice has lower formants."
    )
    sharpness: float = control(
        "Sharpness", "%", 25, 800, 100, taper="log", step=1, moves=True, help="How narrow the formants are."
    )
    spread: float = control(
        "Spread", "%", 0, 200, 100, step=1, moves=True, help="How far the formants stand apart; 0 % is one for all."
    )
    key_follow: float = control("Key follow", "%", 0, 150, 0, step=1, help=_FOLLOW)
    trim: float = control("Trim", "dB", -24, 24, 6, moves=True, help="Level of the vowel.")
    mix: float = control(
        "Mix", "%", 0, 100, 85, step=1, moves=True, help="Share of the vowel; the rest keeps the lows."
    )


class AllpassRow(StagePart):
    """A row of all-passes. Mixed with the dry sound it cuts notches."""

    kind: Literal["allpass"] = "allpass"
    stages: int = control(
        "Passes", "count", 1, 12, 4, whole=True, step=1, help="How many all-passes; two make a notch."
    )
    cutoff: float = control(
        "Cutoff", "Hz", 20, 20000, 500, taper="log", moves=True, help="Where each has turned the phase by 90°."
    )
    feedback: float = control("Feedback", "%", -95, 95, 0, step=1, moves=True, help="Lifts what lies between notches.")
    key_follow: float = control("Key follow", "%", 0, 150, 0, step=1, help=_FOLLOW)
    mix: float = control("Mix", "%", 0, 100, 50, step=1, moves=True, help="At 50 % the notches are deepest.")
    trim: float = control("Trim", "dB", -24, 24, 0, moves=True, help="Level after it.")


class Distortion(StagePart):
    """A waveshaper."""

    kind: Literal["distortion"] = "distortion"
    curve: Literal["soft", "tube", "one-sided", "hard", "fold", "wrap", "crush", "drawn"] = choice(
        "Curve",
        "soft",
        help="Soft and tube round the peaks, one-sided only the upper ones, hard cuts them, fold turns them back, "
        "wrap lets them come in from the other side, crush makes coarse steps, drawn is your own line.",
    )
    points: list[CurvePoint] = Field(default=DRAWN_CURVE, min_length=2, max_length=32)
    drive: float = control("Drive", "dB", 0, 48, 12, moves=True, help="Level into the curve.")
    bias: float = control(
        "Bias",
        "%",
        -50,
        50,
        0,
        step=1,
        moves=True,
        shown_if=unless("curve", "crush"),
        help="Pushes the wave off centre, which adds even harmonics; no DC is left.",
    )
    bits: float = control(
        "Bits",
        "count",
        1,
        16,
        8,
        moves=True,
        shown_if=when("curve", "crush"),
        help="Fineness of the steps of a crushed sound.",
    )
    rate: float = control(
        "Rate",
        "Hz",
        200,
        48000,
        12000,
        taper="log",
        moves=True,
        off_high="whole",
        shown_if=when("curve", "crush"),
        help="How often it takes a new value.",
    )
    focus_low: float = control(
        "Focus from",
        "Hz",
        20,
        20000,
        20,
        taper="log",
        moves=True,
        off_low="all",
        help="Only what lies above is distorted; the rest passes as it is.",
    )
    focus_high: float = control(
        "Focus to",
        "Hz",
        20,
        20000,
        20000,
        taper="log",
        moves=True,
        off_high="all",
        help="Only what lies below is distorted; the rest passes as it is.",
    )
    lift: float = control(
        "Lift", "dB", -24, 24, 0, moves=True, help="Lifts a region before the curve and takes it back after it."
    )
    lift_at: float = control(
        "Lift at",
        "Hz",
        40,
        16000,
        800,
        taper="log",
        moves=True,
        shown_if=unless("lift", 0),
        help="Middle of what is lifted into the curve.",
    )
    lift_q: float = control(
        "Lift width",
        "Q",
        0.1,
        10,
        0.7,
        taper="log",
        step=0.01,
        moves=True,
        shown_if=unless("lift", 0),
        help="Higher is narrower.",
    )
    mix: float = control("Mix", "%", 0, 100, 100, step=1, moves=True, help="Share of the distorted sound.")
    trim: float = control("Trim", "dB", -24, 12, 0, moves=True, help="Level after it.")
    level_match: bool = toggle("Auto level", True, help="Takes back, by a fixed rule, the level that the drive adds.")

    @model_validator(mode="after")
    def _in_order(self) -> Distortion:
        in_order(self.points, self.name)
        return self


class EqBand(Part):
    """One band of an EQ."""

    id: Id
    on: bool = toggle("Band on", True, help=ON)
    solo: bool = toggle("Alone", False, help="Only what lies where bands are alone is heard.")
    type: Literal["bell", "low-shelf", "high-shelf", "low-cut", "high-cut", "notch"] = choice(
        "Type", "bell", help="Shape of the band."
    )
    slope: Literal["6", "12", "18", "24", "30", "36", "42", "48"] = choice(
        "Slope", "12", shown_if=when("type", "low-cut", "high-cut"), help="How steeply a cut falls, in dB per octave."
    )
    tied: bool = toggle("Follow the note", False, help="The frequency is that many times the note's own.")
    times: float = control(
        "Times the note",
        "x",
        0.25,
        64,
        4,
        taper="log",
        step=0.01,
        moves=True,
        shown_if=when("tied", True),
        help="1 is the fundamental of the note.",
    )
    frequency: float = control(
        "Frequency",
        "Hz",
        20,
        20000,
        300,
        taper="log",
        moves=True,
        shown_if=when("tied", False),
        help="Centre or corner of the band.",
    )
    gain: float = control(
        "Gain",
        "dB",
        -24,
        24,
        0,
        moves=True,
        shown_if=unless("type", "low-cut", "high-cut", "notch"),
        help="Lift or cut; cuts and notches have none.",
    )
    q: float = control("Width", "Q", 0.1, 18, 0.71, taper="log", step=0.01, moves=True, help="Higher is narrower.")


class Eq(ItemPart):
    """Up to eight bands."""

    kind: Literal["eq"] = "eq"
    mix: float = control("Mix", "%", 0, 100, 100, step=1, moves=True, help="Share of the equalised sound.")
    trim: float = control("Trim", "dB", -24, 12, 0, moves=True, help="Level after it.")
    bands: list[EqBand] = Field(default_factory=list, max_length=8)

    @model_validator(mode="after")
    def _hangs_together(self) -> Eq:
        distinct(list(self.bands), "bands")
        return self


class Branches(Part):
    """The routing of a layer's voice stages: in series, or in two parallel branches."""

    way: Literal["series", "branches"] = choice(
        "Stages stand", "series", help="One after the other, or in two branches side by side."
    )
    mix: float = control("Branches", "%", 0, 100, 50, step=1, moves=True, help="0 % is branch A, 100 % branch B.")
