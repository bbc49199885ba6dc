"""Whether the engine keeps up, and when a stream is fed from the rendered loop instead."""

from __future__ import annotations

from collections import deque

import numpy as np

from ...engine import QUANTUM, RATE

OVERLOAD = 0.8
"""Share of a quantum's duration that the engine may use on average."""
RETRY = 96
"""Quanta after which a stream that plays the rendered loop tries to go live again; doubled after each failure."""
_WINDOW = 48
_LONGEST_RETRY = 3072
_HEALTHY = 480
"""Quanta of live rendering after which a failure counts as the first one again."""
_QUANTUM_SECONDS = QUANTUM / RATE


class Load:
    """What the quanta of one stream cost. The live thread writes it; an edit, from any thread, starts it over."""

    def __init__(self) -> None:
        self.fed_from_loop = False
        self._costs: deque[float] = deque(maxlen=_WINDOW)
        self._since = 0
        self._retry = RETRY

    @property
    def percent(self) -> float:
        """Mean cost of a quantum in per cent of its duration."""
        return 100.0 * float(np.mean(self._costs)) / _QUANTUM_SECONDS if self._costs else 0.0

    def begin_quantum(self) -> None:
        """Count a quantum of the present mode."""
        self._since += 1

    def add(self, seconds: float) -> None:
        """Note what a quantum cost."""
        self._costs.append(seconds)

    def gives_up(self, has_loop: bool) -> bool:
        """Change to the rendered loop if the engine can't keep up and there is one. Returns whether it changed."""
        if self.fed_from_loop or len(self._costs) < _WINDOW or not has_loop or self.percent <= 100.0 * OVERLOAD:
            return False
        if self._since > _HEALTHY:
            self._retry = RETRY
        self.fed_from_loop = True
        self._since = 0
        return True

    def tries_again(self, played: bool) -> bool:
        """Use the engine again after a while, or soon if something is played that only the engine can play.

        Returns whether it changed.
        """
        if not self.fed_from_loop or not (self._since >= self._retry or (played and self._since >= _WINDOW)):
            return False
        self._go_live()
        self._retry = min(2 * self._retry, _LONGEST_RETRY)
        return True

    def start_over(self) -> None:
        """Use the engine at once: the patch is another."""
        self._go_live()
        self._retry = RETRY

    def _go_live(self) -> None:
        self.fed_from_loop = False
        self._since = 0
        self._costs.clear()
