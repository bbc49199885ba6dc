"""A check of all patches of a set, one after the other."""

from __future__ import annotations

import threading
from dataclasses import dataclass

from ...checks import Finding, Limits
from ...library import Library
from ...worker import JobReply
from .render_worker import RenderWorker


@dataclass(frozen=True)
class SetCheckRow:
    """One patch of a set: its findings, or why there are none yet."""

    slug: str
    name: str
    findings: tuple[Finding, ...] | None
    problem: str | None = None


class SetCheck:
    """Checks the patches of one set in the background. Thread-safe."""

    def __init__(self, library: Library, render_worker: RenderWorker, set_id: int) -> None:
        self._library, self._workbench, self._set_id = library, render_worker, set_id
        self._news = threading.Condition()
        self._found: dict[str, tuple[str, SetCheckRow]] = {}
        self._left: list[str] = []
        self._job: int | None = None
        self.running = False

    @property
    def limits(self) -> Limits:
        """The present limits of the set."""
        card = next(c for c in self._library.sets() if c.id == self._set_id)
        return Limits.model_validate(card.limits)

    def rows(self) -> list[SetCheckRow]:
        """Every patch of the set. Findings of an older state or of other limits do not count."""
        against = self.limits.model_dump_json()
        found = []
        with self._news:
            for card in self._library.patches(self._set_id):
                stamp, row = self._found.get(card.slug, ("", SetCheckRow(card.slug, card.name, None)))
                fresh = stamp == f"{card.revision} {against}"
                found.append(row if fresh else SetCheckRow(card.slug, card.name, None))
        return found

    @property
    def progress(self) -> tuple[int, int]:
        """Patches that are done, of how many."""
        rows = self.rows()
        return sum(r.findings is not None or r.problem is not None for r in rows), len(rows)

    def start(self) -> None:
        """Check every patch that is not known yet."""
        todo = [r.slug for r in self.rows() if r.findings is None]
        with self._news:
            if self.running:
                return
            self._left, self.running = todo, bool(todo)
        self._next()

    def cancel(self) -> None:
        """Cancel. Known findings stay."""
        with self._news:
            self.running = False
            if self._job is not None:
                self._workbench.give_up(self._job)
            self._job = None
            self._news.notify_all()

    def _next(self) -> None:
        with self._news:
            if not self.running:
                return
            if not self._left:
                self.running = False
                self._news.notify_all()
                return
            slug = self._left.pop(0)
        limits = self.limits
        card = self._library.card(slug)
        stamp = f"{card.revision} {limits.model_dump_json()}"

        def hear(told: JobReply) -> None:
            with self._news:
                if not self.running:
                    return
                self._found[slug] = stamp, SetCheckRow(slug, card.name, told.found, told.problem)
                self._news.notify_all()
            self._next()

        job = self._workbench.ask_for(self._library.load(slug), limits, "findings", hear)
        with self._news:
            self._job = job

    def wait(self, done: int, seconds: float) -> None:
        """Wait until more than ``done`` patches are known, or nothing runs."""
        with self._news:
            self._news.wait_for(lambda: not self.running or self.progress[0] > done, seconds)
