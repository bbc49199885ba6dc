"""Kinds of voice stages and chain items, one registration line each; chains; meters."""

from __future__ import annotations

from typing import Any

import numpy as np

from ..dsp.mixing import meter
from ..patch import ChainItem
from .filters import FILTER_RUNS
from .knobs import Array
from .runs import STILL, Buffer
from .shapers import DistortionRun, EqRun

_RUNS: dict[str, Any] = {**FILTER_RUNS, "distortion": DistortionRun, "eq": EqRun}


def run_of(part: ChainItem) -> Any:
    """The running form of a stage or chain item."""
    return _RUNS[part.kind](part)


def latency_of(part: ChainItem) -> int:
    """Latency in samples, on or off."""
    return int(_RUNS[part.kind].latency_of(part))


class Meters:
    """Peak and mean square after every stage, by stage path."""

    def __init__(self) -> None:
        self.found: dict[str, Array] = {}

    def of(self, name: str) -> Array:
        """The meter of a stage: peak, sum of squares, samples."""
        return self.found.setdefault(name, np.zeros(3))


class Chain:
    """Ordered items working on one stereo signal."""

    def __init__(self, items: list[ChainItem], place: str) -> None:
        self.place = place
        self._runs: dict[str, tuple[str, Any, Any]] = {}
        self._order: list[tuple[Array, Any, Any]] = []
        self._restless = True
        self.meters = Meters()
        self.update(items)

    def update(self, items: list[ChainItem]) -> None:
        """Take over turned controls, new items and a new order."""
        for item in items:
            kept = self._runs.get(item.id)
            if kept is not None and kept[0] == item.kind:
                kept[1].update(item)
            else:
                run = run_of(item)
                self._runs[item.id] = (item.kind, run, run.state())
        self._runs = {item.id: self._runs[item.id] for item in items}
        self._order = [(self.meters.of(f"{self.place}.{i}"), run, state) for i, (_, run, state) in self._runs.items()]
        self.latency = sum(latency_of(i) for i in items)
        self._restless = True

    def process(self, x: Buffer) -> None:
        """Work on a quantum of x, (2, QUANTUM), in place."""
        if self._restless:
            for _, run, _ in self._order:
                run.tick()
            self._restless = any(k.turning for _, run, _ in self._order for k in run.knobs.values())
        for acc, run, state in self._order:
            run.process(x, 0, x.shape[1], state, STILL)
            meter(x, 0, x.shape[1], acc)
