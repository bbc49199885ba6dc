"""Base classes of the processors of voice stages and effects."""

from __future__ import annotations

from abc import ABC, abstractmethod
from copy import copy
from dataclasses import dataclass, field, replace
from functools import cache, lru_cache
from typing import Any, ClassVar

import numpy as np
from numpy.typing import NDArray

from ...dsp import QUANTUM, RATE
from ...dsp.delays.in_place import delay_in_place
from ...dsp.dynamics.compression import STEP, STEPS
from ...patch import Choice, Control, declarations
from ..modulation import Array, Convert, ModulationValues, SmoothedParameter, TransportContext, as_factor, parameter_of

Buffer = NDArray[np.float64]


BATCH_QUANTA = 16
"""Quanta that are processed in one call where nothing changes."""


def batch_size(at: int, end: int) -> int:
    """Number of quanta that can be processed at once from sample ``at`` up to ``end``."""
    return min(BATCH_QUANTA, (end - at) // QUANTUM)


@dataclass
class VoiceContext:
    """What a stage is told about its voice, or about the latest note of a chain.

    movers: value of every mover over the quanta, by id. octaves: pitch above C2. tuning: frequency of A4 in Hz. now:
    the transport context of the first quantum. For a batch, ``each`` holds the context of every quantum.
    """

    movers: ModulationValues = field(default_factory=dict)
    octaves: Array | float = 0.0
    gliding: bool = False
    tuning: float = 440.0
    now: TransportContext = field(default_factory=TransportContext)
    quanta: int = 1
    each: tuple[VoiceContext, ...] = ()

    def quantum(self, k: int) -> VoiceContext:
        """The context of one of several quanta of a voice."""
        if self.quanta == 1:
            return self
        part = slice(k * QUANTUM, (k + 1) * QUANTUM)
        movers = {name: values[part] for name, values in self.movers.items()}
        octaves = self.octaves[part] if isinstance(self.octaves, np.ndarray) else self.octaves
        return replace(self, movers=movers, octaves=octaves, quanta=1)


class StageProcessor(ABC):
    """A stage with a mix and a trim. It is off while its mix is 0 and nothing moves it.

    ``converts``: the smoothed, movable controls, and the conversion that the loops need for each.
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
        """Latency in samples. It is the same on and off."""
        return 0

    def update(self, part: Any) -> None:
        """Apply new control values."""
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
        """Apply the controls that are not smoothed."""
        self.part = part

    def tick(self) -> None:
        """Prepare the next quantum."""
        for parameter in self.parameters.values():
            parameter.tick()
        self.settle()
        mix = self.parameters["mix"]
        still = mix.still and mix.goal == 0.0
        self.off = still and (not self.part.on or not mix.movements)

    def settle(self) -> None:
        """Find out whether any control changes, and drop the values that were derived from them.

        ``settled``: nothing turns or moves a control, so derived values can be cached in ``fixed``.
        """
        self.settled = all(k.still and not k.movements for k in self.parameters.values())
        self.fixed = {}

    def can_batch(self) -> bool:
        """Whether it can process several quanta at once now, with the same bits as one by one."""
        return self.off or (self.settled and self.can_batch_when_steady())

    def can_batch_when_steady(self) -> bool:
        """Whether it can process several quanta at once while it is on and none of its controls changes."""
        return False

    def can_span(self) -> bool:
        """Whether it can process several quanta at once while movers move its controls, with the same bits as one by
        one.
        """
        return False

    def over(self, name: str, voice: VoiceContext) -> Array:
        """A control's value over the quanta, converted for the loops."""
        return self.parameters[name].value(voice.movers, voice.quanta)

    def scaled(self, name: str, voice: VoiceContext) -> Array:
        """A control's value over the quanta, on its own scale."""
        return self.parameters[name].scale(voice.movers, quanta=voice.quanta)

    def process(self, x: Buffer, a: int, b: int, state: Any, voice: VoiceContext) -> None:
        """Process samples a..b of x, (channels, n), in place."""
        if self.off:
            self.rest(x, a, b, state)
        else:
            self.work(x, a, b, state, voice)
            if self.trim is not None:
                self.level(x, a, b, voice)

    def level(self, x: Buffer, a: int, b: int, voice: VoiceContext) -> None:
        """Apply the trim."""
        assert self.trim is not None
        if self.trim.still and not self.trim.movements and self.trim.goal == 0.0:
            return
        x[:, a:b] *= self.over("trim", voice)[a:b]

    @abstractmethod
    def work(self, x: Buffer, a: int, b: int, state: Any, voice: VoiceContext) -> None:
        """Process the sound while the stage is on."""

    def rest(self, x: Buffer, a: int, b: int, state: Any) -> None:
        """Pass the sound while the stage is off."""
        if isinstance(state, np.ndarray):
            state[:] = 0.0


@lru_cache(maxsize=1024)
def stepped(value: float, quanta: int = 1) -> Array:
    """A constant value for every step of the quanta. Shared and cached: do not write to it."""
    return np.full(quanta * STEPS, value)


_EASE = 0.5 - 0.5 * np.cos(np.pi * np.arange(1, QUANTUM + 1) / QUANTUM)
_DEAD = 1e-6


@cache
def anew(kind: type[Any]) -> tuple[str, ...]:
    """The controls of a kind with which it begins anew when they are turned."""
    return tuple(n for n, c in declarations(kind).items() if isinstance(c, Control | Choice) and c.turned == "anew")


class EffectState:
    """The state of an effect: its memory while it is on, and the delayed dry sound.

    turns: how often the effect had begun anew. leaving: the state before the last time, while it dies away.
    """

    def __init__(self) -> None:
        self.memory: Any = None
        self.lines: dict[str, Buffer] = {}
        self.turns = 0
        self.leaving: EffectState | None = None

    def parted(self, fresh: Any) -> EffectState:
        """A state that takes the memory over, which begins anew here; the delayed dry sound is in both."""
        old = EffectState()
        old.memory, self.memory = self.memory, fresh
        old.lines = {name: line.copy() for name, line in self.lines.items()}
        return old

    def delay(self, x: Buffer, lag: int, name: str = "dry") -> None:
        """Delay x, (2, n), by ``lag`` samples, in place."""
        if lag == 0:
            self.lines.pop(name, None)
            return
        line = self.lines.get(name)
        if line is None or line.shape[1] != lag:
            line = self.lines[name] = np.zeros((2, lag))
        delay_in_place(x, 0, x.shape[1], line)


class EffectProcessor(StageProcessor):
    """An effect: a stage that stands in chains only and processes whole stereo quanta.

    ``traces``: its gain over the last quanta in dB, (quanta * STEPS,), for drawings.
    """

    def __init__(self, part: Any) -> None:
        self.traces: dict[str, Array] = {}
        self._turns = 0
        self._leaver: EffectProcessor | None = None
        """This effect as it was before a control that begins it anew was turned, while its sound dies away."""
        super().__init__(part)

    def state(self) -> EffectState:
        """A new state."""
        return EffectState()

    @abstractmethod
    def initial_state(self) -> Any:
        """The memory of the effect before any sound."""

    def update(self, part: Any) -> None:
        """Apply new control values."""
        before = getattr(self, "part", part)
        if before is not part and any(getattr(before, n) != getattr(part, n) for n in anew(type(part))):  # type: ignore[arg-type]
            self._leaver = copy(self)
            self._leaver.parameters = {n: copy(p) for n, p in self.parameters.items()}
            self._leaver.fixed, self._leaver._leaver = {}, None
            self._turns += 1
        super().update(part)

    def can_batch(self) -> bool:
        """Whether it can process several quanta at once now, with the same bits as one by one."""
        return self._leaver is None and super().can_batch()

    def rest(self, x: Buffer, a: int, b: int, state: EffectState) -> None:
        """Pass the sound with the latency of the effect."""
        state.memory, state.leaving, self._leaver = None, None, None
        self.traces = {}
        state.delay(x, self.latency_of(self.part))

    def work(self, x: Buffer, a: int, b: int, state: EffectState, voice: VoiceContext) -> None:
        """Process x, (2, quanta), in place."""
        if state.memory is None:
            state.memory, state.turns = self.initial_state(), self._turns
        old = None
        if state.turns != self._turns and self._leaver is not None:
            # the new one gets its input faded in, the old one faded out; then the old one dies away
            state.leaving, state.turns = state.parted(self.initial_state()), self._turns
            old = x * (1.0 - _EASE)
            x *= _EASE
        elif state.leaving is not None:
            old = np.zeros_like(x)
        self.effect(x, state, voice)
        if old is not None and state.leaving is not None and self._leaver is not None:
            self._leaver.effect(old, state.leaving, voice)
            x += old
            if np.abs(old).max() < _DEAD:
                state.leaving, self._leaver = None, None

    @abstractmethod
    def effect(self, x: Buffer, held: EffectState, voice: VoiceContext) -> None:
        """Process x, (2, quanta), in place."""

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
        """A control in ms as a number of steps, at the end of the quantum."""
        return self.last(name, voice) * RATE / 1000.0 / STEP

    def is_still(self, *names: str) -> bool:
        """Whether none of these controls changes."""
        return all(self.parameters[n].still and not self.parameters[n].movements for n in names)
