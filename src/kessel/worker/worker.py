"""The process that renders and measures: the order of its jobs, and the work of each.

The job of the highest rank comes first, and the newest of a rank. A long job gives way to a newer one of its rank, and
any job at once to a higher rank. It is resumed after it; what it has rendered is cached.
"""

from __future__ import annotations

import contextlib
import logging
import mmap
import os
import threading
import time
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, replace
from functools import singledispatch
from multiprocessing.connection import Connection
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..checks import (
    ChainLevels,
    Evidence,
    any_matched,
    chain_levels,
    check,
    levels_from,
    match_of,
    matches_wanted,
    stage_report,
)
from ..dsp.store import KEPT
from ..engine import CancelToken, RenderCache, RenderCancelled, add_audio_resolver, render_loop, span_of
from ..formats import find_audio
from ..measure import moment, spectrogram
from ..patch import Edit, Patch, ValueProblem, apply
from ..processes import Failed, Reply, give_back, keep_loaded, lean_memory
from .jobs import Job, JobReply, Levels, Match, Measure, Query, Rank, Render, Stage
from .picture import axis, picture_of
from .queries import LastMeasurement, Work, answer

_log = logging.getLogger(__name__)
_NICE = 3
_QUIET = 0.5
"""Seconds without a message before background queries start, so that an edit on its way does not waste them."""
_MATCHING = 4
"""Most rounds of level matching: a later item depends on the gains of the earlier ones."""
GIVEN_UP = 256
"""Number of the newest jobs that can be cancelled."""
STEPS_ASIDE, LONGEST_STEP = 1.5, 6.0
"""Seconds after which a job makes way for a newer one; doubled each time, so that it ends."""
BETWEEN_TRIMS = 1_000_000
"""Samples rendered within a job before memory is returned to the system."""

_own = threading.local()


@dataclass
class Shared:
    """Shared memory: ids of cancelled jobs, the progress of each job (0..1), and the number of playing streams."""

    given_up: Any
    progress: Any
    playing: Any


@dataclass(eq=False)
class _QueuedJob:
    """A waiting job: its place among its rank (the highest is next), and how often it gave way."""

    number: int
    job: Job
    order: float = 0.0
    aside: int = 0

    @property
    def rank(self) -> Rank:
        """Who waits for it."""
        return self.job.rank


def _step_aside(playing: Any) -> bool:
    """While something plays, run this thread only when the processor is idle, where the system supports it.

    Returns False if nothing plays any more and this thread cannot leave that state. Without privileges the system does
    not allow it, and a new thread has to continue.
    """
    if not hasattr(os, "SCHED_IDLE"):
        return True
    wanted = os.SCHED_IDLE if playing.value > 0 else os.SCHED_OTHER
    if not hasattr(_own, "policy"):
        _own.policy = os.sched_getscheduler(0)
    if _own.policy != wanted:
        try:
            os.sched_setscheduler(0, wanted, os.sched_param(0))
        except OSError:
            return wanted == os.SCHED_IDLE
        _own.policy = wanted
    return True


class _Inbox:
    """Received jobs that wait. ``came``: how many were received."""

    def __init__(self, wire: Connection) -> None:
        self._wire = wire
        self._lock = threading.Lock()
        self._waiting: list[_QueuedJob] = []
        self.came = 0

    def take_in(self, seconds: float = 0.0) -> bool:
        """Receive waiting jobs, or wait for one. Returns whether any came. Raises EOFError, OSError."""
        if seconds and not self._wire.poll(seconds):
            return False
        with self._lock:
            before = self.came
            while self._wire.poll(0.0):
                number, job = self._wire.recv()
                self.came += 1
                self._waiting.append(_QueuedJob(number, job, float(self.came)))
            return self.came > before

    def came_since(self, came: int, rank: int) -> bool:
        """Whether a job of this rank or a higher one came since then."""
        with self._lock:
            return any(a.order > came and a.rank >= rank for a in self._waiting)

    def put_back(self, asked: _QueuedJob, came: int) -> None:
        """Queue a job that gave way, behind what came since then."""
        with self._lock:
            asked.order = came + 0.5
            self._waiting.append(asked)

    def next(self) -> _QueuedJob:
        """The job to do now. Raises EOFError, OSError."""
        self.take_in()
        while not self._waiting:
            self.take_in(3600.0)
        while self._first().job.unasked and self.take_in(_QUIET):
            pass
        with self._lock:
            chosen = self._first()
            self._waiting.remove(chosen)
        return chosen

    def _first(self) -> _QueuedJob:
        return max(self._waiting, key=lambda a: (a.rank, a.order))


