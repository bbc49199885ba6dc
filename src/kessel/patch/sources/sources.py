"""Sources: what makes sound in a layer."""

from __future__ import annotations

from typing import Annotated, Any, ClassVar, Literal

from pydantic import AfterValidator, Field, model_validator

from ..base import Id, Name, Part, is_id
from ..conditions import above, below, unless, when
from ..control_path import ControlPath
from ..controls import choice, control, pick, toggle
from ..kinds import Kind

Destination = Literal["stages", "past the stages", "modulates only"]
PlainShape = Literal["sine", "triangle", "saw", "square"]

_GOES = (
    "Into the voice stages, past them, or not to the output at all: then it is heard only through what it modulates."
)
_LEVEL = "Level of this source within its layer."
_FLIP = "Inverted reverses the wave's polarity: it subtracts where it added."

CLICKS: tuple[tuple[str, str], ...] = (
    ("tick", "Tick"),
    ("tock", "Tock"),
    ("snap", "Snap"),
    ("knock", "Knock"),
    ("thud", "Thud"),
    ("pop", "Pop"),
    ("flick", "Flick"),
    ("scrape", "Scrape"),
    ("ping", "Ping"),
    ("chip", "Chip"),
    ("latch", "Latch"),
    ("drip", "Drip"),
)
"""Slug and name of every attack click that comes with Kessel."""
CLICK_PREFIX = "click:"
_CLICK_NAMES = dict(CLICKS)


def click_name(word: str) -> str:
    """The name of audio that no source names."""
    return _CLICK_NAMES.get(word.removeprefix(CLICK_PREFIX), word[:12] or "none")


def _envelope() -> Any:
    return pick(
        "Amp envelope",
        "envelope",
        "",
        help="An envelope of the patch for this source alone, also where it modulates. The layer's comes after it.",
    )


def _envelope_times() -> Any:
    return control(
        "Time scale",
        "%",
        10,
        1000,
        100,
        taper="log",
        step=1,
        turned="fades",
        shown_if=unless("envelope", ""),
        help="Stretches the times of the amp envelope for this source: 200 % is half as steep.",
    )


def _envelope_sustain() -> Any:
    return control(
        "Sustain scale",
        "%",
        0,
        1000,
        100,
        taper="ease",
        step=1,
        turned="fades",
        shown_if=unless("envelope", ""),
        help="Scales the sustain of the amp envelope for this source, up to full level.",
    )


STAGE_PREFIX = "stages."
"""Begins the name of a modulator that is a voice stage. What follows is the id of the stage."""


def stage_of(modulator: str) -> str:
    """The id of the voice stage that a modulator is. Empty if it is a source."""
    return modulator.removeprefix(STAGE_PREFIX) if modulator.startswith(STAGE_PREFIX) else ""


def _is_modulator(text: str) -> str:
    is_id(stage_of(text) or text)
    return text


class SourceModulation(Part):
    """A source or a voice stage of a layer modulating a source: its phase (FM) or its level (ring).

    source: id of the source, or ``stages.`` and the id of a filter, which then feeds back.
    """

    in_titles: ClassVar[str] = "by {name}"
    id: Id
    source: Annotated[str, AfterValidator(_is_modulator)]
    mode: Literal["phase", "ring"] = choice(
        "Mode", "phase", help="Phase is FM: the other source modulates this one's phase. Ring multiplies the two."
    )
    depth: float = control(
        "FM depth",
        "deg",
        0,
        1800,
        0,
        taper="ease",
        step=0.1,
        moves=True,
        help="Peak phase modulation by the other source. 57.3° is an FM index of 1. For a recording, 360° is one cycle "
        "of its root pitch.",
    )
    share: float = control(
        "Ring share", "%", 0, 100, 100, step=1, moves=True, help="Share of this source that is multiplied by the other."
    )

    def name_of(self, path: ControlPath) -> tuple[str, ...]:
        """A modulation is named after the source or stage of the same layer that modulates."""
        sources = path.steps[: path.steps.index("modulators") - 1]
        stage = stage_of(self.source)
        return (*sources[:-1], "stages", stage) if stage else (*sources, self.source)


