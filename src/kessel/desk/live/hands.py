"""Hands on a stream: notes, pedal, controllers and sliders."""

from __future__ import annotations

import threading
import time
from collections.abc import Callable, Sequence
from typing import Any

from ...library import NoSuchPatch, NotKept
from ...patch import HIGHEST_CONTROLLER, Macro, NoSuchPath, ValueProblem
from ..editing import ControlChange, bound
from . import messages
from .inbox import Inbox
from .midi_in import CONTROLLER, read_midi
from .played import PlayedPatch
from .recorder import Recorder

REST = 0.4
"""Seconds without a change after which a slider counts as at rest."""


class Hands:
    """Plays what a keyboard, the page's keys or a MIDI controller send. What they turn is stored once it rests."""

    def __init__(self, played: PlayedPatch, inbox: Inbox, recorder: Recorder, say: Callable[..., None]) -> None:
        self._played, self._inbox, self._recorder, self._say = played, inbox, recorder, say
        self._pedal = False
        self._sustained: set[int] = set()
        self._slid: dict[str, float] = {}
        self._slid_at = 0.0

    def handlers(self) -> dict[str, Callable[[Any], None]]:
        """What handles each message."""
        return {"note": self._take_note, "midi": self._take_midi, "turn": self._take_turn}

    def settle(self) -> None:
        """Store the values of the sliders once they have come to rest."""
        if self._slid and time.monotonic() - self._slid_at > REST:
            slid, self._slid = self._slid, {}
            threading.Thread(target=self._keep_slid, args=(slid,), daemon=True).start()

    def _take_note(self, message: messages.NoteMessage) -> None:
        velocity = min(max(message.velocity, 1), 127)
        self._note(message.pitch, velocity if message.on else 0)

    def _take_turn(self, message: messages.TurnMessage) -> None:
        if message.at is not None:
            self._recorder.turned(message.path, message.at)
        self._inbox.turn(ControlChange(message.path, at=message.at, axis=message.axis, steps=message.steps))

    def _take_midi(self, message: messages.MidiMessage) -> None:
        """Handle the bytes of a controller's message."""
        path = self._bound(message.bytes)
        if path:
            self._turn_to(path, message.bytes[2] / 127.0)
            return
        played = read_midi(message.bytes)
        if played is None:
            return
        if played.what == "note":
            self._note(played.number, int(played.value))
        elif played.what == "hold":
            self._hold(bool(played.value))
        elif played.what == "slider":
            self._slide(played.number, played.value)
        else:
            self._control(played.what, played.value)

    def _note(self, pitch: int, velocity: int) -> None:
        self._recorder.note(pitch, velocity)
        if velocity == 0 and self._pedal:
            self._sustained.add(pitch)
            return
        self._sustained.discard(pitch)
        self._inbox.command(lambda player: player.note(pitch, velocity))

    def _hold(self, down: bool) -> None:
        self._pedal = down
        if not down:
            for pitch in sorted(self._sustained):
                self._note(pitch, 0)

    def _control(self, what: str, value: float) -> None:
        self._recorder.lane(what, value)
        self._inbox.command(lambda player: player.control(what, value))

    def _slide(self, number: int, value: float) -> None:
        macros = [m for m in self._played.patch.movers if isinstance(m, Macro)]
        if number >= len(macros):
            self._say(say="problem", path=None, text=f"slider {number + 1} has no macro: add one under Movers")
            return
        self._turn_to(f"movers.{macros[number].id}.value", value)

    def _bound(self, data: Sequence[int]) -> str:
        """The path of the control that a controller's message is bound to. Empty for other messages."""
        is_controller = len(data) == 3 and data[0] & 0xF0 == CONTROLLER and data[1] <= HIGHEST_CONTROLLER
        return bound(self._played.patch, data[1]) if is_controller and data[2] <= 127 else ""

    def _turn_to(self, path: str, value: float) -> None:
        """Turn a control to a place on its rule, 0..1, which is stored once it rests."""
        self._recorder.turned(path, value)
        self._slid[path] = value
        self._slid_at = time.monotonic()
        self._inbox.turn(ControlChange(path, at=value))

    def _keep_slid(self, slid: dict[str, float]) -> None:
        """Store the values of the sliders."""
        for path, value in slid.items():
            try:
                label = self._played.turn(ControlChange(path, at=value))
            except (ValueProblem, NoSuchPath):
                continue
            except (NoSuchPatch, NotKept) as problem:
                self._say(say="problem", path=path, text=str(problem))
                continue
            self._say(say="edited", label=label)
