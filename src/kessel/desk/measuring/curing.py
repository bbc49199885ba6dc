"""Cure all in the background, one fix at a time, so that other jobs come in between."""

from __future__ import annotations

from collections.abc import Callable

from ...checks import Applied, Limits
from ...formats import dump_patch
from ...patch import Edit, Patch, apply
from ...worker import JobReply
from .render_worker import RenderWorker
from .stepped_work import Step, SteppedWork, Store


class Curing:
    """Cure all of one open patch. Thread-safe.

    words: what it does, or what it did, as text; empty before it was asked for. told: called when that changes.
    """

    def __init__(self, render_worker: RenderWorker, told: Callable[[], None]) -> None:
        self._worker = render_worker
        self._work = SteppedWork(render_worker)
        self._told = told
        self._patch: Patch | None = None
        self._first = ""
        self._rows: list[Applied] = []
        self.words = ""

    @property
    def running(self) -> bool:
        """Whether it runs."""
        return self._work.running

    def start(self, patch: Patch, limits: Limits, most: int, done: Callable[[list[Edit], str], None]) -> None:
        """Start. ``done`` is called with the edits of all steps and their list as text, if there are any."""
        self._work.cancel()
        self._patch, self._first, self._rows = patch, dump_patch(patch), []
        self._say("Cure all: looking for the best fix")
        self._work.start([self._step(limits, most, done)])

    def cancel(self) -> None:
        """Cancel. The patch stays as it was."""
        if self._work.running:
            self._work.cancel()
            self._say("Cure all was cancelled: nothing is changed")

    def _say(self, words: str) -> None:
        self.words = words
        self._told()

    def _step(self, limits: Limits, most: int, done: Callable[[list[Edit], str], None]) -> Step:
        def step(heard: Callable[[Store], None]) -> int | None:
            assert self._patch is not None
            return self._worker.ask_for(
                self._patch,
                limits,
                "cure",
                lambda told: heard(lambda: self._take(told, limits, most, done)),
                first=self._first,
            )

        return step

    def _take(self, told: JobReply, limits: Limits, most: int, done: Callable[[list[Edit], str], None]) -> bool:
        row: Applied | None = told.found
        if told.problem is not None:
            self._say(f"Cure all stopped: {told.problem}")
            return False
        if row is not None:
            assert self._patch is not None
            self._rows.append(row)
            self._patch = apply(self._patch, row.edits)
            if row.lowers_all:
                self._first = dump_patch(self._patch)
            self._say(f"Cure all: {len(self._rows)} done, the last: {row.words}")
            if len(self._rows) < most:
                return self._work.then(self._step(limits, most, done))
        if not self._rows:
            self._say("Cure all found no fix that nothing else pays for: look at those that are offered one by one")
            return True
        edits = list({e.path: e for r in self._rows for e in r.edits}.values())
        said = "; ".join(r.words for r in self._rows)
        self._say(f"Cure all did this: {said}")
        done(edits, said)
        return True
