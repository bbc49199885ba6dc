"""Complex amplitudes at known frequencies, by least squares.

No window separates two semitones at C1. The notes are known, so their partials are fitted.
"""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..dsp.store import remembered
from .levels import RATE

_Complex = NDArray[np.complex128]
_Real = NDArray[np.floating[Any]]


def whole_periods(samples: int, hz: float) -> int:
    """The largest number of samples up to ``samples`` that holds whole periods of ``hz``. 0 if there is none."""
    periods = int(samples * hz / RATE)
    return round(periods * RATE / hz) if periods else 0


@remembered
def _solver(n: int, hz: tuple[float, ...]) -> _Real:
    """The matrix that gives the cosine and sine parts of the tones of a signal of n samples."""
    t = np.arange(n) / RATE
    angle = 2.0 * np.pi * np.array(hz)[:, None] * t
    basis = np.concatenate([np.cos(angle), -np.sin(angle)])
    weighted = basis * np.hanning(n + 2)[1:-1]
    return np.asarray(np.linalg.pinv(weighted @ basis.T, rcond=1e-9, hermitian=True) @ weighted)


def tones_of(x: _Real, hz: _Real) -> _Complex:
    """Amplitudes as in ``fit_tones``, (signals, tones), without the explained power. Quick for many stretches of equal
    length.
    """
    found = x @ _solver(x.shape[1], tuple(hz.tolist())).T
    return np.asarray(found[:, : hz.size] + 1j * found[:, hz.size :])


def fit_tones(x: _Real, hz: _Real, taper: bool = True) -> tuple[_Complex, _Real]:
    """Amplitudes of tones at ``hz`` in x, (signals, n) at 48 kHz, and the share of each signal's power that they
    explain.

    Returns (signals, tones) complex, tone k being Re(a_k exp(2 pi i hz_k t)) with t from the first sample, and
    (signals,). The squares are weighted by a Hann window, so that other sounds disturb little.
    """
    n = x.shape[1]
    t = np.arange(n) / RATE
    angle = 2.0 * np.pi * hz[:, None] * t
    basis = np.concatenate([np.cos(angle), -np.sin(angle)])
    weight = np.hanning(n + 2)[1:-1] if taper else np.ones(n)
    weighted = basis * weight
    found = np.linalg.lstsq(weighted @ basis.T, weighted @ x.T, rcond=1e-9)[0].T
    rest = x - found @ basis
    whole = np.maximum((np.square(x) * weight).sum(axis=1), 1e-30)
    explained = 1.0 - (np.square(rest) * weight).sum(axis=1) / whole
    count = hz.size
    return found[:, :count] + 1j * found[:, count:], explained


def partials(x: NDArray[np.float64], hz: float, count: int = 16) -> _Complex:
    """Amplitudes of partials 1..count of ``hz`` in x, (n,) or (signals, n), over whole periods. Zeros if it is too
    short.

    Returns (count,) or (signals, count). More partials than asked for are fitted, so that they do not leak.
    """
    two = np.atleast_2d(x)
    n = whole_periods(two.shape[1], hz)
    out = np.zeros((two.shape[0], count), dtype=np.complex128)
    if n * hz / RATE >= 1.5:
        fitted = min(max(2 * count, 24), int(0.45 * RATE / hz))
        found, _ = fit_tones(two[:, :n], hz * np.arange(1, fitted + 1), taper=n * hz / RATE >= 4.0)
        got = min(count, fitted)
        out[:, :got] = found[:, :got]
    return out[0] if x.ndim == 1 else out
