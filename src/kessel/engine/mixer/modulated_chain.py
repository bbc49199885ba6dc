"""A chain with its modulation matrix: the chain of a layer, of the worked path or of a return."""

from __future__ import annotations

from typing import Any

import numpy as np

from ...patch import ChainItem, Patch
from ..clock import NoteEvent
from ..effects import Buffer, Chain, ChainRecorder, VoiceContext, batch_size
from ..modulation import (
    TRAVEL_STEP,
    Array,
    Batch,
    LastNoteTracker,
    ModulationMatrix,
    ModulationValues,
    SmoothedParameter,
    TransportContext,
    Travel,
)


class ModulatedChain:
    """Runs the items of a chain. Its movers follow the latest note.

    beside: other parameters of the place, such as a layer's level, by path.
    """

    def __init__(self, place: str, below: tuple[str, ...], beside: dict[str, SmoothedParameter]) -> None:
        self.place, self.below = place, below
        self.beside = beside
        self.chain = Chain([], place)
        self.matrix = ModulationMatrix()
        self.latest = LastNoteTracker()
        self.travel: dict[str, Travel] = {}
        self.record: ChainRecorder | None = None
        self.movers: ModulationValues = {}
        self._tuning = 440.0

    @property
    def latency(self) -> int:
        """Latency in samples."""
        return self.chain.latency

    def update(self, patch: Patch, items: list[ChainItem]) -> None:
        """Apply a patch's controls."""
        self.chain.update(items)
        self.matrix.update(patch, {**self.chain.parameters, **self.beside}, self.below)
        self.chain.settle()
        self._tuning = patch.tuning

    def turn(self, items: list[ChainItem]) -> None:
        """Apply other values of the items."""
        self.chain.update(items)

    def begin(self, now: TransportContext, events: list[NoteEvent]) -> ModulationValues:
        """Begin a quantum. Returns the values of the movers."""
        if self.matrix.turning:
            self.matrix.tick()
        for parameter in self.beside.values():
            parameter.tick()
        for parameter in self.matrix.moved.values():
            parameter.latest = None
        self.movers, self._octaves = self.latest.quantum(events, self.matrix, now)
        self._now = now
        return self.movers

    @property
    def calm(self) -> bool:
        """Whether nothing is turned or moved, so that it can process several quanta at once."""
        return self.chain.calm and not self.matrix.moved and not any(k.turning for k in self.beside.values())

    def _voice(self) -> VoiceContext:
        return VoiceContext(self.movers, self._octaves, isinstance(self._octaves, np.ndarray), self._tuning, self._now)

    def process(self, x: Buffer) -> None:
        """Process a quantum of x, (2, QUANTUM), in place, after ``begin``."""
        if self.chain.items:
            self.chain.record = self.record
            self.chain.process(x, self._voice())
        if self.record is not None:
            self.record.count += 1

    def stretch(self, x: Buffer, batch: Batch) -> None:
        """Process several quanta of x, (2, n), in place, while nothing changes."""
        if self.chain.items:
            each: list[VoiceContext] = []
            if self.chain.needs_transport():
                for now, events in batch:
                    self.begin(now, events)
                    each.append(self._voice())
            self.chain.record = self.record
            self.chain.process(
                x, VoiceContext(now=batch[0][0], tuning=self._tuning, quanta=len(batch), each=tuple(each))
            )
        if self.record is not None:
            self.record.count += len(batch)

    def quanta(self, at: int, end: int) -> int:
        """Number of quanta that can be processed at once from sample ``at`` up to ``end``. The first is alone."""
        return batch_size(at, end) if at and self.calm else 1

    def keep_travel(self) -> None:
        """Record the values of moved controls."""
        for path, parameter in self.matrix.moved.items():
            if parameter.latest is None:
                parameter.scale(self.movers)
            assert parameter.latest is not None
            travel = self.travel.get(path)
            if travel is None:
                travel = self.travel[path] = Travel(path)
            travel.parts.append(np.asarray(parameter.latest[::TRAVEL_STEP]).copy())


def traced(record: ChainRecorder | None) -> dict[str, Array]:
    """Gains of the effects in dB, (steps,), by path."""
    found: dict[str, Any] = {} if record is None else record.traces
    return {path: np.concatenate(parts) for path, parts in found.items()}
