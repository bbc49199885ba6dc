"""How far a stream runs ahead of what is heard."""

from __future__ import annotations

import time

from ...engine import QUANTUM, RATE

START_LEAD = 6
"""Quanta: 128 ms."""
LEAST_LEAD = 4
MOST_LEAD = 16
CLOSE = QUANTUM
"""Frames: a reserve this small is a near miss, and the lead grows before there is a gap."""
CALM = 10 * RATE
"""Frames after which the lead shrinks, if the reserve never came near a near miss; doubled after every one."""
_LONGEST_CALM = 16 * CALM


class Lead:
    """The account of one stream: what was sent, what the player has heard, and the lead that is kept between them.

    The lead is the latency of what is played. It grows on a near miss, and shrinks by one quantum after a calm while in
    which two more would have been spared.

    Not thread-safe: the stream's lock guards it.
    """

    def __init__(self) -> None:
        self.quanta = START_LEAD
        self.gaps = 0
        self._sent = 0
        self._heard = 0
        self._reported = 0.0
        self._calm = CALM
        self._since = 0
        self._least = MOST_LEAD * QUANTUM

    @property
    def ms(self) -> float:
        """The lead in ms."""
        return 1000.0 * self.quanta * QUANTUM / RATE

    @property
    def is_heard(self) -> bool:
        """Whether the player has reported that it plays."""
        return self._heard > 0

    def begin(self) -> None:
        """Count anew, for a player that starts."""
        self._sent = self._heard = 0
        self._watch()

    def send(self) -> None:
        """Note that a quantum is sent."""
        self._sent += QUANTUM

    def report(self, frames: int, gaps: int, reserve: int) -> bool:
        """Take a report of the page: frames heard, gaps so far, frames in reserve. Returns whether the lead changed."""
        self._heard = min(max(self._heard, frames), self._sent)
        self._reported = time.monotonic()
        before = self.quanta
        if gaps > self.gaps or 0 <= reserve < CLOSE:
            self.quanta = min(self.quanta + 1, MOST_LEAD)
            self._calm = min(2 * self._calm, _LONGEST_CALM)
            self._watch()
        elif self._heard - self._since > self._calm:
            if self._least >= CLOSE + 2 * QUANTUM:
                self.quanta = max(self.quanta - 1, LEAST_LEAD)
            self._watch()
        else:
            self._least = min(self._least, reserve)
        self.gaps = max(self.gaps, gaps)
        return self.quanta != before

    def _watch(self) -> None:
        """Begin to watch the reserve anew."""
        self._since, self._least = self._heard, MOST_LEAD * QUANTUM

    def ahead(self) -> int:
        """Frames that were sent and are not heard.

        What was heard since the last report is estimated from the clock, for at most one lead, so that a late report of
        a busy page does not hold back the sound.
        """
        since = int((time.monotonic() - self._reported) * RATE) if self._heard else 0
        return max(0, self._sent - self._heard - min(since, self.quanta * QUANTUM))

    def is_due(self) -> bool:
        """Whether the next quantum has to be sent."""
        return self.ahead() < self.quanta * QUANTUM
