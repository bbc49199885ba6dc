"""Smoothed parameters: controls as the engine reads them, ramped when turned and moved by movements."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ...dsp import QUANTUM
from ...dsp.filters.svf import damping
from ...dsp.mixing import moved_by
from ...patch import SILENT_DB, Control, declared
from ..blocks import constant_batch

_ROUND = 256
"""Samples over which the corners of a turned value are rounded."""
_STEPS = np.arange(1, QUANTUM + 1) / QUANTUM
Array = NDArray[np.float64]
Convert = Callable[[Array], Array]
ModulationValues = dict[str, Array]
"""Output of every mover over the quantum, by id."""

_TEN = math.log(10.0) / 20.0
_LOUDNESS = 1.66
"""Gain as a power of loudness: ten dB are twice as loud (Stevens' law for sound pressure, 0.6)."""


def gain_of(db: float) -> float:
    """Linear gain of a level in dB. The bottom of the scale is 0."""
    return 0.0 if db <= SILENT_DB else math.exp(db * _TEN)


def as_gain(db: Array) -> Array:
    """Linear gain of levels in dB. The bottom of the scale is 0."""
    out: Array = np.exp(db * _TEN)
    if db.min() <= SILENT_DB:
        out[db <= SILENT_DB] = 0.0
    return out


def as_ratio_st(semitones: Array) -> Array:
    """Frequency ratio, from semitones."""
    return np.asarray(np.exp2(semitones / 12.0))


def as_ratio_ct(cents: Array) -> Array:
    """Frequency ratio, from cents."""
    return np.asarray(np.exp2(cents / 1200.0))


def as_share(percent: Array) -> Array:
    """0..1, from per cent."""
    return percent * 0.01


def as_cycles(degrees: Array) -> Array:
    """Cycles, from degrees."""
    return degrees / 360.0


def as_factor(db: Array) -> Array:
    """Linear gain of levels in dB that have no silent end."""
    return np.asarray(np.exp(db * _TEN))


def as_stretch(percent: Array) -> Array:
    """Distance of partials in units of the fundamental, from per cent."""
    return 1.0 + percent * 0.01


def as_quarter(percent: Array) -> Array:
    """Cycles, from a percentage of 90 degrees."""
    return percent * 0.0025


def as_is(x: Array) -> Array:
    """The control's own scale (log2 of Hz for a frequency)."""
    return x


as_damping: Convert = damping


@dataclass(frozen=True)
class ModulationInput:
    """One movement as a parameter reads it. amount: on the parameter's own scale.

    is_bipolar: whether the mover is -1..1 instead of 0..1. tension: curvature. by: a second mover that scales it from
    nothing to all. in_decibels: a level opens from off evenly in dB.
    """

    mover: str
    amount: float
    both_ways: bool = False
    is_bipolar: bool = False
    tension: float = 0.0
    by: str = ""
    by_swings: bool = False
    in_decibels: bool = False

    @property
    def reach(self) -> tuple[float, float]:
        """The least and the most that it adds."""
        ends = (0.0, self.amount, -self.amount if self.both_ways else 0.0)
        return min(ends), max(ends)

    def plain(self, movers: ModulationValues) -> tuple[Array, float, float] | None:
        """The mover, its factor and its offset, if the movement is linear. None otherwise."""
        m = movers.get(self.mover)
        if m is None or self.tension or self.by:
            return None
        if self.is_bipolar == self.both_ways:
            return m, self.amount, 0.0
        if self.is_bipolar:
            return m, 0.5 * self.amount, 0.5 * self.amount
        return m, 2.0 * self.amount, -self.amount

    def of(self, movers: ModulationValues) -> Array | None:
        """What it adds over the quantum. None if its mover is missing."""
        m = movers.get(self.mover)
        if m is None:
            return None
        if self.is_bipolar and not self.both_ways:
            m = 0.5 + 0.5 * m
        elif self.both_ways and not self.is_bipolar:
            m = 2.0 * m - 1.0
        if self.tension:
            bent = (1.0 - np.exp(-self.tension * np.abs(m))) / (1.0 - math.exp(-self.tension))
            m = np.copysign(bent, m)
        if self.by:
            scale = movers.get(self.by)
            if scale is None:
                return None
            m = m * (0.5 + 0.5 * scale if self.by_swings else scale)
        return self.amount * m


class SmoothedParameter:
    """One control of a running layer.

    ``base_value``: the unmoved value over the quantum on the control's own scale, a rounded ramp after it was turned.
    ``still``: it does not change over the quantum. ``revision``: counts changes of ``base_value``.
    """

    def __init__(self, control: Control, value: float, convert: Convert) -> None:
        self.control = control
        self.convert = convert
        self.goal = control.to_scale(float(value))
        self._now = self.goal
        self.movements: list[ModulationInput] = []
        self.base_value: Array = np.full(QUANTUM, self.goal)
        self._before: Array = self.base_value[:_ROUND]
        self.still = True
        self.revision = 0
        self.latest: Array | None = None
        """The moved value over the quantum that was requested last."""
        self._low, self._high = control.to_scale(control.low), control.to_scale(control.high)
        self._has_off = control.unit == "dB" and control.off_low == "off"
        self._converted = convert(self.base_value)

    def turn(self, value: float) -> None:
        """Set the target to reach over the next quantum. What fades or begins anew is there at once."""
        self.goal = self.control.to_scale(float(value))
        if self.control.turned != "glides" and self._now != self.goal:
            self._now, self._before = self.goal, np.full(_ROUND, self.goal)
            self.base_value, self.still = np.full(QUANTUM, self.goal), True
            self._converted = self.convert(self.base_value)
            self.revision += 1

    @property
    def turning(self) -> bool:
        """Whether it is ramping."""
        return self._now != self.goal or not self.still

    def tick(self) -> None:
        """Prepare the next quantum.

        A turned value moves in a straight line over one quantum, whose corners are rounded by a running mean of 5 ms:
        a corner in a level is heard as a click on a low sine.
        """
        if self._now == self.goal and self.still:
            return
        line = self._now + (self.goal - self._now) * _STEPS
        settled = self._now == self.goal and bool(np.all(self._before == self.goal))
        if settled:
            self.base_value = np.full(QUANTUM, self.goal)
        else:
            total = np.cumsum(np.concatenate((self._before, line)))
            self.base_value = (total[_ROUND:] - total[:-_ROUND]) / _ROUND
            if self._now == self.goal:
                self.base_value[_ROUND:] = self.goal
        self._now, self._before = self.goal, line[-_ROUND:]
        self.still = settled
        self.revision += 1
        self._converted = self.convert(self.base_value)

    @property
    def converted(self) -> Array:
        """The unmoved value over the quantum, converted for the loops."""
        return self._converted

    @property
    def reach(self) -> tuple[float, float]:
        """The least and the most that it can be over the quantum, turned and moved, on the control's own scale."""
        down, up = (sum(m.reach[i] for m in self.movements) for i in (0, 1))
        first = float(self.base_value[0])
        return self.within(min(first, self.goal) + down), self.within(max(first, self.goal) + up)

    def within(self, x: float) -> float:
        """A value on the control's own scale, clipped to its limits."""
        return min(max(x, self._low), self._high)

    def resting(self, quanta: int) -> Array:
        """The unmoved value over so many quanta, on the control's own scale. Over several, it must be still."""
        return self.base_value if quanta == 1 else constant_batch(self.goal, quanta)

    def scale(self, movers: ModulationValues, shift: Array | float = 0.0, quanta: int = 1) -> Array:
        """The moved value over so many quanta on the control's own scale, clipped to its limits."""
        rest = self.resting(quanta)
        x = self._plainly(movers, shift, rest) if self.movements and isinstance(shift, float) else None
        if x is None:
            x = rest + shift
            for moving in self.movements:
                added = moving.of(movers)
                if added is not None:
                    x += added
            np.maximum(x, self._low, out=x)
            np.minimum(x, self._high, out=x)
        self.latest = self._opened(x) if self._has_off and self.movements else x
        return self.latest

    def _opened(self, x: Array) -> Array:
        """A moved level in dB that leaves or reaches off, even in loudness between the two ends."""
        ends = {self._opens_to(float(v)) for v in (self.base_value[0], self.base_value[-1])}
        if ends == {None}:
            return x
        # while the fader is turned across off, the law of one end fades into that of the other
        first, last = (_even(x, self._opens_to(float(v))) for v in (self.base_value[0], self.base_value[-1]))
        return last if len(ends) == 1 else first + (last - first) * _STEPS

    def _opens_to(self, rest: float) -> float | None:
        """The level in dB at which a movement from or to off ends, for a fader at ``rest``. None: it never is off."""
        if any(m.in_decibels for m in self.movements):
            return None
        down, up = (sum(m.reach[i] for m in self.movements) for i in (0, 1))
        if rest > self._low:
            return rest if rest + down <= self._low else None
        return min(rest + up, self._high)

    def _plainly(self, movers: ModulationValues, shift: float, rest: Array) -> Array | None:
        """The moved value if all movements are linear. None otherwise."""
        first, *others = self.movements
        one = first.plain(movers)
        if one is None:
            return None
        x = np.empty(rest.size)
        if not others:
            moved_by(x, rest, shift, *one, self._low, self._high)
            return x
        # clipped to the limits after the sum
        moved_by(x, rest, shift, *one, -math.inf, math.inf)
        for n, each in enumerate(others, 1):
            plain = each.plain(movers)
            if plain is None:
                return None
            last = n == len(others)
            moved_by(x, x, 0.0, *plain, self._low if last else -math.inf, self._high if last else math.inf)
        return x

    def value(self, movers: ModulationValues, quanta: int = 1) -> Array:
        """The moved value over so many quanta, converted for the loops."""
        if self.movements:
            return self.convert(self.scale(movers, quanta=quanta))
        return self._converted if quanta == 1 else constant_batch(float(self._converted[0]), quanta)


def _even(x: Array, top: float | None) -> Array:
    """Levels x from off to ``top`` in dB, as levels whose loudness grows evenly.

    The gain is the share of the way to the power of 1.66: a fall of 10 dB, which is heard as half, is half the way.
    """
    if top is None or top <= SILENT_DB:
        return x
    share = (x - SILENT_DB) / (top - SILENT_DB)
    opened = top + 20.0 * _LOUDNESS * np.log10(np.maximum(share, 1e-4))
    return np.maximum(np.where(share < 1.0, opened, x), SILENT_DB)


def parameter_of(part: object, field: str, convert: Convert) -> SmoothedParameter:
    """A smoothed parameter for a part's control."""
    found = declared(type(part), field)  # type: ignore[arg-type]
    assert isinstance(found, Control)
    return SmoothedParameter(found, float(getattr(part, field)), convert)


def steady(values: Iterable[SmoothedParameter]) -> bool:
    """Whether no parameter changes over the quantum or is moved."""
    return all(k.still and not k.movements for k in values)
