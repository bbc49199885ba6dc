"""The voice stages of a layer, in series or in two parallel branches between two common rows."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import numpy as np

from ...dsp import QUANTUM
from ...dsp.delays.in_place import delay_in_place
from ...dsp.mixing import meter
from ...dsp.sources.stage_loop import LoopArrays
from ...patch import Layer, voice_row
from ..effects import Buffer, Meters, VoiceContext, latency_of, processor_of
from ..modulation import Array, SmoothedParameter, as_share, parameter_of
from .stage_loop import NO_LOOP, StageLoop


class VoiceStages:
    """Runs the stages of every voice of a layer. Their states belong to the voice.

    loop: those that feed back to the sources. feeds: the audio-rate movers that each stage drives, by its id.
    """

    def __init__(self, layer: Layer) -> None:
        self.meters = Meters()
        self.processors: dict[str, tuple[str, Any, Array]] = {}
        self.mix = parameter_of(layer.branches, "mix", as_share)
        self.feeds: dict[str, list[str]] = {}
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
        row = voice_row(layer.stages, layer.branches)
        self.split = row.split
        self.rows = [[s.id for s in part] for part in row.rows]
        before, a, b, after = (sum(latency_of(s) for s in part) for part in row.rows)
        self.latency = before + max(a, b) + after
        self._pads = (max(a, b) - a, max(a, b) - b)
        self.loop = StageLoop(layer)

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

    def looped(self, size: int, states: dict[str, Any], down: Array, voice: VoiceContext) -> LoopArrays:
        """The stages that feed back, for the sources of a voice over so many samples. down: their half-band state."""
        if not self.loop:
            return NO_LOOP
        processors = {i: processor for i, (_, processor, _) in self.processors.items()}
        return self.loop.arrays(processors, self.mix, states, down, voice, size)

    def process(
        self, x: Buffer, a: int, b: int, states: dict[str, Any], voice: VoiceContext, loop: LoopArrays = NO_LOOP
    ) -> None:
        """Process samples a..b of x, (channels, n), in place. n: as many quanta as the context has.

        states: of the voice, by stage id. loop: the stages that the sources have passed already.
        """
        self._row(0, x, a, b, states, voice, loop)
        if self.split:
            self._branches(x, a, b, states, voice, loop)
            self._row(3, x, a, b, states, voice, loop)

    def _branches(
        self, x: Buffer, a: int, b: int, states: dict[str, Any], voice: VoiceContext, loop: LoopArrays
    ) -> None:
        other = x.copy()
        for n, y in enumerate((x, other)):
            self._row(n + 1, y, a, b, states, voice, loop)
            if self._pads[n]:
                line = states.get(f"/{n}")
                if line is None or line.shape != (x.shape[0], self._pads[n]):
                    line = states[f"/{n}"] = np.zeros((x.shape[0], self._pads[n]))
                delay_in_place(y, a, b, line)
        mix = self.mix.value(voice.movers, voice.quanta)
        x[:, a:b] += mix[a:b] * (other[:, a:b] - x[:, a:b])

    def _row(
        self, n: int, x: Buffer, a: int, b: int, states: dict[str, Any], voice: VoiceContext, loop: LoopArrays
    ) -> None:
        """Process one of the four rows: what the loop has done of it is taken from there."""
        done = self.loop.ends[n] if loop is not NO_LOOP else 0
        for stage_id in self.rows[n][:done]:
            k = 2 * self.loop.ids.index(stage_id)
            x[:, a:b] = loop.sound[k : k + x.shape[0], a:b]
            meter(x, a, b, self.processors[stage_id][2])
            self._feed(stage_id, x, a, b, voice)
        self._run(self.rows[n][done:], x, a, b, states, voice)

    def _run(self, ids: Sequence[str], x: Buffer, a: int, b: int, states: dict[str, Any], voice: VoiceContext) -> None:
        for stage_id in ids:
            _, processor, acc = self.processors[stage_id]
            state = states.get(stage_id)
            if state is None:
                state = states[stage_id] = processor.state()
            if voice.quanta == 1 or processor.off or processor.can_span():
                processor.process(x, a, b, state, voice)
            else:
                _one_by_one(processor, x, a, b, state, voice)
            meter(x, a, b, acc)
            self._feed(stage_id, x, a, b, voice)

    def _feed(self, stage_id: str, x: Buffer, a: int, b: int, voice: VoiceContext) -> None:
        """Set the audio-rate movers that a stage drives to its sound."""
        for mover in self.feeds.get(stage_id, ()):
            heard = np.zeros(x.shape[1])
            heard[a:b] = np.clip(x[:, a:b].mean(axis=0), -1.0, 1.0)
            voice.movers[mover] = heard


def _one_by_one(processor: Any, x: Buffer, a: int, b: int, state: Any, voice: VoiceContext) -> None:
    """Process samples a..b of x quantum by quantum, for a stage that can't take several at once."""
    for k in range(a // QUANTUM, -(-b // QUANTUM)):
        part = slice(k * QUANTUM, (k + 1) * QUANTUM)
        own = np.ascontiguousarray(x[:, part])
        processor.process(own, max(a - part.start, 0), min(b - part.start, QUANTUM), state, voice.quantum(k))
        x[:, part] = own
