"""Curves with edges, at four times the rate with antiderivative anti-aliasing.

Parker, Zavalishin and Le Bivic 2016: what comes out is the mean of the curve from one sample to the next, from its
antiderivative in closed form. Wrap, which jumps, takes the second antiderivative over three samples (Bilbao, Esqueda,
Parker and Välimäki 2017). Crush holds and rounds at the plain rate and folds as it is meant to.
"""

from __future__ import annotations

from functools import cache
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..jit import F1, QUANTUM, inline, kernel, portion, put
from .halfband import DELAY_4, LINE, chains, load, save, wide
from .soft_clip import DriveCurves

CURVES = {"tube": 0, "one-sided": 1, "hard": 2, "fold": 3, "wrap": 4, "drawn": 5}
WRAP, DRAWN = CURVES["wrap"], CURVES["drawn"]
DRAWN_POINTS = 2049
"""Points of a drawn transfer curve between -1 and 1."""
NOT_DRAWN = np.zeros((2, 2))
SHAPED_DELAY = DELAY_4 + 0.125
"""Total delay in samples at low frequencies. Wrap uses one more sample: WRAP_DELAY."""
WRAP_DELAY = SHAPED_DELAY + 0.125
SHAPED_LATENCY = round(SHAPED_DELAY)
_FAR = 16
"""State per channel: two wide half-bands, the last driven sample, the DC block, and the driven sample before the
last."""
SHAPED_STATE = 2 * LINE + 2 * _FAR
_SIXTH = 1.0 / 6.0
TUBE_BELOW, ONE_BELOW = 2.2, 8.0
"""Levels at which the lower half of the wave saturates; the upper half saturates at 1."""


@inline
def _leaning(x: Any, below: Any) -> Any:
    w = 1.0 if x >= 0.0 else below
    return x / np.sqrt(1.0 + (x / w) * (x / w))


@inline
def _leaning_sum(x: Any, below: Any) -> Any:
    w = 1.0 if x >= 0.0 else below
    return w * w * (np.sqrt(1.0 + (x / w) * (x / w)) - 1.0)


@inline
def _drawn_at(table: Any, x: Any) -> Any:
    """A drawn curve and its antiderivative. Beyond full scale it is constant."""
    last = table.shape[1] - 1
    step = 2.0 / last
    if x <= -1.0:
        return table[0, 0], table[1, 0] + (x + 1.0) * table[0, 0]
    if x >= 1.0:
        return table[0, last], table[1, last] + (x - 1.0) * table[0, last]
    place = (x + 1.0) / step
    i = min(int(place), last - 1)
    t = place - i
    d = table[0, i + 1] - table[0, i]
    return table[0, i] + t * d, table[1, i] + step * t * (table[0, i] + 0.5 * t * d)


def drawn_table(values: NDArray[np.float64]) -> NDArray[np.float64]:
    """A drawn curve, values (DRAWN_POINTS,) from -1 to 1, with its antiderivative: (2, DRAWN_POINTS)."""
    step = 2.0 / (values.size - 1)
    area = np.concatenate(([0.0], np.cumsum(0.5 * step * (values[1:] + values[:-1]))))
    return np.ascontiguousarray(np.array([values, area]))


@inline
def _curve(kind: Any, x: Any, table: Any) -> Any:
    if kind == 0:
        return _leaning(x, TUBE_BELOW)
    if kind == 1:
        return _leaning(x, ONE_BELOW)
    if kind == 2:
        return min(max(x, -1.0), 1.0)
    if kind == 3:
        t = x - 4.0 * np.floor(0.25 * x + 0.5)
        return t if abs(t) <= 1.0 else (2.0 - t if t > 0.0 else -2.0 - t)
    if kind == 5:
        return _drawn_at(table, x)[0]
    return x - 2.0 * np.floor(0.5 * x + 0.5)


@inline
def _wrap_once(x: Any) -> Any:
    t = x - 2.0 * np.floor(0.5 * x + 0.5)
    return 0.5 * t * t - _SIXTH


@inline
def _sum_of(kind: Any, x: Any, table: Any) -> Any:
    """The antiderivative of the curve."""
    if kind == 0:
        return _leaning_sum(x, TUBE_BELOW)
    if kind == 1:
        return _leaning_sum(x, ONE_BELOW)
    if kind == 2:
        return 0.5 * x * x if abs(x) <= 1.0 else abs(x) - 0.5
    if kind == 3:
        t = abs(x - 4.0 * np.floor(0.25 * x + 0.5))
        return 0.5 * t * t if t <= 1.0 else 2.0 * t - 0.5 * t * t - 1.0
    if kind == 5:
        return _drawn_at(table, x)[1]
    # its mean is 0, so that its antiderivative is periodic too
    return _wrap_once(x)


@inline
def _wrap_twice(x: Any) -> Any:
    """The second antiderivative of wrap."""
    t = x - 2.0 * np.floor(0.5 * x + 0.5)
    return (t * t * t - t) * _SIXTH


