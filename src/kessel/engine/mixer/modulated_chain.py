"""A chain at its place, with what moves it: the chain of a layer, the worked path, a return."""

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
    """Runs the items of a chain; its movers follow the latest note.

    beside: parameters of the place that are moved along, such as a layer's level, by path.
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
        """Take over a patch's controls."""
        self.chain.update(items)
        self.matrix.update(patch, {**self.chain.parameters, **self.beside}, self.below)
        self.chain.settle()
        self._tuning = patch.tuning

    def begin(self, now: TransportContext, events: list[NoteEvent]) -> ModulationValues:
        """Begin a quantum: what the movers say over it."""
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
        """Whether nothing turns or moves anything in it, so that it can work on several quanta at once."""
        return self.chain.calm and not self.matrix.moved and not any(k.turning for k in self.beside.values())

    def _voice(self) -> VoiceContext:
        return VoiceContext(self.movers, self._octaves, isinstance(self._octaves, np.ndarray), self._tuning, self._now)

    def process(self, x: Buffer) -> None:
        """Work on a quantum of x, (2, QUANTUM), in place, after ``begin``."""
        if self.chain.items:
            self.chain.record = self.record
            self.chain.process(x, self._voice())
        if self.record is not None:
            self.record.count += 1

    def stretch(self, x: Buffer, batch: Batch) -> None:
        """Work on several quanta of x, (2, n), in place, while it is calm."""
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
        """How many quanta can be worked on at once from sample ``at`` on up to ``end``: in the first, all settles."""
        return batch_size(at, end) if at and self.calm else 1

    def keep_travel(self) -> None:
        """Write down where moved controls went."""
        for path, parameter in self.matrix.moved.items():
            if parameter.latest is None:
                parameter.scale(self.movers)
            assert parameter.latest is not None
            travel = self.travel.get(path)
            if travel is None:
                travel = self.travel[path] = Travel(path)
            travel.parts.append(np.asarray(parameter.latest[::TRAVEL_STEP]).copy())


def traced(record: ChainRecorder | None) -> dict[str, Array]:
    """What effects did, (steps,) in dB by path."""
    found: dict[str, Any] = {} if record is None else record.traces
    return {path: np.concatenate(parts) for path, parts in found.items()}
