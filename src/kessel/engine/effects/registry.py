"""Processor classes by kind of effect, and level meters."""

from __future__ import annotations

from typing import Any

import numpy as np

from ...patch import EFFECTS, Branch, ChainItem
from ..modulation import Array

_CLASSES = {kind.word: kind.processor_class() for kind in EFFECTS}
"""All are imported with the engine, so that nothing is imported while a stream plays."""


def processor_class(kind: str) -> Any:
    """The processor class of a kind of effect. None for a branch, which its chain processes."""
    return _CLASSES.get(kind)


def processor_of(part: ChainItem) -> Any:
    """A new processor of a stage or chain item."""
    return _CLASSES[part.kind](part)


def latency_of(part: ChainItem) -> int:
    """Latency in samples. It is the same on and off."""
    if isinstance(part, Branch):
        return max(sum(latency_of(i) for i in branch_path.items) for branch_path in part.paths)
    return int(_CLASSES[part.kind].latency_of(part))


class Meters:
    """Peak and mean square behind every stage, by path."""

    def __init__(self) -> None:
        self.found: dict[str, Array] = {}

    def forget(self) -> None:
        """Reset all meters."""
        for acc in self.found.values():
            acc[:] = 0.0

    def of(self, name: str) -> Array:
        """The meter of a stage: peak, sum of squares, number of samples."""
        return self.found.setdefault(name, np.zeros(3))
