"""The spectrum of a stretch of sound, and the power in its bands."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy.fft import next_fast_len, rfft

from .levels import RATE, Audio, decibels

_AT_ONCE = 8
WINDOW = 1 << 16
"""1.4 s at 48 kHz."""

BANDS = (
    ("sub", 20.0, 60.0),
    ("low", 60.0, 120.0),
    ("warmth", 120.0, 250.0),
    ("mud", 250.0, 500.0),
    ("body", 500.0, 2000.0),
    ("bite", 2000.0, 6000.0),
    ("air", 6000.0, 20000.0),
)

_Array = NDArray[np.floating[Any]]


def _power(f: NDArray[np.complex64]) -> _Array:
    return np.asarray(np.square(f.real) + np.square(f.imag))


@dataclass(frozen=True)
class Spectrum:
    """Averaged power in bins from 0 Hz up, each array (bins,). The sum over bins is the mean square.

    left, right: the channels. mid: of (L+R)/2. cross: real part of L times R conjugate. hold: largest mean of both
    channels in any window.
    """

    step: float
    left: _Array
    right: _Array
    mid: _Array
    cross: _Array
    hold: _Array

    @classmethod
    def of(cls, x: Audio, wrap: bool = False, rate: int = RATE) -> Spectrum:
        """The spectrum of x, (1 or 2, n), at ``rate`` Hz, by Hann windows of 1.4 s (Welch 1967).

        They overlap by two thirds, the least with which every sample has the same weight.

        wrap: x is a loop.
        """
        n = x.shape[1]
        same = x.shape[0] == 1 or bool(np.array_equal(x[0], x[1]))
        # single precision leaves 140 dB, and takes half the time
        two = (x[:1] if same else x).astype(np.float32)
        window = WINDOW if rate == RATE else next_fast_len(round(WINDOW * rate / RATE), real=True)
        size = min(window, n) if not wrap else window
        hop = max(1, size // 3)
        if wrap:
            count = max(1, math.ceil(n / hop))
            starts = np.round(np.arange(count) * n / count).astype(np.int64)
        else:
            starts = np.arange(0, max(1, n - size + 1), hop)
        taper = (np.hanning(size + 1)[:-1] if size > 2 else np.ones(size)).astype(np.float32)
        scale = 2.0 / (size * float(np.square(taper).sum()))
        bins = size // 2 + 1
        left, right, mid, cross, hold = (np.zeros(bins, dtype=np.float32) for _ in range(5))
        if wrap:
            two = np.concatenate([two, two[:, np.arange(size) % n]], axis=1)
        # eight transforms at once cost as much as four
        many = _AT_ONCE // two.shape[0]
        for first in range(0, len(starts), many):
            parts = np.stack([two[:, s : s + size] for s in starts[first : first + many]])
            for f in rfft(parts * taper, axis=2):
                p0 = _power(f[0])
                left += p0
                if same:
                    np.maximum(hold, p0, out=hold)
                    continue
                p1 = _power(f[1])
                right += p1
                mid += _power(f[0] + f[1])
                cross += f[0].real * f[1].real + f[0].imag * f[1].imag
                np.maximum(hold, 0.5 * (p0 + p1), out=hold)
        if same:
            right, cross, mid = left, left, 4.0 * left
        mean = scale / len(starts)
        left, right, cross, mid = (a.astype(np.float64) * mean for a in (left, right, cross, mid))
        return cls(rate / size, left, right, 0.25 * mid, cross, hold.astype(np.float64) * scale)

    @property
    def hz(self) -> _Array:
        """Frequency of each bin."""
        return np.arange(self.left.size) * self.step

    @cached_property
    def _sums(self) -> dict[str, _Array]:
        found = {"both": 0.5 * (self.left + self.right), "hold": self.hold}
        for name in ("left", "right", "mid", "cross"):
            found[name] = getattr(self, name)
        return {name: np.concatenate([[0.0], np.cumsum(a)]) for name, a in found.items()}

    def power(self, low: float, high: float, what: str = "both") -> float:
        """Power between two frequencies. Bins at the edges count in part. ``what``: both, mid, left, right, cross."""
        return float(self._between(np.array([low]), np.array([high]), what)[0])

    def _between(self, low: _Array, high: _Array, what: str) -> _Array:
        total = self._sums[what]
        edges = np.arange(total.size) - 0.5
        return np.asarray(np.interp(high / self.step, edges, total) - np.interp(low / self.step, edges, total))

    def level(self, low: float, high: float) -> float | None:
        """Mean power of both channels in a band, in dB against a full-scale sine."""
        return decibels(2.0 * self.power(low, high))

    def mono_loss(self, low: float, high: float) -> float | None:
        """Mono loss in a band, in dB. None if the band is silent or cancels completely."""
        both = self.power(low, high)
        left = self.power(low, high, "mid") / both if decibels(both) is not None else 0.0
        return 10.0 * math.log10(left) if left > 1e-12 else None

    def correlation(self, low: float, high: float) -> float | None:
        """Correlation of the channels in a band. None if a channel is silent there."""
        ll, rr = self.power(low, high, "left"), self.power(low, high, "right")
        if decibels(ll) is None or decibels(rr) is None:
            return None
        return max(-1.0, min(1.0, self.power(low, high, "cross") / math.sqrt(ll * rr)))

    def curve(self, hz: _Array, width: float = 1.0 / 24.0, hold: bool = False) -> _Array:
        """Power in bands of ``width`` octaves around each of ``hz``, in dB against a full-scale sine, no lower than
        -140.
        """
        half = 2.0 ** (width / 2.0)
        power = 2.0 * self._between(hz / half, hz * half, "hold" if hold else "both")
        return np.asarray(10.0 * np.log10(np.maximum(power, 1e-14)))


def third_octaves() -> list[tuple[float, float, float]]:
    """Centre, low and high edge in Hz of the third octaves from 25 Hz to 16 kHz (base two)."""
    centres = [1000.0 * 2.0 ** (n / 3.0) for n in range(-16, 13)]
    return [(c, c * 2.0 ** (-1.0 / 6.0), c * 2.0 ** (1.0 / 6.0)) for c in centres]
