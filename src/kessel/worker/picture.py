"""The measured curves of a patch that workspaces draw."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..checks import Evidence
from ..measure import Band
from ..patch import Patch

_Real = NDArray[np.floating[Any]]

POINTS = 480
LOW_HZ, HIGH_HZ = 20.0, 20000.0


def axis() -> NDArray[np.float64]:
    """Frequencies of the points of a picture, evenly spaced on the shared axis."""
    return np.asarray(LOW_HZ * (HIGH_HZ / LOW_HZ) ** (np.arange(POINTS) / (POINTS - 1)))


@dataclass(frozen=True)
class Picture:
    """Levels along the shared axis in dB for the sum and every layer, the travel of moved controls, and the loop.

    stages: peak in dBFS behind each stage. travel, paths: on the control's own scale. loop: (2, n) float32. traces:
    gains of the effects over the loop in dB.
    """

    version: int
    patch: Patch
    loudness: float | None
    true_peak: float | None
    bands: tuple[Band, ...]
    sum: _Real
    sum_hold: _Real
    layers: dict[str, _Real]
    stages: dict[str, float | None]
    travel: dict[str, tuple[float, float]]
    paths: Mapping[str, _Real]
    loop: NDArray[np.float32] = field(repr=False)
    traces: Mapping[str, _Real] = field(default_factory=dict)


def picture_of(version: int, e: Evidence) -> Picture:
    """The picture of measured evidence."""
    hz = axis()
    travel: dict[str, tuple[float, float]] = {}
    for path, values in e.loop.travel.items():
        heard = values[np.isfinite(values)]
        if heard.size:
            travel[path] = float(heard.min()), float(heard.max())
    return Picture(
        version=version,
        patch=e.patch,
        loudness=e.sum.loudness.integrated,
        true_peak=e.sum.true_peak_dbtp,
        bands=tuple(e.sum.bands),
        sum=e.sum.spectrum.curve(hz),
        sum_hold=e.sum.spectrum.curve(hz, hold=True),
        layers={layer.id: e.spectrum(layer.id).curve(hz) for layer in e.patch.layers},
        stages={path: peak for path, (peak, _) in e.stages.items()},
        travel=travel,
        paths=e.loop.travel,
        loop=e.loop.sum.astype(np.float32),
        traces=e.loop.traces,
    )
