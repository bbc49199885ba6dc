"""Who is heard on a note: layers and sources by how they sounded, never by a resting level.

A fader at off that a macro opens is heard; a layer that its envelope keeps shut is not.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..engine import RATE
from ..patch import SILENT_DB, Layer, Oscillator, Patch, Range, Source, pitch_hz

_FRAME = RATE // 100
_HOP = _FRAME // 2
HEARD_DB = -60.0
"""The loudest 10 ms of what is heard on a note, in dBFS RMS, and how far below the note's loudest layer."""
BELOW_DB = 45.0


@dataclass(frozen=True)
class Played:
    """A source as it is played: its frequency over the note's, and its level in dB, faders counted and stages not."""

    layer: str
    source: str
    ratio: float
    level: float


def ratio_of(layer: Layer, source: Oscillator) -> float:
    """Frequency of an oscillator over the note's, as its layer plays it."""
    shift = layer.play.transpose / 12.0 + layer.play.fine / 1200.0
    return float(source.ratio * 2.0 ** (shift + source.octave + source.semitones / 12.0 + source.cents / 1200.0))


def sounds_at(patch: Patch, layer: Layer, source: Oscillator, pitch: float) -> float:
    """Frequency in Hz at which an oscillator is played on a note, before anything moves it: that of the source that
    restarts it, if one does.
    """
    restarts = source.sync == "source" and any(s.id == source.sync_to for s in layer.sources)
    played = next(s for s in layer.sources if s.id == source.sync_to) if restarts else source
    assert isinstance(played, Oscillator)
    return pitch_hz(pitch + layer.play.pitch, patch.tuning) * ratio_of(layer, played) + played.offset


def moved_levels(patch: Patch) -> set[str]:
    """Paths of the levels that movements move."""
    return {m.target for m in patch.movements if not m.lost and m.amount and m.target.endswith(".level")}


def can_sound(patch: Patch) -> dict[str, list[Source]]:
    """The sources that can be heard, by layer: at any level, or opened by a movement."""
    moved = moved_levels(patch)
    found: dict[str, list[Source]] = {}
    for layer in patch.layers:
        own = f"layers.{layer.id}"
        if not layer.mute and (layer.level > SILENT_DB or f"{own}.level" in moved):
            found[layer.id] = [
                s
                for s in layer.sources
                if s.to != "modulates only" and (s.level > SILENT_DB or f"{own}.sources.{s.id}.level" in moved)
            ]
    return found


def oscillators(sources: Iterable[Source]) -> list[Oscillator]:
    """The sources that play a pitch."""
    return [s for s in sources if isinstance(s, Oscillator)]


def frame_powers(x: NDArray[np.floating]) -> NDArray[np.float64]:
    """Mean power of a loop x, (channels, n), over 10 ms from every 5 ms on, around its end."""
    channels, n = x.shape
    count = -(-n // _HOP)
    after = np.take(x, np.arange((count + 1) * _HOP - n), axis=1, mode="wrap")
    hops = np.concatenate([x, after], axis=1).reshape(channels, count + 1, _HOP)
    powers = np.einsum("cij,cij->i", hops, hops, dtype=np.float64)
    return np.asarray((powers[:-1] + powers[1:]) / (_FRAME * channels))


def loudest(powers: NDArray[np.float64], start: int, length: int) -> float:
    """The loudest 10 ms from ``start`` on for ``length`` samples, in dBFS RMS. powers: of ``frame_powers``."""
    first = start // _HOP
    count = max(1, (length - _FRAME) // _HOP + 1)
    most = float(powers[(first + np.arange(count)) % powers.size].max())
    return 10.0 * float(np.log10(max(most, 1e-14)))


def without_others(layer: Layer, source: str) -> list[tuple[str, object]]:
    """Edits below a layer that leave one of its sources, with one copy, as path and value."""
    edits: list[tuple[str, object]] = [
        (f"sources.{s.id}.to", "modulates only") for s in layer.sources if s.id != source and s.to != "modulates only"
    ]
    return [*edits, ("unison.copies", 1)] if layer.unison.copies > 1 else edits


def bare(layer: Layer) -> list[tuple[str, object]]:
    """Edits below a layer that take away all that follows its sources."""
    found: list[tuple[str, object]] = [("stages", [])] if layer.stages else []
    found += [("chain", [])] if layer.chain else []
    is_open = layer.range.low <= 20.0 and layer.range.high >= 20000.0
    return found if is_open else [*found, ("range", Range().model_dump())]
