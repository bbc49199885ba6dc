"""The worked path and the returns, and how they are aligned in time.

All layers have the same latency. What layers send to a return is delayed by the latency of the worked path. The clean
and the worked bus are delayed by the latency of the latest return, and so are earlier returns.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np

from ...dsp import QUANTUM
from ...dsp.filters.svf import BUTTERWORTH, HIGHPASS, PREWARP_TABLE, SvfCurves, filter_svf
from ...patch import BeatShape, ChainItem, Mover, Patch, Return, within
from ..blocks import constant_block
from ..clock import NoteEvent, Schedule, kick_beats
from ..effects import latency_of
from ..modulation import Array, Batch, ModulationValues, TransportContext, as_gain, as_is, parameter_of
from .modulated_chain import ModulatedChain
from .sends import Sends, fed


def chain_latency(items: list[ChainItem]) -> int:
    """Latency of a chain in samples."""
    return sum(latency_of(i) for i in items)


def return_latency(patch: Patch) -> int:
    """Latency of the latest return that receives anything."""
    heard = fed(patch)
    return max((chain_latency(list(r.chain)) for r in patch.returns if r.id in heard), default=0)


def transport_of(patch: Patch, schedule: Schedule) -> TransportContext:
    """A transport context with a patch's tempo, length and seed, at time 0."""
    found = TransportContext(tempo=patch.tempo, seed=patch.seed)
    found.length, found.origin, found.beats = schedule.length, schedule.origin, patch.phrase.beats
    found.kicks = tuple(kick_beats(patch.backing.beat.pattern))
    return found


def kicked_by(chain: list[ChainItem]) -> bool:
    """Whether the kick of the backing beat drives anything in a chain."""
    return any(isinstance(i, BeatShape) and i.by == "kick" for i in within(chain))


class WorkedPath:
    """The chain of the worked path, and its sends."""

    def __init__(self, patch: Patch) -> None:
        self.sends = Sends("sends")
        self.processor = ModulatedChain("worked", ("worked.", "sends."), {})
        self.update(patch)

    @property
    def latency(self) -> int:
        """Latency in samples."""
        return self.processor.latency

    def update(self, patch: Patch) -> None:
        """Apply a patch's controls."""
        self.sends.update(patch.sends)
        self.processor.beside = self.sends.parameters
        self.processor.update(patch, list(patch.worked))

    def turn_movers(self, movers: Sequence[Mover]) -> None:
        """Apply other values of movers."""
        self.processor.matrix.turn(movers)

    def quantum(self, x: Array, now: TransportContext, events: list[NoteEvent]) -> ModulationValues:
        """Process a quantum of x, (2, QUANTUM), in place. Returns the values of its movers."""
        movers = self.processor.begin(now, events)
        self.processor.process(x)
        return movers


class ReturnBus:
    """One return: its low cut, its chain, its level."""

    def __init__(self, patch: Patch, return_id: str) -> None:
        self.id = return_id
        part = self._part(patch)
        own = f"returns.{return_id}"
        self._level = parameter_of(part, "level", as_gain)
        self._cut = parameter_of(part, "low_cut", as_is)
        self._state = np.zeros((2, 4))
        self.processor = ModulatedChain(
            f"{own}.chain", (f"{own}.",), {f"{own}.level": self._level, f"{own}.low_cut": self._cut}
        )
        self.update(patch)

    def _part(self, patch: Patch) -> Return:
        return next(r for r in patch.returns if r.id == self.id)

    @property
    def latency(self) -> int:
        """Latency in samples."""
        return self.processor.latency

    def update(self, patch: Patch) -> None:
        """Apply a patch's controls."""
        part = self._part(patch)
        self._level.turn(part.level)
        self._cut.turn(part.low_cut)
        self.processor.update(patch, list(part.chain))

    def turn_movers(self, movers: Sequence[Mover]) -> None:
        """Apply other values of movers."""
        self.processor.matrix.turn(movers)

    def quantum(self, x: Array, now: TransportContext, events: list[NoteEvent]) -> None:
        """Process a quantum of x, (2, QUANTUM), in place."""
        movers = self.processor.begin(now, events)
        log_hz = self._cut.scale(movers)
        if log_hz[-1] > math.log2(20.0) + 1e-9:
            k, steady = constant_block(BUTTERWORTH), self._cut.still and not self._cut.movements
            filter_svf(
                x,
                0,
                QUANTUM,
                HIGHPASS,
                True,
                SvfCurves(log_hz, k, k, constant_block(1.0)),
                steady,
                self._state,
                PREWARP_TABLE,
            )
        self.processor.process(x)
        x *= self._level.value(movers)

    def stretch(self, x: Array, batch: Batch) -> None:
        """Process several quanta of x, (2, n), in place, while nothing changes."""
        if self._cut.goal > math.log2(20.0) + 1e-9:
            k = constant_block(BUTTERWORTH)
            filter_svf(
                x,
                0,
                x.shape[1],
                HIGHPASS,
                True,
                SvfCurves(self._cut.converted, k, k, constant_block(1.0)),
                True,
                self._state,
                PREWARP_TABLE,
            )
        self.processor.stretch(x, batch)
        x *= self._level.converted[0]
