"""MIDI clock of an outside device: 24 ticks a beat, start, continue, stop and song position.

Source: MIDI 1.0 Detailed Specification, system real-time and system common messages.
"""

from __future__ import annotations

import math
from collections import deque
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

TICKS_PER_BEAT = 24
_WINDOW = 48
"""Ticks that the tempo is measured over: two beats."""
_FEWEST = 4
_JITTER = 0.001
"""Seconds: by how much a tick may be late or early, at the least that is reckoned with."""
_ODD = 0.35
"""Share of a tick by which a tick that comes at another tempo is off."""
_TICK, _START, _CONTINUE, _STOP, _POSITION = 0xF8, 0xFA, 0xFB, 0xFC, 0xF2
_TICKS_PER_STEP = 6
"""A song position counts sixteenths."""


@dataclass(frozen=True)
class Pulse:
    """The line through the last ticks (least squares). seconds: between ticks; newest: when the last one was due;
    error: standard error of ``seconds``, as a share of it.
    """

    seconds: float
    newest: float
    error: float

    @property
    def tempo(self) -> float:
        """Beats per minute."""
        return 60.0 / (TICKS_PER_BEAT * self.seconds)


class ClockIn:
    """What a device's clock says. Times are in seconds of any one clock. Not thread-safe.

    running: whether it was started and not stopped.
    """

    def __init__(self) -> None:
        self.running = False
        self._times: deque[float] = deque(maxlen=_WINDOW)
        self._odd = 0
        self._next = 0
        self._last: int | None = None

    def take(self, data: Sequence[int], at: float, ticks: int | None = None) -> bool:
        """Take a message's bytes, which came at ``at``. ticks: where it goes on, if that is not known from before.

        Returns whether Kessel uses it.
        """
        if ticks is not None:
            self._next = ticks
        kind = data[0] if data else 0
        if kind == _TICK:
            self._tick(at)
        elif kind in (_START, _CONTINUE):
            self._next = 0 if kind == _START else self._next
            self.running, self._last = True, None
        elif kind == _STOP:
            self.running, self._last = False, None
        elif kind == _POSITION and len(data) == 3:
            self._next = _TICKS_PER_STEP * ((data[2] & 0x7F) << 7 | data[1] & 0x7F)
        else:
            return False
        return True

    @property
    def last(self) -> float:
        """When the last tick came; long ago without one."""
        return self._times[-1] if self._times else -math.inf

    def _tick(self, at: float) -> None:
        pulse = self.pulse
        if pulse is not None:
            off = abs(at - pulse.newest - pulse.seconds)
            self._odd = self._odd + 1 if off > _ODD * pulse.seconds else 0
        self._times.append(at)
        if self._odd > 1:
            # it has another tempo now
            self._times = deque([*self._times][-2:], maxlen=_WINDOW)
            self._odd = 0
        if self.running:
            self._last = self._next
            self._next += 1

    @property
    def pulse(self) -> Pulse | None:
        """The pulse of the last ticks. None before there are enough of them."""
        n = len(self._times)
        if n < _FEWEST:
            return None
        times = np.array(self._times)
        place = np.arange(n) - 0.5 * (n - 1)
        spread = float(place @ place)
        seconds = float(place @ times) / spread
        if seconds <= 0:
            return None
        line = float(times.mean()) + seconds * place
        rms = math.sqrt(float(np.mean((times - line) ** 2)))
        return Pulse(seconds, float(line[-1]), max(rms, _JITTER) / math.sqrt(spread) / seconds)

    def beat_at(self, time: float, tempo: float) -> float | None:
        """The beat that is due at a time, as the ticks go; at ``tempo`` while their pulse is not known. None while it
        does not run.
        """
        if self._last is None:
            return None
        pulse = self.pulse or Pulse(60.0 / (TICKS_PER_BEAT * tempo), self.last, 1.0)
        return (self._last + (time - pulse.newest) / pulse.seconds) / TICKS_PER_BEAT
