"""A look-ahead limiter of the true peak.

The peak between samples is read by four-times oversampling (ITU-R BS.1770-4, Annex 2, as a windowed-sinc
interpolator) and a parabola through the highest three points. The needed gain is held over the look-ahead and smoothed
by a moving mean of the same length, so it has always arrived when the peak comes.
"""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from .jit import kernel

TAPS = 32
AHEAD = 72
MEAN = 64
LATENCY = AHEAD - 4 + TAPS // 2
SIZE = LATENCY + TAPS


def _points() -> NDArray[np.float64]:
    """Interpolator of a sample and the three points after it, shape (TAPS, 4): one row holds the four of a tap."""
    found = [np.where(np.arange(TAPS) == TAPS // 2 - 1, 1.0, 0.0)]
    for p in (1, 2, 3):
        t = np.arange(TAPS) - (TAPS // 2 - 1) - p / 4.0
        taps = np.sinc(t) * np.kaiser(TAPS * 4 + 1, 6.0)[np.arange(TAPS) * 4 + 4 - p]
        found.append(taps / taps.sum())
    return np.ascontiguousarray(np.array(found).T)


POINTS = _points()
GAIN_BOUND = float(np.abs(POINTS).sum(axis=0).max())
STATE = 12


@kernel("void(f8[:,::1], f8, f8, f8[:,::1], f8[::1], f8[::1], f8[::1], f8[:,::1])")
def limit(x: Any, ceiling: float, fall: float, line: Any, needed: Any, smooth: Any, state: Any, points: Any) -> None:
    """Limit x, (2, n), in place, late by LATENCY samples.

    ceiling: linear. fall: share of the way back to 1 that the gain keeps each sample (from the release time).
    line: (2, 2 * SIZE), a ring written twice so that it can be read in one piece; needed: (AHEAD,) ring; smooth:
    (MEAN,) ring, both 1 at rest. state: (STATE,): place in the first two rings, sum of smooth, gain, samples to go with
    a needed gain under 1, place in the third, quiet samples; from 8 on the last two points of each channel.
    """
    n = x.shape[1]
    ahead, mean = needed.shape[0], smooth.shape[0]
    p, q, r = int(state[0]), int(state[1]), int(state[5])
    total, gain = state[2], state[3]
    loud = ceiling / GAIN_BOUND
    quiet = int(state[6])
    for i in range(n):
        for c in range(2):
            line[c, p] = x[c, i]
            line[c, p + SIZE] = x[c, i]
        # the newest point whose surroundings are known lies TAPS / 2 back
        quiet = 0 if abs(x[0, i]) > loud or abs(x[1, i]) > loud else quiet + 1
        want = 1.0
        if quiet < TAPS:
            peak = 0.0
            first = p + SIZE - TAPS + 1
            for c in range(2):
                before, last = state[8 + 2 * c], state[9 + 2 * c]
                y0, y1, y2, y3 = 0.0, 0.0, 0.0, 0.0
                for j in range(TAPS):
                    v = line[c, first + j]
                    y0 += points[j, 0] * v
                    y1 += points[j, 1] * v
                    y2 += points[j, 2] * v
                    y3 += points[j, 3] * v
                for y in (abs(y0), abs(y1), abs(y2), abs(y3)):
                    if y > peak:
                        peak = y
                    bend = 2.0 * last - before - y
                    if last >= before and last >= y and bend > 0.0:
                        top = last + (y - before) * (y - before) / (8.0 * bend)
                        if top > peak:
                            peak = top
                    before = last
                    last = y
                state[8 + 2 * c], state[9 + 2 * c] = before, last
            if peak > ceiling:
                want = ceiling / peak
        needed[q] = want
        lowest = want
        if want < 1.0:
            state[4] = ahead
        if state[4] > 0:
            state[4] -= 1
            for j in range(ahead):
                if needed[j] < lowest:
                    lowest = needed[j]
        if lowest < gain:
            gain = lowest
        else:
            gain = lowest + (gain - lowest) * fall
            if gain > 1.0 - 1e-9 and lowest == 1.0:
                gain = 1.0
        total += gain - smooth[r]
        smooth[r] = gain
        if gain == 1.0 and total != mean and total > mean - 1e-7:
            exact = True
            for j in range(mean):
                if smooth[j] != 1.0:
                    exact = False
            if exact:
                total = float(mean)
        out = total / mean
        z = p - LATENCY
        if z < 0:
            z += SIZE
        for c in range(2):
            x[c, i] = line[c, z] if out == 1.0 else line[c, z] * out
        p += 1
        if p == SIZE:
            p = 0
        q += 1
        if q == ahead:
            q = 0
        r += 1
        if r == mean:
            r = 0
    state[0], state[1], state[2], state[3] = p, q, total, gain
    state[5], state[6] = r, min(quiet, TAPS)


def rest() -> tuple[NDArray[np.float64], NDArray[np.float64], NDArray[np.float64], NDArray[np.float64]]:
    """line, needed, smooth and state of a limiter at rest."""
    state = np.zeros(STATE)
    state[2], state[3], state[6] = float(MEAN), 1.0, float(TAPS)
    return np.zeros((2, 2 * SIZE)), np.ones(AHEAD), np.ones(MEAN), state
