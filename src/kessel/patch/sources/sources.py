"""Sources: what makes sound in a layer."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from ..base import Id, Name, Part
from ..conditions import above, below, unless, when
from ..controls import choice, control, pick, toggle
from ..kinds import Kind

Destination = Literal["stages", "past", "nowhere"]
PlainShape = Literal["sine", "triangle", "saw", "square"]

_GOES = "Into the voice stages, past them, or nowhere: heard only through what it modulates."
_LEVEL = "Level of this source within its layer."
_FLIP = "Flipped turns the wave upside down, so that it takes away where it used to add."

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


class SourceModulation(Part):
    """One source of a layer modulating another: its phase (FM) or its level (ring)."""

    id: Id
    source: Id
    way: Literal["phase", "ring"] = choice(
        "Works on", "phase", help="Phase is FM: the other source swings this one's phase. Ring multiplies the two."
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
        help="How far the other source swings this one's phase at its peak; 57.3° is an FM index of 1. "
        "Of a recording, 360° is one cycle of its root pitch.",
    )
    share: float = control(
        "Ring share", "%", 0, 100, 100, step=1, moves=True, help="How much of this source is multiplied by the other."
    )


class Oscillator(Part):
    """A periodic source."""

    kind: Literal["oscillator"] = "oscillator"
    id: Id
    name: Name
    shape: Literal["sine", "triangle", "saw", "pulse", "mix", "drawn"] = choice(
        "Shape", "saw", help="A plain wave, a mix of two of them, or a drawn wave."
    )
    pulse_width: float = control(
        "Pulse width",
        "%",
        1,
        99,
        50,
        moves=True,
        shown_if=when("shape", "pulse"),
        help="Share of the cycle a pulse stays up; 50 % is a square.",
    )
    mix_a: PlainShape = choice(
        "Mix from", "triangle", shown_if=when("shape", "mix"), help="The wave that is heard alone at a mix of 0 %."
    )
    mix_b: PlainShape = choice(
        "Mix to", "saw", shown_if=when("shape", "mix"), help="The wave that is heard alone at a mix of 100 %."
    )
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
        help="The drawn wave; the arrows step through all of them.",
    )
    position: float = control(
        "Frame place",
        "%",
        0,
        100,
        0,
        moves=True,
        shown_if=when("shape", "drawn"),
        help="Place along the frames of the drawn wave, first to last.",
    )
    octave: int = control("Octave", "count", -4, 4, 0, whole=True, step=1, help="Whole octaves up or down.")
    semitones: float = control(
        "Semitones", "st", -24, 24, 0, step=1, moves=True, help="Pitch against the note played, in semitones."
    )
    cents: float = control("Cents", "ct", -100, 100, 0, moves=True, help="Fine pitch in hundredths of a semitone.")
    ratio: float = control(
        "Ratio", "x", 0.0625, 32, 1, taper="log", step=0.001, help="Free multiple of the pitch; 3/2 can be typed."
    )
    offset: float = control(
        "Offset", "Hz", -50, 50, 0, step=0.01, help="A fixed distance in Hz: beats equally fast on every note."
    )
    drift: float = control("Drift", "ct", 0, 50, 0, help="Slow seeded wander of the pitch, its own for every copy.")
    level: float = control("Level", "dB", -72, 12, 0, moves=True, off_low="off", help=_LEVEL)
    polarity: Literal["normal", "flipped"] = choice("Polarity", "normal", help=_FLIP)
    start: Literal["restart", "free", "chance"] = choice(
        "Start",
        "restart",
        help="Where a note finds the cycle: always at the start phase, wherever it runs, or near it.",
    )
    phase: float = control(
        "Start phase", "deg", 0, 360, 0, step=0.1, help="Point of the cycle at which every note begins."
    )
    chance: float = control(
        "Phase chance",
        "deg",
        0,
        180,
        30,
        shown_if=when("start", "chance"),
        help="How far either side of the start phase a note may begin.",
    )
    unison: bool = toggle(
        "In unison",
        True,
        shown_if=above("owner.unison.copies", 1),
        help="Off keeps this source single while its layer is in unison.",
    )
    to: Destination = choice("Goes to", "stages", help=_GOES)
    sync: Literal["off", "own", "source"] = choice(
        "Hard sync", "off", help="Cuts the cycle off: at its own pitch, while the wave runs faster, or at a source's."
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
        help="How much faster the wave runs than the cycle that cuts it.",
    )
    twin: Literal["off", "add", "subtract", "multiply"] = choice(
        "Twin", "off", help="The wave with a shifted copy of itself: added, subtracted or multiplied."
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
        help="How far the copy is shifted along the cycle.",
    )
    skew: float = control(
        "Skew",
        "%",
        -95,
        95,
        0,
        step=1,
        moves=True,
        help="Bends the phase: the first half of the cycle goes by faster or slower.",
    )
    partial_low: float = control(
        "From partial", "count", 1, 64, 1, step=0.1, moves=True, help="Partials below this one are left out."
    )
    partial_high: float = control(
        "To partial", "count", 1, 256, 256, taper="log", step=0.1, moves=True, off_high="all",
        help="Partials above this one are left out; 3 keeps a sub of three partials.",
    )  # fmt: skip
    partial_edge: float = control(
        "Window edge",
        "count",
        0,
        16,
        1,
        step=0.1,
        shown_if=above("partial_low", 1) | below("partial_high", 256),
        help="Over how many partials the window fades at its ends.",
    )
    stretch: float = control(
        "Stretch", "%", -50, 100, 0, moves=True, help="Moves the partials off whole numbers: 10 % sets them 1.1 apart."
    )
    scatter: float = control(
        "Scatter",
        "%",
        0,
        100,
        0,
        step=1,
        moves=True,
        help="Reorders the partials above the first by chance, from not at all to wholly.",
    )
    feedback: float = control(
        "Feedback", "%", 0, 100, 0, moves=True, help="The oscillator swings its own phase; 100 % is 90° at its peak."
    )
    modulators: list[SourceModulation] = Field(default_factory=list, max_length=8)


class Noise(Part):
    """An unpitched source."""

    kind: Literal["noise"] = "noise"
    id: Id
    name: Name
    colour: Literal["white", "pink", "brown"] = choice(
        "Colour", "white", help="White is flat, pink falls by 3 dB an octave, brown by 6."
    )
    level: float = control("Level", "dB", -72, 12, -12, moves=True, off_low="off", help=_LEVEL)
    width: float = control(
        "Width", "%", 0, 100, 0, step=1, help="0 % is one noise in the middle, 100 % one of its own for each side."
    )
    polarity: Literal["normal", "flipped"] = choice("Polarity", "normal", help=_FLIP)
    to: Destination = choice("Goes to", "stages", help=_GOES)
    modulators: list[SourceModulation] = Field(default_factory=list, max_length=8)

    @model_validator(mode="after")
    def _has_no_phase(self) -> Noise:
        if any(m.way == "phase" for m in self.modulators):
            raise ValueError(f"{self.name} is noise and has no phase to swing: let the source work on its level (ring)")
        return self


class Sample(Part):
    """A recorded source."""

    kind: Literal["sample"] = "sample"
    id: Id
    name: Name
    audio: str = pick("Audio", "audio", "click:tick", help="One of the attack clicks, or imported or frozen audio.")
    title: str = Field(default="", max_length=60)
    play: Literal["once", "loop"] = choice("Plays", "once", help="Once from start to end, or round and round.")
    begins: Literal["note", "phrase"] = choice(
        "Begins", "note", help="Every note starts it anew, or it runs in step with the phrase and notes open it."
    )
    start: float = control("Start", "ms", 0, 60000, 0, taper="ease", step=0.1, help="Where in the audio it begins.")
    end: float = control(
        "End", "ms", 1, 60000, 60000, taper="ease", step=0.1, off_high="end", help="Where in the audio it ends."
    )
    follows: Literal["fixed", "note"] = choice(
        "Pitch", "fixed", help="Fixed plays as recorded; note follows the note played from the root pitch."
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
    octave: int = control("Octave", "count", -4, 4, 0, whole=True, step=1, help="Whole octaves up or down.")
    semitones: float = control("Semitones", "st", -24, 24, 0, step=1, moves=True, help="Pitch in semitones.")
    cents: float = control("Cents", "ct", -100, 100, 0, moves=True, help="Fine pitch in hundredths of a semitone.")
    level: float = control("Level", "dB", -72, 12, 0, moves=True, off_low="off", help=_LEVEL)
    width: float = control("Width", "%", 0, 100, 100, step=1, help="0 % folds the recording to mono.")
    polarity: Literal["normal", "flipped"] = choice("Polarity", "normal", help=_FLIP)
    to: Destination = choice("Goes to", "stages", help=_GOES)
    modulators: list[SourceModulation] = Field(default_factory=list, max_length=8)

    @model_validator(mode="after")
    def _in_order(self) -> Sample:
        if self.start >= self.end:
            raise ValueError(f"the start of {self.name} has to stay before its end")
        return self


Source = Annotated[Oscillator | Noise | Sample, Field(discriminator="kind")]
SOURCES = (Kind(Oscillator, "Oscillator"), Kind(Noise, "Noise"), Kind(Sample, "Sample"))
