"""Measuring in the background: the newest patch wins, a stale result never overtakes it."""

from __future__ import annotations

import threading
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, replace
from types import MethodType
from typing import Any, TypeVar, cast
from weakref import WeakMethod

from ...checks import ChainLevels, Finding, Limits
from ...patch import Patch
from ...worker import JobReply, Picture
from .render_worker import RenderWorker

_F = TypeVar("_F", bound=Callable[..., None])


def weakly(told: _F) -> _F:
    """A method that is called for as long as its object is there; a plain function as it is."""
    if not isinstance(told, MethodType):
        return told
    held = WeakMethod(told)

    def call(*given: Any) -> None:
        method = held()
        if method is not None:
            method(*given)

    return cast(_F, call)


STOPPED = "measuring was stopped: change something, or press Measure"


@dataclass(frozen=True)
class Measured:
    """Findings of one version of a patch, with the picture they belong to.

    stage: 0 while fixes are looked for, 1 while it is not known what they would make worse, 2 when all is said.
    """

    version: int
    picture: Picture
    findings: tuple[Finding, ...]
    stage: int = 2


class Measuring:
    """Measures one patch whenever it changes."""

    def __init__(
        self,
        render_worker: RenderWorker,
        leveled: Callable[[int, ChainLevels], None] = lambda version, x: None,
        judged: Callable[[int, tuple[Finding, ...]], None] = lambda version, x: None,
        curious: Callable[[], None] = lambda: None,
        changed: Callable[[], None] = lambda: None,
    ) -> None:
        """``leveled`` is told the levels of every version that is measured, ``judged`` its findings before anybody
        else, ``curious`` that somebody waits to know how they can be cured, ``changed`` that something is new here."""
        self._workbench = render_worker
        # who is told owns this one: held weakly, so that neither keeps the other
        self._leveled, self._judged = weakly(leveled), weakly(judged)
        self._curious, self._changed = weakly(curious), weakly(changed)
        self._news = threading.Condition()
        self._wanted = -1
        self._watching = 0
        self._job: int | None = None
        self.picture: Picture | None = None
        self.measured: Measured | None = None
        self.problem: str | None = None
        self._rendering = False

    def want(self, version: int, patch: Patch, limits: Limits, again: bool = False) -> None:
        """Measure this version, again when that failed; one that is under way for an older version is given up."""
        with self._news:
            if version <= self._wanted and self.problem is None and not again:
                return
            if again and self.measured is not None:
                self.measured = replace(self.measured, version=-1)
            if self._job is not None:
                self._workbench.give_up(self._job)
            self._wanted = version
            self.problem = None
            self._rendering = True
            self._job = self._workbench.measure(version, patch, limits, lambda told: self._hear(version, told))

    def _hear(self, version: int, told: JobReply) -> None:
        if told.findings is not None and self._is_wanted(version):
            # who sees the findings finds their verdicts kept
            self._judged(version, told.findings)
        with self._news:
            if version != self._wanted:
                return
            if told.picture is not None:
                self.picture = told.picture
            elif told.findings is not None and self.picture is not None:
                self.measured = Measured(version, self.picture, told.findings, 0 if told.partial else 2)
            self.problem = told.problem
            if told.last or told.findings is not None:
                self._rendering = False
            self._news.notify_all()
        self._changed()
        if told.levels is not None:
            self._leveled(version, told.levels)

    def stop(self) -> None:
        """Measure this version no further, because somebody said so."""
        with self._news:
            if not self._rendering:
                return
            if self._job is not None:
                self._workbench.give_up(self._job)
            self._rendering = False
            self.problem = STOPPED
            self._news.notify_all()
        self._changed()

    @property
    def share(self) -> float | None:
        """How far the rendering of the version that is wanted is, 0..1; None when none is under way."""
        with self._news:
            return self._workbench.progress(self._job) if self._rendering and self._job is not None else None

    @contextmanager
    def looked_at(self) -> Iterator[None]:
        """While the block lasts, somebody looks at the findings and wants to know how they can be cured."""
        with self._news:
            self._watching += 1
        self._curious()
        try:
            yield
        finally:
            with self._news:
                self._watching -= 1

    def _is_wanted(self, version: int) -> bool:
        with self._news:
            return version == self._wanted

    def wait_picture(self, version: int, seconds: float) -> Picture | None:
        """The picture of this version or a newer one, or the newest there is when the time is up."""
        with self._news:
            self._news.wait_for(
                lambda: self.problem or (self.picture is not None and self.picture.version >= version), seconds
            )
            return self.picture

    def wait_findings(self, version: int, seconds: float, stage: int = 1) -> Measured | None:
        """Findings of this version or a newer one, or the newest there are when the time is up.

        stage: how much of them is waited for.
        """

        def come() -> bool:
            m = self.measured
            return bool(self.problem) or (m is not None and m.version >= version and m.stage >= stage)

        with self._news:
            self._watching += stage > 0
        if stage > 0:
            self._curious()
        with self._news:
            self._news.wait_for(come, seconds)
            self._watching -= stage > 0
            return self.measured

    @property
    def watched(self) -> bool:
        """Whether somebody waits to know how this version, or an older one, can be cured."""
        with self._news:
            return self._watching > 0

    def improve(self, version: int, findings: tuple[Finding, ...], stage: int) -> None:
        """Put the present findings with all that is known of them in their place."""
        with self._news:
            if self.measured is not None and self.measured.version == version:
                self.measured = replace(self.measured, findings=findings, stage=stage)
                self._news.notify_all()
        self._changed()
