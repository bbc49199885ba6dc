"""A layer: one part of the sound."""

from __future__ import annotations

from typing import Literal

from pydantic import Field, model_validator

from .base import Id, Name, Part, distinct
from .conditions import above, when
from .controls import choice, control, toggle
from .effects import MOST_RETURNS, Branches, ChainItem, Send, Stage, built_in_sends
from .movement import LevelEnvelope
from .sources import Oscillator, Source

HATCHES = ("level", "rising", "cross", "dots", "upright", "falling", "bricks", "waves")


class Unison(Part):
    """Copies of the whole layer."""

    copies: int = control(
        "Voices", "count", 1, 16, 1, whole=True, step=1, help="Copies of the layer sounding together."
    )
    detune: float = control(
        "Detune", "ct", 0, 100, 12, shown_if=above("copies", 1), help="Distance of the outermost copies from the note."
    )
    width: float = control(
        "Width",
        "%",
        0,
        100,
        60,
        step=1,
        shown_if=above("copies", 1),
        help="How far the copies stand apart between the sides.",
    )
    spread: float = control(
        "Phase spread",
        "%",
        0,
        100,
        100,
        step=1,
        shown_if=above("copies", 1),
        help="0 % starts all copies together, 100 % evenly around the cycle.",
    )


class Range(Part):
    """The low and high cut of a layer, 24 dB per octave."""

    low: float = control(
        "Low edge", "Hz", 20, 20000, 20, taper="log", off_low="open", help="Nothing of the layer passes below."
    )
    high: float = control(
        "High edge", "Hz", 20, 20000, 20000, taper="log", off_high="open", help="Nothing of the layer passes above."
    )
    where: Literal["before", "after", "both"] = choice(
        "Edges stand", "after", help="Before the layer's chain, after it, or both."
    )

    @model_validator(mode="after")
    def _in_order(self) -> Range:
        if self.low >= self.high:
            raise ValueError("the low edge has to stay below the high edge")
        return self


class Play(Part):
    """How notes are assigned to voices."""

    mode: Literal["mono", "legato", "voices", "drone"] = choice(
        "Play",
        "mono",
        help="Mono starts every note anew; legato slides on when notes overlap; voices sound together; "
        "drone never stops while the phrase runs.",
    )
    voices: int = control(
        "Most voices",
        "count",
        1,
        8,
        4,
        whole=True,
        step=1,
        shown_if=when("mode", "voices"),
        help="How many notes sound together.",
    )
    glide: float = control("Glide", "ms", 0, 2000, 0, taper="ease", step=1, help="Time from one pitch to the next.")
    glide_curve: float = control(
        "Glide curve",
        "%",
        -100,
        100,
        0,
        step=1,
        shown_if=above("glide", 0),
        help="0 % is even; above it the pitch goes early, below it late.",
    )
    glide_when: Literal["overlap", "always"] = choice(
        "Glide when",
        "overlap",
        shown_if=above("glide", 0),
        help="Only where notes overlap, or from every note to the next.",
    )
    bend_range: float = control(
        "Bend range", "st", 0, 48, 2, step=1, help="How far the bend takes this layer; 0 keeps it where it is."
    )
    transpose: int = control("Transpose", "st", -48, 48, 0, whole=True, step=1, help="The whole layer in semitones.")
    fine: float = control("Fine", "ct", -100, 100, 0, help="The whole layer in hundredths of a semitone.")
    pitch: float = control(
        "Pitch",
        "st",
        -48,
        48,
        0,
        step=0.1,
        moves=True,
        help="The whole layer, for drops and rises: what moves it acts on all.",
    )
    interval: float = control(
        "Added interval",
        "st",
        -24,
        24,
        7,
        step=1,
        shown_if=above("interval_level", -72),
        help="Distance of the added voice.",
    )
    interval_level: float = control(
        "Added voice", "dB", -72, 6, -72, off_low="off", help="Level of a second voice at the interval."
    )
    velocity: float = control("Velocity", "dB", 0, 48, 6, help="How much softer the softest note is than the hardest.")


class Layer(Part):
    """One part of the bass: sources, voice stages, level envelope, chain, range, mix."""

    id: Id
    name: Name
    hatch: Literal["level", "rising", "cross", "dots", "upright", "falling", "bricks", "waves"] = "rising"
    path: Literal["clean", "worked"] = choice(
        "Path", "worked", help="Straight to the output stage, or through the shared chain first."
    )
    mute: bool = toggle("Mute", False, help="Takes the layer out of the sum; it goes on running.")
    level: float = control("Level", "dB", -72, 12, -6, moves=True, off_low="off", help="Level of the layer in the sum.")
    pan: float = control("Pan", "%", -100, 100, 0, step=1, help="Left or right of the middle.")
    width: float = control("Width", "%", 0, 200, 100, step=1, help="0 % folds the layer to mono, 100 % leaves it.")
    polarity: Literal["normal", "flipped"] = choice(
        "Polarity", "normal", help="Flipped turns the layer upside down, so that it takes away where it used to add."
    )
    delay: float = control("Delay", "ms", 0, 50, 0, taper="ease", step=0.01, help="Holds the whole layer back.")
    in_step: str = Field(
        default="",
        max_length=64,
        description="Layers of one word have their voice stages, their envelopes and what moves those turned together.",
    )
    play: Play = Field(default_factory=Play)
    unison: Unison = Field(default_factory=Unison)
    sources: list[Source] = Field(default_factory=list, max_length=10)
    stages: list[Stage] = Field(default_factory=list, max_length=6)
    branches: Branches = Field(default_factory=Branches)
    envelope: LevelEnvelope = Field(default_factory=LevelEnvelope)
    range: Range = Field(default_factory=Range)
    chain: list[ChainItem] = Field(default_factory=list, max_length=12)
    sends: list[Send] = Field(default_factory=built_in_sends, max_length=MOST_RETURNS)

    @model_validator(mode="after")
    def _hangs_together(self) -> Layer:
        distinct(list(self.sources), "sources")
        distinct(list(self.stages), "voice stages")
        distinct(list(self.chain), "chain items")
        distinct(list(self.sends), "sends")
        for kind, most, what in (("oscillator", 6, "oscillators"), ("noise", 2, "noises"), ("sample", 2, "samples")):
            if sum(s.kind == kind for s in self.sources) > most:
                raise ValueError(f"{self.name} has {most} {what} at most: take one away first, or use another layer")
        by_id = {s.id: s for s in self.sources}
        for s in self.sources:
            distinct(list(s.modulators), "modulators")
            for m in s.modulators:
                if m.source not in by_id:
                    raise ValueError(f"{s.name} is modulated by “{m.source}”, which is no source of {self.name}")
            if isinstance(s, Oscillator) and s.sync == "source" and s.sync_to:
                master = by_id.get(s.sync_to)
                if not isinstance(master, Oscillator) or master is s:
                    raise ValueError(f"{s.name} can be synced to another oscillator of {self.name} only")
        return self