@inline
def _wrap_mean(x: Any, past: Any) -> Any:
    """The mean of wrap's antiderivative from ``past`` to ``x``."""
    d = x - past
    if abs(d) < 1e-6:
        return _wrap_once(0.5 * (x + past))
    return (_wrap_twice(x) - _wrap_twice(past)) / d


@inline
def _wrapped(x: Any, one: Any, two: Any, now: Any, before: Any) -> Any:
    """Wrap over three samples, newest first; now, before: the means between the first and the last two."""
    wide = x - two
    if abs(wide) >= 1e-4:
        return 2.0 * (now - before) / wide
    # if the outer two samples are equal: from their midpoint to the inner one and back
    middle = 0.5 * (x + two)
    off = middle - one
    if abs(off) < 1e-5:
        middle = 0.5 * (middle + one)
        return middle - 2.0 * np.floor(0.5 * middle + 0.5)
    return 2.0 * (_wrap_once(middle) + (_wrap_twice(one) - _wrap_twice(middle)) / off) / off


@inline
def _between(kind: Any, x: Any, past: Any, sum_now: Any, sum_past: Any, table: Any) -> Any:
    """The mean of the curve from ``past`` to ``x``, from the antiderivatives there."""
    d = x - past
    if abs(d) < 1e-5:
        return _curve(kind, 0.5 * (x + past), table)
    return (sum_now - sum_past) / d


@portion
def _shape(x: Any, a: Any, b: Any, kind: Any, curves: Any, state: Any, dry: Any, work: Any, table: Any) -> None:
    drive, after, was, bias, mix = curves.drive, curves.after, curves.was, curves.bias, curves.mix
    r = x.shape[0] - 1
    up, down = load(state, 0), load(state, LINE)
    for i in range(a, b):
        v, w = x[0, i] * drive[i], x[r, i] * drive[i]
        e, up = chains((v, v, w, w), up)
        work[i - a, 0], work[i - a, 1], work[i - a, 2], work[i - a, 3] = e[1], e[0], e[3], e[2]
    save(state, 0, up)
    rest = _curve(kind, bias, table)
    for c in range(x.shape[0]):
        at = 2 * LINE + c * _FAR
        rise = (state[at], state[at + 1], state[at + 2], state[at + 3], state[at + 4])
        fall = (state[at + 5], state[at + 6], state[at + 7], state[at + 8], state[at + 9])
        past, former = state[at + 10] + was, state[at + 13] + was
        # for wrap the previous mean, for all others the antiderivative at the previous sample
        carried = _wrap_mean(past, former) if kind == WRAP else _sum_of(kind, past, table)
        shift = bias
        for i in range(a, b):
            if was != bias:
                shift = was + (bias - was) * ((i - a + 1) / (b - a))
                rest = _curve(kind, shift, table)
            # the earlier of the two samples is stored second
            for j in range(1, -1, -1):
                v = work[i - a, 2 * c + j]
                first, second, rise = wide(v, v, rise)
                one, two = 0.0, 0.0
                # both passes of the four-fold rate share this code
                for k in range(2):
                    u = first + shift if k == 0 else second + shift
                    if kind == WRAP:
                        now = _wrap_mean(u, past)
                        y = _wrapped(u, past, former, now, carried) - rest
                    else:
                        now = _sum_of(kind, u, table)
                        y = _between(kind, u, past, now, carried, table) - rest
                    carried, former, past = now, past, u
                    if k == 0:
                        one = y
                    else:
                        two = y
                p, q, fall = wide(two, one, fall)
                work[i - a, 2 * c + j] = 0.5 * (p + q)
        for j in range(5):
            state[at + j] = 0.0 if abs(rise[j]) < 1e-30 else rise[j]
            state[at + 5 + j] = 0.0 if abs(fall[j]) < 1e-30 else fall[j]
        state[at + 10], state[at + 13] = past - bias, former - bias
    if r == 0:
        for i in range(a, b):
            work[i - a, 2], work[i - a, 3] = work[i - a, 0], work[i - a, 1]
    for i in range(a, b):
        o, down = chains((work[i - a, 0], work[i - a, 1], work[i - a, 2], work[i - a, 3]), down)
        work[i - a, 0], work[i - a, 1] = 0.5 * (o[0] + o[1]), 0.5 * (o[2] + o[3])
    save(state, LINE, down)
    lag = dry.shape[1]
    for c in range(x.shape[0]):
        at = 2 * LINE + c * _FAR
        if kind < 2 or kind == DRAWN or bias != 0.0 or was != 0.0 or state[at + 12] != 0.0:
            held, block = state[at + 11], state[at + 12]
            for i in range(a, b):
                block = work[i - a, c] - held + 0.9995 * block
                held = work[i - a, c]
                work[i - a, c] = block
            state[at + 11], state[at + 12] = held, 0.0 if abs(block) < 1e-30 else block
        ends = np.concatenate((dry[c], x[c, a:b]))[b - a :] if b - a < lag else x[c, b - lag : b].copy()
        for i in range(b - 1, a - 1, -1):
            y = work[i - a, c] * after[i]
            share = mix[i]
            if share != 1.0:
                before = x[c, i - lag] if i - lag >= a else dry[c, i - a]
                y = before + share * (y - before)
            x[c, i] = y
        put(dry[c], ends)


