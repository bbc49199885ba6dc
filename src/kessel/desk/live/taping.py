"""Keeping what is heard for a file, until it is asked for."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING, Any

import numpy as np

from ..tape import Tape
from . import messages
from .inbox import Inbox
from .player import Player

if TYPE_CHECKING:
    from ..open_patch import OpenPatch


class Taping:
    """Starts and ends a tape, and tells the page of it. The last one stays with the open patch."""

    def __init__(self, open_patch: OpenPatch, inbox: Inbox, say: Callable[..., None]) -> None:
        self._open, self._inbox, self._say = open_patch, inbox, say
        self._running: Tape | None = None

    def handlers(self) -> dict[str, Callable[[Any], None]]:
        """What handles each message."""
        return {"tape": self._take}

    @property
    def seconds(self) -> float | None:
        """How long the running tape is."""
        return None if self._running is None else self._running.seconds

    def check(self) -> None:
        """End a tape that takes nothing more, and say why."""
        if self._running is not None and self._running.problem is not None:
            self._say(say="problem", path=None, text=self._running.problem)
            self.end()

    def end(self) -> None:
        """End the running tape, if there is one."""
        tape, self._running = self._running, None
        if tape is not None:
            self._inbox.command(lambda player: self._ended(player, tape))

    def leave(self) -> None:
        """Keep a tape that still runs: the page is gone, and nothing more is heard."""
        tape, self._running = self._running, None
        if tape is not None and tape.frames:
            self._open.tape = tape

    def tell(self) -> None:
        """Tell a page that comes what is kept."""
        tape = self._open.tape
        if tape is not None:
            self._say(say="taping", on=False, seconds=round(tape.seconds, 1), peak_db=_decibels(tape.peak))

    def _take(self, message: messages.TapeMessage) -> None:
        if not message.on:
            self.end()
            return
        if self._running is None:
            tape = self._running = Tape()
            self._inbox.command(lambda player: player.tape_to(tape.write))
            self._say(say="taping", on=True)

    def _ended(self, player: Player, tape: Tape) -> None:
        player.tape_to(None)
        if tape.frames:
            self._open.tape = tape
            self.tell()
        else:
            self._say(say="taping", on=False)


def _decibels(peak: float) -> float | None:
    return round(20.0 * float(np.log10(peak)), 1) if peak > 0.0 else None
