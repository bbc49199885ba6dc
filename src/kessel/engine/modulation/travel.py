"""Where moved controls really went."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np

from .parameters import Array

TRAVEL_STEP = 256


@dataclass
class Travel:
    """Where a moved control really went, on its own scale, one value every TRAVEL_STEP samples (NaN in silence)."""

    path: str
    parts: list[Array] = field(default_factory=list)

    @property
    def values(self) -> Array:
        """All of it so far."""
        return np.concatenate(self.parts)
