"""The values that moved controls took."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np

from .parameters import Array

TRAVEL_STEP = 256


@dataclass
class Travel:
    """The values that a moved control took, on its own scale, one every TRAVEL_STEP samples. NaN in silence."""

    path: str
    parts: list[Array] = field(default_factory=list)

    @property
    def values(self) -> Array:
        """All values so far."""
        return np.concatenate(self.parts)
