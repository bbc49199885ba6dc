"""Models of filters, distortion and EQ, as voice stages and chain items."""

from __future__ import annotations

from typing import ClassVar, Literal

from pydantic import Field, model_validator

from ..base import Id, Name, Part, distinct
from ..conditions import IN_CHAINS, NEVER, unless, when
from ..controls import choice, control, toggle
from ..movement import DRAWN_CURVE, CurvePoint, in_order

ON = "Switches the return on or off."
_FOLLOW = "How far it follows the note. 100 % keeps the timbre across the keys."


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
        help="Compensates the change in loudness over the loop, so that louder doesn't pass for better.",
    )
    match: float = control(
        "Match", "dB", -60, 60, 0, step=0.01, shown_if=NEVER, help="Gain that level match applies now."
    )


class StagePart(ItemPart):
    """Controls of all voice stages."""

    branch: Literal["before", "A", "B", "after"] = choice(
        "Branch",
        "A",
        shown_if=when("owner.branches.routing", "parallel"),
        help="One of the two branches, or the common row before or after them.",
    )


class Filter(StagePart):
    """A state-variable filter."""

    kind: Literal["filter"] = "filter"
    type: Literal["low-pass", "high-pass", "band-pass", "notch", "peak", "morph"] = choice(
        "Type",
        "low-pass",
        help="Which frequencies pass: below, above or around the cutoff, all but those around it, all with a peak at "
        "it, or a morph from low-pass through band-pass to high-pass.",
    )
    slope: Literal["6", "12", "24"] = choice(
        "Slope", "24", help="Slope in dB per octave. 6 dB is for low-pass and high-pass and has no resonance."
    )
    cutoff: float = control(
        "Cutoff",
        "Hz",
        20,
        20000,
        800,
        taper="log",
        moves=True,
        help="Cutoff frequency.",
        handle="cutoff",
        paired="resonance",
    )
    resonance: float = control(
        "Resonance",
        "dB",
        0,
        36,
        0,
        moves=True,
        shown_if=unless("slope", "6") | unless("type", "low-pass", "high-pass"),
        help="Gain at the cutoff. In a band-pass or a notch: how narrow the band is; its level stays.",
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
    drive: float = control("Drive", "dB", 0, 36, 0, moves=True, help="Gain into soft saturation before the filter.")
    key_follow: float = control("Key follow", "%", 0, 150, 0, step=1, help=_FOLLOW)
    mix: float = control("Mix", "%", 0, 100, 100, step=1, moves=True, help="Dry/wet mix.")
    trim: float = control("Trim", "dB", -24, 24, 0, moves=True, help="Output level of the effect.")


class Ladder(StagePart):
    """Four poles in a loop that saturates."""

    kind: Literal["ladder"] = "ladder"
    cutoff: float = control(
        "Cutoff",
        "Hz",
        20,
        20000,
        600,
        taper="log",
        moves=True,
        help="Cutoff frequency; above it the level falls by 24 dB per octave.",
        handle="cutoff",
        paired="resonance",
    )
    resonance: float = control("Resonance", "dB", 0, 36, 6, moves=True, help="Gain at the cutoff against no resonance.")
    lows: float = control(
        "Keep lows", "%", 0, 100, 50, step=1, moves=True, help="Restores the lows that resonance takes away."
    )
    drive: float = control("Drive", "dB", 0, 36, 0, moves=True, help="Gain into the saturating filter loop.")
    key_follow: float = control("Key follow", "%", 0, 150, 0, step=1, help=_FOLLOW)
    mix: float = control("Mix", "%", 0, 100, 100, step=1, moves=True, help="Dry/wet mix.")
    trim: float = control("Trim", "dB", -24, 24, 0, moves=True, help="Output level of the effect.")


class Comb(StagePart):
    """A tuned comb filter with feedback."""

    kind: Literal["comb"] = "comb"
    tuned: Literal["note", "Hz"] = choice("Tuned", "note", help="Tuned to the note, or to a fixed frequency.")
    interval: float = control(
        "Interval",
        "st",
        -24,
        36,
        0,
        step=1,
        moves=True,
        shown_if=when("tuned", "note"),
        help="Interval between the note and the ringing pitch.",
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
        help="Ringing frequency.",
        handle="cutoff",
        paired="feedback",
    )
    feedback: float = control(
        "Feedback", "%", -98, 98, 70, step=1, moves=True, help="How long it rings. Below 0 % only odd harmonics ring."
    )
    damping: float = control(
        "Damping",
        "Hz",
        200,
        20000,
        8000,
        taper="log",
        moves=True,
        off_high="open",
        help="High frequencies above this decay faster.",
    )
    key_follow: float = control("Key follow", "%", 0, 150, 0, step=1, shown_if=when("tuned", "Hz"), help=_FOLLOW)
    mix: float = control("Mix", "%", 0, 100, 50, step=1, moves=True, help="Dry/wet mix.")
    trim: float = control("Trim", "dB", -24, 24, 0, moves=True, help="Output level of the effect.")


class Vowel(StagePart):
    """Three formants, steered on a vowel chart."""

    kind: Literal["vowel"] = "vowel"
    opening: float = control(
        "Mouth",
        "%",
        0,
        100,
        80,
        step=1,
        moves=True,
        help="How far the mouth is open. 0 % is closed, as in see or soon.",
    )
    tongue: float = control(
        "Tongue", "%", 0, 100, 90, step=1, moves=True, help="Tongue position: 0 % front, 100 % back."
    )
    speaker: Literal["deep", "middle", "bright"] = choice(
        "Speaker", "deep", help="Formants to use: measured averages of men, women and children."
    )
    size: float = control(
        "Voice size", "%", 50, 200, 100, taper="log", step=1, moves=True, help="A larger voice has lower formants."
    )
    sharpness: float = control(
        "Sharpness", "%", 25, 800, 100, taper="log", step=1, moves=True, help="How narrow the formants are."
    )
    spread: float = control(
        "Spread", "%", 0, 200, 100, step=1, moves=True, help="Spacing of the formants. At 0 % they coincide."
    )
    key_follow: float = control("Key follow", "%", 0, 150, 0, step=1, help=_FOLLOW)
    trim: float = control("Trim", "dB", -24, 24, 6, moves=True, help="Output level of the vowel.")
    mix: float = control("Mix", "%", 0, 100, 85, step=1, moves=True, help="Dry/wet mix. The dry part keeps the lows.")


class AllpassRow(StagePart):
    """A row of all-passes. Mixed with the dry sound it cuts notches."""

    kind: Literal["allpass"] = "allpass"
    stages: int = control(
        "Stages", "count", 1, 12, 4, whole=True, step=1, help="How many all-passes; two make a notch."
    )
    cutoff: float = control(
        "Cutoff",
        "Hz",
        20,
        20000,
        500,
        taper="log",
        moves=True,
        help="Frequency at which each stage shifts the phase by 90°.",
        handle="cutoff",
        paired="feedback",
    )
    feedback: float = control(
        "Feedback", "%", -95, 95, 0, step=1, moves=True, help="Raises the peaks between the notches."
    )
    key_follow: float = control("Key follow", "%", 0, 150, 0, step=1, help=_FOLLOW)
    mix: float = control(
        "Mix", "%", 0, 100, 50, step=1, moves=True, help="Dry/wet mix. At 50 % the notches are deepest."
    )
    trim: float = control("Trim", "dB", -24, 24, 0, moves=True, help="Output level of the effect.")


class Distortion(StagePart):
    """A waveshaper."""

    kind: Literal["distortion"] = "distortion"
    curve: Literal["soft", "tube", "one-sided", "hard", "fold", "wrap", "crush", "drawn"] = choice(
        "Curve",
        "soft",
        help="Soft and tube round the peaks, one-sided only the upper ones. Hard cuts them, fold folds them back, wrap "
        "wraps them round to the other side. Crush makes coarse steps. Drawn is your own curve.",
    )
    points: list[CurvePoint] = Field(default=DRAWN_CURVE, min_length=2, max_length=32)
    drive: float = control("Drive", "dB", 0, 48, 12, moves=True, help="Gain into the curve.")
    bias: float = control(
        "Bias",
        "%",
        -50,
        50,
        0,
        step=1,
        moves=True,
        shown_if=unless("curve", "crush"),
        help="Offset before the curve. It adds even harmonics; DC is removed.",
    )
    bits: float = control(
        "Bits",
        "count",
        1,
        16,
        8,
        moves=True,
        shown_if=when("curve", "crush"),
        help="Bit depth of the steps.",
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
        help="Sample rate of the crushed sound.",
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
        turned="fades",
        help="Only frequencies above it are distorted. The rest passes unchanged.",
        handle="edge",
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
        turned="fades",
        help="Only frequencies below it are distorted. The rest passes unchanged.",
        handle="edge",
    )
    lift: float = control(
        "Emphasis",
        "dB",
        -24,
        24,
        0,
        moves=True,
        turned="fades",
        help="Boosts a band before the curve and cuts it by as much after.",
    )
    lift_at: float = control(
        "Emphasis at",
        "Hz",
        40,
        16000,
        800,
        taper="log",
        moves=True,
        shown_if=unless("lift", 0),
        help="Centre frequency of the emphasis.",
        handle="cutoff",
        paired="lift",
    )
    lift_q: float = control(
        "Emphasis width",
        "Q",
        0.1,
        10,
        0.7,
        taper="log",
        step=0.01,
        moves=True,
        shown_if=unless("lift", 0),
        help="Q: higher is narrower.",
    )
    mix: float = control("Mix", "%", 0, 100, 100, step=1, moves=True, help="Dry/wet mix.")
    trim: float = control("Trim", "dB", -24, 12, 0, moves=True, help="Output level of the effect.")
    level_match: bool = toggle("Auto level", True, help="Compensates the level that drive adds, by a fixed rule.")

    @model_validator(mode="after")
    def _in_order(self) -> Distortion:
        in_order(self.points, self.name)
        return self


class EqBand(Part):
    """One band of an EQ."""

    in_titles: ClassVar[str] = "band {place}"
    id: Id
    on: bool = toggle("On", True, help=ON)
    solo: bool = toggle("Solo", False, help="Play only the frequencies of soloed bands.")
    type: Literal["bell", "low-shelf", "high-shelf", "low-cut", "high-cut", "notch"] = choice(
        "Type", "bell", help="Shape of the band."
    )
    slope: Literal["6", "12", "18", "24", "30", "36", "42", "48"] = choice(
        "Slope", "12", shown_if=when("type", "low-cut", "high-cut"), help="Slope of a cut in dB per octave."
    )
    tied: bool = toggle("Follow the note", False, help="Sets the frequency as a multiple of the note's.")
    times: float = control(
        "Multiple of the note",
        "x",
        0.25,
        64,
        4,
        taper="log",
        step=0.01,
        moves=True,
        shown_if=when("tied", True),
        help="1 is the note's fundamental.",
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
        help="Centre or cutoff frequency of the band.",
        handle="cutoff",
        paired="gain",
    )
    gain: float = control(
        "Gain",
        "dB",
        -24,
        24,
        0,
        moves=True,
        shown_if=unless("type", "low-cut", "high-cut", "notch"),
        help="Boost or cut. Low cuts, high cuts and notches have none.",
    )
    q: float = control("Width", "Q", 0.1, 18, 0.71, taper="log", step=0.01, moves=True, help="Q: higher is narrower.")


class Eq(ItemPart):
    """Up to eight bands."""

    kind: Literal["eq"] = "eq"
    mix: float = control("Mix", "%", 0, 100, 100, step=1, moves=True, help="Dry/wet mix.")
    trim: float = control("Trim", "dB", -24, 12, 0, moves=True, help="Output level of the effect.")
    bands: list[EqBand] = Field(default_factory=list, max_length=8)

    @model_validator(mode="after")
    def _hangs_together(self) -> Eq:
        distinct(list(self.bands), "bands")
        return self


class Branches(Part):
    """The routing of a layer's voice stages: in series, or in two parallel branches between two common rows."""

    routing: Literal["series", "parallel"] = choice(
        "Routing", "series", help="In series, or in two parallel branches, with common rows before and after them."
    )
    mix: float = control("Branches", "%", 0, 100, 50, step=1, moves=True, help="0 % is branch A, 100 % branch B.")
