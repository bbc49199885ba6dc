"""Kinds of voice stages and chain items, one registration line each; meters."""

from __future__ import annotations

from typing import Any

import numpy as np

from ...patch import Branch, ChainItem
from ..modulation import Array
from .delays import TIME_RUNS
from .distortion import DistortionRun
from .dynamics import CeilingRun, CompressorRun, ExpanderRun, MultibandRun
from .eq import EqRun
from .filters import FILTER_RUNS
from .reverb import SpaceRun
from .stereo import PLACING_RUNS

RUNS: dict[str, Any] = {
    **FILTER_RUNS,
    "distortion": DistortionRun,
    "eq": EqRun,
    "compressor": CompressorRun,
    "expander": ExpanderRun,
    "multiband": MultibandRun,
    "ceiling": CeilingRun,
    **TIME_RUNS,
    "space": SpaceRun,
    **PLACING_RUNS,
}


def run_of(part: ChainItem) -> Any:
    """The running form of a stage or chain item."""
    return RUNS[part.kind](part)


def latency_of(part: ChainItem) -> int:
    """Latency in samples, on or off."""
    if isinstance(part, Branch):
        return max(sum(latency_of(i) for i in way.items) for way in part.ways)
    return int(RUNS[part.kind].latency_of(part))


class Meters:
    """Peak and mean square after every stage, by stage path."""

    def __init__(self) -> None:
        self.found: dict[str, Array] = {}

    def forget(self) -> None:
        """Begin anew."""
        for acc in self.found.values():
            acc[:] = 0.0

    def of(self, name: str) -> Array:
        """The meter of a stage: peak, sum of squares, samples."""
        return self.found.setdefault(name, np.zeros(3))
