"""Drawn waves as arrays: frames, their partials, and operations on them.

A frame is one cycle of FRAME_POINTS points, full scale 1.0. In a patch it is base64 text of 16-bit points.
"""

from __future__ import annotations

import base64
from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray
from scipy.interpolate import CubicSpline

from ...patch import FRAME_POINTS, MOST_FRAMES, STOCK_PREFIX, Wave
from ..store import remembered
from .stock_waves import stock_partials

SCALE = 32000.0
BARS = 64
"""Number of harmonics that the editor shows as bars."""

_Real = NDArray[np.float64]
_Partials = NDArray[np.complex128]


def frame_text(points: _Real) -> str:
    """A frame as text for a patch. A frame over full scale is scaled down."""
    top = float(np.abs(points).max(initial=0.0))
    scaled = points / max(1.0, top) * SCALE
    return base64.b64encode(np.round(scaled).astype("<i2").tobytes()).decode()


@remembered
def frame_points(text: str) -> _Real:
    """The points of a frame, (FRAME_POINTS,)."""
    if text.startswith(STOCK_PREFIX):
        return _drawn(stock_partials(text.removeprefix(STOCK_PREFIX)))
    return np.frombuffer(base64.b64decode(text), dtype="<i2").astype(np.float64) / SCALE


@remembered
def frame_partials(text: str, most: int) -> _Partials:
    """Partials 1..most of a frame, as many as it can hold. For a built-in wave, the exact ones."""
    out = np.zeros(most, dtype=np.complex128)
    if text.startswith(STOCK_PREFIX):
        c = stock_partials(text.removeprefix(STOCK_PREFIX))
    else:
        c = partials(frame_points(text))
    n = min(most, c.size)
    out[:n] = c[:n]
    return out


