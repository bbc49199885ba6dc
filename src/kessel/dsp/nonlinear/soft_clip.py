"""The soft distortion, at two, four or eight times the rate.

The curve is the seventh-order continued fraction of the hyperbolic tangent, clipped where it reaches one. The harder it
is driven, the higher its partials reach, and the higher the rate it needs. The latency is the same at all rates.
"""

from __future__ import annotations

from functools import cache
from typing import Annotated, Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..jit import F1, QUANTUM, inline, kernel, portion, put
from .halfband import DELAY_8, FAR, LINE, chains, load, save, wide, wider

KNEE = 4.9717


@inline
def _soft(x: Any) -> Any:
    x = min(max(x, -KNEE), KNEE)
    s = x * x
    return x * (135135.0 + s * (17325.0 + s * (378.0 + s))) / (135135.0 + s * (62370.0 + s * (3150.0 + s * 28.0)))


def soft(x: NDArray[np.float64]) -> NDArray[np.float64]:
    """The curve itself, for drawings and tests; the shape is kept."""
    x = np.clip(x, -KNEE, KNEE)
    s = x * x
    return np.asarray(
        x * (135135.0 + s * (17325.0 + s * (378.0 + s))) / (135135.0 + s * (62370.0 + s * (3150.0 + s * 28.0)))
    )


@cache
def _match_table() -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    drives = np.linspace(-24.0, 72.0, 385)
    wave = 0.35 * np.sin(2 * np.pi * np.arange(256) / 256)
    out = np.array([np.sqrt(np.mean(soft(wave * 10 ** (d / 20)) ** 2)) for d in drives])
    return drives, np.sqrt(np.mean(wave**2)) / out


def makeup(drive_db: NDArray[np.float64]) -> NDArray[np.float64]:
    """Gain that restores the level of a sine at -9 dBFS after ``drive_db``. A fixed rule."""
    drives, gains = _match_table()
    return np.asarray(np.interp(drive_db, drives, gains))


TABLE_LOW, TABLE_PER_DB = -24.0, 4.0
"""Lowest level in dB of the tables of makeup gains, and their entries per dB."""


def makeup_table() -> NDArray[np.float64]:
    """The gains of ``makeup`` at every quarter dB."""
    return _match_table()[1]


@kernel("void(f8[::1], f8[::1], f8[::1], b1, f8[::1], f8[::1])")
def driven(drive_db: Any, trim_db: Any, table: Any, match: Any, drive: Any, after: Any) -> None:
    """Write linear gains into and out of a curve, (n,), from levels in dB.

    match: whether the gain out restores the level, by a table of makeup gains.
    """
    ten = np.log(10.0) / 20.0
    last = table.size - 2
    for i in range(drive_db.size):
        drive[i] = np.exp(drive_db[i] * ten)
        gain = 1.0 if trim_db[i] == 0.0 else np.exp(trim_db[i] * ten)
        if match:
            x = min(max((drive_db[i] - TABLE_LOW) * TABLE_PER_DB, 0.0), last + 0.999999)
            n = int(x)
            gain *= table[n] + (x - n) * (table[n + 1] - table[n])
        after[i] = gain


SOFT_LATENCY = round(DELAY_8)
"""Latency in samples, at all rates."""
_BLOCK = 2 * LINE
_HELD = _BLOCK + 4
_FAR = _HELD + 2
STATE = _FAR + 2 * FAR
"""State of two channels: half-bands up and down, the block against DC, the sound that waits, the further doublings."""
TWICE, FOUR_TIMES, EIGHT_TIMES = 2, 4, 8
_UP_TO = ((TWICE, 25.0), (FOUR_TIMES, 33.0))
"""The drive in dB up to which a rate keeps what folds back at least 80 dB down, for sines of full scale up to 880 Hz.
The highest rate does up to 41 dB."""


def rate_for(drive_db: float) -> int:
    """The rate, as a multiple of the sound's, that a full-scale sound needs at a drive of ``drive_db``."""
    return next((rate for rate, top in _UP_TO if drive_db <= top + 1e-9), EIGHT_TIMES)


class DriveCurves(NamedTuple):
    """The controls of a curve.

    drive, after: (n,) linear gain into and out of it. was, bias: shift of the working point at the start and the end of
    the quantum. mix: (n,) 0..1.
    """

    drive: F1
    after: F1
    was: Annotated[float, "f8"]
    bias: Annotated[float, "f8"]
    mix: F1


@portion
def _bend_finer(room: Any, c: Any, n: Any, rate: Any, was: Any, bias: Any, state: Any) -> None:
    """Bend channel c of room, (n, 4) at twice the rate, at four or eight times it. state: (FAR,)."""
    rise = (state[0], state[1], state[2], state[3], state[4])
    fall = (state[5], state[6], state[7], state[8], state[9])
    rise2 = (state[10], state[11], state[12], state[13])
    fall2 = (state[14], state[15], state[16], state[17])
    shift, rest = bias, _soft(bias)
    for i in range(n):
        if was != bias:
            shift = was + (bias - was) * ((i + 1) / n)
            rest = _soft(shift)
        # the earlier of the two samples is stored second
        for j in (2 * c + 1, 2 * c):
            first, second, rise = wide(room[i, j], room[i, j], rise)
            if rate == FOUR_TIMES:
                one, two = _soft(first + shift) - rest, _soft(second + shift) - rest
            else:
                u, v, rise2 = wider(first, first, rise2)
                p, q, fall2 = wider(_soft(v + shift) - rest, _soft(u + shift) - rest, fall2)
                one = 0.5 * (p + q)
                u, v, rise2 = wider(second, second, rise2)
                p, q, fall2 = wider(_soft(v + shift) - rest, _soft(u + shift) - rest, fall2)
                two = 0.5 * (p + q)
            p, q, fall = wide(two, one, fall)
            room[i, j] = 0.5 * (p + q)
    for k, rows in ((0, rise), (5, fall)):
        for q in range(5):
            state[k + q] = 0.0 if abs(rows[q]) < 1e-30 else rows[q]
    for k, rows2 in ((10, rise2), (14, fall2)):
        for q in range(4):
            state[k + q] = 0.0 if abs(rows2[q]) < 1e-30 else rows2[q]


