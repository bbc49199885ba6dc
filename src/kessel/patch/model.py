"""A patch: one bass sound."""

from __future__ import annotations

from typing import Literal

from pydantic import Field, model_validator

from .audio_rate import can_be_fed, source_of
from .backing import Backing
from .base import Id, Name, Part, distinct
from .binding import MOST_BINDINGS, Binding
from .conditions import when
from .control_path import ControlPath
from .controls import choice, control, toggle
from .effects import MOST_RETURNS, ChainItem, Kick, Return, Send, built_in_returns, built_in_sends
from .layer import Layer
from .movement import (
    MOST_MACROS,
    AudioRate,
    Blend,
    Envelope,
    Follower,
    Macro,
    Movement,
    Mover,
    Stance,
    Tie,
    amp_envelopes,
    cycle_of,
    layer_dependencies,
    mover_dependencies,
)
from .paths import lookup, movable
from .phrase import Phrase
from .sources import Oscillator, Wave, known_wave

FORMAT: Literal["kessel-patch"] = "kessel-patch"
VERSION: Literal[5] = 5


class Split(Part):
    """An edge shared by two layers: the high cut of the lower one and the low cut of the upper one."""

    id: Id
    lower: Id
    upper: Id


class Ceiling(Part):
    """The ceiling of the output: a true-peak limiter or a clip."""

    on: bool = toggle("Ceiling", True, help="Keeps the peaks of the output under the limit.")
    mode: Literal["limiter", "soft clip", "hard clip"] = choice(
        "Mode",
        "limiter",
        help="Limiter reduces the gain before a true peak, soft clip rounds peaks over the limit, hard clip cuts them.",
    )
    limit: float = control(
        "Limit", "dB", -24, 0, -1.2, help="Highest output level. The limiter holds the true peak to it."
    )
    release: float = control(
        "Release",
        "ms",
        5,
        1000,
        80,
        taper="log",
        shown_if=when("mode", "limiter"),
        help="Time in which the gain recovers after a peak.",
    )


class Duck(Kick):
    """A duck of the whole output by the kick of the backing beat."""

    on: bool = toggle("Duck", False, help="Reduces the level while the kick of the built-in beat sounds.")
    depth: float = control("Depth", "dB", 0, 60, 6, help="How far the level is reduced.")


class Output(Part):
    """The output stage: duck, gain, mono fold, ceiling, trim."""

    duck: Duck = Field(default_factory=Duck)
    gain: float = control("Gain", "dB", -36, 24, 0, help="Gain before the ceiling.")
    fold: bool = toggle("Mono fold", False, help="Removes the side signal below the mono edge. The mid signal stays.")
    mono_below: float = control(
        "Mono below",
        "Hz",
        40,
        500,
        120,
        taper="log",
        shown_if=when("fold", True) & when("fold_follows", False),
        help="The output is mono below this frequency.",
    )
    fold_follows: bool = toggle(
        "Mono edge follows the note",
        False,
        shown_if=when("fold", True),
        help="Sets the mono edge as a multiple of the latest note's frequency.",
    )
    fold_times: float = control(
        "Mono edge, times the note",
        "x",
        1,
        16,
        3,
        taper="log",
        step=0.01,
        shown_if=when("fold", True) & when("fold_follows", True),
        help="1 is the note's fundamental.",
    )
    ceiling: Ceiling = Field(default_factory=Ceiling)
    trim: float = control("Trim", "dB", -24, 0, 0, help="Gain after the ceiling.")


class Wanted(Part):
    """A finding that is accepted for a patch, and why."""

    finding: str = Field(min_length=1, max_length=200)
    reason: str = Field(min_length=1, max_length=200)


