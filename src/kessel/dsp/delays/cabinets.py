"""Responses of speaker cabinets, from formulas.

The magnitude is a second-order high-pass at the resonance of the cabinet, one or two peaks of the cone, and a
fourth-order fall above. The phase is the minimum phase (from the cepstrum, Oppenheim and Schafer).
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ..jit import RATE
from ..store import remembered

_N = 8192
TAPS = 2048

Bumps = tuple[tuple[float, float, float], ...]
Walls = tuple[tuple[float, float], ...]
BOXES: dict[str, tuple[float, float, float, Bumps, Walls]] = {
    "closed": (68.0, 0.9, 4200.0, ((140.0, 2.0, 1.2), (2300.0, 5.0, 1.6)), ((1.9, 0.2), (4.3, -0.12))),
    "open": (
        86.0, 0.7, 5200.0, ((210.0, -3.0, 1.0), (1500.0, 3.5, 1.3), (3100.0, 4.5, 2.2)), ((2.7, -0.35), (6.1, 0.18)),
    ),
    "horn": (
        180.0, 1.3, 7200.0, ((520.0, 6.0, 2.0), (1250.0, 7.0, 2.6), (3900.0, 4.0, 3.0)), ((1.1, 0.3), (2.3, 0.25)),
    ),
    "paper": (
        120.0, 0.6, 3000.0, ((420.0, 4.0, 0.8), (1050.0, -4.0, 1.4), (2050.0, 7.0, 3.2)), ((3.3, 0.15), (7.9, -0.1)),
    ),
    "tin": (
        310.0, 2.2, 6100.0, ((760.0, 9.0, 4.5), (1730.0, 8.0, 5.0), (2950.0, 7.0, 5.5)), ((0.7, 0.4), (1.6, -0.35)),
    ),
}  # fmt: skip
"""For each cabinet: resonance in Hz and its Q, upper cutoff in Hz, peaks (Hz, dB, Q) and wall reflections (ms,
level)."""


def magnitude(box: str, size: float, bass: float, treble: float, hz: NDArray[np.float64]) -> NDArray[np.float64]:
    """Magnitude of a cabinet at frequencies in Hz, linear. size: 1 is nominal, larger is lower. bass, treble: dB."""
    low, q, high, bumps, _ = BOXES[box]
    low, high = low / size, high / size**0.5
    s = 1j * np.maximum(hz, 1.0) / low
    h = np.abs(s * s / (s * s + s / q + 1.0))
    h = h / np.sqrt(1.0 + (hz / high) ** 8)
    for at, db, width in (
        (low * 1.2, bass, 0.8),
        (0.6 * high, treble, 0.9),
        *((a / size**0.5, d, w) for a, d, w in bumps),
    ):
        lift = 10.0 ** (db / 40.0)
        t = 1j * np.maximum(hz, 1.0) / at
        h = h * np.abs((t * t + t * lift / width + 1.0) / (t * t + t / (width * lift) + 1.0))
    return np.asarray(h)


def least_phase(magnitude_of: NDArray[np.float64], taps: int) -> NDArray[np.float64]:
    """The minimum-phase response with a magnitude, (n / 2 + 1,); (taps,)."""
    n = 2 * (magnitude_of.size - 1)
    cepstrum = np.fft.irfft(np.log(np.maximum(magnitude_of, 1e-5)), n)
    cepstrum[1 : n // 2] *= 2.0
    cepstrum[n // 2 + 1 :] = 0.0
    x = np.fft.irfft(np.exp(np.fft.rfft(cepstrum)), n)[:taps]
    x[-taps // 4 :] *= 0.5 + 0.5 * np.cos(np.pi * np.arange(taps // 4) / (taps // 4))
    return np.asarray(x)


@remembered
def box_response(box: str, size: float, bass: float, treble: float, air: float) -> NDArray[np.float64]:
    """A speaker's response, (2, TAPS). air: 0..1, level of the room around it."""
    hz = np.asarray(np.fft.rfftfreq(_N, 1.0 / RATE), dtype=np.float64)
    x = least_phase(magnitude(box, size, bass, treble, hz), TAPS)
    out = np.repeat(x[None, :], 2, axis=0)
    for n, (ms, level) in enumerate(BOXES[box][4]):
        for side, more in enumerate((1.0, 1.13)):
            at = round(ms * size * more * RATE / 1000.0) + n
            if 0 < at < TAPS:
                out[side, at:] += air * level * x[: TAPS - at]
    # keeps the level where the ear is most sensitive to a bass
    middle = np.abs(np.fft.rfft(out, _N, axis=1))[:, (hz > 100.0) & (hz < 2000.0)]
    return np.asarray(out / max(float(np.sqrt(np.mean(middle**2))), 1e-9))