class _WorkerStop(CancelToken):
    """Asked whether the job was cancelled, or has to give way (``put_off``)."""

    def __init__(self, shared: Shared, inbox: _Inbox, asked: _QueuedJob) -> None:
        self._shared, self._inbox, self._asked = shared, inbox, asked
        self._until = time.monotonic() + min(STEPS_ASIDE * 2**asked.aside, LONGEST_STEP)
        self._counted = threading.Lock()
        self._done = self._trimmed = 0
        self._process = os.getpid()
        # counted by a copy of this process, in memory that both share
        self._beside = memoryview(mmap.mmap(-1, 8)).cast("q")
        self.planned = 1
        self.put_off = False
        self.came = inbox.came

    @property
    def given_up(self) -> bool:
        """Whether the job was cancelled."""
        number = self._asked.number
        return bool(self._shared.given_up[number % GIVEN_UP] == number)

    @property
    def asked(self) -> bool:  # type: ignore[override]
        if os.getpid() != self._process:
            # a copy, which this process ends when it gives way
            return False
        if not _step_aside(self._shared.playing):
            self.put_off = True
        if self.given_up:
            return True
        lowest = self._interrupted_by()
        if not self.put_off and lowest <= Rank.NOW:
            self._inbox.take_in()
            self.put_off = self._inbox.came_since(self.came, lowest)
        return self.put_off

    def _interrupted_by(self) -> int:
        """The lowest rank that this job gives way to now."""
        if self._asked.rank == Rank.LATER:
            return Rank.LATER
        return Rank.NOW if time.monotonic() > self._until else Rank.NOW + 1

    def tick(self, samples: int) -> None:
        """So many more samples were rendered."""
        if os.getpid() != self._process:
            self._beside[0] += samples
            return
        with self._counted:
            self._done += samples
            self._shared.progress[self._asked.number % GIVEN_UP] = min(
                (self._done + self._beside[0]) / self.planned, 0.99
            )
            trim = self._done >= self._trimmed + BETWEEN_TRIMS
            if trim:
                self._trimmed = self._done
        if trim:
            give_back()


def serve(wire: Connection, given_up: Any, progress: Any, playing: Any, folder: str) -> None:
    """The process: one job after the other until the wire closes."""
    with contextlib.suppress(OSError, AttributeError):
        os.nice(_NICE)
    lean_memory()
    keep_loaded()
    add_audio_resolver(lambda word: find_audio(Path(folder), word))
    shared, inbox = Shared(given_up, progress, playing), _Inbox(wire)
    bench = Bench(RenderCache(KEPT, shares=True), LastMeasurement())
    while True:
        try:
            asked = inbox.next()
        except (EOFError, OSError, KeyboardInterrupt):
            return
        stop = _WorkerStop(shared, inbox, asked)
        if stop.given_up:
            continue
        shared.progress[asked.number % GIVEN_UP] = 0.0

        def tell(told: JobReply, number: int = asked.number) -> None:
            wire.send(Reply(number, told, last=told.last))

        try:
            patch = asked.job.patch
            stop.planned = planned_samples(patch)
            # a thread that never made way
            with ThreadPoolExecutor(1, thread_name_prefix="job") as fresh:
                fresh.submit(work, asked.job, patch, bench, stop, tell).result()
        except RenderCancelled:
            if stop.put_off and not stop.given_up:
                asked.aside += 1
                inbox.put_back(asked, stop.came)
        except (BrokenPipeError, EOFError, KeyboardInterrupt):
            return
        except ValueProblem as problem:
            tell(JobReply(problem=str(problem)))
        except Exception as problem:
            _log.exception("a job failed: %s", type(asked.job).__name__)
            wire.send(Reply(asked.number, error=Failed(f"{type(problem).__name__}: {problem}"[:200])))
        give_back(sweep=True)


