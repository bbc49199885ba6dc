"""Measuring in the background: the newest version comes first, and older results never replace newer ones."""

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
    """A bound method that is called while its object exists; a plain function unchanged."""
    if not isinstance(told, MethodType):
        return told
    held = WeakMethod(told)

    def call(*given: Any) -> None:
        method = held()
        if method is not None:
            method(*given)

    return cast(_F, call)


STOPPED = "measuring was stopped: press Measure, or change something"


@dataclass(frozen=True)
class Measured:
    """Findings of one version of a patch, with their picture.

    stage: 0 while fixes are sought, 1 while their harms are sought, 2 when all is known.
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
        """``leveled`` is called with the levels of every measured version, ``judged`` with its findings, ``curious``
        when somebody waits for fixes, ``changed`` when anything is new here.
        """
        self._worker = render_worker
        # the listener owns this object: a weak reference avoids a cycle
        self._leveled, self._judged = weakly(leveled), weakly(judged)
        self._curious, self._changed = weakly(curious), weakly(changed)
        self._news = threading.Condition()
        self._wanted = -1
        self._watching = 0
        self._job: int | None = None
        self._ask: Callable[[bool], int] = lambda watched: 0
        self._in_background = False
        self.picture: Picture | None = None
        self.measured: Measured | None = None
        self.problem: str | None = None
        self._rendering = False

    def want(self, version: int, patch: Patch, limits: Limits, again: bool = False) -> None:
        """Measure this version, again if that failed. An older version is cancelled."""
        with self._news:
            if version <= self._wanted and self.problem is None and not again:
                return
            if again and self.measured is not None:
                self.measured = replace(self.measured, version=-1)
            if self._job is not None:
                self._worker.give_up(self._job)
            self._wanted = version
            self.problem = None
            self._rendering = True
            self._ask = lambda watched: self._worker.measure(
                version, patch, limits, watched, lambda told: self._hear(version, told)
            )
            self._in_background = not self._watching
            self._job = self._ask(not self._in_background)

    def _hurry(self) -> None:
        """Ask for the present measurement again at the rank of an open patch. What it has rendered is cached."""
        if self._rendering and self._in_background and self._job is not None:
            self._worker.give_up(self._job)
            self._in_background = False
            self._job = self._ask(True)

    def _hear(self, version: int, told: JobReply) -> None:
        if told.findings is not None and self._is_wanted(version):
            # store the verdicts before anybody sees the findings
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
        """Stop measuring this version on the user's request."""
        with self._news:
            if not self._rendering:
                return
            if self._job is not None:
                self._worker.give_up(self._job)
            self._rendering = False
            self.problem = STOPPED
            self._news.notify_all()
        self._changed()

    @property
    def share(self) -> float | None:
        """Progress of the rendering of the wanted version, 0..1. None if none runs."""
        with self._news:
            return self._worker.progress(self._job) if self._rendering and self._job is not None else None

    @contextmanager
    def looked_at(self) -> Iterator[None]:
        """During the block, somebody looks at the findings and wants their fixes."""
        with self._news:
            self._watching += 1
            self._hurry()
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
        """The picture of this version or a newer one, or the newest after the time is up."""
        with self._news:
            self._hurry()
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

        if stage > 0:
            with self._news:
                self._watching += 1
                self._hurry()
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
        """Replace the present findings by the same ones with more detail."""
        with self._news:
            if self.measured is not None and self.measured.version == version:
                self.measured = replace(self.measured, findings=findings, stage=stage)
                self._news.notify_all()
        self._changed()