@kernel("void(f8[:,::1], i8, i8, i8, DriveCurves, f8[::1], f8[:,::1], f8[:,::1], f8[:,::1])", DriveCurves)
def shape(x: Any, a: int, b: int, kind: int, curves: Any, state: Any, dry: Any, work: Any, table: Any) -> None:
    """Shape x, (channels, n), in place, samples a..b.

    The dry sound is delayed by dry.shape[1] samples. state: (SHAPED_STATE,); dry: (channels, lag). work: (QUANTUM, 4)
    space. table: a drawn curve as of ``drawn_table``.
    """
    for q in range(a // QUANTUM * QUANTUM, b, QUANTUM):
        _shape(x, max(q, a), min(q + QUANTUM, b), kind, curves, state, dry, work, table)


CRUSH_STATE = 3


class CrushCurves(NamedTuple):
    """The controls of a crusher, each (n,).

    drive, after: linear gain. levels: steps to full scale. step: new values a sample, 1 for each. mix: 0..1.
    """

    drive: F1
    after: F1
    levels: F1
    step: F1
    mix: F1


@kernel("void(f8[:,::1], i8, i8, CrushCurves, f8[:,::1], f8[:,::1], f8[:,::1])", CrushCurves)
def crush(x: Any, a: int, b: int, curves: Any, state: Any, dry: Any, wet: Any) -> None:
    """Hold and round x, (channels, n), in place, samples a..b.

    dry, wet: (channels, lag), which delay the dry and the crushed sound. state: (channels, CRUSH_STATE).
    """
    drive, after, levels, step, mix = curves.drive, curves.after, curves.levels, curves.step, curves.mix
    lag = dry.shape[1]
    for c in range(x.shape[0]):
        held, turn, started = state[c, 0], state[c, 1], state[c, 2]
        p = 0
        for i in range(a, b):
            turn += step[i]
            if turn >= 1.0 or started == 0.0:
                turn -= np.floor(turn)
                started = 1.0
                v = min(max(x[c, i] * drive[i], -1.0), 1.0)
                held = np.floor(v * levels[i] + 0.5) / levels[i]
            # delayed to match the other curves
            before = dry[c, p]
            late = wet[c, p]
            dry[c, p], wet[c, p] = x[c, i], held
            p += 1
            if p == lag:
                p = 0
            x[c, i] = before + mix[i] * (late * after[i] - before)
        if p:
            one, two = np.concatenate((dry[c, p:], dry[c, :p])), np.concatenate((wet[c, p:], wet[c, :p]))
            put(dry[c], one)
            put(wet[c], two)
        state[c, 0], state[c, 1], state[c, 2] = held, turn, started


def shaped(curve: str, x: NDArray[np.float64]) -> NDArray[np.float64]:
    """A curve itself, for drawings and tests; the shape is kept."""
    if curve in ("tube", "one-sided"):
        w = np.where(x >= 0.0, 1.0, TUBE_BELOW if curve == "tube" else ONE_BELOW)
        return np.asarray(x / np.sqrt(1.0 + (x / w) ** 2))
    if curve == "hard":
        return np.clip(x, -1.0, 1.0)
    if curve == "fold":
        t = x - 4.0 * np.floor(0.25 * x + 0.5)
        return np.asarray(np.where(np.abs(t) <= 1.0, t, np.sign(t) * 2.0 - t))
    return np.asarray(x - 2.0 * np.floor(0.5 * x + 0.5))


@cache
def _match_table(curve: str) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    drives = np.linspace(-24.0, 72.0, 385)
    wave = 0.35 * np.sin(2 * np.pi * np.arange(512) / 512)
    out = np.array([np.std(shaped(curve, wave * 10 ** (d / 20))) for d in drives])
    if curve in ("fold", "wrap"):
        # a wrapping curve is loud on average and never decays
        out = np.maximum.accumulate(np.minimum(out, 0.5))
    return drives, np.sqrt(np.mean(wave**2)) / out


def shaped_table(curve: str) -> NDArray[np.float64]:
    """The gains of ``shaped_makeup`` at every quarter dB from -24 dB."""
    return _match_table("hard" if curve == "crush" else curve)[1]


def shaped_makeup(curve: str, drive_db: NDArray[np.float64]) -> NDArray[np.float64]:
    """Gain that restores the level of a sine at -9 dBFS after ``drive_db``. A fixed rule."""
    # crush clips before it rounds
    curve = "hard" if curve == "crush" else curve
    drives, gains = _match_table(curve)
    return np.asarray(np.interp(drive_db, drives, gains))
