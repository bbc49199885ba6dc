"""The soft curve, at twice the rate.

The curve is the seventh-order continued fraction of the hyperbolic tangent, held where it reaches one.
"""

from __future__ import annotations

from functools import cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

from .halfband import LINE, chains, load, save
from .jit import inline, kernel

KNEE = 4.9717


@inline
def _soft(x: Any) -> Any:
    x = min(max(x, -KNEE), KNEE)
    s = x * x
    return x * (135135.0 + s * (17325.0 + s * (378.0 + s))) / (135135.0 + s * (62370.0 + s * (3150.0 + s * 28.0)))


def soft(x: NDArray[np.float64]) -> NDArray[np.float64]:
    """The curve itself, for pictures and tests: any shape in, the same out."""
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
    """The gain that gives a sine at -9 dBFS its level back after ``drive_db``: a fixed rule, never a follower."""
    drives, gains = _match_table()
    return np.asarray(np.interp(drive_db, drives, gains))


STATE = 2 * LINE + 4
"""Half-bands up and down, and the DC block of two channels."""


@kernel("void(f8[:,::1], i8, i8, f8[::1], f8[::1], f8, f8[::1], f8[::1], f8[:,::1])")
def distort(x: Any, a: int, b: int, drive: Any, after: Any, bias: float, mix: Any, state: Any, dry: Any) -> None:
    """Distort x, (channels, n), in place, samples a..b.

    drive, after: (n,) linear gain into and out of the curve. bias: shift of the working point. mix: (n,) 0..1, against
    the dry sound held back by dry.shape[1] samples. state: (STATE,); dry: (channels, lag).
    """
    rest = _soft(bias)
    up, down = load(state, 0), load(state, LINE)
    held, block = state[2 * LINE], state[2 * LINE + 1]
    held_r, block_r = state[2 * LINE + 2], state[2 * LINE + 3]
    r = x.shape[0] - 1
    lag = dry.shape[1]
    at = 0
    for i in range(a, b):
        g = drive[i]
        v, w = x[0, i], x[r, i]
        e, up = chains((v * g, v * g, w * g, w * g), up)
        bent = (
            _soft(e[1] + bias) - rest, _soft(e[0] + bias) - rest, _soft(e[3] + bias) - rest, _soft(e[2] + bias) - rest
        )  # fmt: skip
        o, down = chains(bent, down)
        y, z = 0.5 * (o[0] + o[1]), 0.5 * (o[2] + o[3])
        if bias != 0.0:
            block = y - held + 0.9995 * block
            held = y
            y = block
            block_r = z - held_r + 0.9995 * block_r
            held_r = z
            z = block_r
        y *= after[i]
        z *= after[i]
        share = mix[i]
        before, before_r = dry[0, at], dry[r, at]
        dry[r, at] = w
        dry[0, at] = v
        at += 1
        if at == lag:
            at = 0
        x[r, i] = z if share == 1.0 else before_r + share * (z - before_r)
        x[0, i] = y if share == 1.0 else before + share * (y - before)
    if at:
        for c in range(x.shape[0]):
            # the oldest sample stands first again
            turned = np.concatenate((dry[c, at:], dry[c, :at]))
            dry[c, :] = turned
    save(state, 0, up)
    save(state, LINE, down)
    state[2 * LINE], state[2 * LINE + 1] = held, block
    state[2 * LINE + 2], state[2 * LINE + 3] = held_r, block_r


@kernel("void(f8[:,::1], i8, i8, f8[:,::1])")
def hold_back(x: Any, a: int, b: int, line: Any) -> None:
    """Delay x, (channels, n), in place by line.shape[1] samples, bit by bit the same. line: (channels, lag)."""
    lag = line.shape[1]
    if lag == 0:
        return
    for c in range(x.shape[0]):
        p = 0
        for i in range(a, b):
            v = x[c, i]
            x[c, i] = line[c, p]
            line[c, p] = v
            p += 1
            if p == lag:
                p = 0
        if p:
            turned = np.concatenate((line[c, p:], line[c, :p]))
            line[c, :] = turned
