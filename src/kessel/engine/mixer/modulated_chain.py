"""A chain at its place, with what moves it: the chain of a layer, the worked path, a return."""

from __future__ import annotations

from typing import Any

import numpy as np

from ...patch import ChainItem, Patch
from ..clock import NoteEvent
from ..effects import Buffer, Chain, Record, VoiceNow, at_once
from ..modulation import TRAVEL_STEP, Array, Bank, Knob, Latest, Moment, Movers, Spell, Travel


class ChainRun:
    """Runs the items of a chain; its movers follow the latest note.

    beside: knobs of the place that are moved along, such as a layer's level, by path.
    """

    def __init__(self, place: str, below: tuple[str, ...], beside: dict[str, Knob]) -> None:
        self.place, self.below = place, below
        self.beside = beside
        self.chain = Chain([], place)
        self.bank = Bank()
        self.latest = Latest()
        self.travel: dict[str, Travel] = {}
        self.record: Record | None = None
        self.movers: Movers = {}
        self._tuning = 440.0

    @property
    def latency(self) -> int:
        """Latency in samples."""
        return self.chain.latency

    def update(self, patch: Patch, items: list[ChainItem]) -> None:
        """Take over a patch's controls."""
        self.chain.update(items)
        self.bank.update(patch, {**self.chain.knobs, **self.beside}, self.below)
        self.chain.settle()
        self._tuning = patch.tuning

    def begin(self, now: Moment, events: list[NoteEvent]) -> Movers:
        """Begin a quantum: what the movers say over it."""
        if self.bank.turning:
            self.bank.tick()
        for knob in self.beside.values():
            knob.tick()
        for knob in self.bank.moved.values():
            knob.latest = None
        self.movers, self._octaves = self.latest.quantum(events, self.bank, now)
        self._now = now
        return self.movers

    @property
    def calm(self) -> bool:
        """Whether nothing turns or moves anything in it, so that it can work on several quanta at once."""
        return self.chain.calm and not self.bank.moved and not any(k.turning for k in self.beside.values())

    def _voice(self) -> VoiceNow:
        return VoiceNow(self.movers, self._octaves, isinstance(self._octaves, np.ndarray), self._tuning, self._now)

    def process(self, x: Buffer) -> None:
        """Work on a quantum of x, (2, QUANTUM), in place, after ``begin``."""
        if self.chain.items:
            self.chain.record = self.record
            self.chain.process(x, self._voice())
        if self.record is not None:
            self.record.count += 1

    def stretch(self, x: Buffer, spell: Spell) -> None:
        """Work on several quanta of x, (2, n), in place, while it is calm."""
        if self.chain.items:
            each: list[VoiceNow] = []
            if self.chain.needs_moments():
                for now, events in spell:
                    self.begin(now, events)
                    each.append(self._voice())
            self.chain.record = self.record
            self.chain.process(x, VoiceNow(now=spell[0][0], tuning=self._tuning, quanta=len(spell), each=tuple(each)))
        if self.record is not None:
            self.record.count += len(spell)

    def quanta(self, at: int, end: int) -> int:
        """How many quanta can be worked on at once from sample ``at`` on up to ``end``: in the first, all settles."""
        return at_once(at, end) if at and self.calm else 1

    def keep_travel(self) -> None:
        """Write down where moved controls went."""
        for path, knob in self.bank.moved.items():
            if knob.latest is None:
                knob.scale(self.movers)
            assert knob.latest is not None
            travel = self.travel.get(path)
            if travel is None:
                travel = self.travel[path] = Travel(path)
            travel.parts.append(np.asarray(knob.latest[::TRAVEL_STEP]).copy())


def traced(record: Record | None) -> dict[str, Array]:
    """What effects did, (steps,) in dB by path."""
    found: dict[str, Any] = {} if record is None else record.traces
    return {path: np.concatenate(parts) for path, parts in found.items()}
