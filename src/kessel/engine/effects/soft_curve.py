"""The soft curve with its state, at the rate that the drive needs."""

from __future__ import annotations

import numpy as np

from ...dsp import QUANTUM
from ...dsp.nonlinear.soft_clip import STATE, DriveCurves, distort
from .base import Buffer


class SoftCurve:
    """State of the soft curve.

    rate: the rate it runs at, as a multiple of the sound's, 0 before any sound. A new rate runs along unheard for one
    quantum and is faded in over the next.
    """

    def __init__(self) -> None:
        self.rate = 0
        self._state, self._next = np.zeros(STATE), np.zeros(STATE)
        self._coming = 0

    def rest(self) -> None:
        """Forget all sound."""
        self._state[:] = 0.0
        self.rate, self._coming = 0, 0

    def bend(self, x: Buffer, a: int, b: int, curves: DriveCurves, rate: int, line: Buffer, work: Buffer) -> None:
        """Apply the curve to samples a..b of x, (channels, n), in place, at ``rate``. line: the dry sound, delayed."""
        self.rate = self.rate or rate
        if self.rate == rate:
            self._coming = 0
            distort(x, a, b, curves, rate, self._state, line, work)
            return
        for q in range(a // QUANTUM * QUANTUM, b, QUANTUM):
            self._change(x, max(q, a), min(q + QUANTUM, b), curves, rate, line, work)

    def _change(self, x: Buffer, a: int, b: int, curves: DriveCurves, rate: int, line: Buffer, work: Buffer) -> None:
        if self.rate == rate:
            distort(x, a, b, curves, rate, self._state, line, work)
            return
        if self._coming != rate:
            self._next = np.zeros(STATE)
        new = x.copy()
        distort(new, a, b, curves, rate, self._next, line.copy(), work)
        distort(x, a, b, curves, self.rate, self._state, line, work)
        if self._coming == rate:
            x[:, a:b] += np.arange(1, b - a + 1) / (b - a) * (new - x)[:, a:b]
            self._state, self.rate, self._coming = self._next, rate, 0
        else:
            self._coming = rate
