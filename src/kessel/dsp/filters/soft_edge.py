"""The saturation of driven filters: x / sqrt(1 + x²).

Its antiderivative is sqrt(1 + x²), so the antiderivative anti-aliasing of Parker, Zavalishin and Le Bivic 2016 has no
division that could fail: (F(x) - F(p)) / (x - p) = (x + p) / (F(x) + F(p)).
"""

from __future__ import annotations

from functools import cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..jit import inline

FULL_AT = 3.0
"""Drive in dB at which the edge is complete. Below that it fades in, so that 0 dB changes nothing."""


@inline
def edge(x: Any) -> Any:
    """The saturation itself."""
    return x / np.sqrt(1.0 + x * x)


@inline
def edge_between(x: Any, past: Any) -> Any:
    """The mean of the saturation from ``past`` to ``x``."""
    return (x + past) / (np.sqrt(1.0 + x * x) + np.sqrt(1.0 + past * past))


@cache
def _table() -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    drives = np.linspace(0.0, 48.0, 193)
    wave = 0.35 * np.sin(2 * np.pi * np.arange(256) / 256)
    driven = wave * 10.0 ** (drives[:, None] / 20.0)
    out = np.sqrt(np.mean((driven / np.sqrt(1.0 + driven**2)) ** 2, axis=1))
    return drives, np.sqrt(np.mean(wave**2)) / out


def level_back(drive_db: NDArray[np.float64]) -> NDArray[np.float64]:
    """Gain that restores the level of a sine at -9 dBFS after ``drive_db``. A fixed rule."""
    drives, gains = _table()
    return np.asarray(np.interp(drive_db, drives, gains))


def edge_share(drive_db: NDArray[np.float64]) -> NDArray[np.float64]:
    """Weight of the saturation, 0..1."""
    return np.asarray(np.clip(drive_db / FULL_AT, 0.0, 1.0))
