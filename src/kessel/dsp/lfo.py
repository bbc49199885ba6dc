"""LFOs, drawn curves, and envelope followers."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from .chance import sign
from .jit import kernel

_Array = NDArray[np.float64]
MOST_SOFT = 0.25
"""A smoothed step takes at most a quarter of a cycle."""


@dataclass(frozen=True)
class Drawn:
    """A drawn curve: at (points,) rising positions 0..1, value (points,) 0..1, tension (points,) to the next point."""

    at: _Array
    value: _Array
    tension: _Array
    soft: float = 0.0
    goal: float = 0.0

    @staticmethod
    def of(points: list[tuple[float, float, float]], samples: float = 0.0, soft: float = 0.0) -> Drawn:
        """A curve from (position, value, bend in per cent). Positions are rounded to whole samples if ``samples`` is
        given. Steps take ``soft`` of the length.
        """
        at = np.array([p[0] for p in points])
        if samples > 0:
            at = np.round(at * samples) / samples
        for i in range(1, at.size):
            if at[i] <= at[i - 1] and soft > 0 and points[i][1] != points[i - 1][1]:
                after = at[i + 1] if i + 1 < at.size else 1.0
                at[i] = at[i - 1] + min(soft, max(0.0, 0.5 * (after - at[i - 1])))
        value, tension = np.array([p[1] for p in points]), np.array([p[2] for p in points]) * 0.08
        if soft <= 0 or value[0] == value[-1]:
            return Drawn(at, value, tension)
        return Drawn(at, value, tension, soft, float(Drawn(at, value, tension)(np.array([soft]))[0]))

    def __call__(self, place: _Array) -> _Array:
        """The value, 0..1, at positions 0..1; the shape is kept."""
        out = np.empty(place.shape)
        flat = np.ascontiguousarray(place, dtype=np.float64).ravel()
        draw(out.ravel(), flat, self.at, self.value, self.tension, 0.0, 0.0, 0.0)
        return out

    def around(self, place: _Array) -> _Array:
        """Like ``__call__`` for a looped curve. A step from its end to its beginning takes ``soft``."""
        out = np.empty(place.size)
        draw(out, place, self.at, self.value, self.tension, self.soft, self.value[-1], self.goal)
        return out

    def rolling(self, out: _Array, begun: float, length: float, again: float) -> None:
        """Like ``around`` for consecutive samples, written to out, (n,). The first is ``begun`` samples into a curve of
        ``length`` samples, which restarts after every ``again`` samples.
        """
        roll(out, begun, length, again, self.at, self.value, self.tension, self.soft, self.value[-1], self.goal)


@kernel("void(f8[::1], f8[::1], f8[::1], f8[::1], f8[::1], f8, f8, f8)")
def draw(out: Any, place: Any, at: Any, value: Any, tension: Any, soft: float, end: float, goal: float) -> None:
    """Write a drawn curve at positions 0..1 to out, both (n,). at, value, tension: (points,).

    Over the first ``soft`` it is a straight line from ``end`` to ``goal``.
    """
    last = at.size - 2
    i, of = 0, -1
    scale = 1.0
    for n in range(place.size):
        x = place[n]
        if x < soft:
            out[n] = end + (goal - end) * x / soft
            continue
        while i > 0 and x < at[i]:
            i -= 1
        while i < last and x >= at[i + 1]:
            i += 1
        wide = at[i + 1] - at[i]
        whole = 1.0 if x >= at[i + 1] else 0.0
        part = min(max((x - at[i]) / wide, 0.0), 1.0) if wide > 0.0 else whole
        t = tension[i]
        if abs(t) >= 1e-3 and 0.0 < part < 1.0:
            if of != i:
                of, scale = i, 1.0 / (1.0 - np.exp(-t))
            part = (1.0 - np.exp(-t * part)) * scale
        out[n] = value[i] + (value[i + 1] - value[i]) * part


@kernel("void(f8[::1], f8, f8, f8, f8[::1], f8[::1], f8[::1], f8, f8, f8)")
def roll(
    out: Any,
    begun: float,
    length: float,
    again: float,
    at: Any,
    value: Any,
    tension: Any,
    soft: float,
    end: float,
    goal: float,
) -> None:
    """``draw`` at the positions of consecutive samples of a looped curve.

    Within a bent segment, each power is computed from the one before.
    """
    last = at.size - 2
    i, of = 0, -1
    scale, power, factor, before = 1.0, 1.0, 1.0, 0.0
    time, each = begun, 1.0 / length
    wide = at[1] - at[0]
    share = 1.0 / wide if wide > 0.0 else 0.0
    n = -1
    while n + 1 < out.size:
        n += 1
        x = time * each
        turns = np.floor(x)
        x -= turns
        time += 1.0
        anew = time >= again
        if anew:
            time -= again
        if x < soft:
            out[n] = end + (goal - end) * x / soft
            of = -1
            continue
        was = i
        while i > 0 and x < at[i]:
            i -= 1
            of = -1
        while i < last and x >= at[i + 1]:
            i += 1
        if i != was:
            wide = at[i + 1] - at[i]
            share = 1.0 / wide if wide > 0.0 else 0.0
        part = min(max((x - at[i]) * share, 0.0), 1.0) if wide > 0.0 else (1.0 if x >= at[i + 1] else 0.0)
        t = tension[i]
        bent = abs(t) >= 1e-3 and 0.0 < part < 1.0
        if bent:
            if of == i and part > before:
                power *= factor
            else:
                of, scale = i, 1.0 / (1.0 - np.exp(-t))
                power, factor = np.exp(-t * part), np.exp(-t / (length * wide))
            before = part
            part = (1.0 - power) * scale
        out[n] = value[i] + (value[i + 1] - value[i]) * part
        if anew or wide <= 0.0 or part <= 0.0:
            continue
        # as far as the same way goes on for sure, without asking again
        left = min(out.size - 1 - n, int(min((at[i + 1] - x) * length, again - time)) - 3)
        low, rise, first, start = value[i], value[i + 1] - value[i], time, at[i]
        if left <= 0:
            continue
        own = out[n + 1 : n + 1 + left]
        if bent:
            for k in range(left):
                power *= factor
                own[k] = low + rise * ((1.0 - power) * scale)
            before = ((first + (left - 1)) * each - turns - start) * share
        else:
            for k in range(left):
                own[k] = low + rise * (((first + k) * each - turns - start) * share)
        time += left
        n += left


def _eased(part: _Array, before: _Array | float, after: _Array | float, soft: _Array | float, y: _Array) -> _Array:
    """``y``, with a straight line from ``before`` to ``after`` over the first ``soft`` of ``part``."""
    share = part / np.maximum(soft, 1e-12)
    return np.asarray(np.where(part < soft, before + (np.asarray(after) - before) * share, y))


def swing(
    shape: str,
    turns: NDArray[np.floating[Any]],
    seed: object,
    width: _Array | float = 0.5,
    soft: _Array | float = 0.0,
    drawn: Drawn | None = None,
) -> _Array:
    """An LFO's value, -1..1, at ``turns`` cycles from its start; the shape is kept.

    width: duty cycle of a square. soft: share of a cycle that a step takes. drawn: the curve of a drawn LFO.
    """
    count = np.floor(turns)
    part = np.asarray(turns - count, dtype=np.float64)
    if shape == "sine":
        return np.asarray(np.sin(2 * np.pi * part))
    soft = np.minimum(soft, MOST_SOFT)
    if shape == "triangle":
        return np.asarray(1.0 - 4.0 * np.abs(np.mod(part + 0.25, 1.0) - 0.5))
    if shape == "saw up":
        return _eased(part, 1.0, 2.0 * soft - 1.0, soft, 2.0 * part - 1.0)
    if shape == "saw down":
        return _eased(part, -1.0, 1.0 - 2.0 * soft, soft, 1.0 - 2.0 * part)
    if shape == "square":
        soft = np.minimum(soft, np.minimum(width, 1.0 - width))
        y = np.where(part < width, 1.0, -1.0)
        y = _eased(part, -1.0, 1.0, soft, y)
        return np.asarray(np.where(part < width, y, _eased(part - width, 1.0, -1.0, soft, y)))
    if shape == "drawn" and drawn is not None:
        return 2.0 * drawn.around(np.ascontiguousarray(part)) - 1.0
    steps = count.astype(np.int64)
    low = int(steps.min())
    thrown = np.array([sign(seed, n) for n in range(low - 1, int(steps.max()) + 2)])
    now, other = thrown[steps - low + 1], thrown[steps - low]
    if shape == "smooth random":
        ahead = thrown[steps - low + 2]
        return np.asarray(now + (ahead - now) * part * part * (3.0 - 2.0 * part))
    return _eased(part, other, now, soft, now)


@kernel("void(f8[::1], f8, f8)")
def roll_sine(out: Any, first: float, step: float) -> None:
    """Write a sine of consecutive samples to out, (n,): from ``first`` cycles on, ``step`` cycles per sample.

    Each sample is a rotation of the one before, exact to 1e-12 over a quantum.
    """
    angle = 2.0 * np.pi * (first - np.floor(first))
    turn = 2.0 * np.pi * step
    y, x = np.sin(angle), np.cos(angle)
    s, c = np.sin(turn), np.cos(turn)
    for n in range(out.size):
        out[n] = min(max(y, -1.0), 1.0)
        y, x = y * c + x * s, x * c - y * s


@kernel("void(f4[:,::1], f8, f8, f8[::1], f8[::1])")
def follow(x: Any, rise: float, fall: float, out: Any, state: Any) -> None:
    """Follow the larger channel of x, (2, n), into out, (n,): one-pole attack and release. state: (1,)."""
    level = state[0]
    for i in range(x.shape[1]):
        now = max(abs(float(x[0, i])), abs(float(x[1, i])))
        level += (rise if now > level else fall) * (now - level)
        out[i] = level
    state[0] = 0.0 if level < 1e-30 else level
