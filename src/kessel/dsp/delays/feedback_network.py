"""A reverberator: eight delays with a feedback matrix.

Jot and Chaigne 1991: a lossless mixing matrix (Householder), incommensurate delays, and for every delay the loss that
its length needs, so that all decay by 60 dB in the same time. A one-pole low-pass in each shortens the highs. Two
all-passes before it and a few early reflections make it dense from the start.
"""

from __future__ import annotations

from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..filters.svf import flush_denormals
from ..jit import F1, F2, RATE, kernel

LINES = 8
ROOM = 16384
MOST_AHEAD = 16384
_MS = np.array([29.83, 35.11, 39.73, 44.53, 50.21, 57.89, 63.47, 70.31])
EARLY = 6
_EARLY_MS = np.array([[5.3, 9.1, 14.7, 21.9, 27.3, 36.1], [6.7, 8.3, 16.1, 19.7, 30.1, 33.7]])
EARLY_GAIN = np.array([0.8, -0.66, 0.55, 0.47, -0.4, 0.33])
SMEAR = 1024
_SMEAR_AT = (347, 113)
STATE = LINES


def lengths(size: float) -> NDArray[np.float64]:
    """Lengths of the delays in samples, (LINES,), at a size of 1."""
    return np.clip(np.round(_MS * size * RATE / 1000.0), 32, ROOM - 4)


def early_lengths(size: float) -> NDArray[np.float64]:
    """Delays of the early reflections in samples, (2, EARLY)."""
    return np.clip(np.round(_EARLY_MS * size * RATE / 1000.0), 2, MOST_AHEAD // 4)


def losses(samples: NDArray[np.float64], decay_seconds: float) -> NDArray[np.float64]:
    """Gain of every delay for a decay by 60 dB in a time."""
    return np.asarray(10.0 ** (-3.0 * samples / (RATE * decay_seconds)))


class Rest:
    """State of a network."""

    def __init__(self) -> None:
        self.ahead = np.zeros((2, MOST_AHEAD))
        self.smear = np.zeros((4, SMEAR))
        self.lines = np.zeros((LINES, ROOM))
        self.damp = np.zeros(LINES)
        self.at = 0


class NetworkLines(NamedTuple):
    """The delays and filters of a network.

    ahead: (2, MOST_AHEAD). smear: (4, SMEAR). lines: (LINES, ROOM). damp: (LINES,).
    """

    ahead: F2
    smear: F2
    lines: F2
    damp: F1


class NetworkLengths(NamedTuple):
    """Lengths of the delays, with their gains.

    was, now: samples at the start and the end of the quantum, (LINES,); loss_was, loss_now: their gains. early: (2,
    EARLY) samples of the early reflections; early_gain: (EARLY,).
    """

    was: F1
    now: F1
    loss_was: F1
    loss_now: F1
    early: F2
    early_gain: F1


class NetworkCurves(NamedTuple):
    """The controls of a network, each (n,).

    before: pre-delay in samples. much: level of the early reflections. dull: coefficient of the low-passes, 1 is off.
    width: 0..1.
    """

    before: F1
    much: F1
    dull: F1
    width: F1


@kernel(
    "void(f8[:,::1], f8[:,::1], i8, NetworkLines, NetworkLengths, NetworkCurves)",
    NetworkLines,
    NetworkLengths,
    NetworkCurves,
)
def network(x: Any, wet: Any, at: int, state: Any, lengths: Any, curves: Any) -> None:
    """Write the reverberation of x, (2, n), to wet, (2, n). at: place of the first sample in the delays."""
    ahead, smear, lines, damp = state.ahead, state.smear, state.lines, state.damp
    was, now, loss_was, loss_now = lengths.was, lengths.now, lengths.loss_was, lengths.loss_now
    early, early_gain = lengths.early, lengths.early_gain
    before, much, dull, width = curves.before, curves.much, curves.dull, curves.width
    n = x.shape[1]
    mask, room = ahead.shape[1] - 1, lines.shape[1] - 1
    still = True
    for k in range(LINES):
        if was[k] != now[k]:
            still = False
    taps = np.zeros(LINES)
    for i in range(n):
        p = at + i
        t = (i + 1.0) / n
        ahead[0, p & mask], ahead[1, p & mask] = x[0, i], x[1, i]
        late = before[i]
        whole = int(late)
        part = late - whole
        first0, first1 = 0.0, 0.0
        for j in range(EARLY):
            q0, q1 = p - whole - int(early[0, j]), p - whole - int(early[1, j])
            first0 += early_gain[j] * ahead[0, q0 & mask]
            first1 += early_gain[j] * ahead[1, q1 & mask]
        q = p - whole
        a = ahead[0, q & mask] + part * (ahead[0, (q - 1) & mask] - ahead[0, q & mask])
        b = ahead[1, q & mask] + part * (ahead[1, (q - 1) & mask] - ahead[1, q & mask])
        for j in range(2):
            far = _SMEAR_AT[j]
            v = smear[2 * j, (p - far) & (SMEAR - 1)]
            w = smear[2 * j + 1, (p - far) & (SMEAR - 1)]
            one, two = a + 0.6 * v, b + 0.6 * w
            smear[2 * j, p & (SMEAR - 1)], smear[2 * j + 1, p & (SMEAR - 1)] = (
                flush_denormals(one),
                flush_denormals(two),
            )
            a, b = v - 0.6 * one, w - 0.6 * two
        total = 0.0
        for k in range(LINES):
            if still:
                y = lines[k, (p - int(now[k])) & room]
                y *= loss_now[k]
            else:
                far = was[k] + t * (now[k] - was[k])
                near = int(far)
                rest = far - near
                y = lines[k, (p - near) & room]
                y += rest * (lines[k, (p - near - 1) & room] - y)
                y *= loss_was[k] + t * (loss_now[k] - loss_was[k])
            if dull[i] < 1.0:
                damp[k] += dull[i] * (y - damp[k])
                y = damp[k]
            taps[k] = y
            total += y
        total *= 2.0 / LINES
        left, right = 0.0, 0.0
        for k in range(LINES):
            y = taps[k]
            lines[k, p & room] = flush_denormals(y - total + (a if k % 2 == 0 else b) * 0.5)
            sign = 1.0 if (k // 2) % 2 == 0 else -1.0
            if k % 2 == 0:
                left += sign * y
            else:
                right += sign * y
        left, right = 0.5 * left + much[i] * first0, 0.5 * right + much[i] * first1
        middle = 0.5 * (left + right)
        wet[0, i] = middle + width[i] * (left - middle)
        wet[1, i] = middle + width[i] * (right - middle)
    for k in range(LINES):
        damp[k] = flush_denormals(damp[k])
