"""The soft distortion, at twice the rate.

The curve is the seventh-order continued fraction of the hyperbolic tangent, clipped where it reaches one.
"""

from __future__ import annotations

from functools import cache
from typing import Annotated, Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..jit import F1, QUANTUM, inline, kernel, portion
from .halfband import LINE, chains, load, save

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


STATE = 2 * LINE + 4
"""Half-bands up and down, and the DC block, for two channels."""


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
def _distort(x: Any, a: Any, b: Any, curves: Any, state: Any, dry: Any, work: Any) -> None:
    drive, after, was, bias, mix = curves.drive, curves.after, curves.was, curves.bias, curves.mix
    r = x.shape[0] - 1
    n = b - a
    # non-negative indices need no test for counting from the end
    left, right, into, out, share, room = x[0, a:b], x[r, a:b], drive[a:b], after[a:b], mix[a:b], work[:n]
    up, down = load(state, 0), load(state, LINE)
    rest = _soft(bias)
    flat = work.reshape(work.size)[: 4 * n]
    for i in range(n):
        v, w = left[i] * into[i], right[i] * into[i]
        e, up = chains((v, v, w, w), up)
        room[i, 0], room[i, 1], room[i, 2], room[i, 3] = e[1], e[0], e[3], e[2]
    if was == bias:
        for i in range(flat.size):
            flat[i] = _soft(flat[i] + bias) - rest
    else:
        for i in range(n):
            shift = was + (bias - was) * ((i + 1) / n)
            rest = _soft(shift)
            for j in range(4):
                room[i, j] = _soft(room[i, j] + shift) - rest
    for i in range(n):
        o, down = chains((room[i, 0], room[i, 1], room[i, 2], room[i, 3]), down)
        room[i, 0], room[i, 1] = 0.5 * (o[0] + o[1]), 0.5 * (o[2] + o[3])
    save(state, 0, up)
    save(state, LINE, down)
    # after the first bias the DC block stays on, so that nothing jumps when the bias returns to 0
    if bias != 0.0 or was != 0.0 or state[2 * LINE + 1] != 0.0 or state[2 * LINE + 3] != 0.0:
        for c in range(2):
            held, block = state[2 * LINE + 2 * c], state[2 * LINE + 2 * c + 1]
            for i in range(a, b):
                block = work[i - a, c] - held + 0.9995 * block
                held = work[i - a, c]
                work[i - a, c] = block
            state[2 * LINE + 2 * c], state[2 * LINE + 2 * c + 1] = held, 0.0 if abs(block) < 1e-30 else block
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
            dry[c, :] = ends
            continue
        for i in range(n - 1, lag - 1, -1):
            y = room[i, c] * out[i]
            own[i] = y if share[i] == 1.0 else own[i - lag] + share[i] * (y - own[i - lag])
        for i in range(min(lag, n) - 1, -1, -1):
            y = room[i, c] * out[i]
            own[i] = y if share[i] == 1.0 else dry[c, i] + share[i] * (y - dry[c, i])
        dry[c, :] = ends


@kernel("void(f8[:,::1], i8, i8, DriveCurves, f8[::1], f8[:,::1], f8[:,::1])", DriveCurves)
def distort(x: Any, a: int, b: int, curves: Any, state: Any, dry: Any, work: Any) -> None:
    """Distort x, (channels, n), in place, samples a..b.

    The dry sound is delayed by dry.shape[1] samples. state: (STATE,); dry: (channels, lag). work: (QUANTUM, 4), space
    for both samples of both sides at twice the rate. Upsampling, curve and downsampling each process all of it before
    the next one: one long loop would wait for its own results.
    """
    for q in range(a, b, QUANTUM):
        _distort(x, q, min(q + QUANTUM, b), curves, state, dry, work)
