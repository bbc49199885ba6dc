"""The process that plays, as the server sees it: it owns the socket of the streams, and asks for what it needs.

It is started again when it dies; pages connect anew to the same port and say again what they had set.
"""

from __future__ import annotations

import logging
import socket
import tempfile
import threading
from collections.abc import Callable
from concurrent.futures import Future, ThreadPoolExecutor
from contextlib import suppress
from pathlib import Path
from typing import Any

import numpy as np

from ...library import Damaged, NoSuchPatch, NotKept
from ...patch import NoSuchPath, Patch, ValueProblem
from ...processes import Gone, Supervisor
from ..open_patch import OpenPatch
from .played import KeptPatch
from .wire import Answer, Ask, Attend, Close, LoopNews, Open, Opened, PatchNews, Question

_log = logging.getLogger(__name__)
_EXPECTED = ValueProblem, NoSuchPath, NoSuchPatch, NotKept, Damaged
_HEALTHY = 30.0
_PAUSES = (0.0, 0.5, 2.0, 5.0)
"""Seconds before it is started again, by how often it died soon after its start."""


class _Stream:
    """One stream of the process, and what it is told of its patch."""

    def __init__(self, number: int, open_patch: OpenPatch, send: Callable[[Any], None]) -> None:
        self.number, self.kept = number, KeptPatch(open_patch)
        self._send = send
        self._loop: Any = None
        self._folder = tempfile.TemporaryDirectory(prefix="kessel-loop-")
        self._lock = threading.Lock()
        self._loops = 0
        self.sounds = 0
        self._ends = [self.kept.listen(self._changed), self.kept.watch(self._look)]

    def _changed(self, patch: Patch) -> None:
        self._send(PatchNews(self.number, patch))

    def _look(self) -> None:
        if self.kept.loop is not self._loop:
            threading.Thread(target=self.tell_loop, name="loop for the player", daemon=True).start()

    def tell_loop(self) -> None:
        """Lay the rendered loop down as a file, if there is another one, and tell where it is."""
        with self._lock:
            loop, loudness = self.kept.loop, self.kept.loudness
            if loop is None or loop is self._loop:
                return
            path = Path(self._folder.name) / f"{self._loops}.npy"
            try:
                np.save(path, loop)
            except OSError:
                # the disk is full: the stream plays on without its loop
                _log.exception("a loop can't be laid down for the player")
                return
            self._loop = loop
            # what the player has open stays readable
            (Path(self._folder.name) / f"{self._loops - 1}.npy").unlink(missing_ok=True)
            self._loops += 1
            self._send(LoopNews(self.number, str(path), loudness))

    def close(self) -> None:
        """Tell nothing more. A tape that runs is kept."""
        for end in self._ends:
            end()
        self.kept.left()
        if self.sounds:
            self.kept.sounds(-self.sounds)
        with self._lock, suppress(OSError):
            self._loop = self.kept.loop
            self._folder.cleanup()


class LiveProcess:
    """Starts the process that plays, and answers it. Thread-safe.

    port: where pages connect for their streams.
    """

    def __init__(self, opens: Callable[[str], OpenPatch], play: Callable[..., None], *arguments: Any) -> None:
        """``opens``: gives the patch of a slug. ``play``: what the process does with the wire, the listening socket and
        ``arguments``.
        """
        self._opens = opens
        self._listener = socket.socket(socket.AF_INET, socket.SOCK_STREAM)
        self._listener.bind(("127.0.0.1", 0))
        self._listener.listen(64)
        self.port: int = self._listener.getsockname()[1]
        self._worker = Supervisor("live", play, (self._listener, *arguments))
        self._streams: dict[int, _Stream] = {}
        self._lock = threading.Lock()
        self._answering = ThreadPoolExecutor(8, thread_name_prefix="answers to the player")
        self._closed = False
        self._soon = 0
        self._timer: threading.Timer | None = None

    @property
    def pid(self) -> int | None:
        """Id of the process, if it runs."""
        return self._worker.pid

    def start(self) -> None:
        """Start the process, and answer it from now on."""
        if self._closed:
            return
        healthy = threading.Event()
        timer = threading.Timer(_HEALTHY, healthy.set)
        timer.daemon = True
        timer.start()

        def ended(future: Future[Any]) -> None:
            timer.cancel()
            self._ended(future, healthy.is_set())

        self._worker.ask(Attend(), self._asked).future.add_done_callback(ended)

    def _ended(self, future: Future[Any], was_healthy: bool) -> None:
        with self._lock:
            left, self._streams = list(self._streams.values()), {}
        for stream in left:
            stream.close()
        if self._closed or not isinstance(future.exception(), Gone):
            return
        self._soon = 0 if was_healthy else self._soon + 1
        self._timer = threading.Timer(_PAUSES[min(self._soon, len(_PAUSES) - 1)], self.start)
        self._timer.daemon = True
        self._timer.start()

    def _send(self, job: Any) -> None:
        self._worker.ask(job)

    def _asked(self, ask: Ask | logging.LogRecord) -> None:
        if isinstance(ask, logging.LogRecord):
            logging.getLogger(ask.name).handle(ask)
            return
        with suppress(RuntimeError):
            # none is answered any more once it is closed
            self._answering.submit(self._answer, ask)

    def _answer(self, ask: Ask) -> None:
        try:
            value = self._found(ask.question)
        except _EXPECTED as problem:
            self._send(Answer(ask.number, error=_plain(problem)))
        except Exception:
            _log.exception("a question of the player failed: %s", ask.question)
            self._send(Answer(ask.number, error=ValueProblem("that failed: the log has the details")))
        else:
            self._send(Answer(ask.number, value))

    def _found(self, question: Open | Question | Close) -> Any:
        if isinstance(question, Open):
            return self._opened(question)
        if isinstance(question, Close):
            with self._lock:
                stream = self._streams.pop(question.stream, None)
            if stream is not None:
                stream.close()
            return None
        with self._lock:
            stream = self._streams.get(question.stream)
        if stream is None:
            raise ValueProblem("that stream has ended: reload the page")
        if question.what == "sounds":
            stream.sounds += question.arguments[0]
        return getattr(stream.kept, question.what)(*question.arguments)

    def _opened(self, question: Open) -> Opened:
        open_patch = self._opens(question.slug)
        stream = _Stream(question.stream, open_patch, self._send)
        with self._lock:
            self._streams[question.stream] = stream
        stream.tell_loop()
        return Opened(open_patch.patch, open_patch.tape)

    def close(self) -> None:
        """End the process, and answer nothing more."""
        self._closed = True
        if self._timer is not None:
            self._timer.cancel()
        self._worker.close()
        self._answering.shutdown(wait=False, cancel_futures=True)
        self._listener.close()


def _plain(problem: Exception) -> Exception:
    """A problem that can be sent: of its general kind, with its text."""
    if isinstance(problem, (NoSuchPath, NoSuchPatch)):
        return type(problem)(*problem.args)
    if isinstance(problem, Damaged):
        # there is nothing to play, and nothing to wait for
        return NoSuchPatch(problem.slug)
    return NotKept(str(problem)) if isinstance(problem, NotKept) else ValueProblem(str(problem))
