"""Processors of the movers, one class a kind."""

from __future__ import annotations

import math
from abc import ABC, abstractmethod
from functools import cache
from typing import Any

import numpy as np

from ...dsp import QUANTUM, RATE
from ...dsp.chance import share
from ...dsp.lfo import Drawn, follow, roll_sine, swing
from ...patch import MOVERS, Control, Curve, Envelope, Follower, Lfo, Macro, Mover, Performance, declarations
from ..clock import samples_per_beat
from .controllers import values
from .envelopes import EnvelopeProcessor
from .parameters import Array, ModulationValues, SmoothedParameter, as_is, as_share, parameter_of
from .transport import TransportContext
from .voice import Voice


@cache
def _samples(size: int) -> Array:
    """0, 1, 2 and so on. Shared: do not write to it."""
    return np.arange(size, dtype=np.float64)


_MACRO_STEP = 0.005
"""Seconds that a step in a macro's automation takes."""


class MoverProcessor(ABC):
    """A running mover. ``parameters``: its movable controls."""

    def __init__(self, part: Any) -> None:
        self.part = part
        self.parameters: dict[str, SmoothedParameter] = {}
        self.lengths: dict[float, float] = {}
        """Length in samples by tempo, while nothing turns or moves it."""
        self.take(part)

    def take(self, part: Any) -> None:
        """Apply new control values."""
        self.part = part
        self.lengths = {}
        for name, found in declarations(type(part)).items():
            if isinstance(found, Control) and found.moves:
                if name in self.parameters:
                    self.parameters[name].turn(float(getattr(part, name)))
                else:
                    self.parameters[name] = parameter_of(part, name, as_share if name == "value" else as_is)

    def settle(self) -> None:
        """Find out what moves its controls now."""
        self.lengths = {}

    def tick(self) -> None:
        """Prepare the next quantum."""
        self.lengths = {}
        for parameter in self.parameters.values():
            parameter.tick()

    @property
    def turning(self) -> bool:
        """Whether a control is ramping."""
        return any(k.turning for k in self.parameters.values())

    def can_span(self) -> bool:
        """Whether it can say its values over several quanta at once, with the same bits as one by one."""
        return not any(k.movements for k in self.parameters.values())

    def over(self, name: str, movers: ModulationValues) -> Array | float:
        """A control's value in its unit: an array over the quantum if something moves it, else its target."""
        parameter = self.parameters[name]
        if not parameter.movements:
            return parameter.control.from_scale(parameter.goal)
        x = parameter.scale(movers)
        return np.exp2(x) if parameter.control.taper == "log" else x

    @abstractmethod
    def value(self, voice: Voice, movers: ModulationValues, now: TransportContext) -> Array:
        """Its value over the quanta for a voice, (n,): 0..1, or -1..1 if the mover is bipolar."""


class EnvelopeMover(MoverProcessor):
    """An envelope, started by every note."""

    def take(self, part: Envelope) -> None:
        """Apply new control values."""
        super().take(part)
        self.processor = EnvelopeProcessor(self.parameters)

    def settle(self) -> None:
        """Find out what moves its controls now."""
        super().settle()
        self.processor.settle()

    def value(self, voice: Voice, movers: ModulationValues, now: TransportContext) -> Array:
        """0..1, above 1 during the accent."""
        return self.processor.value(self.part, self.part.id, voice, movers, now)


