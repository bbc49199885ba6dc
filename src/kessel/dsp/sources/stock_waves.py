"""The forty built-in drawn waves, each from a formula.

A recipe gives complex partials from 1 on: Re(c_k exp(2 pi j k t)), t in cycles.
"""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from ...patch import STOCK
from ..chance import share, sign
from ..store import remembered

_Partials = NDArray[np.complex128]
_Real = NDArray[np.float64]

_N = 512
_K = np.arange(1, _N + 1)
_T = np.arange(8192) / 8192
_SINE = -1j


def _levels(*levels: float) -> _Partials:
    out = np.zeros(_N, dtype=np.complex128)
    out[: len(levels)] = _SINE * np.array(levels)
    return out


def _form(y: _Real) -> _Partials:
    return np.asarray((np.fft.rfft(y) * (2.0 / y.size))[1 : _N + 1])


def _saw() -> _Partials:
    return np.asarray(_SINE * 2.0 / np.pi / _K)


def _square() -> _Partials:
    return np.where(_K % 2 == 1, _SINE * 4.0 / np.pi / _K, 0j)


def _peaks(*peaks: tuple[float, float, float]) -> _Partials:
    """A saw spectrum with formants: partial, width in partials, gain."""
    gain = sum(g / (1.0 + ((_K - p) / w) ** 2) for p, w, g in peaks)
    return np.asarray(_SINE * (0.3 + gain) / _K)


def _chance(name: str, slope: float, density: float, most: int) -> _Partials:
    out = np.zeros(_N, dtype=np.complex128)
    out[0] = _SINE
    for k in range(2, most + 1):
        if share(name, k, "there") < density:
            out[k - 1] = _SINE * (0.4 + 0.6 * share(name, k)) * k**-slope * np.exp(1j * np.pi * sign(name, k, "turn"))
    return out


def _steps(count: int) -> _Real:
    return np.round(np.sin(2 * np.pi * _T) * (count - 1) / 2.0 + (count % 2 == 0) * 0.5) / ((count - 1) / 2.0)


