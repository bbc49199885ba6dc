"""Long work in steps, so that other jobs of the render worker come in between."""

from __future__ import annotations

import threading
from collections.abc import Callable, Sequence

from .render_worker import RenderWorker

Store = Callable[[], bool]
"""Stores the result of a step. Returns whether the work goes on."""

Step = Callable[[Callable[[Store], None]], int | None]
"""Starts a step, and returns the number of its job. The argument is called once with the result, from any thread."""


class SteppedWork:
    """Steps that are worked off one after the other. Thread-safe.

    news: the lock of everything that steps store. It is notified after every step and at the end.
    """

    def __init__(self, worker: RenderWorker) -> None:
        self._worker = worker
        self.news = threading.Condition()
        self._run: object | None = None
        self._steps: list[Step] = []
        self._job: int | None = None
        self._started = 0

    @property
    def running(self) -> bool:
        """Whether there are steps to do."""
        with self.news:
            return self._run is not None

    @property
    def left(self) -> int:
        """Number of steps that are not done."""
        with self.news:
            return len(self._steps)

    def start(self, steps: Sequence[Step]) -> None:
        """Start. Earlier work is cancelled."""
        with self.news:
            self._stop()
            self._steps = list(steps)
            run = self._run = object() if steps else None
        self._next(run)

    def then(self, step: Step) -> bool:
        """Add a step at the end of the present work. True, as a result of the step that asks for it."""
        with self.news:
            self._steps.append(step)
        return True

    def cancel(self) -> None:
        """Cancel. What is stored stays."""
        with self.news:
            self._stop()
            self.news.notify_all()

    def wait(self, until: Callable[[], bool], seconds: float) -> None:
        """Wait until something is so, or nothing runs."""
        with self.news:
            self.news.wait_for(lambda: self._run is None or until(), seconds)

    def _stop(self) -> None:
        if self._job is not None:
            self._worker.give_up(self._job)
        self._run = self._job = None

    def _next(self, run: object | None) -> None:
        with self.news:
            if run is None or self._run is not run:
                return
            if not self._steps:
                self._run = self._job = None
                self.news.notify_all()
                return
            step = self._steps[0]
            self._started += 1
            number = self._started

        def done(store: Store) -> None:
            with self.news:
                if self._run is not run:
                    return
                if store():
                    self._steps.pop(0)
                else:
                    self._run = self._job = None
                self.news.notify_all()
            self._next(run)

        job = step(done)
        with self.news:
            # the answer may have come already, and the next step may be under way
            if self._run is run and self._started == number:
                self._job = job
