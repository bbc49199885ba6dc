"""Convolution with long responses, quantum by quantum, without latency.

Uniformly partitioned overlap-save (Stockham 1966): the response is cut into pieces of a quantum, each with its
spectrum; the spectra of the last quanta are kept.
"""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..jit import QUANTUM, kernel

_BINS = QUANTUM + 1


class Response:
    """A response as the spectra of its parts: (parts, 2, bins)."""

    def __init__(self, x: NDArray[np.float64]) -> None:
        """x: (1 or 2, n)."""
        both = np.repeat(x, 2, axis=0) if x.shape[0] == 1 else x
        parts = max(1, -(-both.shape[1] // QUANTUM))
        padded = np.pad(both, ((0, 0), (0, parts * QUANTUM - both.shape[1])))
        pieces = padded.reshape(2, parts, QUANTUM).transpose(1, 0, 2)
        self.parts = parts
        self.spectra = np.ascontiguousarray(np.fft.rfft(pieces, 2 * QUANTUM, axis=2))


@kernel("void(c16[:,:,::1], c16[:,:,::1], i8, c16[:,::1])")
def _gather(past: Any, spectra: Any, at: int, out: Any) -> None:
    """Sum of the products of past spectra, a ring (parts, 2, bins) with its newest at ``at``, and a response's."""
    size = past.shape[0]
    for c in range(2):
        for k in range(out.shape[1]):
            out[c, k] = 0.0
        for p in range(spectra.shape[0]):
            own, other = past[(at - p) % size, c], spectra[p, c]
            for k in range(out.shape[1]):
                out[c, k] += own[k] * other[k]


class Convolver:
    """Convolves quanta with a response. A new response crossfades in over a quantum."""

    def __init__(self) -> None:
        self._last = np.zeros((2, QUANTUM))
        self._past: NDArray[np.complex128] = np.zeros((1, 2, _BINS), dtype=np.complex128)
        self._at = 0
        self._now: Response | None = None

    def rest(self) -> None:
        """Clear the input history."""
        self._last[:] = 0.0
        self._past[:] = 0.0

    def process(self, x: NDArray[np.float64], response: Response) -> NDArray[np.float64]:
        """The next quantum of x, (2, QUANTUM), convolved."""
        need = max(response.parts, self._now.parts if self._now is not None else 1)
        if need > self._past.shape[0]:
            size = self._past.shape[0]
            order = [(self._at + 1 + i) % size for i in range(size)]
            grown = np.zeros((need, 2, _BINS), dtype=np.complex128)
            grown[need - size :] = self._past[order]
            self._past, self._at = grown, need - 1
        self._at = (self._at + 1) % self._past.shape[0]
        self._past[self._at] = np.fft.rfft(np.concatenate((self._last, x), axis=1), axis=1)
        self._last = x.copy()
        y = self._with(response)
        if self._now is not None and self._now is not response:
            old = self._with(self._now)
            y = old + (y - old) * (np.arange(1, QUANTUM + 1) / QUANTUM)
        self._now = response
        return y

    def _with(self, response: Response) -> NDArray[np.float64]:
        total = np.empty((2, _BINS), dtype=np.complex128)
        _gather(self._past, response.spectra, self._at, total)
        return np.ascontiguousarray(np.fft.irfft(total, 2 * QUANTUM, axis=1)[:, QUANTUM:])
