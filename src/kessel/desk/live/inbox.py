"""What waits for the live thread: another patch, turned controls, commands."""

from __future__ import annotations

import threading
from collections.abc import Callable
from typing import TYPE_CHECKING

from ...patch import Edit, Patch, apply
from ..editing import ControlChange

if TYPE_CHECKING:
    from .player import Player


class Inbox:
    """Takes from any thread what the live thread carries out before its next quantum.

    wake: guards it, and wakes the live thread. patch: the one that further changes start from; what is heard can be
    another one.
    """

    def __init__(self, patch: Patch) -> None:
        self.wake = threading.Condition()
        self.patch = patch
        self._pending: Patch | None = None
        self._turns: dict[str, ControlChange] = {}
        self._commands: list[Callable[[Player], None]] = []

    @property
    def has_turns(self) -> bool:
        """Whether a control was turned."""
        return bool(self._turns)

    def start_over(self, patch: Patch) -> None:
        """Play the stored patch, and forget what was turned."""
        with self.wake:
            self._turns = {}
            self.patch = self._pending = patch

    def hear(self, patch: Patch, base: Patch | None = None) -> None:
        """Play a patch. Further changes start from it, or from ``base``."""
        with self.wake:
            self.patch, self._pending = base or patch, patch

    def apply(self, edits: list[Edit]) -> Patch:
        """Play the patch with edits. Returns it. Raises ValueProblem and NoSuchPath."""
        with self.wake:
            self.patch = self._pending = apply(self.patch, edits)
            return self.patch

    def turn(self, change: ControlChange) -> None:
        """Turn a control. Only its newest value counts."""
        with self.wake:
            self._turns[change.path] = change
            self.wake.notify_all()

    def command(self, act: Callable[[Player], None]) -> None:
        """Carry something out."""
        with self.wake:
            self._commands.append(act)
            self.wake.notify_all()

    def take_turns(self) -> list[ControlChange]:
        """The controls that were turned since the last time."""
        with self.wake:
            turns, self._turns = list(self._turns.values()), {}
            return turns

    def take(self) -> tuple[Patch | None, list[Callable[[Player], None]]]:
        """The patch to play from now on, if it is another one, and the commands."""
        with self.wake:
            patch, self._pending = self._pending, None
            commands, self._commands = self._commands, []
            return patch, commands
