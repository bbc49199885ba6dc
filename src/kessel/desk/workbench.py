"""The process beside the server that renders and measures, so that what plays live has the interpreter to itself."""

from __future__ import annotations

import contextlib
import itertools
import json
import multiprocessing
import os
import threading
from collections.abc import Callable
from dataclasses import dataclass, replace
from multiprocessing.connection import Connection
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..checks import (
    ChainLevels,
    Evidence,
    Finding,
    Limits,
    StageReport,
    any_matched,
    chain_levels,
    check,
    levels_from,
    match_of,
    matches_wanted,
    stage_report,
)
from ..engine import Stop, Stopped, Takes, keeper, render_loop
from ..formats import dump_patch, load_patch
from ..library import find_audio
from ..measure import moment, spectrogram
from ..patch import Edit, Patch, ValueProblem, apply
from .asks import PATIENT, UNASKED, Kept, Work, answer
from .picture import Picture, axis, picture_of

_NICE = 3
_QUIET = 0.5
"""Seconds without a message before what begins by itself begins, so that an edit on the way does not waste it."""
_MATCHING = 4
"""Rounds in which level matches find their gains; what stands later in a chain waits for what stands before."""
_ENDING = "Kessel is ending: start it again to go on measuring"
GIVEN_UP = 256
"""How many of the newest jobs can be told to stop."""


@dataclass(frozen=True)
class Told:
    """One message of a job: its picture, its findings, levels of its chains, audio (2, n), a report on a stage, an
    answer, or a problem in words. ``partial``: fixes are still looked for; ``last``: nothing follows."""

    picture: Picture | None = None
    findings: tuple[Finding, ...] | None = None
    levels: ChainLevels | None = None
    stage: StageReport | None = None
    number: float | None = None
    audio: NDArray[np.float32] | None = None
    found: Any = None
    problem: str | None = None
    partial: bool = False
    last: bool = True


_own = threading.local()


def _step_aside(playing: Any) -> None:
    """While something plays, let this thread run only when nothing else wants to, where the system has such a way."""
    if not hasattr(os, "SCHED_IDLE"):
        return
    wanted = os.SCHED_IDLE if playing.value > 0 else os.SCHED_OTHER
    if getattr(_own, "policy", None) != wanted:
        _own.policy = wanted
        with contextlib.suppress(OSError):
            os.sched_setscheduler(0, wanted, os.sched_param(0))


class _SharedStop(Stop):
    """Asked when the number of the job stands among those given up, in shared memory.

    ``patient``: also when another job waits; then ``put_off`` says that this one is only put off.
    """

    def __init__(self, shared: Any, playing: Any, job: int, patient: Callable[[], bool] | None) -> None:
        self._shared, self._playing, self._job = shared, playing, job
        self._patient = patient
        self.put_off = False

    @property
    def asked(self) -> bool:  # type: ignore[override]
        _step_aside(self._playing)
        if self._shared[self._job % GIVEN_UP] == self._job:
            self.put_off = False
            return True
        if self._patient is not None and self._patient():
            self.put_off = True
        return self.put_off


_Message = tuple[int, int, str, str, str]


def _is_one_of(message: _Message, names: tuple[str, ...]) -> bool:
    """Whether a job is one of these asks."""
    return message[4].startswith(tuple(f"ask {name} " for name in names))


def _patient(message: _Message) -> bool:
    """Whether a job is put off when another comes."""
    return _is_one_of(message, PATIENT)


def _hear(wire: Connection, waiting: list[_Message]) -> None:
    """Take what has come, waiting for something to do. Raises EOFError, OSError."""
    while True:
        idle = all(_is_one_of(message, UNASKED) for message in waiting)
        if waiting and not wire.poll(_QUIET if idle else 0.0):
            return
        waiting.append(wire.recv())


