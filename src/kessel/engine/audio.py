"""Recorded audio by its word: attack clicks come with Kessel, other audio from who keeps it."""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Callable
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..dsp import RATE
from ..dsp.clicks import click
from ..dsp.playback import Region, region_of
from ..patch import CLICK_PREFIX, CLICKS, Sample

_Real = NDArray[np.float64]
_Any = NDArray[np.floating[Any]]
_CLICKS = frozenset(slug for slug, _ in CLICKS)
_KEPT_BYTES = 64 * 1024 * 1024
LONGEST = 60 * RATE
"""Samples of the longest sound that is played as a whole."""

_lock = threading.Lock()
_keepers: list[Callable[[str], _Any | None]] = []
_kept: OrderedDict[str, _Real] = OrderedDict()


def keeper(find: Callable[[str], _Any | None]) -> None:
    """Name who finds audio by its word: 48 kHz, (1 or 2, n), or None. The newest is asked first."""
    with _lock:
        _keepers.insert(0, find)


def forget(find: Callable[[str], _Any | None]) -> None:
    """Ask this keeper no more."""
    with _lock:
        if find in _keepers:
            _keepers.remove(find)
        _kept.clear()


def recording_of(word: str) -> _Any | None:
    """The audio of this word, of any length, (1 or 2, n) at 48 kHz; None when nobody has it.

    A long one is read from the disk where it is touched: take a stretch of it.
    """
    if word.startswith(CLICK_PREFIX):
        slug = word.removeprefix(CLICK_PREFIX)
        return click(slug) if slug in _CLICKS else None
    with _lock:
        if word in _kept:
            _kept.move_to_end(word)
            return _kept[word]
        keepers = list(_keepers)
    for find in keepers:
        x = find(word)
        if x is not None and x.shape[1] > LONGEST:
            return x
        if x is not None:
            kept = np.ascontiguousarray(x, dtype=np.float64)
            with _lock:
                _kept[word] = kept
                while sum(v.nbytes for v in _kept.values()) > _KEPT_BYTES and len(_kept) > 1:
                    _kept.popitem(last=False)
            return kept
    return None


def audio_of(word: str) -> _Real | None:
    """The audio of this word where it is short enough to be played by a source or an effect, (1 or 2, n) float64."""
    x = recording_of(word)
    return None if x is None or x.shape[1] > LONGEST else np.asarray(x, dtype=np.float64)


_regions: OrderedDict[tuple[object, ...], Region | None] = OrderedDict()


def region_for(source: Sample) -> Region | None:
    """The stretch that a sample source plays; None when its audio is not there."""
    key = (source.audio, source.start, source.end, source.play)
    with _lock:
        if key in _regions:
            _regions.move_to_end(key)
            return _regions[key]
    x = audio_of(source.audio)
    if x is None:
        return None
    ms = RATE / 1000.0
    end = x.shape[1] if source.end >= 60000 else round(source.end * ms)
    made = region_of(x, round(source.start * ms), end, source.play == "loop")
    with _lock:
        _regions[key] = made
        while len(_regions) > 24:
            _regions.popitem(last=False)
    return made
