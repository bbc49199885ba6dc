"""The running forms of voice stages and chain items, and their meters."""

from __future__ import annotations

from typing import Any

import numpy as np

from ...patch import EFFECTS, Branch, ChainItem
from ..modulation import Array

_CLASSES = {kind.word: kind.processor_class() for kind in EFFECTS}
"""All are loaded with the engine: nothing is loaded while a stream plays."""


def processor_class(kind: str) -> Any:
    """The class that runs a kind of stage or chain item; None for a branch, which its chain runs."""
    return _CLASSES.get(kind)


def processor_of(part: ChainItem) -> Any:
    """The running form of a stage or chain item."""
    return _CLASSES[part.kind](part)


def latency_of(part: ChainItem) -> int:
    """Latency in samples, on or off."""
    if isinstance(part, Branch):
        return max(sum(latency_of(i) for i in way.items) for way in part.ways)
    return int(_CLASSES[part.kind].latency_of(part))


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