def _work(wire: Connection, stop: Any, playing: Any, folder: str) -> None:
    """The other process: one job after the other until the wire closes."""
    with contextlib.suppress(OSError, AttributeError):
        os.nice(_NICE)
    takes = Takes()
    keeper(lambda word: find_audio(Path(folder), word))
    waiting: list[_Message] = []
    kept = Kept()
    while True:
        try:
            _hear(wire, waiting)
        except (EOFError, OSError, KeyboardInterrupt):
            return
        # what was asked last is looked at first; what nobody waits for comes after everything else
        at = max(range(len(waiting)), key=lambda i: (not _patient(waiting[i]), i))
        message = waiting.pop(at)
        job, version, patch_text, limits_text, what = message
        asked = _SharedStop(stop, playing, job, wire.poll if _patient(message) else None)
        if asked.asked and not asked.put_off:
            continue
        asked.put_off = False
        try:
            if what.startswith("stage "):
                _, place, path = what.split(" ")
                found = stage_report(load_patch(patch_text), place, path, axis(), takes, asked)
                wire.send((job, Told(stage=found)))
                continue
            if what.startswith("ask "):
                work = Work(load_patch(patch_text), Limits.model_validate_json(limits_text), takes, asked, kept)
                wire.send((job, Told(found=answer(what.removeprefix("ask "), work))))
                continue
            if what == "levels":
                wire.send((job, Told(levels=chain_levels(load_patch(patch_text), takes, asked))))
                continue
            if what.startswith("match "):
                gain = match_of(load_patch(patch_text), what.removeprefix("match "), takes, asked)
                wire.send((job, Told(number=gain)))
                continue
            if what:
                wire.send((job, Told(audio=_audio(load_patch(patch_text), what, takes, asked))))
                continue
            limits = Limits.model_validate_json(limits_text)
            evidence = Evidence(load_patch(patch_text), takes, asked, seeks=False)
            wire.send((job, Told(picture=picture_of(version, evidence), last=False)))
            findings = check(evidence, limits, stop=asked)
            kept.evidence, kept.limits, kept.findings = evidence, limits, None
            matching = any_matched(evidence.patch)
            # what is wrong is said at once; how it can be cured is asked for when nothing else waits
            partial = any(f.verdict != "holds" for f in findings)
            wire.send((job, Told(findings=tuple(findings), partial=partial, last=not matching)))
            if matching:
                wire.send((job, Told(levels=_leveled(evidence, takes, asked))))
        except Stopped:
            if asked.put_off:
                # as the newest of those that wait: it goes on before what was put off earlier
                waiting.append(message)
            continue
        except (BrokenPipeError, KeyboardInterrupt):
            return
        except ValueProblem as problem:
            wire.send((job, Told(problem=str(problem))))
        except Exception as problem:
            wire.send((job, Told(problem=f"measuring failed: {type(problem).__name__}: {problem}"[:200])))


def _leveled(e: Evidence, takes: Takes, stop: Stop) -> ChainLevels:
    """Levels of all chains, with the gains that its level matches want once all of them are in place."""
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


def _audio(patch: Patch, what: str, takes: Takes, stop: Stop) -> NDArray[np.float32]:
    """One pass of the sum, the worked path or a layer (``layer:ID``), (2, n).

    ``spectrogram WHAT``: its levels in dB, (rows, columns). ``moment SHARE WHAT``: its levels in dB along the axis at
    a place of the loop, 0..1.
    """
    ask, _, rest = what.rpartition(" ")
    loop = render_loop(patch, takes, stop)
    found = {"sum": loop.sum, "worked": loop.worked}.get(rest)
    x = loop.layers[rest.removeprefix("layer:")] if found is None else found
    if ask == "spectrogram":
        x = spectrogram(x)
    elif ask.startswith("moment "):
        x = moment(x, float(ask.removeprefix("moment ")), axis())
    return x.astype(np.float32)