_RECIPES: dict[str, Callable[[], _Partials]] = {
    "round-low": lambda: _levels(1, 0.18, 0.05),
    "round-firm": lambda: _levels(1, 0.4, 0.2, 0.08, 0.03),
    "first-three": lambda: _levels(1, 0.5, 0.33),
    "first-five": lambda: _levels(1, 0.6, 0.45, 0.35, 0.28),
    "odd-four": lambda: _levels(1, 0, 0.4, 0, 0.25, 0, 0.16),
    "octave-stack": lambda: _levels(1, 0.7, 0, 0.5, 0, 0, 0, 0.35, *[0] * 7, 0.25),
    "fifth-stack": lambda: _levels(1, 0.5, 0.7, 0, 0, 0.45, 0, 0, 0.3, 0, 0, 0.25),
    "thin-square": lambda: _form(np.where(_T < 0.12, 1.0, -0.14)),
    "soft-square": lambda: _form(np.tanh(3.0 * np.sin(2 * np.pi * _T))),
    "step-four": lambda: _form(_steps(4)),
    "step-seven": lambda: _form(_steps(7)),
    "stair-up": lambda: _form(np.floor(_T * 6.0) / 2.5 - 1.0),
    "half-sine": lambda: _form(np.maximum(np.sin(2 * np.pi * _T), 0.0) * 2.0),
    "full-wave": lambda: _form(np.abs(np.sin(np.pi * _T)) * 2.0 + 0.35 * np.sin(2 * np.pi * _T)),
    "bent-sine": lambda: _form(np.sin(2 * np.pi * _T**1.8)),
    "leaning-saw": lambda: _form(np.where(_T < 0.15, _T / 0.075 - 1.0, 1.0 - (_T - 0.15) / 0.425)),
    "double-saw": lambda: 0.6 * (_saw() + _saw() * np.exp(2j * np.pi * _K * 0.37)),
    "triple-saw": lambda: 0.45 * _saw() * (1 + np.exp(2j * np.pi * _K * 0.21) + np.exp(2j * np.pi * _K * 0.55)),
    "notched-saw": lambda: _saw() * (1.0 - 0.95 / (1.0 + ((_K - 6) / 2.0) ** 2)),
    "dull-saw": lambda: _saw() / (1.0 + (_K / 7.0) ** 2),
    "bright-saw": lambda: _saw() * np.minimum(1.0 + _K / 10.0, 3.0),
    "spike": lambda: _form(np.exp(-(((_T - 0.25) / 0.03) ** 2)) * 1.8),
    "twin-spike": lambda: _form(1.6 * np.exp(-(((_T - 0.2) / 0.03) ** 2)) - 1.2 * np.exp(-(((_T - 0.55) / 0.05) ** 2))),
    "rubber": lambda: _form(np.sin(2 * np.pi * _T + 1.6 * np.sin(2 * np.pi * _T))),
    "reed-wide": lambda: _square() * (0.6 + 0.8 / (1.0 + ((_K - 5) / 3.0) ** 2)),
    "reed-narrow": lambda: _form(np.where(_T < 0.3, 1.0, -0.43)) * (0.5 + 1.0 / (1.0 + ((_K - 9) / 4.0) ** 2)),
    "open-mouth": lambda: _peaks((1, 1, 0.8), (13, 3, 5.0), (20, 3, 4.0)),
    "round-mouth": lambda: _peaks((1, 1, 0.8), (8, 2, 4.0), (14, 2, 3.0)),
    "flat-mouth": lambda: _peaks((1, 1, 0.8), (5, 2, 2.5), (38, 5, 12.0)),
    "nose": lambda: _peaks((1, 1, 0.8), (4, 1.5, 2.0), (24, 6, 6.0)),
    "iron-gate": lambda: _form(np.sin(2 * np.pi * _T + 2.2 * np.sin(2 * np.pi * 7 * _T))),
    "wet-rope": lambda: _form(
        np.sin(2 * np.pi * _T + 1.1 * np.sin(2 * np.pi * 3 * _T) + 0.6 * np.sin(2 * np.pi * 5 * _T))
    ),
    "mill-wheel": lambda: _form(np.sin(2 * np.pi * _T) * (1.0 + 0.7 * np.sin(2 * np.pi * 8 * _T))),
    "sluice": lambda: _form(np.sin(np.pi * np.sin(2 * np.pi * _T) * 0.7) + 0.2 * np.sin(2 * np.pi * 2 * _T)),
    "silt": lambda: _chance("silt", 1.0, 0.9, 300),
    "gravel": lambda: _chance("gravel", 0.7, 0.6, 200),
    "slate": lambda: _chance("slate", 1.1, 0.45, 128),
    "lantern": lambda: _levels(1, 0.2, 0.1) + _chance("lantern", 0.9, 0.2, 96) * 0.6,
    "undertow": lambda: _form(np.tanh(2.2 * np.sin(2 * np.pi * _T + 0.8 * np.sin(4 * np.pi * _T)) + 0.5)),
    "ebb": lambda: _form(np.sign(np.sin(2 * np.pi * _T)) * np.abs(np.sin(2 * np.pi * _T)) ** 0.35 * (1.0 - 0.4 * _T)),
}  # fmt: skip

assert tuple(_RECIPES) == tuple(slug for slug, _ in STOCK)


@remembered
def stock_partials(slug: str) -> _Partials:
    """Partials of a built-in wave with its peak at full scale. Raises KeyError."""
    c = _RECIPES[slug]()
    spectrum = np.zeros(4097, dtype=np.complex128)
    spectrum[1 : _N + 1] = 4096.0 * c
    return np.asarray(c / np.abs(np.fft.irfft(spectrum, 8192)).max())
