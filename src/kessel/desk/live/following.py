"""Keeps a stream in time with the MIDI clock of an outside device."""

from __future__ import annotations

import threading
import time
from collections import deque
from collections.abc import Callable
from typing import Any

from ...engine import RATE
from ...patch import Control, Patch, declared
from . import messages
from .clock_in import ClockIn
from .player import Player

_NEAR = 0.003
"""Share by which a tempo may differ from the clock's: moving the phrase makes up for it."""
_FAR = 0.03 * RATE
"""Frames: a phrase that is further off is placed anew."""
_SMOOTH = 0.1
_PULL = 0.15
"""Share of what it is off by that the phrase is moved by with each quantum."""
_GONE = 2.0
"""Seconds without a tick after which the patch has its own tempo again."""
_TELL_EVERY = 12
_WAYS = 960
"""Messages of which the quickest counts: forty beats."""

_TEMPO = declared(Patch, "tempo")
assert isinstance(_TEMPO, Control)
_LOW, _HIGH = _TEMPO.low, _TEMPO.high


class Following:
    """Plays the phrase as a clock says: start, continue and stop, its tempo, and every beat when it is due.

    The phrase is moved by parts of a millisecond where that skips no note. Only a tempo that differs by more than 0.3 %
    sets the engine's. What is heard late by the lead and the sound card is played early by as much.
    """

    def __init__(self, say: Callable[..., None], clock: Callable[[], float] = time.monotonic) -> None:
        self._say, self._clock = say, clock
        self._lock = threading.Lock()
        self._device = ClockIn()
        self._out = 0.0
        self._ways: deque[float] = deque(maxlen=_WAYS)
        self._plays = False
        self._again = False
        self._off = 0.0
        self._count = 0
        self.tempo: float | None = None
        """The clock's tempo, where it is not the patch's own."""

    def handlers(self) -> dict[str, Callable[[Any], None]]:
        """What handles each message."""
        return {"clock": self._take}

    def _take(self, message: messages.ClockMessage) -> None:
        with self._lock:
            before = self._device.running
            self._ways.append(self._clock() - message.at / 1000.0)
            self._device.take(message.bytes, message.at / 1000.0, message.ticks)
            self._out = message.out / 1000.0
            # started anew without a stop
            self._again = self._again or (before and message.bytes[:1] in ([0xFA], [0xFB]))

    def timed(self, patch: Patch) -> Patch:
        """A patch with the clock's tempo, if that is followed."""
        if self.tempo is None or self.tempo == patch.tempo:
            return patch
        return patch.model_copy(update={"tempo": self.tempo})

    def step(self, player: Player, ahead: int) -> bool:
        """Bring the player in time before its next quantum. ahead: frames sent that are not heard yet.

        Returns whether its tempo changed.
        """
        with self._lock:
            # the message that was quickest tells how the page's clock runs
            device, now = self._device, self._clock() - min(self._ways, default=0.0)
            pulse, ticks = device.pulse, now - device.last < _GONE
            late = ahead + player.engine.latency
            due = device.beat_at(now + late / RATE + self._out, player.engine.patch.tempo)
            stopped, again = not device.running, self._again
            self._again = self._again and due is None
        if stopped and self._plays:
            self._plays = False
            player.stop()
            self._say(say="stopped")
        tempo = self.tempo
        if not ticks:
            self._leave(player)
            return self.tempo != tempo
        if pulse is not None:
            self._keep(player, pulse.tempo, pulse.error)
        if due is not None:
            if again or not self._plays:
                self._place(player, due)
            elif player.engine.loop:
                self._pull(player, due)
        self._count += 1
        if pulse is not None and self._count % _TELL_EVERY == 0:
            self._tell(pulse.tempo)
        return self.tempo != tempo

    def _leave(self, player: Player) -> None:
        """Play at the patch's own tempo again: no tick comes."""
        if self._count:
            self._count = 0
            if self.tempo is not None:
                self.tempo = None
                player.retime()
            self._say(say="clock", tempo=None, words="")

    def _keep(self, player: Player, tempo: float, error: float) -> None:
        """Follow a tempo, if it is surely another one than the engine's."""
        own, playing = player.patch.tempo, player.engine.patch.tempo
        before = self.tempo
        if _LOW <= tempo <= _HIGH and abs(tempo / playing - 1.0) > _NEAR + 3.0 * error:
            self.tempo = round(tempo, 2)
        if self.tempo is not None and abs(self.tempo / own - 1.0) <= _NEAR:
            self.tempo = None
        if self.tempo != before:
            player.retime()

    def _place(self, player: Player, due: float) -> None:
        if not self._plays:
            self._say(say="started")
        self._plays, self._off = True, 0.0
        player.start(max(due, 0.0), joins=True)

    def _pull(self, player: Player, due: float) -> None:
        beats = player.engine.patch.phrase.beats
        off = (due - player.beat + 0.5 * beats) % beats - 0.5 * beats
        frames = off / beats * player.engine.schedule.length
        self._off += _SMOOTH * (frames - self._off)
        if abs(self._off) > _FAR:
            self._place(player, due)
            return
        by = player.engine.nudge(round(_PULL * self._off))
        # what is moved is off no more
        self._off -= by

    def _tell(self, tempo: float) -> None:
        words = f"follows {tempo:.1f} BPM"
        if not _LOW <= tempo <= _HIGH:
            words = f"the clock runs at {tempo:.0f} BPM: {_LOW:g} to {_HIGH:g} can be followed"
        elif self._plays:
            ms = 1000.0 * self._off / RATE
            words += f", {abs(ms):.1f} ms {'late' if ms > 0 else 'early'}" if abs(ms) >= 0.05 else ", in time"
        self._say(say="clock", tempo=None if self.tempo is None else round(tempo, 1), words=words)