@portion
def _bend_plainly(room: Any, n: Any, was: Any, bias: Any) -> None:
    """Bend both channels of room, (n, 4) at twice the rate."""
    flat = room.reshape(room.size)[: 4 * n]
    rest = _soft(bias)
    if was == bias:
        for i in range(flat.size):
            flat[i] = _soft(flat[i] + bias) - rest
        return
    for i in range(n):
        shift = was + (bias - was) * ((i + 1) / n)
        rest = _soft(shift)
        for j in range(4):
            room[i, j] = _soft(room[i, j] + shift) - rest


@portion
def _distort(x: Any, a: Any, b: Any, curves: Any, rate: Any, state: Any, dry: Any, work: Any) -> None:
    drive, after, was, bias, mix = curves.drive, curves.after, curves.was, curves.bias, curves.mix
    r = x.shape[0] - 1
    n = b - a
    # non-negative indices need no test for counting from the end
    left, right, into, out, share, room = x[0, a:b], x[r, a:b], drive[a:b], after[a:b], mix[a:b], work[:n]
    up, down = load(state, 0), load(state, LINE)
    # at twice the rate one sample later, so that it is as late as at higher rates
    late, late2 = state[_HELD], state[_HELD + 1]
    if rate == TWICE:
        for i in range(n):
            e, up = chains((late, late, late2, late2), up)
            late, late2 = left[i] * into[i], right[i] * into[i]
            room[i, 0], room[i, 1], room[i, 2], room[i, 3] = e[1], e[0], e[3], e[2]
    else:
        for i in range(n):
            v, w = left[i] * into[i], right[i] * into[i]
            e, up = chains((v, v, w, w), up)
            room[i, 0], room[i, 1], room[i, 2], room[i, 3] = e[1], e[0], e[3], e[2]
        late, late2 = v, w
    state[_HELD], state[_HELD + 1] = late, late2
    if rate == TWICE:
        _bend_plainly(room, n, was, bias)
    else:
        for c in range(r + 1):
            _bend_finer(room, c, n, rate, was, bias, state[_FAR + c * FAR : _FAR + (c + 1) * FAR])
        if r == 0:
            for i in range(n):
                room[i, 2], room[i, 3] = room[i, 0], room[i, 1]
    for i in range(n):
        o, down = chains((room[i, 0], room[i, 1], room[i, 2], room[i, 3]), down)
        room[i, 0], room[i, 1] = 0.5 * (o[0] + o[1]), 0.5 * (o[2] + o[3])
    save(state, 0, up)
    save(state, LINE, down)
    # after the first bias the DC block stays on, so that nothing jumps when the bias returns to 0
    if bias != 0.0 or was != 0.0 or state[_BLOCK + 1] != 0.0 or state[_BLOCK + 3] != 0.0:
        for c in range(2):
            held, block = state[_BLOCK + 2 * c], state[_BLOCK + 2 * c + 1]
            for i in range(a, b):
                block = work[i - a, c] - held + 0.9995 * block
                held = work[i - a, c]
                work[i - a, c] = block
            state[_BLOCK + 2 * c], state[_BLOCK + 2 * c + 1] = held, 0.0 if abs(block) < 1e-30 else block
    lag = dry.shape[1]
    whole = True
    for i in range(n):
        if share[i] != 1.0:
            whole = False
    for c in range(x.shape[0]):
        # saved for the next block before x is overwritten
        ends = np.concatenate((dry[c], x[c, a:b]))[b - a :] if b - a < lag else x[c, b - lag : b].copy()
        own = x[c, a:b]
        if whole:
            for i in range(n):
                own[i] = room[i, c] * out[i]
            put(dry[c], ends)
            continue
        for i in range(n - 1, lag - 1, -1):
            y = room[i, c] * out[i]
            own[i] = y if share[i] == 1.0 else own[i - lag] + share[i] * (y - own[i - lag])
        for i in range(min(lag, n) - 1, -1, -1):
            y = room[i, c] * out[i]
            own[i] = y if share[i] == 1.0 else dry[c, i] + share[i] * (y - dry[c, i])
        put(dry[c], ends)


@kernel("void(f8[:,::1], i8, i8, DriveCurves, i8, f8[::1], f8[:,::1], f8[:,::1])", DriveCurves)
def distort(x: Any, a: int, b: int, curves: Any, rate: int, state: Any, dry: Any, work: Any) -> None:
    """Distort x, (channels, n), in place, samples a..b.

    rate: 2, 4 or 8. The dry sound is delayed by dry.shape[1] samples. state: (STATE,); dry: (channels, lag). work:
    (QUANTUM, 4), space for both samples of both sides at twice the rate. Upsampling, curve and downsampling each
    process all of it before the next one: one long loop would wait for its own results.
    """
    for q in range(a // QUANTUM * QUANTUM, b, QUANTUM):
        _distort(x, max(q, a), min(q + QUANTUM, b), curves, rate, state, dry, work)
