"""What a stream is heard through, or instead of: a room, a recording. It is never part of the measurements."""

from __future__ import annotations

import threading
from collections.abc import Callable
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ...engine import QUANTUM, RoomProcessor, recording_of
from ...measure import fitted_to, loudness
from ...patch import ValueProblem
from . import messages
from .played import PlayedPatch

_ACROSS = (np.arange(QUANTUM) + 0.5) / QUANTUM
_Real = NDArray[np.float64]
_SEAM = 480


class Monitor:
    """The monitoring of one stream. Changes are prepared off the live thread and crossfade over one quantum."""

    def __init__(self, played: PlayedPatch) -> None:
        self._played = played
        self._lock = threading.Lock()
        self._room: RoomProcessor | None = None
        self._leaving: RoomProcessor | None = None
        self._went_in = True
        self._recording: NDArray[np.float32] | None = None
        self._at = 0
        self._share = 0.0
        self._wanted = False

    def enter(self, room_id: str) -> None:
        """Listen in a room; flat without an id. Raises ValueProblem."""
        run = RoomProcessor(self._played.room(room_id)) if room_id else None
        with self._lock:
            self._leaving, self._room = self._room, run
            self._went_in = False

    def play_reference(self, on: bool, wanted: float | None) -> None:
        """Play the recording instead of the patch, at ``wanted`` LUFS, or stop doing so. Raises ValueProblem."""
        x: NDArray[np.float32] | None = None
        if on:
            kept = self._played.reference()
            found = recording_of(kept.audio) if kept is not None else None
            if kept is None or found is None:
                raise ValueProblem("there is no reference yet: import one on the Checks page")
            part = fitted_to(found, kept.start, kept.seconds)
            own = loudness(part).integrated
            gain = 10.0 ** ((wanted - own) / 20.0) if wanted is not None and own is not None else 1.0
            n = min(_SEAM, part.shape[1] // 4)
            fade = (np.arange(n) + 0.5) / n
            # crossfade its end into its beginning, so that it loops without a click
            part[:, :n] = fade * part[:, :n] + (1.0 - fade) * part[:, -n:]
            x = (gain * part[:, : part.shape[1] - n]).astype(np.float32)
        with self._lock:
            if x is not None:
                self._recording, self._at = x, 0
            self._wanted = on

    def quantum(self, x: _Real) -> _Real:
        """What is heard of a quantum x, (2, QUANTUM)."""
        with self._lock:
            room, leaving, fresh = self._room, self._leaving, not self._went_in
            self._leaving, self._went_in = None, True
            recording, goal = self._recording, 1.0 if self._wanted else 0.0
        if recording is not None and (goal or self._share):
            other = recording[:, (self._at + np.arange(QUANTUM)) % recording.shape[1]]
            self._at = (self._at + QUANTUM) % recording.shape[1]
            share: Any = goal if goal == self._share else self._share + (goal - self._share) * _ACROSS
            self._share = goal
            x = x + share * (other - x)
        if not fresh:
            return x if room is None else room.process(x)
        before = x if leaving is None else leaving.process(x)
        after = x if room is None else room.process(x)
        return np.asarray(before + _ACROSS * (after - before))


class Listening:
    """Handles the player's messages about monitoring."""

    def __init__(self, monitor: Monitor, played: PlayedPatch) -> None:
        self._monitor, self._played = monitor, played

    def handlers(self) -> dict[str, Callable[[Any], None]]:
        """What handles each message."""
        return {"room": self._enter_room, "reference": self._play_reference}

    def _enter_room(self, message: messages.RoomHeardMessage) -> None:
        self._monitor.enter(message.room or "")

    def _play_reference(self, message: messages.ReferenceHeardMessage) -> None:
        self._monitor.play_reference(message.on, self._played.loudness)
