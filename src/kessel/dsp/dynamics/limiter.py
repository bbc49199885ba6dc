"""A look-ahead true-peak limiter.

The peak between samples is found by four-times oversampling (ITU-R BS.1770-4, Annex 2, as a windowed-sinc interpolator)
and a parabola through the highest three points. The needed gain is held over the look-ahead and smoothed by a moving
average of the same length, so it is complete when the peak comes.
"""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..jit import QUANTUM, inline, kernel, portion

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


def _bend_bound() -> float:
    """Largest distance of a point between two samples from the straight line, in units of the largest second difference
    around it.
    """
    most = 0.0
    for p in (1, 2, 3):
        taps = POINTS[:, p].copy()
        # the straight line as the taps see it: their first moment is not exactly p / 4
        moment = float((taps * (np.arange(TAPS) - (TAPS // 2 - 1))).sum())
        taps[TAPS // 2 - 1] -= 1.0 - moment
        taps[TAPS // 2] -= moment
        most = max(most, float(np.abs(np.cumsum(np.cumsum(taps))).sum()))
    return most


BENDS = np.array([0.05, 0.2, 0.5])
"""Largest second differences, as multiples of the ceiling, of three classes of smoothness."""
UNDER = 1.0 - _bend_bound() * BENDS - 0.003
"""If both samples are below this multiple of the ceiling, no point between them exceeds it. The last term covers the
error of the taps' first moment."""
STATE = 16
_PLACE, _SLOT, _TOTAL, _GAIN, _COUNT, _FIRST, _KEPT, _QUIET, _CEILING = range(9)
_SMOOTH, _POINTS = 9, 12


@inline
def _lowest(needed: Any, state: Any, want: Any) -> Any:
    """The lowest gain needed over the look-ahead, with the newest one, from a monotonic queue."""
    now = state[_COUNT]
    ahead = needed.shape[1]
    first, kept = int(state[_FIRST]), int(state[_KEPT])
    if kept > 0 and needed[1, first] <= now - ahead:
        first = first + 1 if first + 1 < ahead else 0
        kept -= 1
    if want < 1.0:
        while kept > 0 and needed[0, (first + kept - 1) % ahead] >= want:
            kept -= 1
        last = (first + kept) % ahead
        needed[0, last], needed[1, last] = want, now
        kept += 1
    state[_COUNT], state[_FIRST], state[_KEPT] = now + 1.0, first, kept
    return needed[0, first] if kept > 0 else 1.0


@portion
def _under(x: Any, a: Any, b: Any, ceiling: Any, line: Any, smooth: Any, state: Any, bends: Any, under: Any) -> Any:
    """Whether nothing in samples a..b, nor in the look-ahead, can exceed the ceiling."""
    if state[_GAIN] != 1.0 or state[_TOTAL] != smooth.shape[0] or state[_KEPT] > 0 or state[_CEILING] != ceiling:
        return False
    p = int(state[_PLACE])
    most, bend = 0.0, 0.0
    for c in range(2):
        for j in range(p + SIZE - TAPS, p + SIZE):
            most = max(most, abs(line[c, j]))
            bend = max(bend, abs(line[c, j] - 2.0 * line[c, j - 1] + line[c, j - 2]))
        own = x[c, a:b]
        before, last = line[c, p + SIZE - 2], line[c, p + SIZE - 1]
        bend = max(bend, max(abs(own[0] - 2.0 * last + before), abs(own[1] - 2.0 * own[0] + last)))
        m0, m1, m2, m3 = abs(own[0]), abs(own[1]), 0.0, 0.0
        b0, b1, b2, b3 = 0.0, 0.0, 0.0, 0.0
        for i in range(2, own.size - 3, 4):
            u, v, w, x0, x1, x2 = own[i - 2], own[i - 1], own[i], own[i + 1], own[i + 2], own[i + 3]
            m0, m1, m2, m3 = max(m0, abs(w)), max(m1, abs(x0)), max(m2, abs(x1)), max(m3, abs(x2))
            b0, b1 = max(b0, abs(w - 2.0 * v + u)), max(b1, abs(x0 - 2.0 * w + v))
            b2, b3 = max(b2, abs(x1 - 2.0 * x0 + w)), max(b3, abs(x2 - 2.0 * x1 + x0))
        for i in range(own.size - 3, own.size):
            m0 = max(m0, abs(own[i]))
            b0 = max(b0, abs(own[i] - 2.0 * own[i - 1] + own[i - 2]))
        most = max(most, max(max(m0, m1), max(m2, m3)))
        bend = max(bend, max(max(b0, b1), max(b2, b3)))
    for k in range(bends.size):
        if bend <= bends[k] * ceiling:
            return most < under[k] * ceiling
    return most < ceiling / GAIN_BOUND


@portion
def _pass_on(x: Any, a: Any, b: Any, line: Any, smooth: Any, state: Any) -> None:
    """Delay samples a..b unchanged."""
    n = b - a
    p = int(state[_PLACE])
    for c in range(2):
        own = x[c, a:b]
        held = line[c, p + SIZE - LATENCY : p + SIZE].copy()
        for j in range(SIZE):
            at = (p + n - SIZE + j) % SIZE
            line[c, at] = own[n - SIZE + j]
            line[c, at + SIZE] = own[n - SIZE + j]
        for i in range(n - 1, LATENCY - 1, -1):
            own[i] = own[i - LATENCY]
        own[:LATENCY] = held
        state[_POINTS + 2 * c], state[_POINTS + 2 * c + 1] = 0.0, 0.0
    state[_PLACE] = (p + n) % SIZE
    state[_SLOT] = (int(state[_SLOT]) + n) % smooth.shape[0]
    state[_COUNT] += n
    # recompute which samples can be skipped
    state[_QUIET], state[_SMOOTH], state[_SMOOTH + 1], state[_SMOOTH + 2] = 0, 0, 0, 0


@portion
def _look(
    x: Any, a: Any, b: Any, ceiling: Any, fall: Any, line: Any, needed: Any, smooth: Any, state: Any, tables: Any
) -> None:
    points, bends, under = tables
    mean = smooth.shape[0]
    p, r = int(state[_PLACE]), int(state[_SLOT])
    total, gain = state[_TOTAL], state[_GAIN]
    loud = ceiling / GAIN_BOUND
    quiet = int(state[_QUIET])
    if state[_CEILING] != ceiling:
        quiet, state[_CEILING] = 0, ceiling
        state[_SMOOTH], state[_SMOOTH + 1], state[_SMOOTH + 2] = 0.0, 0.0, 0.0
    far0, far1, far2 = bends[0] * ceiling, bends[1] * ceiling, bends[2] * ceiling
    since0, since1, since2 = state[_SMOOTH], state[_SMOOTH + 1], state[_SMOOTH + 2]
    for i in range(a, b):
        bend = 0.0
        for c in range(2):
            v = x[c, i]
            line[c, p] = v
            line[c, p + SIZE] = v
            bend = max(bend, abs(v - 2.0 * line[c, p + SIZE - 1] + line[c, p + SIZE - 2]))
        since0 = 0.0 if bend > far0 else since0 + 1.0
        since1 = 0.0 if bend > far1 else since1 + 1.0
        since2 = 0.0 if bend > far2 else since2 + 1.0
        # the newest point with known neighbours lies TAPS / 2 samples back
        quiet = 0 if abs(x[0, i]) > loud or abs(x[1, i]) > loud else quiet + 1
        want = 1.0
        if quiet < TAPS:
            enough = 0.0
            if since0 >= TAPS:
                enough = under[0] * ceiling
            elif since1 >= TAPS:
                enough = under[1] * ceiling
            elif since2 >= TAPS:
                enough = under[2] * ceiling
            peak = 0.0
            first = p + SIZE - TAPS + 1
            for c in range(2):
                here = first + TAPS // 2 - 1
                if abs(line[c, here]) < enough and abs(line[c, here + 1]) < enough:
                    state[_POINTS + 2 * c], state[_POINTS + 2 * c + 1] = 0.0, 0.0
                    continue
                before, last = state[_POINTS + 2 * c], state[_POINTS + 2 * c + 1]
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
                    bow = 2.0 * last - before - y
                    if last >= before and last >= y and bow > 0.0:
                        top = last + (y - before) * (y - before) / (8.0 * bow)
                        if top > peak:
                            peak = top
                    before = last
                    last = y
                state[_POINTS + 2 * c], state[_POINTS + 2 * c + 1] = before, last
            if peak > ceiling:
                want = ceiling / peak
        lowest = _lowest(needed, state, want)
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
        r += 1
        if r == mean:
            r = 0
    state[_PLACE], state[_SLOT], state[_TOTAL], state[_GAIN] = p, r, total, gain
    state[_QUIET] = min(quiet, TAPS)
    top = float(TAPS)
    state[_SMOOTH], state[_SMOOTH + 1], state[_SMOOTH + 2] = min(since0, top), min(since1, top), min(since2, top)


@kernel("void(f8[:,::1], f8, f8, f8[:,::1], f8[:,::1], f8[::1], f8[::1], f8[:,::1], f8[::1], f8[::1])")
def _limit(
    x: Any,
    ceiling: float,
    fall: float,
    line: Any,
    needed: Any,
    smooth: Any,
    state: Any,
    points: Any,
    bends: Any,
    under: Any,
) -> None:
    for a in range(0, x.shape[1], QUANTUM):
        b = min(a + QUANTUM, x.shape[1])
        if b - a > SIZE + 4 and _under(x, a, b, ceiling, line, smooth, state, bends, under):
            _pass_on(x, a, b, line, smooth, state)
        else:
            _look(x, a, b, ceiling, fall, line, needed, smooth, state, (points, bends, under))


_Array = NDArray[np.float64]


def limit(x: _Array, ceiling: float, fall: float, line: _Array, needed: _Array, smooth: _Array, state: _Array) -> None:
    """Limit x, (2, n), in place, late by LATENCY samples.

    ceiling: linear. fall: share of the way back to 1 that the gain keeps each sample (from the release time).
    line: (2, 2 * SIZE), a ring written twice so that it can be read in one piece; needed: (2, AHEAD), a ring of the
    gains that are needed and of when; smooth: (MEAN,) ring, 1 at rest. state: (STATE,).

    Points between samples are only made where they could be over the ceiling: not in quiet, nor where the sound bends
    little and both samples are well under it. A quantum that is all like that is just held back.
    """
    _limit(x, ceiling, fall, line, needed, smooth, state, POINTS, BENDS, UNDER)


def rest() -> tuple[_Array, _Array, _Array, _Array]:
    """line, needed, smooth and state of a new limiter."""
    state = np.zeros(STATE)
    state[_TOTAL], state[_GAIN], state[_QUIET] = float(MEAN), 1.0, float(TAPS)
    return np.zeros((2, 2 * SIZE)), np.zeros((2, AHEAD)), np.ones(MEAN), state
