"""A look-ahead true-peak limiter.

The peak between samples is found by four-times oversampling (ITU-R BS.1770-4, Annex 2, as a windowed-sinc interpolator)
and a parabola through the highest three points. The needed gain is held over the look-ahead and smoothed by a moving
average of the same length, so it is complete when the peak comes.

Above 20 kHz the peak between two samples is a matter of the interpolator: two good ones differ by up to 2 dB for white
noise. So what is limited loses what lies above 20 kHz, by a linear-phase low-pass that is faded in over the look-ahead
and out again after the limiter has been at rest for a while. Under the ceiling the sound passes unchanged.
"""

from __future__ import annotations

from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray
from scipy.signal import firwin

from ..jit import F1, F2, QUANTUM, inline, kernel, portion, put

TAPS = 32
AHEAD = 72
MEAN = 64
HALF = 23
"""Delay of the low-pass in samples."""
PEAK_AGE = HALF + TAPS // 2
"""Samples from a peak to the moment at which it is known."""
LATENCY = AHEAD - 4 + PEAK_AGE
SPAN = TAPS + 2 * HALF
"""Samples of the input that a point between two samples of the low-passed sound depends on."""
SIZE = LATENCY + SPAN
HOLD = 4800.0
"""Samples after the last peak over the ceiling during which the low-pass stays."""


