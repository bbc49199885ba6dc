"""How far a stream runs ahead of what is heard."""

from __future__ import annotations

import time

from ...engine import RATE

START_LEAD = 2048
"""Frames: 43 ms."""
LONGEST_START = 4096
"""Frames that a stream begins with at most, after another one that needed more."""
LEAST_LEAD = 1024
MOST_LEAD = 16384
STEP = 512
"""Frames by which the lead grows on a near miss, and shrinks at the least; twice as many on a gap."""
CLOSE = 480
"""Frames: a reserve this small is a near miss, and the lead grows before there is a gap."""
CALM = 5 * RATE
"""Frames after which the lead shrinks, if the reserve would have spared it; doubled when that was too soon."""
_LONGEST_CALM = 16 * CALM
_SPARED = CLOSE + 128


class Lead:
    """The account of one stream: what was sent, what the player has heard, and the lead that is kept between them.

    The next quantum is sent when no more than the lead is left, so what is played is heard after the lead and up to one
    quantum. The lead grows on a near miss. After a calm while it shrinks by half of what the reserve would have spared.
    If a near miss follows that, the next calm while lasts twice as long.

    frames: to begin with. Not thread-safe: the stream's lock guards it.
    """

    def __init__(self, frames: int = START_LEAD) -> None:
        self.frames = min(frames, LONGEST_START)
        self.gaps = 0
        self._sent = 0
        self._heard = 0
        self._reported = 0.0
        self._calm = CALM
        self._shrunk = False
        self._since = 0
        self._least = MOST_LEAD

    @property
    def ms(self) -> float:
        """The lead in ms."""
        return 1000.0 * self.frames / RATE

    @property
    def is_heard(self) -> bool:
        """Whether the player has reported that it plays."""
        return self._heard > 0

    def begin(self) -> None:
        """Count anew, for a player that starts."""
        self._sent = self._heard = 0
        self._watch()

    def send(self, frames: int) -> None:
        """Note that so many frames are sent."""
        self._sent += frames

    def report(self, frames: int, gaps: int, reserve: int) -> bool:
        """Take a report of the page: frames heard, gaps so far, frames in reserve. Returns whether the lead changed."""
        self._heard = min(max(self._heard, frames), self._sent)
        self._reported = time.monotonic()
        before = self.frames
        if gaps > self.gaps or 0 <= reserve < CLOSE:
            self.frames = min(self.frames + (2 * STEP if gaps > self.gaps else STEP), MOST_LEAD)
            if self._shrunk:
                self._calm = min(2 * self._calm, _LONGEST_CALM)
            self._shrunk = False
            self._watch()
        elif self._heard - self._since > self._calm:
            spare = self._least - _SPARED
            if spare >= STEP:
                self.frames = max(self.frames - max(STEP, spare // 2), LEAST_LEAD)
                self._shrunk = True
            self._watch()
        else:
            self._least = min(self._least, reserve)
        self.gaps = max(self.gaps, gaps)
        return self.frames != before

    def _watch(self) -> None:
        """Begin to watch the reserve anew."""
        self._since, self._least = self._heard, MOST_LEAD

    def ahead(self) -> int:
        """Frames that were sent and are not heard.

        What was heard since the last report is estimated from the clock, for at most one lead, so that a late report of
        a busy page does not hold back the sound.
        """
        since = int((time.monotonic() - self._reported) * RATE) if self._heard else 0
        return max(0, self._sent - self._heard - min(since, self.frames))

    @property
    def seconds_left(self) -> float:
        """How long until the next quantum has to be sent; 0 if it is due."""
        return max(0.0, (self.ahead() - self.frames) / RATE)
