"""Kinds of voice stages and chain items, one registration line each; meters."""

from __future__ import annotations

from typing import Any

import numpy as np

from ...patch import Branch, ChainItem
from ..modulation import Array
from .delays import DELAY_PROCESSORS
from .distortion import DistortionProcessor
from .dynamics import CeilingProcessor, CompressorProcessor, ExpanderProcessor, MultibandProcessor
from .eq import EqProcessor
from .filters import FILTER_PROCESSORS
from .reverb import SpaceProcessor
from .stereo import STEREO_PROCESSORS

RUNS: dict[str, Any] = {
    **FILTER_PROCESSORS,
    "distortion": DistortionProcessor,
    "eq": EqProcessor,
    "compressor": CompressorProcessor,
    "expander": ExpanderProcessor,
    "multiband": MultibandProcessor,
    "ceiling": CeilingProcessor,
    **DELAY_PROCESSORS,
    "space": SpaceProcessor,
    **STEREO_PROCESSORS,
}


def processor_of(part: ChainItem) -> Any:
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
