"""A check of all patches of a set, two at a time."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from ...checks import Finding, Limits
from ...formats import dump_patch
from ...library import Library
from ...worker import JobReply
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
            unknown = [r.slug for r in self.rows() if r.findings is None]
            self._work.start([self._step(unknown[i : i + 2]) for i in range(0, len(unknown), 2)])

    def cancel(self) -> None:
        """Cancel. Known findings stay."""
        self._work.cancel()

    def _step(self, slugs: list[str]) -> Step:
        def step(done: Callable[[Store], None]) -> int | None:
            limits = self.limits
            cards = [c for c in self._library.patches(self._set_id) if c.slug in slugs]
            if not cards:
                # deleted meanwhile
                done(lambda: True)
                return None
            against = limits.model_dump_json()

            def take(told: JobReply) -> bool:
                found = told.found or [told.problem] * len(cards)
                for card, one in zip(cards, found, strict=True):
                    known, problem = (None, one) if isinstance(one, str) else (one, None)
                    row = SetCheckRow(card.slug, card.name, known, problem)
                    self._found[card.slug] = f"{card.revision} {against}", row
                return True

            first, *others = (self._library.load(c.slug) for c in cards)
            texts = [dump_patch(p) for p in others]
            return self._worker.ask_for(first, limits, "set", lambda told: done(lambda: take(told)), others=texts)

        return step

    def wait(self, done: int, seconds: float) -> None:
        """Wait until more than ``done`` patches are known, or nothing runs."""
        self._work.wait(lambda: self.progress[0] > done, seconds)
