"""Loudness over time, peaks, and what every layer brings to them."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ...engine import RATE
from ...measure import decibels, loudness, loudness_over, peaks_over
from ...patch import Edit
from ..evidence import Evidence

_Real = NDArray[np.float64]
_FRAMES = 500


@dataclass(frozen=True)
class LayerLevel:
    """A layer as it is mixed before the worked chain: LUFS and sample peak in dBFS. None if it is silent.

    without: change in loudness with this layer muted, in LU.
    """

    layer: str
    loudness: float | None
    peak: float | None
    without: float | None


@dataclass(frozen=True)
class LevelDetail:
    """Loudness and peaks of the output.

    momentary, short: LUFS every 100 ms of a pass that follows another, NaN where it is silent. peaks: dBTP along the
    pass. over: how far the sum exceeds the ceiling's limit before it, in dB (None: the ceiling is off, or nothing
    sounds).
    """

    integrated: float | None
    loudest: float | None
    loudest_short: float | None
    range: float | None
    true_peak: float | None
    crest: float | None
    dc: float
    over: float | None
    momentary: _Real
    short: _Real
    peaks: _Real
    layers: tuple[LayerLevel, ...]


def _highest(x: _Real) -> float | None:
    heard = x[np.isfinite(x)]
    return float(heard.max()) if heard.size else None


def _running(x: _Real, seconds: float) -> _Real:
    """Loudness in the last of so many passes, whose windows are full from the start."""
    n = x.shape[1]
    passes = 1 + int(np.ceil(seconds * RATE / n))
    found = loudness_over(np.tile(x, passes), seconds)
    return found[-max(1, 10 * n // RATE) :]


def level_detail(e: Evidence) -> LevelDetail:
    """Levels of the output, and of every layer."""
    x = e.loop.sum
    whole = e.sum.loudness.integrated
    momentary, short = _running(x, 0.4), _running(x, 3.0)
    layers = []
    heard = [layer for layer in e.patch.layers if not layer.mute]
    for layer in heard:
        own = e.loop.layers[layer.id]
        rest = e.with_edits([Edit(f"layers.{layer.id}.mute", True)]) if len(heard) > 1 else None
        left = loudness(rest.loop.sum).integrated if rest is not None else None
        layers.append(
            LayerLevel(
                layer.id,
                loudness(own).integrated,
                decibels(float(np.abs(own).max(initial=0.0)) ** 2),
                whole - left if whole is not None and left is not None else None,
            )
        )
    ceiling, before = e.patch.output.ceiling, decibels(e.loop.peak_before_ceiling**2)
    return LevelDetail(
        integrated=whole,
        loudest=_highest(momentary),
        loudest_short=_highest(short),
        range=e.sum.loudness.range,
        true_peak=e.sum.true_peak_dbtp,
        crest=e.sum.crest_db,
        dc=e.sum.dc_offset,
        over=before - ceiling.limit if ceiling.on and before is not None else None,
        momentary=momentary,
        short=short,
        peaks=peaks_over(x, _FRAMES),
        layers=tuple(layers),
    )
