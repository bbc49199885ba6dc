"""The patches of the server as the process that plays sees them."""

from __future__ import annotations

import itertools
import logging
import threading
from collections.abc import Callable, Sequence
from concurrent.futures import Future
from contextlib import suppress
from logging.handlers import QueueHandler
from multiprocessing.connection import Connection
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ...checks import ChainLevels
from ...library import Reference
from ...patch import Edit, Patch, Room, ValueProblem
from ...processes import Reply
from ..editing import ControlChange, SettingsPair
from ..tape import Tape
from .wire import Answer, Ask, Asked, Attend, Close, LoopNews, Open, Opened, PatchNews, Question

_log = logging.getLogger(__name__)
_PATIENCE = 90.0
"""Seconds to wait for an answer. The server gives up on a rendering before."""


class Server:
    """The server, asked over a wire. ``serve`` runs until the wire ends; the rest is called from other threads."""

    def __init__(self, wire: Connection) -> None:
        self._wire = wire
        self._lock = threading.Lock()
        self._attends = -1
        self._attended = threading.Event()
        self._numbers, self._streams = itertools.count(), itertools.count()
        self._waiting: dict[int, Future[Any]] = {}
        self._patches: dict[int, RemotePatch] = {}

    def serve(self) -> None:
        """Take what the server sends."""
        while True:
            try:
                number, job = self._wire.recv()
            except (EOFError, OSError, KeyboardInterrupt):
                return
            try:
                self._take(number, job)
            except Exception:
                _log.exception("a message of the server failed: %s", type(job).__name__)

    def _take(self, number: int, job: Any) -> None:
        if isinstance(job, Attend):
            self._attends = number
            self._attended.set()
            return
        if isinstance(job, Answer):
            future = self._waiting.pop(job.number, None)
            if future is not None and job.error is None:
                future.set_result(job.value)
            elif future is not None:
                future.set_exception(job.error)
        elif (patch := self._patches.get(job.stream)) is not None:
            patch.take(job)
        self._send(Reply(number))

    def _send(self, reply: Reply) -> None:
        with self._lock:
            self._wire.send(reply)

    def ask(self, question: Open | Question | Close) -> Any:
        """The answer to a question. Raises what the question raised, or ValueProblem without an answer."""
        number, future = next(self._numbers), Future[Any]()
        self._waiting[number] = future
        try:
            # a page may be here before the server has said that it listens
            self._attended.wait(_PATIENCE)
            self._send(Reply(self._attends, Ask(number, question), last=False))
            return future.result(_PATIENCE)
        except (TimeoutError, OSError):
            raise ValueProblem("Kessel does not answer the player: try again") from None
        finally:
            self._waiting.pop(number, None)

    def tell(self, question: Question) -> None:
        """The same without waiting for the answer."""
        if self._attended.is_set():
            with suppress(OSError):
                self._send(Reply(self._attends, Ask(next(self._numbers), question), last=False))

    def log(self, record: logging.LogRecord) -> None:
        """Write something into the log of the server."""
        if self._attended.is_set():
            with suppress(OSError):
                self._send(Reply(self._attends, record, last=False))

    def open(self, slug: str) -> RemotePatch:
        """A patch for a new stream. Raises NoSuchPatch, Damaged or ValueProblem."""
        stream = next(self._streams)
        made = self._patches[stream] = RemotePatch(self, stream)
        try:
            opened: Opened = self.ask(Open(stream, slug))
        except Exception:
            del self._patches[stream]
            raise
        made.opened(opened)
        return made

    def close(self, patch: RemotePatch) -> None:
        """A stream has ended."""
        self._patches.pop(patch.stream, None)
        self.ask(Close(patch.stream))


class ServerLog(QueueHandler):
    """Gives what is logged to the server, which writes it down."""

    def __init__(self, server: Server) -> None:
        super().__init__(server)  # type: ignore[arg-type]

    def enqueue(self, record: logging.LogRecord) -> None:
        """Send a record, as text that can be sent."""
        server: Any = self.queue
        server.log(record)


class RemotePatch:
    """A patch of the server for one stream. See PlayedPatch."""

    def __init__(self, server: Server, stream: int) -> None:
        self._server, self.stream = server, stream
        self._lock = threading.Lock()
        self._patch: Patch | None = None
        self._listeners: list[Callable[[Patch], None]] = []
        self.loop: NDArray[Any] | None = None
        self.loudness: float | None = None
        self.tape: Tape | None = None

    @property
    def patch(self) -> Patch:
        """The stored patch."""
        assert self._patch is not None
        return self._patch

    def opened(self, found: Opened) -> None:
        """Begin with what was found. A newer version may have come before it."""
        with self._lock:
            self._patch, self.tape = self._patch or found.patch, found.tape

    def take(self, news: PatchNews | LoopNews) -> None:
        """Take another version, or another loop."""
        if isinstance(news, LoopNews):
            self.loop, self.loudness = np.load(news.file, mmap_mode="r"), news.loudness
            return
        with self._lock:
            self._patch = news.patch
            listeners = list(self._listeners)
        for listener in listeners:
            listener(news.patch)

    def listen(self, listener: Callable[[Patch], None]) -> Callable[[], None]:
        """Call a function with every new version of the patch. Returns a function that ends it."""
        with self._lock:
            self._listeners.append(listener)
        return lambda: self._listeners.remove(listener)

    def _ask(self, what: Asked, *arguments: Any) -> Any:
        return self._server.ask(Question(self.stream, what, arguments))

    def edit(self, edits: Sequence[Edit], label: str) -> str:
        """Store edits as one step. Returns its label."""
        return str(self._ask("edit", edits, label))

    def turn(self, change: ControlChange) -> str:
        """Store a turned control. Returns the label of the step."""
        return str(self._ask("turn", change))

    def levels(self) -> ChainLevels:
        """Levels at every place of all chains."""
        found: ChainLevels = self._ask("levels")
        return found

    def settings(self, place: str) -> SettingsPair:
        """The two settings of a chain that are compared."""
        found: SettingsPair = self._ask("settings", place)
        return found

    def room(self, room_id: str) -> Room:
        """A room to listen in."""
        found: Room = self._ask("room", room_id)
        return found

    def reference(self) -> Reference | None:
        """The recording that the patch is held against."""
        found: Reference | None = self._ask("reference")
        return found

    def beside(self, slug: str, tempo: float) -> tuple[NDArray[Any], float]:
        """Another patch at a tempo: its loop, (2, n), and its length in beats."""
        found: tuple[NDArray[Any], float] = self._ask("beside", slug, tempo)
        return found

    def sounds(self, streams: int) -> None:
        """Count one more stream that sounds (1), or one less (-1)."""
        self._server.tell(Question(self.stream, "sounds", (streams,)))

    def begin_tape(self) -> Tape:
        """A tape for what is heard from now on."""
        found: Tape = self._ask("begin_tape")
        return found

    def end_tape(self, frames: int, peak: float) -> None:
        """Keep the tape, which took so many frames and reached ``peak``. Without frames it is dropped."""
        self._ask("end_tape", frames, peak)
