"""Compressors and expanders: levels, static curves, gains.

Giannoulis, Massberg and Reiss 2012: feed-forward, a static curve with a soft knee in dB, and the gain smoothed in dB,
so that it has covered 63 % of a step after the attack or release. Levels and gains are computed every STEP samples;
between them the gain is linear.
"""

from __future__ import annotations

import math
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..jit import F1, QUANTUM, RATE, inline, kernel

STEP = 8
STEPS = QUANTUM // STEP
WINDOW = round(0.025 * RATE / STEP)
"""Length in steps of the window of a mean power."""
_BUCKETS = 4
LEVEL_STATE = WINDOW + 4 + _BUCKETS
FLOOR = -120.0
_DB = math.log(10.0) / 20.0


def level_rest() -> NDArray[np.float64]:
    """The initial state of a level detector."""
    return np.zeros(LEVEL_STATE)


def gain_rest() -> NDArray[np.float64]:
    """The initial state of a gain: 0 dB, and the same as a factor."""
    return np.array([0.0, 1.0])


@kernel("void(f8[:,::1], b1, f8, f8[::1], f8[::1])")
def levels(x: Any, mean: bool, hold: float, out: Any, state: Any) -> None:
    """Write levels of x, (2, n), in dB into out, (STEPS,): of the louder side, or of the mean power of both.

    mean: the mean power over WINDOW steps, a full-scale sine being 0 dB, else the peak, which stays for ``hold`` steps,
    or up to a third more, as the peaks of four stretches are kept of which the oldest is forgotten.
    state: (LEVEL_STATE,): place among the stretches, steps in the newest, place in the ring, sum of the ring, the ring,
    the stretches.
    """
    bucket, gone, at, total = int(state[0]), state[1], int(state[2]), state[3]
    first_bucket = 4 + WINDOW
    long = hold / (_BUCKETS - 1)
    one, two = x[0], x[1]
    for j in range(out.size):
        first = j * STEP
        if mean:
            power = 0.0
            for i in range(STEP):
                v, w = one[first + i], two[first + i]
                power += v * v + w * w
            total += power - state[4 + at]
            state[4 + at] = power
            at += 1
            if at == WINDOW:
                at = 0
                # summed again from scratch, so that rounding errors do not accumulate
                total = 0.0
                for i in range(WINDOW):
                    total += state[4 + i]
            level = np.sqrt(max(total, 0.0) / (WINDOW * STEP))
        else:
            p, q = one[first : first + STEP], two[first : first + STEP]
            # each pair by itself, so that none waits for the previous one
            a = max(max(abs(p[0]), abs(p[1])), max(abs(p[2]), abs(p[3])))
            b = max(max(abs(p[4]), abs(p[5])), max(abs(p[6]), abs(p[7])))
            c = max(max(abs(q[0]), abs(q[1])), max(abs(q[2]), abs(q[3])))
            d = max(max(abs(q[4]), abs(q[5])), max(abs(q[6]), abs(q[7])))
            peak = max(max(a, b), max(c, d))
            gone += 1.0
            if gone >= long:
                gone = 0.0
                bucket = bucket + 1 if bucket + 1 < _BUCKETS else 0
                state[first_bucket + bucket] = 0.0
            level = peak
            if hold > 0.0:
                state[first_bucket + bucket] = max(state[first_bucket + bucket], peak)
                for i in range(_BUCKETS):
                    level = max(level, state[first_bucket + i])
        out[j] = 20.0 * np.log10(level) if level > 1e-6 else FLOOR
    state[0], state[1], state[2], state[3] = bucket, gone, at, total


@inline
def _over(level: Any, threshold: Any, knee: Any) -> Any:
    """How far a level exceeds a threshold, with a soft knee."""
    over = level - threshold
    if 2.0 * over <= -knee:
        return 0.0
    if 2.0 * over < knee:
        return (over + 0.5 * knee) * (over + 0.5 * knee) / (2.0 * knee)
    return over


