"""The built-in voice of the vocoder: a buzz and a hiss through three formants that move from vowel to vowel."""

from __future__ import annotations

import numpy as np
import scipy
from numpy.typing import NDArray

from ..jit import RATE
from ..store import remembered

_FORMANTS: dict[str, tuple[float, float, float]] = {
    "a": (730.0, 1090.0, 2440.0),
    "e": (530.0, 1840.0, 2480.0),
    "i": (270.0, 2290.0, 3010.0),
    "o": (570.0, 840.0, 2410.0),
    "u": (300.0, 870.0, 2240.0),
}
"""Formant frequencies in Hz: averages of Peterson and Barney 1952."""
_WORDS: dict[str, tuple[tuple[str, str], ...]] = {
    "wa-oh": (("", "ua"), ("", "ou")),
    "ya-ya": (("", "ia"), ("", "ia")),
    "ra-ka-ta": (("r", "ea"), ("k", "aa"), ("t", "aa")),
    "oh-we-ah": (("", "ou"), ("", "ue"), ("", "ea")),
    "ta-ka": (("t", "aa"), ("k", "aa")),
}
"""For each word its syllables: the onset consonant and the vowels it passes through."""
_BLOCK = 64


def _resonated(x: NDArray[np.float64], hz: NDArray[np.float64], width: float) -> NDArray[np.float64]:
    out = np.empty_like(x)
    state = np.zeros(2)
    r = np.exp(-np.pi * width / RATE)
    for n, at in enumerate(range(0, x.size, _BLOCK)):
        c = 2.0 * r * np.cos(2.0 * np.pi * hz[n] / RATE)
        gain = (1.0 - r) * np.sqrt(1.0 - 2.0 * r * np.cos(4.0 * np.pi * hz[n] / RATE) + r * r)
        out[at : at + _BLOCK], state = scipy.signal.lfilter([gain], [1.0, -c, r * r], x[at : at + _BLOCK], zi=state)
    return out


@remembered
def spoken(words: str, step: int) -> NDArray[np.float64]:
    """One cycle of the syllables, each ``step`` samples long: (n,), peak 0.9."""
    rng = np.random.default_rng(1952)
    parts = []
    for sound, vowels in _WORDS[words]:
        t = np.arange(step) / RATE
        share = np.arange(step) / step
        buzz = 2.0 * np.mod(t * (116.0 - 12.0 * share), 1.0) - 1.0
        hiss = rng.standard_normal(step)
        onset = np.zeros(step)
        shut = 0
        if sound in ("t", "k"):
            shut = min(step // 5, round(0.03 * RATE))
            onset = hiss * np.exp(-np.maximum(0.0, t - shut / RATE) / 0.012) * (t >= shut / RATE)
        elif sound == "r":
            buzz = buzz * (1.0 - 0.7 * np.exp(-t / 0.03))
        voice = np.clip((np.arange(step) - shut) / (0.012 * RATE), 0.0, 1.0)
        voice = voice * np.clip((step - np.arange(step)) / (0.12 * step), 0.0, 1.0)
        x = buzz * voice + 0.05 * hiss * voice + 0.9 * onset
        mode = np.clip(share[::_BLOCK] * 1.6, 0.0, 1.0)
        mode = mode * mode * (3.0 - 2.0 * mode)
        y = np.zeros(step)
        for k, width in enumerate((80.0, 110.0, 160.0)):
            first, last = (_FORMANTS[v][k] for v in (vowels[0], vowels[-1]))
            y += _resonated(x, first * (last / first) ** mode, width) * (1.0, 0.7, 0.5)[k]
        high = (2600.0, 4200.0) if sound == "k" else (4800.0, 7200.0)
        y += 0.25 * _resonated(onset, np.full(mode.size, sum(high) / 2.0), high[1] - high[0])
        parts.append(y)
    whole = np.concatenate(parts)
    return np.asarray(0.9 * whole / max(float(np.abs(whole).max()), 1e-9))
