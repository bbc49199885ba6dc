"""White, pink and brown noise from a counter.

Pink is white noise through first-order sections whose poles and zeros alternate two octaves apart, within 0.4 dB of -3
dB per octave from 20 Hz to 20 kHz. Brown is white noise through a leaky integrator with its corner at 20 Hz. All have
the power of the white noise.
"""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from ..jit import RATE, inline, kernel

WHITE, PINK, BROWN = 0, 1, 2
SECTIONS = 6
STATE = SECTIONS + 1

_GOLD = np.uint64(0x9E3779B97F4A7C15)
_MIX1 = np.uint64(0xBF58476D1CE4E5B9)
_MIX2 = np.uint64(0x94D049BB133111EB)
_S30, _S27, _S31, _S11 = np.uint64(30), np.uint64(27), np.uint64(31), np.uint64(11)
_U53 = 2.0 / (1 << 53)
_LEAK = 1.0 - math.exp(-2.0 * math.pi * 20.0 / RATE)


def _sections() -> tuple[tuple[float, ...], tuple[float, ...]]:
    """Poles and zeros in the z plane, from their time constants."""
    poles = tuple(math.exp(-2.0 * math.pi * 9.0 * 4.0**i / RATE) for i in range(SECTIONS))
    zeros = tuple(math.exp(-2.0 * math.pi * 18.0 * 4.0**i / RATE) for i in range(SECTIONS))
    return poles, zeros


_POLES, _ZEROS = _sections()


_PINK_GAIN = 0.5869214704000534
"""One over the root of the power that the filter leaves of white noise, which is the energy of its impulse response. A
constant, because computing it would delay every start."""
_BROWN_GAIN = math.sqrt((2.0 - _LEAK) / _LEAK)


@inline
def _white(key: Any, count: Any) -> Any:
    """Uniform -1..1 from a counter (the finaliser of SplitMix64, Steele et al. 2014)."""
    z = key + count * _GOLD
    z = (z ^ (z >> _S30)) * _MIX1
    z = (z ^ (z >> _S27)) * _MIX2
    z = z ^ (z >> _S31)
    return np.float64(z >> _S11) * _U53 - 1.0


@inline
def _coloured(w: Any, colour: Any, s: Any) -> Any:
    if colour == PINK:
        y = w
        for j in range(SECTIONS):
            t = y + _POLES[j] * s[j]
            y = t - _ZEROS[j] * s[j]
            s[j] = t
        return y * _PINK_GAIN
    if colour == BROWN:
        s[SECTIONS] += _LEAK * (w - s[SECTIONS])
        return s[SECTIONS] * _BROWN_GAIN
    return w


@kernel("void(f8[:,::1], i8, i8, i8, f8, u8, u8, f8[:,::1])")
def noise(out: Any, a: int, b: int, colour: int, width: float, seed: Any, count: Any, state: Any) -> None:
    """Write noise to out[:, a:b], (2, n). width: 0 is the same in both channels, 1 is independent.

    count: counter of sample a. state: (2, STATE).
    """
    for i in range(a, b):
        w = _coloured(_white(seed, count), colour, state[0])
        out[0, i] = w
        if width > 0.0:
            v = _coloured(_white(~seed, count), colour, state[1])
            out[1, i] = (1.0 - width) * w + width * v
        else:
            out[1, i] = w
        count += np.uint64(1)