class _Cycling(MoverProcessor):
    """A mover that repeats over a length of time."""

    def __init__(self, part: Any) -> None:
        self._next: tuple[int | None, float] = (None, 0.0)
        self._kept: Array = np.zeros(QUANTUM)
        self._lines: tuple[Any, float, float, Drawn] | None = None
        super().__init__(part)

    def drawn(self, samples: float, soft: float) -> Drawn:
        """The drawn curve over a length of samples, cached."""
        if self._lines is None or self._lines[0] is not self.part or self._lines[1:3] != (samples, soft):
            points = [(p.at, p.value, p.bend) for p in self.part.points]
            self._lines = self.part, samples, soft, Drawn.of(points, samples, soft)
        return self._lines[3]

    @staticmethod
    def _rolled(drawn: Drawn, now: TransportContext, begun: float, length: float, again: float) -> Array:
        """A drawn curve over the quanta, which begin ``begun`` samples into it, as in ``Drawn.rolling``."""
        out = np.empty(now.size)
        for at in range(0, now.size, QUANTUM):
            place = begun + at
            drawn.rolling(out[at : at + QUANTUM], place % again if place >= again else place, length, again)
        return out

    @staticmethod
    def _begun(voice: Voice, now: TransportContext, restart: str, at: int = 0) -> tuple[float, float]:
        """Samples since it began, at sample ``at`` of the quanta, and the samples after which it restarts."""
        start = now.start + at
        if restart == "note":
            return float(start - voice.began), math.inf
        if restart == "phrase":
            return float((start - now.origin) % now.length), float(now.length)
        return float(start), math.inf

    def _turned(self, samples: Array | float, voice: Voice, now: TransportContext, restart: str) -> Array:
        """Cycles since it began, for a length of ``samples``. Accumulated if the length changes."""
        begun, again = self._begun(voice, now, restart)
        time = _samples(now.size) + begun
        if time[-1] >= again:
            time = time % again
        if not isinstance(samples, np.ndarray):
            return time / samples
        steps = 1.0 / samples
        gone = np.cumsum(steps) - steps
        if restart == "note":
            first = min(max(voice.began - now.start, 0), QUANTUM - 1)
            before = voice.turned.get(self.part.id)
            if before is None:
                before = float(max(0, now.start - voice.began) * steps[0] - gone[first])
            voice.turned[self.part.id] = before + gone[-1] + steps[-1]
            return before + gone
        if self._next[0] != now.start + QUANTUM:
            # the quantum's first voice; the others share its values
            self._kept = gone + (self._next[1] if self._next[0] == now.start else time[0] * steps[0])
            if restart == "phrase":
                for at in [*([0] if time[0] == 0 else []), *(np.flatnonzero(np.diff(time) < 0) + 1)]:
                    self._kept[at:] -= self._kept[at]
            self._next = now.start + QUANTUM, float(self._kept[-1] + steps[-1])
        return self._kept


def _length(processor: MoverProcessor, movers: ModulationValues, beats: str, other: str, tempo: float) -> Array | float:
    """Length in samples, from beats, ms or a rate in Hz."""
    kept = processor.lengths.get(tempo)
    if kept is not None:
        return kept
    if processor.part.clock == "beats":
        found = processor.over(beats, movers) * samples_per_beat(tempo)
    else:
        given = processor.over(other, movers)
        found = RATE / given if other == "rate" else given * (RATE / 1000.0)
    if not isinstance(found, np.ndarray):
        processor.lengths = {tempo: found}
    return found


class LfoMover(_Cycling):
    """A low-frequency oscillator."""

    def value(self, voice: Voice, movers: ModulationValues, now: TransportContext) -> Array:
        """-1..1."""
        part: Lfo = self.part
        samples = _length(self, movers, "length", "rate", now.tempo)
        if part.shape == "sine" and not isinstance(samples, np.ndarray) and not part.once:
            return self._faded(self._sine(samples, voice, now), voice, now)
        turns = self._turned(samples, voice, now, part.restart)
        if part.once:
            turns = np.clip(turns, 0.0, 1.0 - 1e-9)
        soft = part.edges * (RATE / 1000.0) / samples if part.edges > 0 else 0.0
        if part.phase:
            turns = turns + part.phase / 360.0
        if part.shape == "square":
            y = swing(part.shape, turns, None, self.over("width", movers) * 0.01, soft)
        elif part.shape == "drawn":
            y = swing(part.shape, turns, None, soft=soft, drawn=self.drawn(0.0, float(np.min(soft))))
        else:
            y = swing(part.shape, turns, (now.seed, part.id, voice.note if part.restart == "note" else ""), soft=soft)
        return self._faded(y, voice, now)

    def _sine(self, samples: float, voice: Voice, now: TransportContext) -> Array:
        """A sine of constant length."""
        out = np.empty(now.size)
        for at in range(0, now.size, QUANTUM):
            begun, again = self._begun(voice, now, self.part.restart, at)
            part = out[at : at + QUANTUM]
            if begun + QUANTUM <= again:
                roll_sine(part, begun / samples + self.part.phase / 360.0, 1.0 / samples)
            else:
                turns = (_samples(QUANTUM) + begun) % again / samples
                part[:] = swing("sine", turns + self.part.phase / 360.0, None)
        return out

    def _faded(self, y: Array, voice: Voice, now: TransportContext) -> Array:
        if self.part.fade > 0:
            since = _samples(now.size) + float(now.start - voice.began)
            y = y * np.clip(since / (self.part.fade * RATE / 1000.0), 0.0, 1.0)
        return y