class Patch(Part):
    """One bass sound, with the phrase it is judged on."""

    format: Literal["kessel-patch"] = FORMAT
    version: Literal[5] = VERSION
    name: Name
    note: str = Field(default="", max_length=2000)
    tempo: float = control("Tempo", "BPM", 40, 240, 128, step=0.1, help="Beats per minute.")
    tuning: float = control("Tuning", "Hz", 400, 480, 440, step=0.1, help="Frequency of A4.")
    seed: int = Field(default=1, ge=0, le=2**31 - 1)
    phrase: Phrase = Field(default_factory=Phrase)
    layers: list[Layer] = Field(min_length=1, max_length=8)
    splits: list[Split] = Field(default_factory=list, max_length=7)
    movers: list[Mover] = Field(default_factory=list, max_length=32)
    movements: list[Movement] = Field(default_factory=list, max_length=128)
    ties: list[Tie] = Field(default_factory=list, max_length=16)
    stances: list[Stance] = Field(default_factory=list, max_length=16)
    blend: Blend = Field(default_factory=Blend)
    pins: list[str] = Field(default_factory=list, max_length=16)
    bindings: list[Binding] = Field(default_factory=list, max_length=MOST_BINDINGS)
    worked: list[ChainItem] = Field(default_factory=list, max_length=12)
    returns: list[Return] = Field(default_factory=built_in_returns, max_length=MOST_RETURNS)
    sends: list[Send] = Field(default_factory=built_in_sends, max_length=MOST_RETURNS)
    output: Output = Field(default_factory=Output)
    waves: list[Wave] = Field(default_factory=list, max_length=16)
    backing: Backing = Field(default_factory=Backing)
    wanted: list[Wanted] = Field(default_factory=list, max_length=64)

    def layer(self, layer_id: str) -> Layer:
        """The layer with this id. Raises KeyError."""
        for layer in self.layers:
            if layer.id == layer_id:
                return layer
        raise KeyError(layer_id)

    @model_validator(mode="after")
    def _hangs_together(self) -> Patch:
        for parts, what in (
            (self.layers, "layers"),
            (self.splits, "splits"),
            (self.movers, "movers"),
            (self.movements, "movements"),
            (self.ties, "ties"),
            (self.stances, "stances"),
            (self.bindings, "bindings"),
            (self.worked, "chain items"),
            (self.returns, "returns"),
            (self.sends, "sends"),
            (self.waves, "drawn waves"),
            (self.backing.loops, "backing loops"),
            (self.backing.patches, "backing patches"),
        ):
            distinct(list(parts), what)
        by_id = {layer.id: layer for layer in self.layers}
        for split in self.splits:
            if split.lower not in by_id or split.upper not in by_id or split.lower == split.upper:
                raise ValueError(f"split “{split.id}” needs two layers of this patch")
            if by_id[split.lower].range.high != by_id[split.upper].range.low:
                raise ValueError(f"split “{split.id}” ties two edges that differ")
        for layer in self.layers:
            for source in layer.sources:
                if isinstance(source, Oscillator) and not known_wave(self.waves, source.wave):
                    raise ValueError(f"{layer.name} {source.name} plays a drawn wave that is not there: pick another")
        if sum(isinstance(m, Macro) for m in self.movers) > MOST_MACROS:
            raise ValueError(f"a patch has {MOST_MACROS} macros at most")
        self._movers_hang_together()
        return self

    def _movers_hang_together(self) -> None:
        movers = {m.id: m for m in self.movers}
        layers = {layer.id for layer in self.layers}
        for mover in self.movers:
            if isinstance(mover, Follower) and mover.layer and mover.layer not in layers:
                raise ValueError(f"{mover.name} follows “{mover.layer}”, which is no layer of this patch")
            if isinstance(mover, AudioRate) and mover.source:
                source_of(self, mover)
        for path, envelope in amp_envelopes(self).items():
            if not isinstance(movers.get(envelope), Envelope):
                source = lookup(self, ControlPath(path).parent)[2]
                raise ValueError(f"{source.name} has no envelope “{envelope}”: pick one of this patch, or none")
        for movement in self.movements:
            self._has_its_movers(movement, movers)
        circle = cycle_of(mover_dependencies(self.movements))
        if circle:
            names = " and ".join(movers[i].name for i in circle)
            raise ValueError(f"{names} would move each other in a circle: let one of them go first")
        circle = cycle_of(layer_dependencies(self))
        if circle:
            names = " and ".join(self.layer(i).name for i in circle)
            raise ValueError(f"{names} would follow each other in a circle: let one of them go first")

    def _has_its_movers(self, movement: Movement, movers: dict[str, Mover]) -> None:
        """Raise ValueError if a movement lacks a mover, or its movers can't move its target."""
        named = [i for i in (movement.mover, movement.scaled_by) if i]
        for one in named:
            if one not in movers:
                raise ValueError(f"movement “{movement.id}” has no mover “{one}”")
        if movement.lost:
            return
        movable(self, movement.target)
        for feed in (movers[i] for i in named):
            if isinstance(feed, AudioRate) and feed.source:
                can_be_fed(self, feed, movement.target)