def partials(points: _Real) -> _Partials:
    """Partials of a cycle given by points, as many as they can hold."""
    return np.asarray(np.fft.rfft(points)[1 : points.size // 2] * (2.0 / points.size), dtype=np.complex128)


def _drawn(c: _Partials, points: int = FRAME_POINTS) -> _Real:
    spectrum = np.zeros(points // 2 + 1, dtype=np.complex128)
    n = min(c.size, points // 2 - 1)
    spectrum[1 : n + 1] = 0.5 * points * c[:n]
    return np.asarray(np.fft.irfft(spectrum, points))


def from_bars(points: _Real, levels_db: _Real, degrees: _Real) -> _Real:
    """The cycle with its first harmonics set: levels in dB (-72 and below is none) and sine phases in degrees.

    Higher harmonics stay. levels_db, degrees: (n,), n at most BARS.
    """
    c = partials(points)
    n = min(levels_db.size, BARS)
    size = np.where(levels_db[:n] <= -72.0, 0.0, 10.0 ** (levels_db[:n] / 20.0))
    c[:n] = size * np.exp(1j * (np.radians(degrees[:n]) - 0.5 * np.pi))
    return _drawn(c)


LOWEST, HIGHEST = -72.0, 6.0
"""Levels of a harmonic in dB; at the lowest there is none."""


def bars_of(points: _Real) -> tuple[_Real, _Real]:
    """Levels in dB and sine phases in degrees of the first BARS harmonics."""
    c = partials(points)[:BARS]
    size = np.abs(c)
    db = 20.0 * np.log10(np.maximum(size, 10.0**-3.6))
    degrees = np.where(size > 10.0**-3.5, np.mod(np.degrees(np.angle(c)) + 90.0, 360.0), 0.0)
    return db, degrees


def draw(points: _Real, x0: float, y0: float, x1: float, y1: float) -> _Real:
    """The cycle with a straight stroke from x0 to x1 (0..1 along it) at heights y0 to y1."""
    out = points.copy()
    (a, ya), (b, yb) = sorted([(x0, y0), (x1, y1)])
    first, last = round(a * (points.size - 1)), round(b * (points.size - 1))
    first, last = max(0, first), min(points.size - 1, last)
    out[first : last + 1] = np.clip(np.linspace(ya, yb, last - first + 1), -1.0, 1.0)
    return out


def morph(one: _Real, two: _Real, share: float) -> _Real:
    """Interpolation between two cycles: levels of the partials, and phases the short way round."""
    a, b = partials(one), partials(two)
    size = (1.0 - share) * np.abs(a) + share * np.abs(b)
    turn = np.angle(b * np.conj(a))
    phase = np.where(np.abs(a) > 1e-9, np.angle(a) + share * turn, np.angle(b))
    return _drawn(np.asarray(size * np.exp(1j * phase), dtype=np.complex128))


def _normalised(y: _Real) -> _Real:
    top = float(np.abs(y).max())
    return y / top if top > 1e-9 else y


def _smoothed(y: _Real) -> _Real:
    kernel = np.hanning(35)[1:-1]
    wide = np.concatenate([y[-16:], y, y[:16]])
    return np.convolve(wide, kernel / kernel.sum(), "valid")


def _softened(y: _Real) -> _Real:
    c = partials(y)
    k = np.arange(1, c.size + 1)
    return _drawn(np.asarray(c / np.sqrt(1.0 + (k / 12.0) ** 2), dtype=np.complex128))


TOUCHES: dict[str, tuple[str, Callable[[_Real], _Real]]] = {
    "reverse": ("Reverse", lambda y: y[::-1].copy()),
    "invert": ("Invert", lambda y: -y),
    "normalise": ("Normalise", _normalised),
    "remove-dc": ("Remove DC", lambda y: y - y.mean()),
    "smooth": ("Smooth", _smoothed),
    "soften": ("Soften highs", _softened),
}
"""One-click changes of a frame: name and function."""


def keep_first(points: _Real, count: int) -> _Real:
    """The cycle with its first ``count`` harmonics alone."""
    return _drawn(partials(points)[: max(1, count)])


def cycles_from_audio(x: _Real, period: float, at: int, count: int) -> tuple[list[_Real], float]:
    """``count`` cycles of ``period`` samples cut from x, (n,), and where the first begins: at the rising zero crossing
    nearest to ``at``.

    Each is resampled to FRAME_POINTS by a cubic spline, with the jump at its join spread over the cycle.
    """
    start = _rising_zero(x, at, period)
    frames = []
    for i in range(count):
        a = start + i * period
        if a + period + 1 > x.size:
            break
        fine = a + period * np.arange(FRAME_POINTS + 1) / FRAME_POINTS
        first = max(0, int(a) - 8)
        near = x[first : int(a + period) + 9]
        y = CubicSpline(np.arange(near.size), near)(fine - first)
        y = y[:-1] - (y[-1] - y[0]) * np.arange(FRAME_POINTS) / FRAME_POINTS
        frames.append(y)
    top = max((float(np.abs(f).max()) for f in frames), default=0.0)
    return [f / top for f in frames] if top > 1e-9 else frames, start


def _rising_zero(x: _Real, at: int, period: float) -> float:
    near = x[max(0, at - 1) : at + int(2 * period) + 2]
    rises = np.flatnonzero((near[:-1] < 0) & (near[1:] >= 0))
    if rises.size == 0:
        return float(max(0, at))
    i = int(rises[0])
    part = -near[i] / max(near[i + 1] - near[i], 1e-12)
    return max(0, at - 1) + i + float(part)


def frames_of(wave: Wave) -> list[_Real]:
    """The frames of a wave as points."""
    return [frame_points(t) for t in wave.frames]


def with_frames(wave: Wave, frames: list[_Real]) -> Wave:
    """The wave with other frames, MOST_FRAMES at most."""
    return wave.model_copy(update={"frames": [frame_text(f) for f in frames[:MOST_FRAMES]]})
