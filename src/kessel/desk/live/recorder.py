"""Recording what is played: notes, controllers and macros, until they are stored as one step."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from ...patch import ControlPath, Edit, Macro, ValueProblem
from ..editing import grid_of, record, record_macro
from . import messages
from .inbox import Inbox
from .played import PlayedPatch
from .recording import Recording


class Recorder:
    """Records into the phrase of a patch while it runs.

    beat: the beat that is heard now, None while nothing runs.
    """

    def __init__(
        self,
        played: PlayedPatch,
        inbox: Inbox,
        beat: Callable[[], float | None],
        say: Callable[..., None],
    ) -> None:
        self._played, self._inbox, self._beat, self._say = played, inbox, beat, say
        self._recording: Recording | None = None

    def handlers(self) -> dict[str, Callable[[Any], None]]:
        """What handles each message."""
        return {"record": self._take_record}

    def note(self, pitch: int, velocity: int) -> None:
        """Record a note that begins, or ends without a velocity."""
        if self._recording is not None:
            self._recording.note(self._beat() or 0.0, pitch, velocity)

    def lane(self, what: str, value: float) -> None:
        """Record a performance controller."""
        if self._recording is not None:
            self._recording.lane(self._beat() or 0.0, what, value)

    def turned(self, path: str, value: float) -> None:
        """Record the value of a macro, if ``path`` is one. While it is recorded, its live value is heard."""
        steps = ControlPath(path).steps
        if self._recording is None or steps[0] != "movers" or steps[-1] != "value":
            return
        macro = next((m for m in self._inbox.patch.movers if m.id == steps[1]), None)
        if not isinstance(macro, Macro):
            return
        self._recording.macro(self._beat() or 0.0, macro.id, min(max(value, 0.0), 1.0))
        if macro.drawn:
            self._inbox.apply([Edit(f"movers.{macro.id}.drawn", False)])

    def _take_record(self, message: messages.RecordMessage) -> None:
        if message.on:
            if self._beat() is None:
                raise ValueProblem("press Play first: notes are recorded while the phrase runs")
            self._recording = Recording(self._played.patch.phrase.beats, grid_of(message.snap))
            self._say(say="recording", on=True)
            return
        recording, self._recording = self._recording, None
        self._say(say="recording", on=False)
        if recording is None:
            return
        recording.finish(self._beat() or 0.0)
        edits, label = self._recorded(recording)
        self._say(say="edited", label=self._played.edit(edits, label))

    def _recorded(self, recording: Recording) -> tuple[list[Edit], str]:
        """What was played as edits, and its label."""
        patch = self._played.patch
        turned = [e for macro, played in recording.macros.items() for e in record_macro(patch, macro, played)]
        if turned and not recording.notes and not recording.lanes:
            names = [m.name for m in patch.movers if m.id in recording.macros]
            return turned, f"Record {' and '.join(names)}"
        edits, label = record(patch, recording.notes, recording.lanes, recording.snap)
        return [*edits, *turned], label
