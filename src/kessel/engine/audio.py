"""Recorded audio by its digest: built-in attack clicks, and audio that resolvers find."""

from __future__ import annotations

import threading
from collections.abc import Callable
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..dsp import RATE
from ..dsp.sources.clicks import click
from ..dsp.sources.playback import Region, region_of
from ..dsp.store import KEPT
from ..patch import CLICK_PREFIX, CLICKS, Sample

_Real = NDArray[np.float64]
_Any = NDArray[np.floating[Any]]
_RECORDING, _REGION = _RESOLVED = "recording", "region"
_CLICKS = frozenset(slug for slug, _ in CLICKS)
LONGEST = 60 * RATE
"""Most samples of a sound that is played from memory."""

_lock = threading.Lock()
_resolvers: list[Callable[[str], _Any | None]] = []


def add_audio_resolver(find: Callable[[str], _Any | None]) -> None:
    """Add a function that finds audio by its digest: 48 kHz, (1 or 2, n), or None. The newest is asked first."""
    with _lock:
        _resolvers.insert(0, find)


def remove_audio_resolver(find: Callable[[str], _Any | None]) -> None:
    """Remove a resolver."""
    with _lock:
        if find in _resolvers:
            _resolvers.remove(find)
    KEPT.forget(lambda key: isinstance(key, tuple) and key[0] in _RESOLVED)


def recording_of(word: str) -> _Any | None:
    """The audio of a digest, of any length, (1 or 2, n) at 48 kHz. None if nobody has it.

    Long audio is read from the disk where it is accessed: take a stretch of it.
    """
    if word.startswith(CLICK_PREFIX):
        slug = word.removeprefix(CLICK_PREFIX)
        return click(slug) if slug in _CLICKS else None
    return KEPT.get((_RECORDING, word), lambda: _found(word))


def _found(word: str) -> _Any | None:
    with _lock:
        resolvers = list(_resolvers)
    found = (find(word) for find in resolvers)
    x = next((x for x in found if x is not None), None)
    return x if x is None or x.shape[1] > LONGEST else np.ascontiguousarray(x, dtype=np.float64)


def audio_of(word: str) -> _Real | None:
    """The audio of a digest, (1 or 2, n) float64, if it is short enough for a source or an effect. None otherwise."""
    x = recording_of(word)
    return None if x is None or x.shape[1] > LONGEST else np.asarray(x, dtype=np.float64)


def region_for(source: Sample) -> Region | None:
    """The region that a sample source plays. None if its audio is missing."""
    return KEPT.get((_REGION, source.audio, source.start, source.end, source.play), lambda: _cut(source))


def _cut(source: Sample) -> Region | None:
    x = audio_of(source.audio)
    if x is None:
        return None
    ms = RATE / 1000.0
    end = x.shape[1] if source.end >= 60000 else round(source.end * ms)
    return region_of(x, round(source.start * ms), end, source.play == "loop")
