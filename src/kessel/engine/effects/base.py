"""What running voice stages and chain items have in common."""

from __future__ import annotations

from abc import ABC, abstractmethod
from dataclasses import dataclass, field
from functools import lru_cache
from typing import Any, ClassVar

import numpy as np
from numpy.typing import NDArray

from ...dsp import QUANTUM, RATE
from ...dsp.dynamics.compression import STEP, STEPS
from ...dsp.nonlinear.soft_clip import hold_back
from ..modulation import Array, Convert, ModulationValues, SmoothedParameter, TransportContext, as_factor, parameter_of

Buffer = NDArray[np.float64]


@lru_cache(maxsize=1024)
def constant_block(value: float) -> Array:
    """A quantum of one value, shared and not to be written to."""
    made = np.full(QUANTUM, value)
    return made


@lru_cache(maxsize=40)
def constant_batch(value: float, quanta: int) -> Array:
    """One value over several quanta, shared and not to be written to."""
    return np.full(quanta * QUANTUM, value)


BATCH_QUANTA = 16
"""Quanta that are worked on at once where nothing changes."""


def batch_size(at: int, end: int) -> int:
    """How many quanta can be worked on at once from sample ``at`` on up to ``end``."""
    return min(BATCH_QUANTA, (end - at) // QUANTUM)


@dataclass
class VoiceContext:
    """What a voice tells its stages, or the latest note a chain: its movers' values, its pitch over C2 in octaves, the
    tuning of A4 in Hz, and the moment. For several quanta at once ``each`` holds it for every one of them."""

    movers: ModulationValues = field(default_factory=dict)
    octaves: Array | float = 0.0
    gliding: bool = False
    tuning: float = 440.0
    now: TransportContext = field(default_factory=TransportContext)
    quanta: int = 1
    each: tuple[VoiceContext, ...] = ()


class StageProcessor(ABC):
    """A stage with a mix and a level after it; off is a mix of nothing that nothing moves.

    ``converts``: its controls that are smoothed and can be moved, and what the loops want of them.
    """

    converts: ClassVar[dict[str, Convert]] = {}

    def __init__(self, part: Any) -> None:
        self.parameters = {name: parameter_of(part, name, convert) for name, convert in self.converts.items()}
        self.trim: SmoothedParameter | None = None
        if "trim" not in self.converts:
            self.trim = self.parameters["trim"] = parameter_of(part, "trim", as_factor)
        if not part.on:
            mix = self.parameters["mix"].control
            self.parameters["mix"] = SmoothedParameter(mix, 0.0, self.converts["mix"])
        self.part = part
        self.off = False
        self.settled = False
        self.fixed: dict[Any, Any] = {}
        self.update(part)

    @staticmethod
    def latency_of(part: Any) -> int:
        """Latency in samples, on or off."""
        return 0

    def update(self, part: Any) -> None:
        """Take over turned controls."""
        for name in self.converts:
            self.parameters[name].turn(float(getattr(part, name)))
        if self.trim is not None:
            self.trim.turn(part.trim)
        if not part.on:
            self.parameters["mix"].turn(0.0)
            if self.trim is not None:
                self.trim.turn(0.0)
        self.take(part)

    def take(self, part: Any) -> None:
        """Take over what is not smoothed."""
        self.part = part

    def tick(self) -> None:
        """Prepare a quantum."""
        for parameter in self.parameters.values():
            parameter.tick()
        self.settle()
        mix = self.parameters["mix"]
        still = mix.still and mix.goal == 0.0
        self.off = still and (not self.part.on or not mix.movements)

    def settle(self) -> None:
        """Take note of whether anything changes; what was made of the controls counts no more.

        ``settled``: nothing turns or moves any control, so that what is made of them can be kept in ``fixed``.
        """
        self.settled = all(k.still and not k.movements for k in self.parameters.values())
        self.fixed = {}

    def can_batch(self) -> bool:
        """Whether it can work on several quanta at once as it stands: what it keeps sounds bit by bit the same."""
        return self.off or (self.settled and self.can_batch_when_steady())

    def can_batch_when_steady(self) -> bool:
        """Whether it can do so while it works and nothing turns or moves its controls."""
        return False

    def over(self, name: str, voice: VoiceContext) -> Array:
        """A control's value over the quantum or quanta, as the loops want it."""
        parameter = self.parameters[name]
        return (
            parameter.value(voice.movers)
            if voice.quanta == 1
            else constant_batch(float(parameter.converted[0]), voice.quanta)
        )

    def process(self, x: Buffer, a: int, b: int, state: Any, voice: VoiceContext) -> None:
        """Work on samples a..b of x, (channels, n), in place."""
        if self.off:
            self.rest(x, a, b, state)
        else:
            self.work(x, a, b, state, voice)
            if self.trim is not None:
                self.level(x, a, b, voice)

    def level(self, x: Buffer, a: int, b: int, voice: VoiceContext) -> None:
        """The level after it."""
        assert self.trim is not None
        if self.trim.still and not self.trim.movements and self.trim.goal == 0.0:
            return
        x[:, a:b] *= self.over("trim", voice)[a:b]

    @abstractmethod
    def work(self, x: Buffer, a: int, b: int, state: Any, voice: VoiceContext) -> None:
        """Work on the sound."""

    def rest(self, x: Buffer, a: int, b: int, state: Any) -> None:
        """Let the sound pass."""
        if isinstance(state, np.ndarray):
            state[:] = 0.0


@lru_cache(maxsize=1024)
def stepped(value: float, quanta: int = 1) -> Array:
    """One value for every step of the quanta, shared and not to be written to."""
    return np.full(quanta * STEPS, value)


class EffectState:
    """The state of an effect: what it keeps while it works, and the dry sound held back."""

    def __init__(self) -> None:
        self.memory: Any = None
        self.lines: dict[str, Buffer] = {}

    def delay(self, x: Buffer, lag: int, name: str = "dry") -> None:
        """Hold x, (2, n), back by so many samples, in place."""
        if lag == 0:
            self.lines.pop(name, None)
            return
        line = self.lines.get(name)
        if line is None or line.shape[1] != lag:
            line = self.lines[name] = np.zeros((2, lag))
        hold_back(x, 0, x.shape[1], line)


class EffectProcessor(StageProcessor):
    """An effect: a stage of chains only, on whole quanta of two sides.

    ``traces``: what it did over the last quanta in dB, (quanta * STEPS,), by what it concerns, for those who draw it.
    """

    def __init__(self, part: Any) -> None:
        self.traces: dict[str, Array] = {}
        super().__init__(part)

    def state(self) -> EffectState:
        """At rest."""
        return EffectState()

    @abstractmethod
    def initial_state(self) -> Any:
        """What it keeps while it works, at rest."""

    def rest(self, x: Buffer, a: int, b: int, state: EffectState) -> None:
        """Let the sound pass, as late as it would be."""
        state.memory = None
        self.traces = {}
        state.delay(x, self.latency_of(self.part))

    def work(self, x: Buffer, a: int, b: int, state: EffectState, voice: VoiceContext) -> None:
        """Work on x, (2, quanta), in place."""
        if state.memory is None:
            state.memory = self.initial_state()
        self.effect(x, state, voice)

    @abstractmethod
    def effect(self, x: Buffer, held: EffectState, voice: VoiceContext) -> None:
        """Work on x, (2, quanta), in place."""

    def steps(self, name: str, voice: VoiceContext) -> Array:
        """A control's value at the end of every step of the quantum."""
        parameter = self.parameters[name]
        if parameter.still and not parameter.movements:
            return stepped(float(parameter.converted[0]), voice.quanta)
        return np.ascontiguousarray(parameter.value(voice.movers)[STEP - 1 :: STEP])

    def last(self, name: str, voice: VoiceContext) -> float:
        """A control's value at the end of the quantum."""
        return float(self.parameters[name].value(voice.movers)[-1])

    def held(self, name: str, voice: VoiceContext) -> float:
        """A control in ms, as steps, at the end of the quantum."""
        return self.last(name, voice) * RATE / 1000.0 / STEP

    def is_still(self, *names: str) -> bool:
        """Whether none of these controls changes."""
        return all(self.parameters[n].still and not self.parameters[n].movements for n in names)
