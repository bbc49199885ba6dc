"""What the process that renders and measures is asked, and what it tells."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..checks import ChainLevels, Finding, Limits, StageReport
from ..formats import load_patch
from ..patch import Patch
from .picture import Picture
from .queries import PATIENT, UNASKED


@dataclass(frozen=True)
class Job:
    """Something about one patch, which comes as JSON text."""

    text: str

    @property
    def patch(self) -> Patch:
        """The patch."""
        return load_patch(self.text)

    @property
    def patient(self) -> bool:
        """Whether nobody waits for it: it is put off whenever another comes."""
        return False

    @property
    def unasked(self) -> bool:
        """Whether it begins by itself: only when no hand has moved for a while."""
        return False


@dataclass(frozen=True)
class Measure(Job):
    """The picture of a version, its findings, and the levels of its chains."""

    version: int
    limits: Limits


@dataclass(frozen=True)
class Render(Job):
    """One pass of the sum, the worked path or a layer (``layer:ID``), (2, n).

    ``spectrogram WHAT``: its levels in dB, (rows, columns). ``moment SHARE WHAT``: its levels in dB along the axis at
    a place of the loop, 0..1.
    """

    what: str


@dataclass(frozen=True)
class Stage(Job):
    """A report on an item of a chain."""

    place: str
    path: str


@dataclass(frozen=True)
class Levels(Job):
    """Levels at every place of all chains."""


@dataclass(frozen=True)
class Match(Job):
    """The gain that makes the loop as loud behind an item as before it."""

    path: str


@dataclass(frozen=True)
class Query(Job):
    """One of ``asks``."""

    limits: Limits
    name: str
    words: dict[str, Any] = field(default_factory=dict)

    @property
    def patient(self) -> bool:
        """Of those that nobody waits for."""
        return self.name in PATIENT

    @property
    def unasked(self) -> bool:
        """Of those that begin by themselves."""
        return self.name in UNASKED


@dataclass(frozen=True)
class JobReply:
    """One thing that is told of a job: its picture, its findings, levels of its chains, audio (2, n), a report on a
    stage, an answer, or a problem in words. ``partial``: fixes are still looked for; ``last``: nothing follows."""

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