class CurveMover(_Cycling):
    """A drawn curve."""

    def value(self, voice: Voice, movers: ModulationValues, now: TransportContext) -> Array:
        """0..1."""
        part: Curve = self.part
        samples = _length(self, movers, "length", "length_ms", now.tempo)
        restart = "note" if part.play == "hold" else part.restart
        if part.play == "loop" and not isinstance(samples, np.ndarray):
            begun, again = self._begun(voice, now, restart)
            drawn = self.drawn(samples, min(0.25, part.edges * (RATE / 1000.0) / samples))
            return self._rolled(drawn, now, begun, samples, again)
        place = self._turned(samples, voice, now, restart)
        whole = float(np.mean(samples)) if isinstance(samples, np.ndarray) else samples
        soft = min(0.25, part.edges * (RATE / 1000.0) / whole)
        drawn = self.drawn(whole, soft)
        if part.play == "loop":
            return drawn.around(place - np.floor(place))
        if part.play == "hold":
            stop = part.hold_at / 100.0
            held = np.minimum(place, stop)
            if voice.let_go is not None:
                gone = np.maximum(0.0, _samples(now.size) + float(now.start - voice.let_go)) / samples
                at = min(stop, float(np.mean((voice.let_go - voice.began) / np.asarray(samples))))
                place = np.where(gone > 0, at + gone, held)
            else:
                place = held
        return drawn(np.clip(place, 0.0, 1.0))


class PerformanceMover(MoverProcessor):
    """Velocity, key, controllers or a random value of the note."""

    def value(self, voice: Voice, movers: ModulationValues, now: TransportContext) -> Array:
        """0..1; the bend is -1..1."""
        part: Performance = self.part
        if part.what == "velocity":
            return np.full(now.size, voice.velocity)
        if part.what == "key":
            return np.full(now.size, min(max((voice.pitch - 12.0) / 72.0, 0.0), 1.0))
        if part.what == "random":
            return np.full(now.size, share(now.seed, part.id, voice.note, "chance"))
        return values(now.controllers[part.what], now.size)


class MacroMover(_Cycling):
    """A macro: its value, or its automation along the phrase."""

    def value(self, voice: Voice, movers: ModulationValues, now: TransportContext) -> Array:
        """0..1."""
        part: Macro = self.part
        if part.drawn and len(part.points) > 1:
            samples = part.bars * 4.0 * samples_per_beat(now.tempo)
            soft = _MACRO_STEP * RATE / samples
            return self._rolled(self.drawn(samples, soft), now, float(now.start - now.origin), samples, math.inf)
        return self.parameters["value"].value(movers, now.quanta)


class FollowerMover(MoverProcessor):
    """An envelope follower of a layer's level."""

    def __init__(self, part: Follower) -> None:
        self._state = np.zeros(1)
        self._at: int | None = None
        self._now: Array = np.zeros(QUANTUM)
        super().__init__(part)

    def can_span(self) -> bool:
        """No: what it follows is heard quantum by quantum."""
        return False

    def value(self, voice: Voice, movers: ModulationValues, now: TransportContext) -> Array:
        """0..1, from its floor to full scale."""
        part: Follower = self.part
        heard = now.heard.get(part.layer)
        if heard is not None and self._at != now.start:
            self._at = now.start
            out = np.empty(QUANTUM)
            rise, fall = (1.0 - np.exp(-1000.0 / (ms * RATE)) for ms in (part.attack, part.release))
            follow(heard, float(rise), float(fall), out, self._state)
            db = 20.0 * np.log10(np.maximum(out, 1e-5))
            self._now = np.clip((db - part.floor) / -part.floor, 0.0, 1.0)
        return self._now


class AudioRateMover(MoverProcessor):
    """A source at audio rate. Its value is known after the sources are rendered."""

    def can_span(self) -> bool:
        """No: each quantum's value is found while it is rendered."""
        return False

    def value(self, voice: Voice, movers: ModulationValues, now: TransportContext) -> Array:
        """Zero until the sources are rendered."""
        return np.zeros(QUANTUM)


_CLASSES: dict[str, type[MoverProcessor]] = {kind.word: kind.processor_class() for kind in MOVERS}


def mover_processor(part: Mover) -> MoverProcessor:
    """A new processor of a mover."""
    return _CLASSES[part.kind](part)
