"""Chains of effects, and branches within them."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ...dsp import QUANTUM
from ...dsp.filters.crossover import crossover
from ...dsp.filters.crossover import rest as crossover_rest
from ...dsp.filters.svf import PREWARP_TABLE
from ...dsp.mixing import furthest, meter, ramp_gain
from ...patch import Branch, BranchPath, ChainItem, highest_match
from ..modulation import Array, SmoothedParameter, as_gain, as_is, as_share, gain_of, parameter_of
from .base import Buffer, EffectProcessor, EffectState, VoiceContext
from .dynamics import rising
from .registry import Meters, latency_of, processor_of

TRACE_STEPS = 4
"""Number of times per quantum that an effect's action is recorded."""


class ChainRecorder:
    """Records the sound behind every item of a chain, and the gain of every effect, by path."""

    def __init__(self, taps: bool = False) -> None:
        self.taps: dict[str, list[NDArray[np.float32]]] | None = {} if taps else None
        self.traces: dict[str, list[Array]] = {}
        self.count = 0

    def tap(self, path: str, x: Buffer) -> None:
        """Record the sound at a path."""
        if self.taps is not None:
            self.taps.setdefault(path, []).append(x.astype(np.float32))

    def trace(self, path: str, db: Array, quanta: int = 1) -> None:
        """Record the gain of an effect: the extreme of every quarter quantum."""
        kept = self.traces.setdefault(path, [])
        while len(kept) < self.count:
            kept.append(np.zeros(TRACE_STEPS))
        out = np.empty(quanta * TRACE_STEPS)
        furthest(db, out)
        kept.extend(out.reshape(quanta, TRACE_STEPS))


@dataclass
class _Item:
    """A running item of a chain. ``even`` is the static gain of its level match and the value before."""

    path: str
    kind: str
    processor: Any
    state: Any
    meter: Array
    even: float = 1.0
    was: float = 1.0
    part: Any = field(default=None)


class Chain:
    """Ordered items that process one stereo signal."""

    def __init__(self, items: list[ChainItem], place: str, meters: Meters | None = None) -> None:
        self.place = place
        self.items: dict[str, _Item] = {}
        self._restless = True
        self.meters = meters or Meters()
        self.record: ChainRecorder | None = None
        self.update(items)

    def update(self, items: list[ChainItem]) -> None:
        """Apply new control values, new items and a new order."""
        found: dict[str, _Item] = {}
        for part in items:
            kept = self.items.get(part.id)
            if kept is not None and kept.kind == part.kind:
                if kept.part is not part:
                    kept.processor.update(part)
            else:
                path = f"{self.place}.{part.id}"
                processor = BranchProcessor(part, path, self.meters) if isinstance(part, Branch) else processor_of(part)
                kept = _Item(path, part.kind, processor, processor.state(), self.meters.of(path))
                kept.was = _even(part)
            kept.part, kept.even = part, _even(part)
            found[part.id] = kept
        self.items = found
        self.latency = sum(latency_of(i) for i in items)
        self._restless = True

    @property
    def parameters(self) -> dict[str, SmoothedParameter]:
        """All parameters by path."""
        return {f"{i.path}.{name}": k for i in self.items.values() for name, k in i.processor.parameters.items()}

    def settle(self) -> None:
        """Find out what moves the items now."""
        self._restless = True

    @property
    def calm(self) -> bool:
        """Whether no parameter is ramping."""
        return not (self.items and self._restless) and all(i.was == i.even for i in self.items.values())

    def needs_transport(self) -> bool:
        """Whether any item needs the transport context of every quantum."""
        processors = [i.processor for i in self.items.values()]
        return any(not r.can_batch() or (isinstance(r, BranchProcessor) and r.needs_transport()) for r in processors)

    def process(self, x: Buffer, voice: VoiceContext) -> None:
        """Process x, (2, quanta), in place. Several quanta at once only while the chain is calm."""
        if self._restless:
            for item in self.items.values():
                item.processor.tick()
            self._restless = any(k.turning for i in self.items.values() for k in i.processor.parameters.values())
        record = self.record
        if record is not None:
            record.tap(self.place, x)
        for item in self.items.values():
            if isinstance(item.processor, BranchProcessor):
                item.processor.record = record
            if voice.quanta == 1 or item.processor.can_batch():
                self._work(item, x, voice)
            else:
                for k, each in enumerate(voice.each):
                    part = x[:, k * QUANTUM : (k + 1) * QUANTUM].copy()
                    self._work(item, part, each)
                    x[:, k * QUANTUM : (k + 1) * QUANTUM] = part
            if item.even != 1.0 or item.was != 1.0:
                ramp_gain(x, item.was, item.even)
                item.was = item.even
            meter(x, 0, x.shape[1], item.meter)
            if record is not None:
                record.tap(item.path, x)

    def _work(self, item: _Item, x: Buffer, voice: VoiceContext) -> None:
        item.processor.process(x, 0, x.shape[1], item.state, voice)
        if self.record is not None and isinstance(item.processor, EffectProcessor):
            for of, db in item.processor.traces.items():
                self.record.trace(f"{item.path}.{of}" if of else item.path, db, voice.quanta)


def _even(part: ChainItem) -> float:
    """The static gain of an item's level match. What limits a level is never raised by it."""
    return gain_of(min(part.match, highest_match(part))) if part.matched and part.on else 1.0


