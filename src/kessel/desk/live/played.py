"""What a stream asks of the patch that it plays, wherever the stream runs."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any, Protocol

from numpy.typing import NDArray

from ...checks import ChainLevels
from ...library import Reference
from ...patch import Edit, Patch, Room
from ..editing import ControlChange, SettingsPair
from ..open_patch import OpenPatch
from ..tape import Tape


class PlayedPatch(Protocol):
    """An open patch as a stream sees it. Its methods may wait for a rendering, and raise what those of OpenPatch do."""

    @property
    def patch(self) -> Patch:
        """The stored patch."""

    @property
    def loop(self) -> NDArray[Any] | None:
        """Its rendered loop, (2, n), once there is one."""

    @property
    def loudness(self) -> float | None:
        """Its loudness in LUFS, once it is measured."""

    @property
    def tape(self) -> Tape | None:
        """What was kept last of what was heard."""

    def listen(self, listener: Callable[[Patch], None]) -> Callable[[], None]:
        """Call a function with every new version of the patch. Returns a function that ends it."""

    def edit(self, edits: Sequence[Edit], label: str) -> str:
        """Store edits as one step. Returns its label."""

    def turn(self, change: ControlChange) -> str:
        """Store a turned control. Returns the label of the step."""

    def levels(self) -> ChainLevels:
        """Levels at every place of all chains."""

    def settings(self, place: str) -> SettingsPair:
        """The two settings of a chain that are compared."""

    def room(self, room_id: str) -> Room:
        """A room to listen in."""

    def reference(self) -> Reference | None:
        """The recording that the patch is held against."""

    def beside(self, slug: str, tempo: float) -> tuple[NDArray[Any], float]:
        """Another patch at a tempo: its loop, (2, n), and its length in beats."""

    def sounds(self, streams: int) -> None:
        """Count one more stream that sounds (1), or one less (-1)."""

    def begin_tape(self) -> Tape:
        """A tape for what is heard from now on."""

    def end_tape(self, frames: int, peak: float) -> None:
        """Keep the tape, which took so many frames and reached ``peak``. Without frames it is dropped."""


class KeptPatch:
    """An open patch of this process, as a stream sees it."""

    def __init__(self, open_patch: OpenPatch) -> None:
        self._open = open_patch
        self._tape: Tape | None = None

    @property
    def patch(self) -> Patch:
        """The stored patch."""
        return self._open.patch

    @property
    def loop(self) -> NDArray[Any] | None:
        """Its rendered loop, (2, n), once there is one."""
        picture = self._open.measuring.picture
        return picture.loop if picture is not None else None

    @property
    def loudness(self) -> float | None:
        """Its loudness in LUFS, once it is measured."""
        picture = self._open.measuring.picture
        return picture.loudness if picture is not None else None

    @property
    def tape(self) -> Tape | None:
        """What was kept last of what was heard."""
        return self._open.tape

    def listen(self, listener: Callable[[Patch], None]) -> Callable[[], None]:
        """Call a function with every new version of the patch. Returns a function that ends it."""
        return self._open.listen(listener)

    def watch(self, watcher: Callable[[], None]) -> Callable[[], None]:
        """Call a function when there may be another loop. Returns a function that ends it."""
        return self._open.watch(watcher)

    def edit(self, edits: Sequence[Edit], label: str) -> str:
        """Store edits as one step. Returns its label."""
        return self._open.edit(edits, label).label

    def turn(self, change: ControlChange) -> str:
        """Store a turned control. Returns the label of the step."""
        return self._open.turn(change).label

    def levels(self) -> ChainLevels:
        """Levels at every place of all chains."""
        return self._open.levels()

    def settings(self, place: str) -> SettingsPair:
        """The two settings of a chain that are compared."""
        return self._open.pairs.get(place, SettingsPair())

    def room(self, room_id: str) -> Room:
        """A room to listen in."""
        return self._open.library.checks.room(room_id)

    def reference(self) -> Reference | None:
        """The recording that the patch is held against."""
        return self._open.library.checks.reference(self._open.slug)

    def beside(self, slug: str, tempo: float) -> tuple[NDArray[Any], float]:
        """Another patch at a tempo: its loop, (2, n), and its length in beats."""
        other = self._open.library.load(slug).model_copy(update={"tempo": tempo})
        return self._open.render_worker.audio(other, "sum"), other.phrase.beats

    def sounds(self, streams: int) -> None:
        """Count one more stream that sounds (1), or one less (-1)."""
        self._open.render_worker.stream_started(streams)

    def begin_tape(self) -> Tape:
        """A tape for what is heard from now on."""
        self._tape = Tape()
        return self._tape

    def end_tape(self, frames: int, peak: float) -> None:
        """Keep the tape, which took so many frames and reached ``peak``. Without frames it is dropped."""
        tape, self._tape = self._tape, None
        if tape is not None and frames:
            tape.frames, tape.peak = frames, peak
            self._open.tape = tape

    def left(self) -> None:
        """Keep a tape whose stream is gone, as far as it came."""
        if self._tape is not None:
            self._tape.look()
            self.end_tape(self._tape.frames, self._tape.peak)
