"""One process beside the server: started when needed, given jobs, ended when one takes too long, started again."""

from __future__ import annotations

import contextlib
import itertools
import logging
import multiprocessing
import threading
from collections import deque
from collections.abc import Callable
from concurrent.futures import Future
from dataclasses import dataclass, field
from multiprocessing.connection import Connection
from typing import Any

from .wire import Reply

_log = logging.getLogger(__name__)


class Gone(Exception):
    """The process ended while it was at the job."""


class TooLong(Exception):
    """The job took longer than it may; its process was ended."""


class Cancelled(Exception):
    """Somebody gave the job up."""


@dataclass(eq=False)
class Task:
    """A job that was asked for. ``tell`` hears all replies before the last, from another thread."""

    number: int
    job: Any
    future: Future[Any]
    tell: Callable[[Any], None] | None = None
    seconds: float | None = None
    timer: threading.Timer | None = field(default=None, repr=False)


class Supervisor:
    """Safe between threads.

    ``one_by_one``: a job is sent when the one before it is done, so that ending the process ends one job only;
    else all are sent at once, and the process itself sees to their order.
    """

    def __init__(
        self, name: str, target: Callable[..., None], args: tuple[Any, ...] = (), one_by_one: bool = False
    ) -> None:
        """``target`` gets the process's end of the wire and ``args``."""
        self._name, self._target, self._args, self._one_by_one = name, target, args, one_by_one
        self._context = multiprocessing.get_context("spawn")
        self._lock = threading.RLock()
        self._numbers = itertools.count()
        self._sent: dict[int, Task] = {}
        self._queue: deque[Task] = deque()
        self._wire: Connection | None = None
        self._process: Any = None
        self._closed = False
        self.deaths = 0

    @property
    def pid(self) -> int | None:
        """Number of the process, if it runs."""
        with self._lock:
            return self._process.pid if self._process is not None and self._process.is_alive() else None

    def start(self) -> None:
        """Make the process ready before the first job."""
        with self._lock:
            if self._wire is None and not self._closed:
                self._start()

    def _start(self) -> Connection:
        ours, theirs = self._context.Pipe()
        self._process = self._context.Process(
            target=self._target, args=(theirs, *self._args), name=f"kessel-{self._name}", daemon=True
        )
        self._process.start()
        theirs.close()
        self._wire = ours
        threading.Thread(
            target=self._read, args=(ours, self._process), name=f"{self._name} replies", daemon=True
        ).start()
        return ours

    def ask(self, job: Any, tell: Callable[[Any], None] | None = None, seconds: float | None = None) -> Task:
        """Ask for a job. Its future ends with the last reply, or with Gone, TooLong, Cancelled or what it raised."""
        with self._lock:
            task = Task(next(self._numbers), job, Future(), tell, seconds)
            if self._closed:
                task.future.set_exception(Gone("Kessel is ending: start it again"))
                return task
            self._queue.append(task)
        self._feed()
        return task

    def _feed(self) -> None:
        """Send what can be sent."""
        with self._lock:
            while self._queue and not self._closed and not (self._one_by_one and self._sent):
                task = self._queue.popleft()
                self._sent[task.number] = task
                if task.seconds is not None:
                    task.timer = threading.Timer(task.seconds, self._too_long, (task,))
                    task.timer.daemon = True
                    task.timer.start()
                try:
                    self._send(task)
                except Exception as problem:
                    _log.exception("%s: a job can't be sent", self._name)
                    self._sent.pop(task.number, None)
                    self._ended(task, Gone(f"its process can't be started ({type(problem).__name__})"))

    def _send(self, task: Task) -> None:
        wire = self._wire or self._start()
        try:
            wire.send((task.number, task.job))
        except OSError:
            # it died just now: a new one takes the job
            self._start().send((task.number, task.job))

    def forget(self, task: Task) -> None:
        """Hear no more of a job; the process is left alone."""
        with self._lock:
            self._sent.pop(task.number, None)
            if task in self._queue:
                self._queue.remove(task)
        self._ended(task, Cancelled("given up"))

    def cancel(self, task: Task, error: Exception | None = None) -> None:
        """Give a job up; where it is under way the process is ended, and started again for the next one."""
        with self._lock:
            running = task.number in self._sent
            self._sent.pop(task.number, None)
            if task in self._queue:
                self._queue.remove(task)
            if running:
                self._end()
        self._ended(task, error or Cancelled("given up"))
        self._feed()

    def _too_long(self, task: Task) -> None:
        if not task.future.done():
            _log.warning("%s: %s took longer than %s s", self._name, type(task.job).__name__, task.seconds)
            self.cancel(task, TooLong(f"it takes longer than {task.seconds:g} s"))

    @staticmethod
    def _ended(task: Task, error: Exception | None = None, value: Any = None) -> None:
        if task.timer is not None:
            task.timer.cancel()
        with contextlib.suppress(Exception):
            # whoever was first to end it has the word
            if error is not None:
                task.future.set_exception(error)
            else:
                task.future.set_result(value)

    def _end(self) -> None:
        wire, process = self._wire, self._process
        self._wire = self._process = None
        if process is not None and process.pid is not None:
            process.kill()
            process.join(timeout=5.0)
        if wire is not None:
            wire.close()

    def _read(self, wire: Connection, process: Any) -> None:
        while True:
            try:
                reply: Reply = wire.recv()
            except (EOFError, OSError):
                break
            except Exception:
                _log.exception("%s: a reply can't be read", self._name)
                continue
            with self._lock:
                task = self._sent.get(reply.number)
                if reply.last:
                    self._sent.pop(reply.number, None)
            if task is None:
                continue
            if reply.last:
                self._ended(task, reply.error, reply.value)
                self._feed()
            elif task.tell is not None:
                task.tell(reply.value)
        process.join(timeout=5.0)
        with self._lock:
            if self._wire is not wire:
                return
            self._wire = self._process = None
            left, self._sent = list(self._sent.values()), {}
            if not self._closed:
                self.deaths += 1
                _log.error("%s: its process ended with %s", self._name, process.exitcode)
        for task in left:
            self._ended(task, Gone(f"the process that does it ended ({process.exitcode})"))
        self._feed()

    def close(self) -> None:
        """End the process; who waits for it is told."""
        with self._lock:
            self._closed = True
            left = [*self._sent.values(), *self._queue]
            self._sent, self._queue = {}, deque()
            self._end()
        for task in left:
            self._ended(task, Gone("Kessel is ending: start it again"))
