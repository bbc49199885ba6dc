"""Details behind the findings of one open patch, each computed once per version."""

from __future__ import annotations

import json
import threading
from collections.abc import Callable
from typing import Any

from ...checks import WORSE, Finding, Limits
from ...library import Library
from ...patch import Patch
from ...worker import JobReply
from .key_sweep import KeySweep
from .measuring import Measuring
from .render_worker import RenderWorker
from .stepped_work import Step, SteppedWork, Store


def worst_by_check(findings: tuple[Finding, ...]) -> dict[str, str]:
    """The worst verdict of every check."""
    found: dict[str, str] = {}
    for f in findings:
        if WORSE[f.verdict] >= WORSE.get(found.get(f.check, "holds"), 0):
            found[f.check] = f.verdict
    return found


class CheckDetails:
    """Stores answers of the render worker by version, and verdicts over the history. Thread-safe."""

    def __init__(self, render_worker: RenderWorker, library: Library, slug: str) -> None:
        self._worker, self._library, self._slug = render_worker, library, slug
        self._lock = threading.Lock()
        self._known: dict[str, tuple[int, str, Any]] = {}
        self._seeking = SteppedWork(render_worker)
        self._unsought: Callable[[], None] | None = None
        self.sweep = KeySweep(render_worker)

    def find(self, version: int, patch: Patch, limits: Limits, name: str, /, **words: Any) -> Any:
        """The answer to a query about this version, stored. Raises ValueProblem."""
        key = f"{name} {json.dumps(words, sort_keys=True)}"
        against = limits.model_dump_json()
        with self._lock:
            known = self._known.get(key)
        if known is not None and known[:2] == (version, against):
            return known[2]
        found = self._worker.find(patch, limits, name, **words)
        with self._lock:
            # details of older versions are useless now
            self._known = {k: v for k, v in self._known.items() if v[0] == version}
            self._known[key] = version, against, found
        return found

    def known(self, version: int, limits: Limits, name: str, /, **words: Any) -> Any:
        """The stored answer for this version. None if there is none."""
        with self._lock:
            found = self._known.get(f"{name} {json.dumps(words, sort_keys=True)}")
        return found[2] if found is not None and found[:2] == (version, limits.model_dump_json()) else None

    def give_up(self) -> None:
        """Stop looking for fixes of an older version."""
        with self._lock:
            self._unsought = None
        self._seeking.cancel()

    def judged(
        self, version: int, patch: Patch, limits: Limits, findings: tuple[Finding, ...], measuring: Measuring
    ) -> None:
        """Store the verdicts of a version. Fixes and harms are computed on request."""
        self._library.checks.put_verdicts(self._slug, worst_by_check(findings))
        self.give_up()
        if all(f.verdict == "holds" for f in findings):
            return

        def seek() -> None:
            self._seeking.start([self._fixes(version, patch, limits, findings, measuring)])

        with self._lock:
            # whoever waits from now on requests it
            watched = measuring.watched
            self._unsought = None if watched else seek
        if watched:
            seek()

    def _fixes(
        self, version: int, patch: Patch, limits: Limits, findings: tuple[Finding, ...], measuring: Measuring
    ) -> Step:
        """Look for fixes, and then for what each of them makes worse."""

        def fixes(done: Callable[[Store], None]) -> int | None:
            def hear(told: JobReply) -> None:
                found = told.found or findings
                fixed = any(f.fixes for f in found)
                measuring.improve(version, found, 1 if fixed else 2)
                done(lambda: self._seeking.then(harms(found)) if fixed else True)

            return self._worker.ask_for(patch, limits, "fixes", hear)

        def harms(found: tuple[Finding, ...]) -> Step:
            def step(done: Callable[[Store], None]) -> int | None:
                def hear(told: JobReply) -> None:
                    measuring.improve(version, told.found or found, 2)
                    done(lambda: True)

                return self._worker.ask_for(patch, limits, "harms", hear)

            return step

        return fixes

    def look(self) -> None:
        """Look for fixes, because somebody waits for them."""
        with self._lock:
            seek, self._unsought = self._unsought, None
        if seek is not None:
            seek()
