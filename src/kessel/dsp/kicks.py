"""Gain reduction by a kick."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

_Real = NDArray[np.float64]


def ducked(since: _Real, attack: float, hold: float, release: float) -> _Real:
    """Gain reduction, 0..1, so many samples after a kick. All times are in samples. Half-sine attack and release."""
    down = 0.5 - 0.5 * np.cos(np.pi * np.clip(since / max(attack, 1.0), 0.0, 1.0))
    up = 0.5 + 0.5 * np.cos(np.pi * np.clip((since - attack - hold) / max(release, 1.0), 0.0, 1.0))
    return np.asarray(np.where(since < 0, 0.0, np.minimum(down, up)))


def kicked(position: _Real, kicks: _Real, round_length: float, attack: float, hold: float, release: float) -> _Real:
    """Gain reduction at positions of a cycle of kicks, in samples: the largest of the last three kicks."""
    if kicks.size == 0:
        return np.zeros_like(position)
    place = np.mod(position, round_length)
    index = np.searchsorted(kicks, place, side="right") - 1
    found = np.zeros_like(position)
    for back in range(3):
        k = index - back
        turns = np.floor_divide(k, kicks.size)
        found = np.maximum(found, ducked(place - kicks[k % kicks.size] - turns * round_length, attack, hold, release))
    return found
