"""Envelopes, sample by sample."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from .jit import QUANTUM, inline, kernel

IDLE, ATTACK, HOLD, DECAY, SUSTAIN, RELEASE = 0, 1, 2, 3, 4, 5
# state: stage, samples since its start, value at its start, present value


@inline
def _bend(x: Any, tension: Any) -> Any:
    if abs(tension) < 1e-3:
        return x
    return (1.0 - np.exp(-tension * x)) / (1.0 - np.exp(-tension))


@kernel("i8(f8[::1], i8, i8, f8[::1], f8[::1], f8[::1])")
def envelope(out: Any, a: int, b: int, times: Any, tension: Any, state: Any) -> int:
    """Write an envelope to out[a:b], 0..1. Returns the sample at which it has ended; over b if it goes on.

    times: attack, hold, decay in samples, sustain 0..1, release in samples. tension: curvature of attack, decay,
    release; 0 is a straight line, above it the change comes early. state: (4,). Breakpoints are exact to the sample.
    What is summed up along a curve begins anew in every quantum.
    """
    stage, pos, begun, value = int(state[0]), state[1], state[2], state[3]
    i, ended = a, b + 1
    while i < b:
        if stage == IDLE:
            ended = min(ended, i)
            value = 0.0
            for j in range(i, b):
                out[j] = 0.0
            break
        if stage == SUSTAIN:
            # a new sustain level is reached within one quantum, without a step
            goal = times[3]
            stop = min(b, (i // QUANTUM + 1) * QUANTUM)
            n = stop - i
            first = value
            for j in range(i, stop):
                out[j] = first + (goal - first) * (j - i + 1) / n if first != goal else goal
            value = goal
            i = stop
            continue
        if stage == ATTACK:
            length, goal, bend = times[0], 1.0, tension[0]
        elif stage == HOLD:
            length, goal, bend = times[1], 1.0, 0.0
        elif stage == DECAY:
            length, goal, bend = times[2], times[3], tension[1]
        else:
            length, goal, bend = times[4], 0.0, tension[2]
        left = int(length - pos)
        n = min(max(left, 0), b - i, QUANTUM - i % QUANTUM)
        if n > 0:
            if stage == HOLD:
                for j in range(i, i + n):
                    out[j] = 1.0
            elif abs(bend) < 1e-3:
                step = (goal - begun) / length
                for j in range(n):
                    out[i + j] = begun + step * (pos + j)
            else:
                scale = (goal - begun) / (1.0 - np.exp(-bend))
                fall = np.exp(-bend * pos / length)
                ratio = np.exp(-bend / length)
                for j in range(n):
                    out[i + j] = begun + scale * (1.0 - fall)
                    fall *= ratio
            value = out[i + n - 1]
            pos += n
            i += n
        if pos >= length:
            value = goal
            begun = goal
            pos = 0.0
            stage = stage + 1 if stage < RELEASE else IDLE
    if stage == IDLE:
        ended = min(ended, i)
    state[0], state[1], state[2], state[3] = stage, pos, begun, value
    return ended


def open_gate(state: NDArray[np.float64], again: bool, start: float = 0.0) -> None:
    """Start an envelope at ``start``, or at its present value if ``again``."""
    state[2] = state[3] if again else start
    state[3] = state[2]
    state[0], state[1] = ATTACK, 0.0


def close_gate(state: NDArray[np.float64]) -> None:
    """Release an envelope from its present value."""
    if state[0] != IDLE:
        state[0], state[1], state[2] = RELEASE, 0.0, state[3]