class Oscillator(Part):
    """A periodic source."""

    kind: Literal["oscillator"] = "oscillator"
    id: Id
    name: Name
    shape: Literal["sine", "triangle", "saw", "pulse", "mix", "drawn"] = choice(
        "Shape", "saw", help="A basic wave, a mix of two, or a drawn wave."
    )
    pulse_width: float = control(
        "Pulse width",
        "%",
        1,
        99,
        50,
        moves=True,
        shown_if=when("shape", "pulse"),
        help="Share of the cycle that the pulse is high. 50 % is a square.",
    )
    mix_a: PlainShape = choice("Mix from", "triangle", shown_if=when("shape", "mix"), help="The wave at a mix of 0 %.")
    mix_b: PlainShape = choice("Mix to", "saw", shown_if=when("shape", "mix"), help="The wave at a mix of 100 %.")
    mix: float = control(
        "Mix",
        "%",
        0,
        100,
        50,
        step=1,
        moves=True,
        shown_if=when("shape", "mix"),
        help="From the first wave to the second.",
    )
    wave: str = pick(
        "Wave",
        "wave",
        "stock:first-three",
        shown_if=when("shape", "drawn"),
        help="The drawn wave. The arrows step through all of them.",
    )
    position: float = control(
        "Frame",
        "%",
        0,
        100,
        0,
        moves=True,
        shown_if=when("shape", "drawn"),
        help="Position between the first and the last frame of the drawn wave.",
    )
    octave: int = control("Octave", "count", -4, 4, 0, whole=True, step=1, help="Octaves up or down.")
    semitones: float = control(
        "Semitones", "st", -24, 24, 0, step=1, moves=True, help="Pitch against the note, in semitones."
    )
    cents: float = control("Cents", "ct", -100, 100, 0, moves=True, help="Fine tuning in cents.")
    ratio: float = control(
        "Ratio",
        "x",
        0.0625,
        32,
        1,
        taper="log",
        step=0.001,
        help="Multiple of the note's frequency. Fractions such as 3/2 can be typed.",
    )
    offset: float = control(
        "Offset", "Hz", -50, 50, 0, step=0.01, help="Fixed offset in Hz. It beats equally fast on every note."
    )
    drift: float = control(
        "Drift", "ct", 0, 50, 0, help="Slow random pitch drift, different for every copy and the same each time."
    )
    level: float = control("Level", "dB", -72, 12, 0, moves=True, off_low="off", help=_LEVEL)
    polarity: Literal["normal", "inverted"] = choice("Polarity", "normal", help=_FLIP)
    envelope: str = _envelope()
    envelope_times: float = _envelope_times()
    envelope_sustain: float = _envelope_sustain()
    start: Literal["retrigger", "free-running", "random"] = choice(
        "Start phase",
        "retrigger",
        help="Retrigger starts every note at the same phase. Free-running keeps the cycle running between notes. "
        "Random starts near that phase.",
    )
    phase: float = control(
        "Phase",
        "deg",
        0,
        360,
        0,
        step=0.1,
        help="Point of the cycle at which notes begin. With hard sync to a source, each restart begins there.",
    )
    random_range: float = control(
        "Random range",
        "deg",
        0,
        180,
        30,
        shown_if=when("start", "random"),
        help="How far from that phase a note may begin, either way.",
    )
    unison: bool = toggle(
        "Unison",
        True,
        shown_if=above("owner.unison.copies", 1),
        help="Off keeps this source single when its layer has unison.",
    )
    to: Destination = choice("Goes to", "stages", help=_GOES)
    sync: Literal["off", "own", "source"] = choice(
        "Hard sync",
        "off",
        help="Own restarts the wave at this oscillator's pitch while it runs faster. Source restarts it with another "
        "oscillator's cycle.",
    )
    sync_to: str = pick(
        "Sync to", "source", "", shown_if=when("sync", "source"), help="The oscillator whose cycle restarts this one."
    )
    sync_interval: float = control(
        "Sync interval",
        "st",
        0,
        48,
        12,
        moves=True,
        shown_if=when("sync", "own"),
        help="Interval of the wave above the cycle that restarts it.",
    )
    twin: Literal["off", "add", "subtract", "multiply"] = choice(
        "Twin", "off", help="Adds, subtracts or multiplies a phase-shifted copy of the wave."
    )
    twin_shift: float = control(
        "Twin shift",
        "deg",
        0,
        360,
        180,
        step=0.1,
        moves=True,
        shown_if=unless("twin", "off"),
        help="Phase shift of the copy.",
    )
    skew: float = control(
        "Skew",
        "%",
        -95,
        95,
        0,
        step=1,
        moves=True,
        help="Bends the phase, so that the first half of the cycle is faster or slower.",
    )
    partial_low: float = control(
        "Lowest harmonic",
        "count",
        1,
        64,
        1,
        step=0.1,
        moves=True,
        help="Harmonics below this one are left out. 1 is the fundamental.",
    )
    partial_high: float = control(
        "Highest harmonic", "count", 1, 256, 256, taper="log", step=0.1, moves=True, off_high="all",
        help="Harmonics above this one are left out.",
    )  # fmt: skip
    partial_edge: float = control(
        "Window edge",
        "count",
        0,
        16,
        1,
        step=0.1,
        shown_if=above("partial_low", 1) | below("partial_high", 256),
        help="Number of harmonics over which the window fades at its ends.",
    )
    stretch: float = control(
        "Stretch",
        "%",
        -50,
        100,
        0,
        moves=True,
        help="Stretches the partials off whole multiples. At 10 % they are 1.1 times the fundamental apart.",
    )
    scatter: float = control(
        "Scatter",
        "%",
        0,
        100,
        0,
        step=1,
        moves=True,
        help="Shuffles the harmonics above the fundamental at random, from 0 % to all.",
    )
    feedback: float = control(
        "Feedback",
        "%",
        0,
        100,
        0,
        moves=True,
        turned="fades",
        help="The oscillator modulates its own phase. 100 % is 90° at the peak.",
    )
    modulators: list[SourceModulation] = Field(default_factory=list, max_length=8)


