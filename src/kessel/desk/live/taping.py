"""Keeping what is heard for a file, until it is asked for."""

from __future__ import annotations

import threading
from collections.abc import Callable
from typing import Any

import numpy as np

from ...patch import ValueProblem
from ..tape import Tape
from . import messages
from .inbox import Inbox
from .played import PlayedPatch
from .player import Player


class Taping:
    """Starts and ends a tape, and tells the page of it. The last one stays with the open patch."""

    def __init__(self, played: PlayedPatch, inbox: Inbox, say: Callable[..., None]) -> None:
        self._played, self._inbox, self._say = played, inbox, say
        self._running: Tape | None = None
        self._keeping: threading.Thread | None = None

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
        self._wait()
        if tape is not None:
            self._played.end_tape(tape.frames, tape.peak)

    def tell(self) -> None:
        """Tell a page that comes what is kept."""
        if self._played.tape is not None:
            self._told(self._played.tape)

    def _told(self, tape: Tape) -> None:
        self._say(say="taping", on=False, seconds=round(tape.seconds, 1), peak_db=_decibels(tape.peak))

    def _take(self, message: messages.TapeMessage) -> None:
        if not message.on:
            self.end()
            return
        if self._running is None:
            self._wait()
            tape = self._running = self._played.begin_tape()
            self._inbox.command(lambda player: player.tape_to(tape.write))
            self._say(say="taping", on=True)

    def _wait(self) -> None:
        """Wait until the tape before is kept."""
        if self._keeping is not None:
            self._keeping.join()

    def _ended(self, player: Player, tape: Tape) -> None:
        player.tape_to(None)
        # keeping it may wait for the server, the sound may not
        self._keeping = threading.Thread(target=self._keep, args=(tape,), name="tape", daemon=True)
        self._keeping.start()

    def _keep(self, tape: Tape) -> None:
        try:
            self._played.end_tape(tape.frames, tape.peak)
        except ValueProblem as problem:
            self._say(say="problem", path=None, text=str(problem))
        if tape.frames:
            self._told(tape)
        else:
            self._say(say="taping", on=False)


def _decibels(peak: float) -> float | None:
    return round(20.0 * float(np.log10(peak)), 1) if peak > 0.0 else None
