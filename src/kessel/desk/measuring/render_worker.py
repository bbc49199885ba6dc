"""The server's side of the worker process."""

from __future__ import annotations

import threading
from collections.abc import Callable
from concurrent.futures import Future
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ...checks import ChainLevels, Limits, StageReport
from ...formats import dump_patch
from ...patch import Patch, ValueProblem
from ...processes import Cancelled, Failed, Gone, Supervisor, Task, context
from ...worker import GIVEN_UP, Job, JobReply, Levels, Match, Measure, Query, Render, Stage, serve

DIED = "measuring failed and was restarted: press Measure, or change something"
_ENDING = "Kessel is shutting down: start it again to go on measuring"


class RenderWorker:
    """Sends jobs to the process, which is started on demand and after it died. Thread-safe."""

    def __init__(self, folder: Path) -> None:
        """``folder``: where the library stores its audio."""
        way: Any = context()
        self._given_up = way.Array("q", [-1] * GIVEN_UP, lock=False)
        self._progress = way.Array("d", [0.0] * GIVEN_UP, lock=False)
        self._playing = way.Value("q", 0)
        shared = (self._given_up, self._progress, self._playing, str(folder))
        self._worker = Supervisor("measure", serve, shared)
        self._lock = threading.Lock()
        self._tasks: dict[int, Task] = {}
        self._closed = False

    @property
    def pid(self) -> int | None:
        """Id of the process, if it runs."""
        return self._worker.pid

    def start(self) -> None:
        """Start the process before the first job."""
        self._worker.start()

    def ask(self, job: Job, tell: Callable[[JobReply], None]) -> int:
        """Ask for a job. ``tell`` is called on another thread. Returns the id of the job."""

        def ended(future: Future[Any]) -> None:
            with self._lock:
                self._tasks.pop(task.number, None)
            error = future.exception()
            if error is None:
                tell(future.result())
            elif not isinstance(error, Cancelled):
                tell(JobReply(problem=self._words(error)))

        task = self._worker.ask(job, tell)
        with self._lock:
            self._tasks[task.number] = task
        task.future.add_done_callback(ended)
        return task.number

    def _words(self, error: BaseException) -> str:
        if isinstance(error, Gone):
            return _ENDING if self._closed else DIED
        if isinstance(error, Failed):
            return f"measuring failed ({error}): the log has the details; undo, or change something"
        return str(error)

    def measure(
        self, version: int, patch: Patch, limits: Limits, watched: bool, tell: Callable[[JobReply], None]
    ) -> int:
        """Render and measure a patch; ahead of others if it is watched. Returns the id of the job."""
        return self.ask(Measure(dump_patch(patch), version, limits, watched), tell)

    def stage(self, patch: Patch, place: str, path: str) -> StageReport:
        """A report on an item of a chain. Raises ValueProblem."""
        found = self._wait(Stage(dump_patch(patch), place, path), 60.0).stage
        assert found is not None
        return found

    def levels(self, patch: Patch) -> ChainLevels:
        """Levels at every place of all chains. Raises ValueProblem."""
        return self._wait(Levels(dump_patch(patch)), 30.0).levels or ChainLevels()

    def match(self, patch: Patch, path: str) -> float:
        """The gain that makes the loop as loud behind an item as before it. Raises ValueProblem."""
        return self._wait(Match(dump_patch(patch), path), 8.0).number or 0.0

    def audio(self, patch: Patch, what: str) -> NDArray[np.float32]:
        """The result of a ``Render`` job. Raises ValueProblem."""
        found = self._wait(Render(dump_patch(patch), what), 60.0).audio
        assert found is not None
        return found

    def ask_for(
        self, patch: Patch, limits: Limits, name: str, tell: Callable[[JobReply], None], /, **words: Any
    ) -> int:
        """Ask a query. ``tell`` is called on another thread. Returns the id of the job."""
        return self.ask(Query(dump_patch(patch), limits, name, words), tell)

    def find(self, patch: Patch, limits: Limits, name: str, /, patience: float = 60.0, **words: Any) -> Any:
        """The answer to a query. Raises ValueProblem."""
        return self._wait(Query(dump_patch(patch), limits, name, words), patience).found

    def _wait(self, job: Job, seconds: float) -> JobReply:
        done = threading.Event()
        found: list[JobReply] = []

        def tell(told: JobReply) -> None:
            found.append(told)
            done.set()

        number = self.ask(job, tell)
        if not done.wait(seconds):
            self.give_up(number)
            raise ValueProblem("rendering takes too long: try again when the machine has less to do")
        if found[0].problem:
            raise ValueProblem(found[0].problem)
        return found[0]

    def stream_started(self, streams: int) -> None:
        """Count one more stream (1) or one less (-1). While any plays, measuring gives way."""
        with self._playing.get_lock():
            self._playing.value += streams

    def progress(self, job: int) -> float:
        """Progress of the rendering of a job, 0..1."""
        return float(self._progress[job % GIVEN_UP])

    def give_up(self, job: int) -> None:
        """Cancel a job. It sends nothing more."""
        with self._lock:
            task = self._tasks.pop(job, None)
        self._given_up[job % GIVEN_UP] = job
        if task is not None:
            self._worker.forget(task)

    def close(self) -> None:
        """End the process. Waiting callers fail."""
        self._closed = True
        self._worker.close()
