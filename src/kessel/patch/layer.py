"""A layer: one part of the sound."""

from __future__ import annotations

from typing import Literal

from pydantic import Field, model_validator

from .base import Id, Name, Part, distinct
from .conditions import above, when
from .controls import choice, control, toggle
from .effects import MOST_RETURNS, Branches, ChainItem, Send, Stage, built_in_sends
from .movement import LevelEnvelope
from .sources import Oscillator, Source, stage_of
from .voice_row import can_feed_back

HATCHES = ("level", "rising", "cross", "dots", "upright", "falling", "bricks", "waves")


class Unison(Part):
    """Copies of the whole layer."""

    copies: int = control("Voices", "count", 1, 16, 1, whole=True, step=1, help="Number of detuned copies.")
    detune: float = control(
        "Detune",
        "ct",
        0,
        100,
        12,
        moves=True,
        shown_if=above("copies", 1),
        turned="fades",
        help="Detune of the outermost copies.",
    )
    width: float = control(
        "Width",
        "%",
        0,
        100,
        60,
        step=1,
        shown_if=above("copies", 1),
        turned="fades",
        help="Stereo spread of the copies.",
    )
    spread: float = control(
        "Phase spread",
        "%",
        0,
        100,
        100,
        step=1,
        shown_if=above("copies", 1),
        help="Start phases: 0 % all equal, which jumps; 100 % spread over the cycle.",
    )
    phases: Literal["steady", "even"] = choice(
        "Start phases",
        "steady",
        shown_if=above("copies", 1),
        help="Steady keeps the lows as loud as one copy while the copies drift apart. Even spreads the copies evenly, "
        "which takes the lows away at first.",
    )


class Range(Part):
    """The low and high cut of a layer, 24 dB per octave."""

    low: float = control(
        "Low cut",
        "Hz",
        20,
        20000,
        20,
        taper="log",
        off_low="open",
        help="High-pass filter at 24 dB per octave: the layer has nothing below.",
    )
    high: float = control(
        "High cut",
        "Hz",
        20,
        20000,
        20000,
        taper="log",
        off_high="open",
        help="Low-pass filter at 24 dB per octave: the layer has nothing above.",
    )
    where: Literal["before", "after", "both"] = choice(
        "Range cuts", "after", help="Apply the cuts before the layer's chain, after it, or both."
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
        help="Mono restarts every note. Legato glides between overlapping notes. Voices lets notes sound together. "
        "Drone sounds as long as the phrase runs.",
    )
    voices: int = control(
        "Voices at once",
        "count",
        1,
        8,
        4,
        whole=True,
        step=1,
        shown_if=when("mode", "voices"),
        help="How many notes can sound at once.",
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
        help="0 % is straight. Positive values move the pitch early, negative late.",
    )
    glide_when: Literal["overlap", "always"] = choice(
        "Glide when",
        "overlap",
        shown_if=above("glide", 0),
        help="Between overlapping notes only, or always.",
    )
    bend_range: float = control(
        "Bend range", "st", 0, 48, 2, step=1, help="Range of the pitch bend. At 0 the bend has no effect on this layer."
    )
    transpose: int = control(
        "Transpose", "st", -48, 48, 0, whole=True, step=1, help="Transposes the layer, in semitones."
    )
    fine: float = control("Fine", "ct", -100, 100, 0, help="Tunes the layer, in cents.")
    pitch: float = control(
        "Pitch",
        "st",
        -48,
        48,
        0,
        step=0.1,
        moves=True,
        help="Pitch of the layer, for drops and rises. Movements of it act on all its sources.",
    )
    interval: float = control(
        "Added interval",
        "st",
        -24,
        24,
        7,
        step=1,
        shown_if=above("interval_level", -72),
        help="Interval of the added voice above the note.",
    )
    interval_level: float = control(
        "Added voice",
        "dB",
        -72,
        6,
        -72,
        moves=True,
        off_low="off",
        help="Level of a second voice at the added interval.",
    )
    velocity: float = control("Velocity", "dB", 0, 48, 6, help="How much softer the softest note is than the hardest.")


class Layer(Part):
    """One part of the bass: sources, voice stages, level envelope, chain, range, mix."""

    id: Id
    name: Name
    hatch: Literal["level", "rising", "cross", "dots", "upright", "falling", "bricks", "waves"] = "rising"
    path: Literal["clean", "worked"] = choice(
        "Path", "worked", help="Clean: straight to the output stage. Worked: through the shared chain first."
    )
    mute: bool = toggle("Mute", False, help="Removes the layer from the sum. It keeps running.")
    level: float = control("Level", "dB", -72, 12, -6, moves=True, off_low="off", help="Level of the layer in the sum.")
    pan: float = control("Pan", "%", -100, 100, 0, step=1, moves=True, help="Left or right of the middle.")
    width: float = control(
        "Width", "%", 0, 200, 100, step=1, moves=True, help="0 % is mono, 100 % leaves the layer unchanged."
    )
    polarity: Literal["normal", "inverted"] = choice(
        "Polarity", "normal", help="Inverted reverses the layer's polarity: it subtracts where it added."
    )
    delay: float = control("Delay", "ms", 0, 50, 0, taper="ease", step=0.01, help="Delays the layer.")
    link_group: str = Field(
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
                if stage_of(m.source):
                    can_feed_back(self, stage_of(m.source))
                elif m.source not in by_id:
                    raise ValueError(f"{s.name} is modulated by “{m.source}”, which is no source of {self.name}")
            if isinstance(s, Oscillator) and s.sync == "source" and s.sync_to:
                master = by_id.get(s.sync_to)
                if not isinstance(master, Oscillator) or master is s:
                    raise ValueError(f"{s.name} can be synced to another oscillator of {self.name} only")
        return self
