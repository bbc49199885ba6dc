"""One process beside the server: started on demand, given jobs, ended if one takes too long, restarted."""

from __future__ import annotations

import contextlib
import itertools
import logging
import threading
from collections import deque
from collections.abc import Callable
from concurrent.futures import Future
from dataclasses import dataclass, field
from multiprocessing.connection import Connection
from queue import SimpleQueue
from typing import Any

from .starting import context
from .wire import Reply

_log = logging.getLogger(__name__)


class Gone(Exception):
    """The process ended during the job."""


class TooLong(Exception):
    """The job exceeded its time limit, and its process was ended."""


class Cancelled(Exception):
    """The job was cancelled."""


@dataclass(eq=False)
class Task:
    """A job that was asked for. ``tell`` receives all replies but the last, on another thread."""

    number: int
    job: Any
    future: Future[Any]
    tell: Callable[[Any], None] | None = None
    seconds: float | None = None
    timer: threading.Timer | None = field(default=None, repr=False)
    tries: int = 0


@dataclass(eq=False)
class _Line:
    """A process, the wire to it, and its jobs.

    Callers never wait for the wire: one thread writes what is in ``outbox``, another one reads replies. Only the reader
    closes the wire, after both are done with it. Otherwise the file descriptor could be reused for the next wire while
    somebody still reads from it, and replies would be lost.
    """

    wire: Connection
    process: Any
    sent: dict[int, Task] = field(default_factory=dict)
    outbox: SimpleQueue[Task | None] = field(default_factory=SimpleQueue)


