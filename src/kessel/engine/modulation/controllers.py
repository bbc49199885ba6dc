"""Performance controllers: bend, wheel and pressure, from the lanes of the phrase and from a live controller."""

from __future__ import annotations

import numpy as np

from ...dsp import QUANTUM
from ...patch import LANES, Phrase
from ..clock import samples_per_beat
from .parameters import Array

ControllerState = dict[str, Array | float]
"""Bend -1..1, wheel and pressure 0..1: one value, or one per sample of the quantum."""

CONTROLLERS_AT_REST: ControllerState = dict.fromkeys(LANES, 0.0)


class PhraseLanes:
    """The controller lanes of a phrase, read by time."""

    def __init__(self, phrase: Phrase, tempo: float) -> None:
        beat = samples_per_beat(tempo)
        self._lanes = {
            name: (np.array([p.beat * beat for p in points]), np.array([p.value for p in points]))
            for name in LANES
            if (points := getattr(phrase, name))
        }

    @property
    def drawn(self) -> bool:
        """Whether any lane has points."""
        return bool(self._lanes)

    def at(self, position: int, length: int) -> ControllerState:
        """Values over the quantum that begins ``position`` samples into a pass of ``length`` samples."""
        if not self._lanes:
            return CONTROLLERS_AT_REST
        found = dict(CONTROLLERS_AT_REST)
        times = (position + np.arange(QUANTUM)) % length
        for name, (beats, values) in self._lanes.items():
            found[name] = np.interp(times, beats, values)
        return found


class Controller:
    """A live controller. New values are ramped to over one quantum."""

    def __init__(self) -> None:
        self.goal = dict.fromkeys(LANES, 0.0)
        self._now = dict(self.goal)

    def join(self, lanes: ControllerState) -> ControllerState:
        """The lanes plus the live controller, clipped to their range."""
        if not any(self.goal.values()) and not any(self._now.values()):
            return lanes
        found: ControllerState = {}
        for name in LANES:
            now, goal = self._now[name], self.goal[name]
            own: Array | float = goal if now == goal else now + (goal - now) * np.arange(1, QUANTUM + 1) / QUANTUM
            total = np.clip(np.asarray(lanes[name] + own), -1.0 if name == "bend" else 0.0, 1.0)
            found[name] = total if total.ndim else float(total)
        self._now = dict(self.goal)
        return found


def values(x: Array | float, size: int) -> Array:
    """One value for every sample."""
    return x if isinstance(x, np.ndarray) else np.full(size, x)
