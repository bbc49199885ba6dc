"""The voice stages whose output modulates the sources before them, laid out for the loop."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

import numpy as np

from ...dsp.filters.comb import LINE, sincs
from ...dsp.filters.svf import PREWARP_TABLE
from ...dsp.nonlinear.halfband import LINE as HALF_BAND
from ...dsp.sources.stage_loop import BOTH, CURVES, KIND, SIZE, STATE, THROUGH, TRIM, LoopArrays
from ...patch import Layer, fed_back, voice_row
from ..effects import VoiceContext
from ..modulation import Array, SmoothedParameter

_MIX = "/mix"
"""Stands for the mix of two branches among the stages."""


class StageLoop:
    """The stages from the sources to the last one that feeds back, in order.

    ids: of the stages; in place of one, the mix of two branches. ends: for each of the four rows of stages, how many
    of them are in the loop.
    """

    def __init__(self, layer: Layer) -> None:
        row = voice_row(layer.stages, layer.branches)
        needed = {s.id for i in fed_back(layer) for s in row.up_to(i)}
        self.ids: list[str] = []
        came_from: list[tuple[int, int]] = []
        self.ends = [max((n + 1 for n, s in enumerate(part) if s.id in needed), default=0) for part in row.rows]
        last = [-1] * 4
        for n, part in enumerate(row.rows):
            came = -1 if n == 0 else last[0]
            if n == 3 and self.ends[3]:
                self.ids.append(_MIX)
                came_from.append((last[1], last[2]))
                came = len(self.ids) - 1
            for stage in part[: self.ends[n]]:
                self.ids.append(stage.id)
                came_from.append((came, -1))
                came = len(self.ids) - 1
            last[n] = came
        self._plan = np.array([(THROUGH, 0, *came) for came in came_from], dtype=np.int64).reshape(-1, 4)
        self._combs = any(s.kind == "comb" for s in layer.stages)

    def __bool__(self) -> bool:
        """Whether any stage feeds back."""
        return bool(self.ids)

    def arrays(
        self,
        processors: Mapping[str, Any],
        mix: SmoothedParameter,
        states: dict[str, Any],
        down: Array,
        voice: VoiceContext,
        size: int,
    ) -> LoopArrays:
        """The loop of a voice over so many samples. states: of the voice. down: half-band state of its sources."""
        count = len(self.ids)
        plan = self._plan.copy()
        curves = np.zeros((count, CURVES, size))
        curves[:, TRIM] = 1.0
        held = states.get("/loop")
        if held is None or held.ids != self.ids:
            held = states["/loop"] = _LoopState(self.ids, self._combs)
        for k, stage_id in enumerate(self.ids):
            if stage_id == _MIX:
                plan[k, KIND] = BOTH
                curves[k, 0] = mix.value(voice.movers, voice.quanta)
                continue
            processor = processors[stage_id]
            found: Sequence[Array] = ()
            if not processor.off:
                plan[k, KIND], plan[k, SIZE], found = processor.in_loop(voice)
                if processor.trim is not None:
                    curves[k, TRIM] = processor.over("trim", voice)
            for j, curve in enumerate(found):
                curves[k, j] = curve
            held.become(k, plan[k, KIND])
        return NO_LOOP._replace(
            plan=plan, curves=curves.reshape(-1, size), sound=np.zeros((2 * count, size)), state=held.state,
            line=held.line, down=down, sincs=sincs(),
        )  # fmt: skip


class _LoopState:
    """What the stages of a loop remember in a voice."""

    def __init__(self, ids: list[str], combs: bool) -> None:
        self.ids = list(ids)
        self._kinds = [THROUGH] * len(ids)
        self.state = np.zeros((2 * len(ids), STATE))
        self.line = np.zeros((2 * len(ids), LINE if combs else 0))

    def become(self, k: int, kind: int) -> None:
        """Clear what a stage remembers if it is another than before, or off."""
        if kind != self._kinds[k]:
            both = slice(2 * k, 2 * k + 2)
            self.state[both], self.line[both] = 0.0, 0.0
            self._kinds[k] = kind


NO_LOOP = LoopArrays(
    memory=np.zeros((0, 0, 3)), x=np.zeros((0, 0)), plan=np.zeros((0, 4), dtype=np.int64), curves=np.zeros((0, 0)),
    sound=np.zeros((0, 0)), state=np.zeros((0, STATE)), line=np.zeros((0, 0)), down=np.zeros(HALF_BAND),
    sincs=np.zeros((0, 0)), prewarp=PREWARP_TABLE,
)  # fmt: skip
"""No stage feeds back."""