class Workbench:
    """Starts the process when it is first needed, and again should it die. Safe between threads."""

    def __init__(self, folder: Path) -> None:
        """``folder``: where the library keeps its audio."""
        self._folder = folder
        self._context = multiprocessing.get_context("spawn")
        self._stop = self._context.Array("q", [-1] * GIVEN_UP, lock=False)
        self._playing = self._context.Value("q", 0)
        self._lock = threading.Lock()
        self._jobs = itertools.count()
        self._waiting: dict[int, Callable[[Told], None]] = {}
        self._wire: Connection | None = None
        self._process: Any = None
        self._closed = False

    def _start(self) -> Connection:
        ours, theirs = self._context.Pipe()
        self._process = self._context.Process(
            target=_work,
            args=(theirs, self._stop, self._playing, str(self._folder)),
            name="kessel-measure",
            daemon=True,
        )
        self._process.start()
        theirs.close()
        self._wire = ours
        threading.Thread(target=self._read, args=(ours,), name="measured", daemon=True).start()
        return ours

    def start(self) -> None:
        """Make the process ready before the first job."""
        with self._lock:
            if self._wire is None:
                self._start()

    def ask(self, version: int, patch: Patch, limits: Limits, tell: Callable[[Told], None], what: str = "") -> int:
        """Render and measure a patch; ``tell`` is called from another thread. Returns the job's number.

        With ``what`` (sum, worked, layer:ID) only that is rendered and told.
        """
        with self._lock:
            job = next(self._jobs)
            closed = self._closed
            if not closed:
                self._waiting[job] = tell
                wire = self._wire or self._start()
                message = (job, version, dump_patch(patch), limits.model_dump_json(), what)
                try:
                    wire.send(message)
                except OSError:
                    self._start().send(message)
        if closed:
            tell(Told(problem=_ENDING))
        return job

    def stage(self, patch: Patch, place: str, path: str, seconds: float = 60.0) -> StageReport:
        """A report on an item of a chain. Raises ValueProblem."""
        found = self._wait(patch, f"stage {place} {path}", seconds).stage
        assert found is not None
        return found

    def levels(self, patch: Patch, seconds: float = 30.0) -> ChainLevels:
        """Levels at every place of all chains. Raises ValueProblem."""
        return self._wait(patch, "levels", seconds).levels or ChainLevels()

    def match(self, patch: Patch, path: str, seconds: float = 8.0) -> float:
        """The gain that makes the loop as loud behind an item as before it. Raises ValueProblem."""
        return self._wait(patch, f"match {path}", seconds).number or 0.0

    def audio(self, patch: Patch, what: str, seconds: float = 60.0) -> NDArray[np.float32]:
        """Render what ``_audio`` knows and wait for it. Raises ValueProblem."""
        found = self._wait(patch, what, seconds).audio
        assert found is not None
        return found

    def ask_for(self, patch: Patch, limits: Limits, name: str, tell: Callable[[Told], None], /, **words: Any) -> int:
        """Ask one of ``asks``; ``tell`` is called from another thread. Returns the job's number."""
        return self.ask(0, patch, limits, tell, f"ask {name} {json.dumps(words)}")

    def find(self, patch: Patch, limits: Limits, name: str, /, patience: float = 60.0, **words: Any) -> Any:
        """What one of ``asks`` answers. Raises ValueProblem."""
        return self._wait(patch, f"ask {name} {json.dumps(words)}", patience, limits).found

    def _wait(self, patch: Patch, what: str, seconds: float, limits: Limits | None = None) -> Told:
        done = threading.Event()
        found: list[Told] = []

        def tell(told: Told) -> None:
            found.append(told)
            done.set()

        job = self.ask(0, patch, limits or Limits(), tell, what)
        if not done.wait(seconds):
            self.give_up(job)
            raise ValueProblem("rendering takes too long: try again when the machine has less to do")
        if found[0].problem:
            raise ValueProblem(found[0].problem)
        return found[0]

    def give_way(self, streams: int) -> None:
        """One more stream plays (1) or one less (-1): while any does, measuring steps aside."""
        with self._playing.get_lock():
            self._playing.value += streams

    def give_up(self, job: int) -> None:
        """Stop a job; it tells nothing more."""
        with self._lock:
            self._waiting.pop(job, None)
            self._stop[job % GIVEN_UP] = job

    def _read(self, wire: Connection) -> None:
        while True:
            try:
                job, told = wire.recv()
            except (EOFError, OSError):
                break
            with self._lock:
                tell = self._waiting.get(job)
                if told.last:
                    self._waiting.pop(job, None)
            if tell is not None:
                tell(told)
        with self._lock:
            if self._wire is wire:
                self._wire = None
            left, self._waiting = self._waiting, {}
        for tell in left.values():
            tell(Told(problem="measuring stopped: change something to measure again"))

    def close(self) -> None:
        """End the process; who waits for it is told."""
        with self._lock:
            self._closed = True
            wire, process = self._wire, self._process
            self._wire = None
            left, self._waiting = self._waiting, {}
        for tell in left.values():
            tell(Told(problem=_ENDING))
        if wire is not None:
            wire.close()
        if process is not None:
            process.terminate()
            process.join(timeout=5.0)