class GainCurves(NamedTuple):
    """The controls of a compressor at every step, each (STEPS,).

    down_from, up_from: thresholds in dB; down, up: dB of gain for each dB over or under them; knee: width in dB; depth:
    share of it all; least, most: dB at most down and up. rise, fall: share of the gain change that is left after a step
    when the level rises and when it falls.
    """

    down_from: F1
    down: F1
    up_from: F1
    up: F1
    knee: F1
    depth: F1
    least: F1
    most: F1
    rise: F1
    fall: F1


@kernel("void(f8[::1], GainCurves, b1, f8[::1], f8[::1], f8[::1])", GainCurves)
def gains(level: Any, curves: Any, opens: bool, out: Any, trace: Any, state: Any) -> None:
    """Write the gain over a quantum into out, (n,), and in dB into trace, (STEPS,).

    level: (STEPS,) in dB. opens: the gain rises with the level. state: (2,).
    """
    down_from, down, up_from, up, knee = curves.down_from, curves.down, curves.up_from, curves.up, curves.knee
    depth, least, most, rise, fall = curves.depth, curves.least, curves.most, curves.rise, curves.fall
    db, gain = state[0], state[1]
    for j in range(level.size):
        at = level[j]
        want = 0.0
        if down[j] != 0.0:
            want += down[j] * _over(at, down_from[j], knee[j])
        if up[j] != 0.0:
            lift = up[j] * _over(-at, -up_from[j], knee[j])
            # silence stays silence
            if at < -80.0 and lift > 0.0:
                lift *= max(0.0, (at + 100.0) * 0.05)
            want += lift
        want = min(max(want * depth[j], -least[j]), most[j])
        keep = rise[j] if (want < db) != opens else fall[j]
        db = want + (db - want) * keep
        if abs(db) < 1e-9:
            db = 0.0
        new = np.exp(db * _DB) if db != 0.0 else 1.0
        trace[j] = db
        first = j * STEP
        if new == gain:
            for i in range(STEP):
                out[first + i] = gain
        else:
            slope = (new - gain) / STEP
            for i in range(STEP):
                out[first + i] = gain + slope * (i + 1)
        gain = new
    state[0], state[1] = db, gain


def keeping(ms: NDArray[np.float64] | float) -> NDArray[np.float64]:
    """The smoothing coefficient per step, for times in ms to 63 %."""
    return np.asarray(np.exp(-STEP * 1000.0 / (np.maximum(ms, 1e-3) * RATE)))


@kernel("void(f8[:,::1], f8[::1], f8[::1], f8[::1])")
def weigh(x: Any, gain: Any, after: Any, mix: Any) -> None:
    """Multiply x, (2, n), by a gain (n,) times another, with a share of ``mix``, in place."""
    for c in range(2):
        row = x[c]
        for i in range(row.size):
            total = gain[i] * after[i]
            row[i] *= total if mix[i] == 1.0 else 1.0 + mix[i] * (total - 1.0)


@kernel("void(f8[:,::1], f8[:,::1], f8[::1], f8[::1], f8[::1])")
def weigh_into(x: Any, y: Any, gain: Any, after: Any, mix: Any) -> None:
    """Add y to x, both (2, n), with a gain as in ``weigh``."""
    for c in range(2):
        to, row = x[c], y[c]
        for i in range(row.size):
            total = gain[i] * after[i]
            to[i] += row[i] * total if mix[i] == 1.0 else row[i] * (1.0 + mix[i] * (total - 1.0))


def static_gain(
    level: NDArray[np.float64],
    down: tuple[float, float],
    up: tuple[float, float],
    knee: float,
    most: float,
) -> NDArray[np.float64]:
    """The gain in dB for a constant level in dB. down, up: threshold, and dB of gain per dB above or below it."""

    def over(at: NDArray[np.float64], threshold: float) -> NDArray[np.float64]:
        x = at - threshold
        soft = (x + 0.5 * knee) ** 2 / (2.0 * max(knee, 1e-9))
        return np.where(2.0 * x <= -knee, 0.0, np.where(2.0 * x < knee, soft, x))

    lift = up[1] * over(-level, -up[0])
    lift = np.where((level < -80.0) & (lift > 0.0), lift * np.maximum(0.0, (level + 100.0) * 0.05), lift)
    return np.clip(down[1] * over(level, down[0]) + lift, -most, most)
