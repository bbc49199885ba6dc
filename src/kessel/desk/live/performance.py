"""Performance on a live stream: notes, controllers, sliders, and recording."""

from __future__ import annotations

import threading
import time
from abc import ABC, abstractmethod
from collections.abc import Callable
from typing import TYPE_CHECKING, Any

from ...engine import Engine, NoteEvent
from ...library import NoSuchPatch, NotKept
from ...patch import ControlPath, Edit, Macro, NoSuchPath, Patch, ValueProblem, apply
from ..editing import ControlChange, SettingsPair, grid_of, record, record_macro, without
from ..editing import curves as curve_edits
from ..editing import waves as wave_edits
from . import messages
from .lead import Lead
from .midi_in import read_midi
from .recording import Recording

if TYPE_CHECKING:
    from ..open_patch import OpenPatch

REST = 0.4
"""Seconds without a change after which a slider counts as at rest."""


class LivePerformance(ABC):
    """The part of a live stream that handles performance."""

    _open: OpenPatch
    _patch: Patch
    _pending: Patch | None
    _engine: Engine | None
    _wake: threading.Condition
    _turns: dict[str, ControlChange]
    _lead: Lead

    @abstractmethod
    def _command(self, act: Callable[[Engine], None]) -> None:
        """Run a function on the engine before the next quantum, on the live thread."""

    @abstractmethod
    def _say(self, **fields: Any) -> None:
        """Send a message to the player."""

    def _rest_hands(self) -> None:
        self._recording: Recording | None = None
        self._pedal = False
        self._sustained: set[int] = set()
        self._slid: dict[str, float] = {}
        self._slid_at = 0.0

    def _settle_slid(self) -> None:
        """Store the values of the sliders once they have come to rest."""
        if self._slid and time.monotonic() - self._slid_at > REST:
            slid, self._slid = self._slid, {}
            threading.Thread(target=self._keep_slid, args=(slid,), daemon=True).start()

    def _do_note(self, message: messages.NoteMessage) -> None:
        velocity = min(max(message.velocity, 1), 127)
        self._note(message.pitch, velocity if message.on else 0)

    def _note(self, pitch: int, velocity: int) -> None:
        if self._recording is not None:
            self._recording.note(self._heard_beat(), pitch, velocity)
        if velocity == 0 and self._pedal:
            self._sustained.add(pitch)
            return
        self._sustained.discard(pitch)
        on = velocity > 0
        self._command(lambda e: e.play(NoteEvent(e.time, on, f"hand-{pitch}", pitch, max(velocity, 1))))

    def _do_wave(self, message: messages.WaveMessage) -> None:
        """Play a drawn wave while it is drawn, without storing it."""
        kept = self._open.patch
        if message.deed == "stroke":
            edits, _ = wave_edits.stroke(kept, message.path, message.frame, message.strokes)
        else:
            edits, _ = wave_edits.set_bars(kept, message.path, message.frame, message.levels, message.phases)
        patch = apply(kept, edits)
        with self._wake:
            self._patch = self._pending = patch

    def _do_curve(self, message: messages.CurveMessage) -> None:
        """Play a drawn curve while it is drawn, without storing it."""
        kept = self._open.patch
        mover = message.mover
        if message.deed == "stroke":
            edits, _ = curve_edits.stroke(kept, mover, message.line)
        elif message.deed == "bend":
            edits, _ = curve_edits.bend_through(kept, mover, message.index, message.value)
        else:
            edits, _ = curve_edits.move_point(kept, mover, message.index, message.at, message.value)
        patch = apply(kept, edits)
        with self._wake:
            self._patch = self._pending = patch
        self._say(say="curve", mover=mover, line=curve_edits.line_of(patch, mover))

    def _do_midi(self, message: messages.MidiMessage) -> None:
        """Handle the bytes of a controller's message."""
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

    def _do_compare(self, message: messages.CompareMessage) -> None:
        """Play the patch without an item, a chain or all chains at equal loudness; without a name, play it as it is."""
        what = message.what or ""
        kept = self._open.patch
        patch = without(kept, what, self._open.levels()) if what else kept
        self._hear(patch, kept)

    def _do_try(self, message: messages.TryMessage) -> None:
        """Play one of two settings of a chain at equal loudness; without a name, play the patch as it is."""
        place, which = message.place, message.which or ""
        kept = self._open.patch
        pair = self._open.pairs.get(place, SettingsPair())
        self._hear(pair.heard(kept, place, which) if which else kept, kept)

    def _hear(self, patch: Patch, kept: Patch) -> None:
        """Play another patch than the stored one. Edits continue from the stored one."""
        with self._wake:
            self._patch, self._pending = kept, patch

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
        self._take_down(path, value)
        with self._wake:
            self._turns[path] = ControlChange(path, at=value)
            self._slid[path] = value
            self._slid_at = time.monotonic()
            self._wake.notify_all()

    def _take_down(self, path: str, value: float) -> None:
        """While recording, record the value of a macro. The live value is heard."""
        steps = ControlPath(path).steps
        if self._recording is None or steps[0] != "movers" or steps[-1] != "value":
            return
        macro = next((m for m in self._patch.movers if m.id == steps[1]), None)
        if not isinstance(macro, Macro):
            return
        self._recording.macro(self._heard_beat(), macro.id, min(max(value, 0.0), 1.0))
        if macro.drawn:
            with self._wake:
                self._patch = self._pending = apply(self._patch, [Edit(f"movers.{macro.id}.drawn", False)])

    def _keep_slid(self, slid: dict[str, float]) -> None:
        """Store the values of the sliders."""
        for path, value in slid.items():
            try:
                edited = self._open.turn(ControlChange(path, at=value))
            except (ValueProblem, NoSuchPath):
                continue
            except (NoSuchPatch, NotKept) as problem:
                self._say(say="problem", path=path, text=str(problem))
                continue
            self._say(say="edited", label=edited.label)

    def _heard_time(self, engine: Engine) -> int:
        """The engine's time of what is heard now."""
        return engine.time - self._lead.ahead()

    def _heard_beat(self) -> float:
        engine = self._engine
        if engine is None or not engine.loop:
            return 0.0
        since = self._heard_time(engine) - engine.schedule.origin
        return since / engine.schedule.length * engine.patch.phrase.beats

    def _do_record(self, message: messages.RecordMessage) -> None:
        if message.on:
            if self._engine is None or not self._engine.loop:
                raise ValueProblem("press Play first: notes are recorded while the phrase runs")
            self._recording = Recording(self._open.patch.phrase.beats, grid_of(message.snap))
            self._say(say="recording", on=True)
            return
        recording, self._recording = self._recording, None
        self._say(say="recording", on=False)
        if recording is None:
            return
        recording.finish(self._heard_beat())
        edits, label = self._recorded(recording)
        self._say(say="edited", label=self._open.edit(edits, label).label)

    def _recorded(self, recording: Recording) -> tuple[list[Edit], str]:
        """Store what was played, as one step."""
        patch = self._open.patch
        turned = [e for macro, played in recording.macros.items() for e in record_macro(patch, macro, played)]
        if turned and not recording.notes and not recording.lanes:
            names = [m.name for m in patch.movers if m.id in recording.macros]
            return turned, f"Record {' and '.join(names)}"
        edits, label = record(patch, recording.notes, recording.lanes, recording.snap)
        return [*edits, *turned], label
