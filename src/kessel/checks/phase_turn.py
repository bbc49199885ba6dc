"""Items that leave every level as it is and still turn the phase: rows of all-passes, band splits that sum flat."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..engine import RATE, latency_of, through_item
from ..patch import BandDynamics, Edit, Layer, Multiband, write
from .finding import Candidate

_SIZE = 1 << 14
_QUIET = 1e-3
_EVEN_DB = 0.5
_LEAST_DEGREES = 5.0
_BINS = np.round(30.0 * 2.0 ** (np.arange(28) / 3.0) * _SIZE / RATE).astype(np.int64)
"""Bins of a spectrum nearest to third octaves from 30 Hz to 15 kHz, at which an all-pass item leaves the level."""


def phase_turn(part: Any, hz: float) -> float | None:
    """How far an item turns the phase at ``hz``, in degrees, -180..180, measured on an impulse.

    None if it changes levels, or turns by less than 5 degrees. Of multiband dynamics the splits count, not what they do
    to levels.
    """
    if not part.on or part.mix == 0.0:
        return None
    x = np.zeros((2, _SIZE))
    x[:, 0] = _QUIET
    y = through_item(_neutral(part), x)[0, latency_of(part) :] / _QUIET
    y = np.pad(y, (0, _SIZE - y.size))
    level = 20.0 * np.log10(np.maximum(np.abs(np.fft.rfft(y)[_BINS]), 1e-6))
    degrees = float(np.degrees(np.angle(_at(y, hz))))
    return degrees if np.ptp(level) < _EVEN_DB and abs(degrees) >= _LEAST_DEGREES else None


def turners(layers: Iterable[Layer], hz: float) -> Iterator[tuple[str, Any, Layer, float]]:
    """The items of layers that only turn the phase at ``hz``, by path, with their layer and the turn in degrees."""
    for layer in layers:
        own = f"layers.{layer.id}"
        for path, part in (
            *((f"{own}.stages.{x.id}", x) for x in layer.stages),
            *((f"{own}.chain.{x.id}", x) for x in layer.chain),
        ):
            turn = phase_turn(part, hz)
            if turn is not None:
                yield path, part, layer, turn


def turned_text(layers: Iterable[Layer], hz: float) -> str:
    """The items that turn the phase of layers, as text. Empty if there are none."""
    found = [
        f"{part.name} on {layer.name} turns its phase by {write(d, 'deg')}" for _, part, layer, d in turners(layers, hz)
    ]
    return "; ".join(found)


def unturned(layers: Iterable[Layer], hz: float) -> Iterator[Candidate]:
    """What turns the phase of layers, switched off."""
    for path, part, layer, _ in turners(layers, hz):
        yield f"Switch {part.name} on {layer.name} off", (Edit(f"{path}.on", False),)


def _neutral(part: Any) -> Any:
    """The item without what only changes its level."""
    plain: dict[str, Any] = {"trim": 0.0, "matched": False}
    if isinstance(part, Multiband):
        flat = [b.model_copy(update={"gain": BandDynamics.model_fields["gain"].default}) for b in part.bands]
        plain |= {"depth": 0.0, "bands": flat}
    return part.model_copy(update={k: v for k, v in plain.items() if hasattr(part, k)})


def _at(y: NDArray[np.float64], hz: float) -> complex:
    """The spectrum of an impulse response, (n,), at a frequency in Hz."""
    return complex(np.exp(-2j * np.pi * hz * np.arange(y.size) / RATE) @ y)
