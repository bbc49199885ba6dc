"""What hands do to a live stream: notes, a controller's bytes, sliders, and recording."""

from __future__ import annotations

import threading
import time
from abc import ABC, abstractmethod
from collections.abc import Callable
from typing import TYPE_CHECKING, Any

from ..engine import QUANTUM, RATE, Engine, NoteEvent
from ..patch import Macro, NoSuchPath, ValueProblem
from .midi_in import read_midi
from .note_edits import grid_of, record
from .recording import Recording
from .turning import Turn

if TYPE_CHECKING:
    from .open_patch import OpenPatch

REST = 0.4
"""Seconds after which a slider is taken to have come to rest."""


class LiveHands(ABC):
    """The part of a live stream that takes what is played."""

    _open: OpenPatch
    _engine: Engine | None
    _wake: threading.Condition
    _turns: dict[str, Turn]
    _sent: int
    _heard: int
    _told: float
    _lead: int

    @abstractmethod
    def _command(self, act: Callable[[Engine], None]) -> None:
        """Let the live thread do something to its engine before the next quantum."""

    @abstractmethod
    def _say(self, **fields: Any) -> None:
        """Tell the player something."""

    def _rest_hands(self) -> None:
        self._recording: Recording | None = None
        self._pedal = False
        self._sustained: set[int] = set()
        self._slid: dict[str, float] = {}
        self._slid_at = 0.0

    def _settle_slid(self) -> None:
        """Keep where the sliders are, once they have come to rest."""
        if self._slid and time.monotonic() - self._slid_at > REST:
            slid, self._slid = self._slid, {}
            threading.Thread(target=self._keep_slid, args=(slid,), daemon=True).start()

    def _do_note(self, message: dict[str, Any]) -> None:
        pitch, on = int(message["pitch"]), bool(message["on"])
        velocity = min(max(int(message.get("velocity", 100)), 1), 127)
        if not 0 <= pitch <= 127:
            raise ValueProblem("notes go from 0 to 127")
        self._note(pitch, velocity if on else 0)

    def _note(self, pitch: int, velocity: int) -> None:
        if self._recording is not None:
            self._recording.note(self._heard_beat(), pitch, velocity)
        if velocity == 0 and self._pedal:
            self._sustained.add(pitch)
            return
        self._sustained.discard(pitch)
        on = velocity > 0
        self._command(lambda e: e.play(NoteEvent(e.time, on, f"hand-{pitch}", pitch, max(velocity, 1))))

    def _do_midi(self, message: dict[str, Any]) -> None:
        """The bytes of one message of a controller."""
        played = read_midi([int(b) for b in list(message["bytes"])[:4]])
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

    def _hold(self, down: bool) -> None:
        self._pedal = down
        if not down:
            for pitch in sorted(self._sustained):
                self._note(pitch, 0)

    def _control(self, what: str, value: float) -> None:
        if self._recording is not None:
            self._recording.lane(self._heard_beat(), what, value)

        def act(engine: Engine) -> None:
            engine.controller.goal[what] = value

        self._command(act)

    def _slide(self, number: int, value: float) -> None:
        macros = [m for m in self._open.patch.movers if isinstance(m, Macro)]
        if number >= len(macros):
            self._say(say="problem", path=None, text=f"slider {number + 1} has no macro: add one under Movers")
            return
        path = f"movers.{macros[number].id}.value"
        with self._wake:
            self._turns[path] = Turn(path, at=value)
            self._slid[path] = value
            self._slid_at = time.monotonic()
            self._wake.notify_all()

    def _keep_slid(self, slid: dict[str, float]) -> None:
        """Keep where the sliders came to rest."""
        for path, value in slid.items():
            try:
                edited = self._open.turn(Turn(path, at=value))
            except (ValueProblem, NoSuchPath):
                continue
            self._say(say="edited", label=edited.label)

    def _heard_time(self, engine: Engine) -> int:
        """The engine's time of what is heard now."""
        since = int((time.monotonic() - self._told) * RATE) if self._heard else 0
        return engine.time - max(0, self._sent - self._heard - min(since, self._lead * QUANTUM))

    def _heard_beat(self) -> float:
        engine = self._engine
        if engine is None or not engine.loop:
            return 0.0
        since = self._heard_time(engine) - engine.schedule.origin
        return since / engine.schedule.length * engine.patch.phrase.beats

    def _do_record(self, message: dict[str, Any]) -> None:
        if bool(message["on"]):
            if self._engine is None or not self._engine.loop:
                raise ValueProblem("press Play first: notes are recorded while the phrase runs")
            self._recording = Recording(self._open.patch.phrase.beats, grid_of(str(message.get("snap", "1/16"))))
            self._say(say="recording", on=True)
            return
        recording, self._recording = self._recording, None
        self._say(say="recording", on=False)
        if recording is None:
            return
        recording.finish(self._heard_beat())
        edits, label = record(self._open.patch, recording.notes, recording.lanes, recording.snap)
        self._say(say="edited", label=self._open.edit(edits, label).label)