class Noise(Part):
    """An unpitched source."""

    kind: Literal["noise"] = "noise"
    id: Id
    name: Name
    colour: Literal["white", "pink", "brown"] = choice(
        "Colour", "white", help="White is flat. Pink falls by 3 dB per octave, brown by 6."
    )
    level: float = control("Level", "dB", -72, 12, -12, moves=True, off_low="off", help=_LEVEL)
    width: float = control(
        "Width", "%", 0, 100, 0, step=1, turned="fades", help="0 % is mono, 100 % an independent noise on each side."
    )
    polarity: Literal["normal", "inverted"] = choice("Polarity", "normal", help=_FLIP)
    envelope: str = _envelope()
    envelope_times: float = _envelope_times()
    envelope_sustain: float = _envelope_sustain()
    to: Destination = choice("Goes to", "stages", help=_GOES)
    modulators: list[SourceModulation] = Field(default_factory=list, max_length=8)

    @model_validator(mode="after")
    def _has_no_phase(self) -> Noise:
        if any(m.mode == "phase" for m in self.modulators):
            raise ValueError(f"{self.name} is noise and has no phase to swing: let the source work on its level (ring)")
        return self


class Sample(Part):
    """A recorded source."""

    kind: Literal["sample"] = "sample"
    id: Id
    name: Name
    audio: str = pick("Audio", "audio", "click:tick", help="An attack click, or imported or frozen audio.")
    title: str = Field(default="", max_length=60)
    play: Literal["once", "loop"] = choice("Plays", "once", help="Once from start to end, or looped.")
    begins: Literal["note", "phrase"] = choice(
        "Begins", "note", help="Every note restarts it, or it runs in sync with the phrase and notes gate it."
    )
    start: float = control("Start", "ms", 0, 60000, 0, taper="ease", step=0.1, help="Start point in the audio.")
    end: float = control(
        "End", "ms", 1, 60000, 60000, taper="ease", step=0.1, off_high="end", help="End point in the audio."
    )
    follows: Literal["fixed", "note"] = choice(
        "Pitch", "fixed", help="Fixed plays at the recorded pitch. Note transposes from the root to the note."
    )
    root: float = control(
        "Root",
        "Hz",
        10,
        4000,
        65.406,
        taper="log",
        step=0.001,
        shown_if=when("follows", "note"),
        help="Pitch of the recording.",
    )
    octave: int = control("Octave", "count", -4, 4, 0, whole=True, step=1, help="Octaves up or down.")
    semitones: float = control("Semitones", "st", -24, 24, 0, step=1, moves=True, help="Pitch in semitones.")
    cents: float = control("Cents", "ct", -100, 100, 0, moves=True, help="Fine tuning in cents.")
    level: float = control("Level", "dB", -72, 12, 0, moves=True, off_low="off", help=_LEVEL)
    width: float = control(
        "Width", "%", 0, 100, 100, step=1, turned="fades", help="0 % is mono, 100 % leaves the recording unchanged."
    )
    polarity: Literal["normal", "inverted"] = choice("Polarity", "normal", help=_FLIP)
    envelope: str = _envelope()
    envelope_times: float = _envelope_times()
    envelope_sustain: float = _envelope_sustain()
    to: Destination = choice("Goes to", "stages", help=_GOES)
    modulators: list[SourceModulation] = Field(default_factory=list, max_length=8)

    @model_validator(mode="after")
    def _in_order(self) -> Sample:
        if self.start >= self.end:
            raise ValueError(f"the start of {self.name} has to stay before its end")
        return self


Source = Annotated[Oscillator | Noise | Sample, Field(discriminator="kind")]
SOURCES = (Kind(Oscillator, "Oscillator"), Kind(Noise, "Noise"), Kind(Sample, "Sample"))
