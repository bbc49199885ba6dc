"""The voice stages of a layer, in series or in two parallel branches."""

from __future__ import annotations

from typing import Any

import numpy as np

from ...dsp import QUANTUM
from ...dsp.delays.in_place import delay_in_place
from ...dsp.mixing import meter
from ...patch import Layer
from ..effects import Buffer, Meters, VoiceContext, latency_of, processor_of
from ..modulation import Array, SmoothedParameter, as_share, parameter_of


class VoiceStages:
    """Runs the stages of every voice of a layer. Their states belong to the voice."""

    def __init__(self, layer: Layer) -> None:
        self.meters = Meters()
        self.processors: dict[str, tuple[str, Any, Array]] = {}
        self.mix = parameter_of(layer.branches, "mix", as_share)
        self.update(layer)

    def update(self, layer: Layer) -> None:
        """Apply new control values, new stages and a new order."""
        for stage in layer.stages:
            kept = self.processors.get(stage.id)
            if kept is not None and kept[0] == stage.kind:
                kept[1].update(stage)
            else:
                acc = self.meters.of(f"layers.{layer.id}.stages.{stage.id}")
                self.processors[stage.id] = (stage.kind, processor_of(stage), acc)
        self.processors = {s.id: self.processors[s.id] for s in layer.stages}
        self.mix.turn(layer.branches.mix)
        self.split = layer.branches.routing == "parallel"
        both = [s.id for s in layer.stages]
        self.branches = [[s.id for s in layer.stages if s.branch == b] for b in ("A", "B")] if self.split else [both]
        late = {s.id: latency_of(s) for s in layer.stages}
        each = [sum(late[i] for i in branch) for branch in self.branches]
        self.latency = max(each)
        self._pads = [self.latency - n for n in each]

    def turn(self, before: Layer, layer: Layer) -> None:
        """Apply other values of stages."""
        for old, stage in zip(before.stages, layer.stages, strict=True):
            if old is not stage:
                self.processors[stage.id][1].update(stage)

    @property
    def parameters(self) -> dict[str, SmoothedParameter]:
        """All parameters by path below the layer."""
        found = {
            f"stages.{i}.{name}": k
            for i, (_, processor, _) in self.processors.items()
            for name, k in processor.parameters.items()
        }
        return found | {"branches.mix": self.mix}

    def tick(self) -> None:
        """Prepare the next quantum."""
        self.mix.tick()
        for _, processor, _ in self.processors.values():
            processor.tick()

    def process(self, x: Buffer, a: int, b: int, states: dict[str, Any], voice: VoiceContext) -> None:
        """Process samples a..b of x, (channels, n), in place. n: as many quanta as the context has.

        states: of the voice, by stage id.
        """
        if not self.split:
            self._run(self.branches[0], x, a, b, states, voice)
            return
        other = x.copy()
        for n, (branch, y) in enumerate(zip(self.branches, (x, other), strict=True)):
            self._run(branch, y, a, b, states, voice)
            if self._pads[n]:
                line = states.get(f"/{n}")
                if line is None or line.shape != (x.shape[0], self._pads[n]):
                    line = states[f"/{n}"] = np.zeros((x.shape[0], self._pads[n]))
                delay_in_place(y, a, b, line)
        mix = self.mix.value(voice.movers, voice.quanta)
        x[:, a:b] += mix[a:b] * (other[:, a:b] - x[:, a:b])

    def _run(self, branch: list[str], x: Buffer, a: int, b: int, states: dict[str, Any], voice: VoiceContext) -> None:
        for stage_id in branch:
            _, processor, acc = self.processors[stage_id]
            state = states.get(stage_id)
            if state is None:
                state = states[stage_id] = processor.state()
            if voice.quanta == 1 or processor.off or processor.can_span():
                processor.process(x, a, b, state, voice)
            else:
                _one_by_one(processor, x, a, b, state, voice)
            meter(x, a, b, acc)


def _one_by_one(processor: Any, x: Buffer, a: int, b: int, state: Any, voice: VoiceContext) -> None:
    """Process samples a..b of x quantum by quantum, for a stage that can't take several at once."""
    for k in range(a // QUANTUM, -(-b // QUANTUM)):
        part = slice(k * QUANTUM, (k + 1) * QUANTUM)
        own = np.ascontiguousarray(x[:, part])
        processor.process(own, max(a - part.start, 0), min(b - part.start, QUANTUM), state, voice.quantum(k))
        x[:, part] = own