def _goal(branch_path: BranchPath, alone: bool) -> float:
    """The target gain of a path of a branch. alone: whether any path is soloed."""
    heard = not branch_path.mute and (branch_path.solo or not alone)
    return (1.0 if heard else 0.0) * (-1.0 if branch_path.polarity == "inverted" else 1.0)


class _Ways:
    """The state of a branch beside its chains."""

    def __init__(self, count: int) -> None:
        self.count = count
        self.split = crossover_rest(count - 1)
        self.parts = np.empty((count, 2, QUANTUM))


class BranchProcessor(EffectProcessor):
    """Splits the signal into copies or bands with chains of their own, and sums them."""

    converts = {"split_1": as_is, "split_2": as_is, "split_3": as_is, "mix": as_share}

    def __init__(self, part: Branch, path: str, meters: Meters) -> None:
        self.path, self.meters = path, meters
        self.chains: dict[str, Chain] = {}
        self.gains: dict[str, float] = {}
        self.record: ChainRecorder | None = None
        self.meter_of: dict[str, Array] = {}
        super().__init__(part)

    @staticmethod
    def latency_of(part: Branch) -> int:
        """Latency in samples. It is the same on and off."""
        return latency_of(part)

    def take(self, part: Branch) -> None:
        """Apply new control values and new paths."""
        super().take(part)
        chains: dict[str, Chain] = {}
        for branch_path in part.paths:
            kept = self.chains.get(branch_path.id)
            if kept is None:
                kept = Chain(list(branch_path.items), f"{self.path}.paths.{branch_path.id}.items", self.meters)
            else:
                kept.update(list(branch_path.items))
            chains[branch_path.id] = kept
            self.meter_of[branch_path.id] = self.meters.of(f"{self.path}.paths.{branch_path.id}")
        self.chains = chains
        parameters = {n: k for n, k in self.parameters.items() if not n.startswith("paths.")}
        for branch_path in part.paths:
            name = f"paths.{branch_path.id}.level"
            parameter = self.parameters.get(name)
            if parameter is None:
                parameter = parameter_of(branch_path, "level", as_gain)
            else:
                parameter.turn(branch_path.level)
            parameters[name] = parameter
            for path, inner in chains[branch_path.id].parameters.items():
                parameters[path.removeprefix(self.path + ".")] = inner
        self.parameters = parameters

    def tick(self) -> None:
        """Prepare the next quantum. A split rotates the phase, so a branch is off only when it is switched off."""
        own = {n: k for n, k in self.parameters.items() if ".items." not in n}
        for parameter in own.values():
            parameter.tick()
        self.settle()
        for chain in self.chains.values():
            chain.settle()
        mix = self.parameters["mix"]
        self.off = not self.part.on and mix.still and mix.goal == 0.0

    def can_batch_when_steady(self) -> bool:
        """Always: its chains decide for their items."""
        return all(c.calm for c in self.chains.values()) and self._gains_stay()

    def needs_transport(self) -> bool:
        """Whether any item of its chains needs the transport context of every quantum."""
        return any(c.needs_transport() for c in self.chains.values())

    def _gains_stay(self) -> bool:
        alone = any(w.solo for w in self.part.paths)
        return all(self.gains.get(w.id) == _goal(w, alone) for w in self.part.paths)

    def initial_state(self) -> _Ways:
        """The memory of the effect before any sound."""
        return _Ways(len(self.part.paths))

    def effect(self, x: Buffer, held: EffectState, voice: VoiceContext) -> None:
        """Process every path through its chain, and sum them."""
        part: Branch = self.part
        count = len(part.paths)
        if held.memory.count != count:
            held.memory = self.initial_state()
        own: _Ways = held.memory
        if own.parts.shape[2] != x.shape[1]:
            own.parts = np.empty((count, 2, x.shape[1]))
        dry = x.copy()
        held.delay(dry, self.latency_of(part))
        if part.into == "bands":
            logs, same = rising(self, count - 1, voice)
            crossover(x, own.parts, logs, same, own.split, PREWARP_TABLE)
        else:
            own.parts[:] = x
        alone = any(w.solo for w in part.paths)
        late = self.latency_of(part)
        mix = self.over("mix", voice)
        x[:] = 0.0
        for n, branch_path in enumerate(part.paths):
            chain, y = self.chains[branch_path.id], own.parts[n]
            chain.record = self.record
            chain.process(y, voice)
            held.delay(y, late - chain.latency, f"way {branch_path.id}")
            self._add(x, y, branch_path, _goal(branch_path, alone), voice)
        if mix.min() < 1.0:
            x += (1.0 - mix) * (dry - x)

    def _add(self, x: Buffer, y: Buffer, branch_path: BranchPath, goal: float, voice: VoiceContext) -> None:
        was = self.gains.get(branch_path.id, goal)
        self.gains[branch_path.id] = goal
        ramp_gain(y, was, goal)
        parameter = self.parameters[f"paths.{branch_path.id}.level"]
        if parameter.movements or not parameter.still or parameter.goal != 0.0:
            y *= self.over(f"paths.{branch_path.id}.level", voice)
        meter(y, 0, y.shape[1], self.meter_of[branch_path.id])
        x += y
