"""Loudness, peak and RMS at every place of all chains."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..engine import RATE, CancelToken, RenderCache, RenderCancelled, Taps, places_of_chains, tap_chain
from ..measure import decibels, loudness
from ..patch import Patch

_Real = NDArray[np.floating[Any]]
SILENT_LUFS = -70.0
"""Below this loudness there is nothing to match a level to."""


@dataclass(frozen=True)
class StageLevels:
    """Loudness in LUFS, peak and RMS in dBFS at one place of a chain. None if it is silent."""

    loudness: float | None
    peak: float | None
    rms: float | None

    @property
    def crest(self) -> float | None:
        """Peak over RMS in dB."""
        return None if self.peak is None or self.rms is None else self.peak - self.rms


@dataclass(frozen=True)
class ChainLevels:
    """Levels at every place of all chains by path, and the input of every item.

    wanted: new gains of level matches by path.
    """

    at: dict[str, StageLevels] = field(default_factory=dict)
    before: dict[str, str] = field(default_factory=dict)
    wanted: tuple[tuple[str, float], ...] = ()

    def change(self, path: str) -> float | None:
        """How much louder an item makes the loop, in LU. None if that is undefined."""
        own, before = self.at.get(path), self.at.get(self.before.get(path, ""))
        if own is None or before is None or own.loudness is None or before.loudness is None:
            return None
        if min(own.loudness, before.loudness) <= SILENT_LUFS:
            return None
        return own.loudness - before.loudness


def levels_of(given: _Real) -> StageLevels:
    """Levels of a loop, (2, n)."""
    x = given.astype(np.float64)
    peak = float(np.abs(x).max(initial=0.0))
    looped = np.concatenate((x[:, -min(x.shape[1], RATE // 2) :], x), axis=1)
    return StageLevels(loudness(looped).integrated, decibels(peak * peak), decibels(float(np.mean(x * x))))


def chain_levels(patch: Patch, takes: RenderCache, stop: CancelToken | None = None) -> ChainLevels:
    """Levels at every place of every chain."""
    stop = stop or CancelToken()
    return levels_from(patch, lambda place: tap_chain(patch, place, takes, stop), stop)


def levels_from(patch: Patch, taps_of: Callable[[str], Taps], stop: CancelToken) -> ChainLevels:
    """Levels at every place of every chain, from the taps there."""
    at: dict[str, StageLevels] = {}
    before: dict[str, str] = {}
    for place in places_of_chains(patch):
        taps = taps_of(place)
        before |= taps.before
        for path, x in taps.x.items():
            if stop.asked:
                raise RenderCancelled
            at[path] = levels_of(x)
    return ChainLevels(at, before)