def _points() -> NDArray[np.float64]:
    """Interpolator of a sample and the three points after it, shape (TAPS, 4): one row holds the four of a tap."""
    found = [np.where(np.arange(TAPS) == TAPS // 2 - 1, 1.0, 0.0)]
    for p in (1, 2, 3):
        t = np.arange(TAPS) - (TAPS // 2 - 1) - p / 4.0
        taps = np.sinc(t) * np.kaiser(TAPS * 4 + 1, 6.0)[np.arange(TAPS) * 4 + 4 - p]
        found.append(taps / taps.sum())
    return np.ascontiguousarray(np.array(found).T)


POINTS = _points()
LOWPASS = np.ascontiguousarray(firwin(2 * HALF + 1, 20750.0, window=("kaiser", 5.0), fs=48000.0))
"""Within 0.05 dB up to 18.5 kHz, more than 50 dB down from 23 kHz."""
_SMOOTHED = np.array([np.convolve(POINTS[:, p], LOWPASS) for p in range(4)]).T
GAIN_BOUND = float(max(np.abs(POINTS).sum(axis=0).max(), np.abs(_SMOOTHED).sum(axis=0).max()))


def _bend_bound() -> float:
    """Largest distance of a point between two samples from the straight line, in units of the largest second difference
    around it, with and without the low-pass.
    """
    most = 0.0
    for rows, first in ((POINTS, TAPS // 2 - 1), (_SMOOTHED, TAPS // 2 - 1 + HALF)):
        for p in range(4):
            taps = rows[:, p].copy()
            # the straight line as the taps see it: their first moment is not exactly p / 4
            moment = float((taps * (np.arange(taps.size) - first)).sum())
            taps[first] -= 1.0 - moment
            taps[first + 1] -= moment
            most = max(most, float(np.abs(np.cumsum(np.cumsum(taps))).sum()))
    return most


BENDS = np.array([0.05, 0.2, 0.5])
"""Largest second differences, as multiples of the ceiling, of three classes of smoothness."""
UNDER = 1.0 - _bend_bound() * BENDS - 0.003
"""If both samples are below this multiple of the ceiling, no point between them exceeds it. The last term covers the
error of the taps' first moment."""
STATE = 24
_PLACE, _SLOT, _TOTAL, _GAIN, _COUNT, _FIRST, _KEPT, _QUIET, _CEILING, _SINCE, _DULLED, _STALE = range(12)
_SMOOTH, _POINTS = 12, 15


class Limiter(NamedTuple):
    """The state of a limiter.

    line, dull: (2, 2 SIZE), the sound and the low-passed sound, rings written twice so that they can be read in one
    piece. needed: (2, AHEAD), a ring of the gains that are needed and of when. smooth, share: (MEAN,), rings of the
    gain and of the low-pass's share. state: (STATE,).
    """

    line: F2
    dull: F2
    needed: F2
    smooth: F1
    share: F1
    state: F1


class LimiterTables(NamedTuple):
    """What the loops of the limiter read: POINTS, LOWPASS, BENDS and UNDER."""

    points: F2
    lowpass: F1
    bends: F1
    under: F1


TABLES = LimiterTables(POINTS, LOWPASS, BENDS, UNDER)


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
def _under(x: Any, a: Any, b: Any, ceiling: Any, held: Any, tables: Any) -> Any:
    """Whether nothing in samples a..b, nor in the look-ahead, can exceed the ceiling."""
    line, state, bends, under = held.line, held.state, tables.bends, tables.under
    if state[_GAIN] != 1.0 or state[_TOTAL] != held.smooth.shape[0] or state[_KEPT] > 0 or state[_CEILING] != ceiling:
        return False
    if state[_DULLED] != 0.0 or state[_SINCE] < HOLD:
        return False
    p = int(state[_PLACE])
    most, bend = 0.0, 0.0
    for c in range(2):
        for j in range(p + SIZE - SPAN, p + SIZE):
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
def _pass_on(x: Any, a: Any, b: Any, held: Any) -> None:
    """Delay samples a..b unchanged."""
    line, state, mean = held.line, held.state, held.smooth.shape[0]
    n = b - a
    p = int(state[_PLACE])
    for c in range(2):
        own = x[c, a:b]
        late = line[c, p + SIZE - LATENCY : p + SIZE].copy()
        for j in range(SIZE):
            at = (p + n - SIZE + j) % SIZE
            line[c, at] = own[n - SIZE + j]
            line[c, at + SIZE] = own[n - SIZE + j]
        for i in range(n - 1, LATENCY - 1, -1):
            own[i] = own[i - LATENCY]
        put(own[:LATENCY], late)
    state[_POINTS : _POINTS + 8] = 0.0
    state[_PLACE] = (p + n) % SIZE
    state[_SLOT] = (int(state[_SLOT]) + n) % mean
    state[_COUNT] += n
    # recompute which samples can be skipped, and the low-passed sound
    state[_QUIET], state[_SMOOTH], state[_SMOOTH + 1], state[_SMOOTH + 2], state[_STALE] = 0, 0, 0, 0, 1.0


@portion
def _lowpassed(x: Any, out: Any, lowpass: Any) -> None:
    """Low-pass x, (n,), into out: its last samples are those of x, later by HALF.

    Taps outside, in pairs, for the low-pass is even: the samples of out are made side by side.
    """
    first, n = x.size - out.size, out.size
    middle, own = lowpass[HALF], x[first - HALF : first - HALF + n]
    for i in range(n):
        out[i] = middle * own[i]
    for k in range(HALF):
        tap, one, two = lowpass[k], x[first - k : first - k + n], x[first - 2 * HALF + k : first - 2 * HALF + k + n]
        for i in range(n):
            out[i] += tap * (one[i] + two[i])


@portion
def _freshen(held: Any, tables: Any) -> None:
    """Low-pass what was passed on unlooked."""
    line, dull, state = held.line, held.dull, held.state
    p = int(state[_PLACE])
    known = np.empty(SIZE - 2 * HALF)
    for c in range(2):
        _lowpassed(line[c, p : p + SIZE], known, tables.lowpass)
        for j in range(known.size):
            at = (p + 2 * HALF + j) % SIZE
            dull[c, at] = known[j]
            dull[c, at + SIZE] = known[j]
    state[_STALE] = 0.0


@inline
def _peak(own: Any, first: Any, points: Any, state: Any, at: Any) -> Any:
    """The true peak around the middle of the TAPS samples from ``first`` on; at: the two points before, in state."""
    before, last = state[at], state[at + 1]
    peak = 0.0
    y0, y1, y2, y3 = 0.0, 0.0, 0.0, 0.0
    for j in range(TAPS):
        v = own[first + j]
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
    state[at], state[at + 1] = before, last
    return peak


@portion
def _look(x: Any, a: Any, b: Any, ceiling: Any, fall: Any, held: Any, tables: Any, work: Any) -> None:
    line, dull, needed, smooth, share, state = held.line, held.dull, held.needed, held.smooth, held.share, held.state
    points, bends, under = tables.points, tables.bends, tables.under
    mean = smooth.shape[0]
    if state[_STALE] != 0.0:
        _freshen(held, tables)
    p, r = int(state[_PLACE]), int(state[_SLOT])
    for c in range(2):
        _lowpassed(
            np.concatenate((line[c, p + SIZE - 2 * HALF : p + SIZE], x[c, a:b])), work[c, : b - a], tables.lowpass
        )
    total, gain, since, dulled = state[_TOTAL], state[_GAIN], state[_SINCE], state[_DULLED]
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
            dull[c, p] = work[c, i - a]
            dull[c, p + SIZE] = work[c, i - a]
            bend = max(bend, abs(v - 2.0 * line[c, p + SIZE - 1] + line[c, p + SIZE - 2]))
        since0 = 0.0 if bend > far0 else since0 + 1.0
        since1 = 0.0 if bend > far1 else since1 + 1.0
        since2 = 0.0 if bend > far2 else since2 + 1.0
        # the newest point with known neighbours lies PEAK_AGE samples back
        quiet = 0 if abs(x[0, i]) > loud or abs(x[1, i]) > loud else quiet + 1
        want = 1.0
        if quiet < SPAN:
            enough = 0.0
            if since0 >= SPAN:
                enough = under[0] * ceiling
            elif since1 >= SPAN:
                enough = under[1] * ceiling
            elif since2 >= SPAN:
                enough = under[2] * ceiling
            peak = 0.0
            first = p + SIZE - TAPS + 1
            here = first + TAPS // 2 - 1 - HALF
            for c in range(2):
                at = _POINTS + 4 * c
                if abs(line[c, here]) < enough and abs(line[c, here + 1]) < enough:
                    state[at], state[at + 1], state[at + 2], state[at + 3] = 0.0, 0.0, 0.0, 0.0
                    continue
                peak = max(peak, _peak(dull[c], first, points, state, at))
                if since + AHEAD < HOLD:
                    # by the time it comes out, only the low-passed sound is left
                    state[at + 2], state[at + 3] = 0.0, 0.0
                else:
                    peak = max(peak, _peak(line[c], first - HALF, points, state, at + 2))
            if peak > ceiling:
                want = ceiling / peak
        else:
            for j in range(_POINTS, _POINTS + 8):
                state[j] = 0.0
        since = 0.0 if want < 1.0 else min(since + 1.0, HOLD)
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
        much = 1.0 if since < HOLD else 0.0
        dulled += much - share[r]
        share[r] = much
        out, blend = total / mean, dulled / mean
        z, q = p - LATENCY, p - LATENCY + HALF
        z, q = z + SIZE if z < 0 else z, q + SIZE if q < 0 else q
        for c in range(2):
            v = line[c, z]
            if blend != 0.0:
                v += blend * (dull[c, q] - v)
            x[c, i] = v if out == 1.0 else v * out
        p += 1
        if p == SIZE:
            p = 0
        r += 1
        if r == mean:
            r = 0
    state[_PLACE], state[_SLOT], state[_TOTAL], state[_GAIN] = p, r, total, gain
    state[_SINCE], state[_DULLED] = since, dulled
    state[_QUIET] = min(quiet, SPAN)
    top = float(SPAN)
    state[_SMOOTH], state[_SMOOTH + 1], state[_SMOOTH + 2] = min(since0, top), min(since1, top), min(since2, top)


@kernel("void(f8[:,::1], f8, f8, Limiter, LimiterTables)", Limiter, LimiterTables)
def _limit(x: Any, ceiling: float, fall: float, held: Any, tables: Any) -> None:
    work = np.empty((2, QUANTUM))
    for a in range(0, x.shape[1], QUANTUM):
        b = min(a + QUANTUM, x.shape[1])
        if b - a > SIZE + 4 and _under(x, a, b, ceiling, held, tables):
            _pass_on(x, a, b, held)
        else:
            _look(x, a, b, ceiling, fall, held, tables, work)


def limit(x: NDArray[np.float64], ceiling: float, fall: float, held: Limiter) -> None:
    """Limit x, (2, n), in place, late by LATENCY samples.

    ceiling: linear. fall: share of the way back to 1 that the gain keeps each sample (from the release time).

    Points between samples are only made where they could be over the ceiling: not in quiet, nor where the sound bends
    little and both samples are well under it. A quantum that is all like that is just held back.
    """
    _limit(x, ceiling, fall, held, TABLES)


def rest() -> Limiter:
    """A new limiter."""
    state = np.zeros(STATE)
    state[_TOTAL], state[_GAIN], state[_QUIET], state[_SINCE] = float(MEAN), 1.0, float(SPAN), float(HOLD)
    lines = np.zeros((2, 2 * SIZE)), np.zeros((2, 2 * SIZE))
    return Limiter(*lines, np.zeros((2, AHEAD)), np.ones(MEAN), np.zeros(MEAN), state)
