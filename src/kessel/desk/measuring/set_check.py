"""A check of all patches of a set, one after the other."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from ...checks import Finding, Limits
from ...library import Library
from .render_worker import RenderWorker
from .stepped_work import Step, SteppedWork, Store


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
        self._library, self._worker, self._set_id = library, render_worker, set_id
        self._work = SteppedWork(render_worker)
        self._found: dict[str, tuple[str, SetCheckRow]] = {}

    @property
    def running(self) -> bool:
        """Whether patches are being checked."""
        return self._work.running

    @property
    def limits(self) -> Limits:
        """The present limits of the set."""
        card = next(c for c in self._library.sets() if c.id == self._set_id)
        return Limits.model_validate(card.limits)

    def rows(self) -> list[SetCheckRow]:
        """Every patch of the set. Findings of an older state or of other limits do not count."""
        against = self.limits.model_dump_json()
        found = []
        with self._work.news:
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
        if not self.running:
            self._work.start([self._step(r.slug) for r in self.rows() if r.findings is None])

    def cancel(self) -> None:
        """Cancel. Known findings stay."""
        self._work.cancel()

    def _step(self, slug: str) -> Step:
        def step(done: Callable[[Store], None]) -> int | None:
            limits = self.limits
            card = next((c for c in self._library.patches(self._set_id) if c.slug == slug), None)
            if card is None:
                # deleted meanwhile
                done(lambda: True)
                return None
            stamp = f"{card.revision} {limits.model_dump_json()}"
            return self._worker.ask_for(
                self._library.load(slug),
                limits,
                "findings",
                lambda told: done(lambda: self._take(stamp, SetCheckRow(slug, card.name, told.found, told.problem))),
            )

        return step

    def _take(self, stamp: str, row: SetCheckRow) -> bool:
        self._found[row.slug] = stamp, row
        return True

    def wait(self, done: int, seconds: float) -> None:
        """Wait until more than ``done`` patches are known, or nothing runs."""
        self._work.wait(lambda: self.progress[0] > done, seconds)
