"""Twelve attack clicks and the drums of the built-in beat, from formulas; mono, full scale 1.0, at 48 kHz."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from ...patch import CLICKS
from ..jit import RATE
from ..store import remembered

_Real = NDArray[np.float64]


def _time(ms: float) -> _Real:
    return np.arange(round(ms * RATE / 1000)) / RATE


def _noise(n: int, seed: int) -> _Real:
    return np.random.Generator(np.random.PCG64(seed)).uniform(-1.0, 1.0, n)


def _fall(t: _Real, ms: float) -> _Real:
    return np.exp(-t * 1000.0 / ms)


def _tone(t: _Real, high: float, low: float, ms: float) -> _Real:
    """A sine whose frequency falls exponentially from high to low."""
    tau = ms / 1000.0
    return np.sin(2 * np.pi * (low * t + (high - low) * tau * (1.0 - np.exp(-t / tau))))


def _bright(x: _Real, times: int = 1) -> _Real:
    for _ in range(times):
        x = np.diff(x, prepend=0.0)
    return x


def _finished(x: _Real) -> _Real:
    x = x * np.minimum(1.0, np.arange(x.size)[::-1] / (0.002 * RATE))
    x = x * np.minimum(1.0, (np.arange(x.size) + 1) / 6.0)
    return np.asarray(x / np.abs(x).max())


_RECIPES: dict[str, Callable[[], _Real]] = {
    "tick": lambda: _bright(_noise(480, 11), 1) * _fall(_time(10), 1.2),
    "tock": lambda: _tone(_time(40), 1900, 900, 4) * _fall(_time(40), 6),
    "snap": lambda: (
        _bright(_noise(1440, 12), 2) * _fall(_time(30), 5)
        + 0.4 * _tone(_time(30), 2600, 1500, 3) * _fall(_time(30), 3)
    ),
    "knock": lambda: _tone(_time(80), 700, 310, 8) * _fall(_time(80), 14),
    "thud": lambda: _tone(_time(120), 320, 95, 16) * _fall(_time(120), 28),
    "pop": lambda: _tone(_time(50), 250, 800, 9) * _fall(_time(50), 9),
    "flick": lambda: _bright(_noise(720, 13), 1) * _fall(_time(15), 2) * (1 + np.sin(2 * np.pi * 3400 * _time(15))),
    "scrape": lambda: (
        _bright(_noise(2880, 14), 1)
        * _fall(_time(60), 22)
        * (0.5 + 0.5 * np.sign(np.sin(2 * np.pi * 160 * _time(60))))
    ),
    "ping": lambda: (_tone(_time(150), 2210, 2200, 5) + 0.6 * _tone(_time(150), 5310, 5300, 5)) * _fall(_time(150), 30),
    "chip": lambda: (
        _tone(_time(25), 5200, 2400, 3) * _fall(_time(25), 4) + 0.3 * _bright(_noise(1200, 15)) * _fall(_time(25), 2)
    ),
    "latch": lambda: (
        _bright(_noise(1920, 16), 1)
        * (_fall(_time(40), 1.5) + 0.7 * (_time(40) > 0.018) * _fall(np.maximum(_time(40) - 0.018, 0), 2))
    ),
    "drip": lambda: _tone(_time(90), 900, 1900, 30) * _fall(_time(90), 18) * np.minimum(1.0, _time(90) * 400),
}  # fmt: skip

assert tuple(_RECIPES) == tuple(slug for slug, _ in CLICKS)


@remembered
def click(slug: str) -> _Real:
    """An attack click, (1, n). Raises KeyError."""
    return _finished(_RECIPES[slug]())[None, :]


@remembered
def kick(pitch: float) -> _Real:
    """A kick drum whose pitch settles at ``pitch`` Hz, (n,)."""
    t = _time(420)
    body = _tone(t, 6.0 * pitch + 120.0, pitch, 22) * _fall(t, 130) * np.minimum(1.0, t * 2000.0)
    return _finished(np.tanh(1.6 * body) + 0.25 * _bright(_noise(t.size, 21)) * _fall(t, 1.5))


@remembered
def snare() -> _Real:
    """A snare drum, (n,)."""
    t = _time(260)
    tone = 0.6 * _tone(t, 320, 185, 12) * _fall(t, 55)
    return _finished(tone + 0.9 * _bright(_noise(t.size, 22)) * _fall(t, 70))


@remembered
def hat() -> _Real:
    """A closed hat, (n,)."""
    t = _time(90)
    ring = sum(np.sign(np.sin(2 * np.pi * f * t)) for f in (3170.0, 4310.0, 5730.0, 7190.0))
    return _finished(_bright(_noise(t.size, 23) + 0.35 * ring, 2) * _fall(t, 18))