def planned_samples(patch: Patch) -> int:
    """Samples that a full render goes through: every layer twice, the buses, the returns, the output."""
    return int(span_of(patch).total * (2 * len(patch.layers) + 3 + len(patch.returns)))


@dataclass
class Bench:
    """What the process keeps between jobs."""

    takes: RenderCache
    kept: LastMeasurement


Tell = Callable[[JobReply], None]


@singledispatch
def work(job: Job, patch: Patch, bench: Bench, stop: CancelToken, tell: Tell) -> None:
    """Do one job and send its replies. Raises RenderCancelled or ValueProblem."""
    raise TypeError(f"no work for {type(job).__name__}")


@work.register
def _(job: Measure, patch: Patch, bench: Bench, stop: CancelToken, tell: Tell) -> None:
    kept = bench.kept
    if kept.evidence is not None and kept.evidence.patch != patch:
        # there is no room for the evidence of two patches at once
        kept.evidence = kept.findings = None
    evidence = Evidence(patch, bench.takes, stop, seeks=False)
    with bench.takes.store.holding():
        picture = picture_of(job.version, evidence)
    tell(JobReply(picture=picture, last=False))
    findings = check(evidence, job.limits, stop=stop)
    kept.evidence, kept.limits, kept.findings = evidence, job.limits, None
    matching = any_matched(evidence.patch)
    # report findings at once; look for cures when nothing else waits
    curable = any(f.verdict != "holds" for f in findings)
    tell(JobReply(findings=tuple(findings), partial=curable, last=not matching))
    if matching:
        tell(JobReply(levels=_leveled(evidence, bench.takes, stop)))


@work.register
def _(job: Render, patch: Patch, bench: Bench, stop: CancelToken, tell: Tell) -> None:
    tell(JobReply(audio=_audio(patch, job.what, bench.takes, stop)))


@work.register
def _(job: Stage, patch: Patch, bench: Bench, stop: CancelToken, tell: Tell) -> None:
    tell(JobReply(stage=stage_report(patch, job.place, job.path, axis(), bench.takes, stop)))


@work.register
def _(job: Levels, patch: Patch, bench: Bench, stop: CancelToken, tell: Tell) -> None:
    tell(JobReply(levels=chain_levels(patch, bench.takes, stop)))


@work.register
def _(job: Match, patch: Patch, bench: Bench, stop: CancelToken, tell: Tell) -> None:
    tell(JobReply(number=match_of(patch, job.path, bench.takes, stop)))


@work.register
def _(job: Query, patch: Patch, bench: Bench, stop: CancelToken, tell: Tell) -> None:
    tell(JobReply(found=answer(job.name, job.words, Work(patch, job.limits, bench.takes, stop, bench.kept))))


def _leveled(e: Evidence, takes: RenderCache, stop: CancelToken) -> ChainLevels:
    """Levels of all chains, with the gains that their level matches need."""
    patch = e.patch
    levels = first = levels_from(patch, e.taps, stop)
    wanted: dict[str, float] = {}
    for _ in range(_MATCHING):
        more = matches_wanted(patch, levels)
        if not more:
            break
        wanted |= dict(more)
        patch = apply(patch, [Edit(path, gain) for path, gain in more])
        levels = chain_levels(patch, takes, stop)
    return replace(first, wanted=tuple(wanted.items()))


def _audio(patch: Patch, what: str, takes: RenderCache, stop: CancelToken) -> NDArray[np.float32]:
    ask, _, rest = what.rpartition(" ")
    loop = render_loop(patch, takes, stop)
    found = {"sum": loop.sum, "worked": loop.worked}.get(rest)
    x = loop.layers[rest.removeprefix("layer:")] if found is None else found
    if ask == "spectrogram":
        x = spectrogram(x)
    elif ask.startswith("moment "):
        x = moment(x, float(ask.removeprefix("moment ")), axis())
    return x.astype(np.float32)