class Supervisor:
    """Runs jobs in one process. Thread-safe.

    ``one_by_one``: a job is sent after the one before it is done, so that ending the process ends one job only.
    Otherwise all are sent at once, and the process decides on their order.
    """

    def __init__(
        self, name: str, target: Callable[..., None], args: tuple[Any, ...] = (), one_by_one: bool = False
    ) -> None:
        """``target`` receives the process's end of the wire and ``args``."""
        self._name, self._target, self._args, self._one_by_one = name, target, args, one_by_one
        self._context: Any = context()
        self._lock = threading.RLock()
        self._numbers = itertools.count()
        self._queue: deque[Task] = deque()
        self._line: _Line | None = None
        self._closed = False
        self.deaths = 0

    @property
    def pid(self) -> int | None:
        """Id of the process, if it runs."""
        with self._lock:
            line = self._line
            return line.process.pid if line is not None and line.process.is_alive() else None

    def start(self) -> None:
        """Start the process before the first job."""
        with self._lock:
            if self._line is None and not self._closed:
                self._start()

    def _start(self) -> _Line:
        ours, theirs = self._context.Pipe()
        process = self._context.Process(
            target=self._target, args=(theirs, *self._args), name=f"kessel-{self._name}", daemon=True
        )
        process.start()
        theirs.close()
        line = self._line = _Line(ours, process)
        writer = threading.Thread(target=self._write, args=(line,), name=f"{self._name} jobs", daemon=True)
        writer.start()
        threading.Thread(target=self._read, args=(line, writer), name=f"{self._name} replies", daemon=True).start()
        return line

    def ask(self, job: Any, tell: Callable[[Any], None] | None = None, seconds: float | None = None) -> Task:
        """Ask for a job. Its future has the last reply, or raises Gone, TooLong, Cancelled or what the job raised."""
        with self._lock:
            task = Task(next(self._numbers), job, Future(), tell, seconds)
            if self._closed:
                task.future.set_exception(Gone("Kessel is ending: start it again"))
                return task
            self._queue.append(task)
        self._feed()
        return task

    def _feed(self) -> None:
        """Send the jobs that can be sent."""
        unsent: list[tuple[Task, Exception]] = []
        with self._lock:
            while self._queue and not self._closed and not (self._one_by_one and self._line and self._line.sent):
                task = self._queue.popleft()
                try:
                    line = self._line or self._start()
                except Exception as problem:
                    unsent.append((task, problem))
                    continue
                line.sent[task.number] = task
                line.outbox.put(task)
                if task.seconds is not None and task.timer is None:
                    task.timer = threading.Timer(task.seconds, self._too_long, (task,))
                    task.timer.daemon = True
                    task.timer.start()
        for lost, why in unsent:
            self._unsent(lost, why)

    def _write(self, line: _Line) -> None:
        for task in iter(line.outbox.get, None):
            try:
                line.wire.send((task.number, task.job))
            except OSError:
                self._send_again(line, task)
            except Exception as problem:
                with self._lock:
                    line.sent.pop(task.number, None)
                self._unsent(task, problem)
                self._feed()
            # drop the job's references before waiting for the next one
            del task

    def _send_again(self, line: _Line, task: Task) -> None:
        """The process ended before it received the job: send it once to the next one."""
        self._lost(line)
        with self._lock:
            wanted = line.sent.pop(task.number, None) is not None
            if again := wanted and not task.tries and not self._closed:
                task.tries = 1
                self._queue.append(task)
        if wanted and not again:
            self._ended(task, Gone("the process that does it ended"))
        self._feed()

    def _unsent(self, task: Task, problem: Exception) -> None:
        _log.error("%s: a job can't be sent", self._name, exc_info=problem)
        self._ended(task, Gone(f"it can't be given to its process ({type(problem).__name__})"))

    def _take_back(self, task: Task) -> bool:
        """Remove a job from the line or the queue, under the lock. Returns whether it was sent."""
        if task in self._queue:
            self._queue.remove(task)
        return self._line is not None and self._line.sent.pop(task.number, None) is not None

    def forget(self, task: Task) -> None:
        """Ignore further replies of a job. The process continues."""
        with self._lock:
            self._take_back(task)
        self._ended(task, Cancelled("given up"))
        self._feed()

    def cancel(self, task: Task, error: Exception | None = None) -> None:
        """Cancel a job. If it runs, the process is ended, and restarted for the next job."""
        with self._lock:
            line = self._cut() if self._take_back(task) else None
        self._end(line)
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
            # the first reason to end it wins
            if error is not None:
                task.future.set_exception(error)
            else:
                task.future.set_result(value)

    def _cut(self) -> _Line | None:
        """Detach the line, under the lock."""
        line, self._line = self._line, None
        return line

    @staticmethod
    def _end(line: _Line | None) -> None:
        if line is not None and line.process.pid is not None:
            line.process.kill()
            line.process.join(timeout=5.0)

    def _lost(self, line: _Line) -> None:
        """The process ended by itself."""
        line.process.join(timeout=5.0)
        with self._lock:
            if self._line is line:
                self._line = None
                self.deaths += 1
                _log.error("%s: its process ended with %s", self._name, line.process.exitcode)

    def _read(self, line: _Line, writer: threading.Thread) -> None:
        while True:
            try:
                reply: Reply = line.wire.recv()
            except (EOFError, OSError):
                break
            except Exception:
                _log.exception("%s: a reply can't be read", self._name)
                continue
            with self._lock:
                task = line.sent.get(reply.number)
                if reply.last:
                    line.sent.pop(reply.number, None)
            if task is None:
                continue
            if reply.last:
                self._ended(task, reply.error, reply.value)
                self._feed()
            elif task.tell is not None:
                task.tell(reply.value)
        self._lost(line)
        line.outbox.put(None)
        writer.join()
        line.wire.close()
        with self._lock:
            left = list(line.sent.values())
            line.sent.clear()
        for task in left:
            self._ended(task, Gone(f"the process that does it ended ({line.process.exitcode})"))
        self._feed()

    def close(self) -> None:
        """End the process, and fail all waiting jobs."""
        with self._lock:
            self._closed = True
            line = self._cut()
            left = [*(line.sent.values() if line is not None else ()), *self._queue]
            self._queue.clear()
            if line is not None:
                line.sent.clear()
        self._end(line)
        for task in left:
            self._ended(task, Gone("Kessel is ending: start it again"))
