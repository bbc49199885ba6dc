"""Jobs of the worker, and its replies."""

from __future__ import annotations

from dataclasses import dataclass, field
from enum import IntEnum
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..checks import ChainLevels, Finding, Limits, StageReport
from ..formats import load_patch
from ..patch import Patch
from .picture import Picture
from .queries import LONG, UNASKED


class Rank(IntEnum):
    """Who waits for a job. The highest rank is done first, and interrupts the others."""

    LATER = 0
    """Somebody, who goes on working meanwhile, or nobody any more: cures, long sweeps, the cards of the library."""
    NOW = 1
    """Somebody, who does nothing else until it comes."""


@dataclass(frozen=True)
class Job:
    """A job about one patch, which is sent as JSON text."""

    text: str

    @property
    def patch(self) -> Patch:
        """The patch."""
        return load_patch(self.text)

    @property
    def rank(self) -> Rank:
        """Who waits for it."""
        return Rank.NOW

    @property
    def unasked(self) -> bool:
        """Whether it starts by itself, when nothing was changed for a while."""
        return False


@dataclass(frozen=True)
class Measure(Job):
    """Measure a version: its picture, its findings, and the levels of its chains. watched: whether it is open."""

    version: int
    limits: Limits
    watched: bool = True

    @property
    def rank(self) -> Rank:
        """Who waits for it."""
        return Rank.NOW if self.watched else Rank.LATER


@dataclass(frozen=True)
class Render(Job):
    """Render one pass of the sum, the worked path or a layer (``layer:ID``), (2, n).

    ``spectrogram WHAT``: levels in dB, (rows, columns). ``moment SHARE WHAT``: levels in dB along the axis at a
    position of the loop, 0..1.
    """

    what: str


@dataclass(frozen=True)
class Stage(Job):
    """Report on an item of a chain."""

    place: str
    path: str


@dataclass(frozen=True)
class Levels(Job):
    """Measure the levels at every place of all chains."""


@dataclass(frozen=True)
class Match(Job):
    """Find the gain that makes the loop as loud behind an item as before it."""

    path: str


@dataclass(frozen=True)
class Query(Job):
    """Answer one of ``QUERIES``."""

    limits: Limits
    name: str
    words: dict[str, Any] = field(default_factory=dict)

    @property
    def rank(self) -> Rank:
        """Who waits for it."""
        return Rank.LATER if self.name in LONG else Rank.NOW

    @property
    def unasked(self) -> bool:
        """Whether it starts by itself."""
        return self.name in UNASKED


@dataclass(frozen=True)
class JobReply:
    """One reply to a job: a picture, findings, levels of chains, audio (2, n), a report on a stage, an answer, or a
    problem as text.

    ``partial``: fixes are still being sought. ``last``: nothing follows.
    """

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
