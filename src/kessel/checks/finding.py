"""Findings, fixes and limits."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from typing import Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from ..patch import Edit

Verdict = Literal["holds", "look", "fails"]
WORSE: dict[str, int] = {"holds": 0, "look": 1, "fails": 2}
"""The order of verdicts, the best first."""


class Limits(BaseModel):
    """The limits of the checks. They belong to the set."""

    model_config = ConfigDict(extra="forbid", frozen=True, allow_inf_nan=False)

    sum_loss_db: float = Field(default=-1.5, ge=-24, le=0, title="Sum loss", description="Of layers that keep step.")
    sum_loss_apart_db: float = Field(
        default=-4.0,
        ge=-24,
        le=0,
        title="Sum loss, apart",
        description="Of layers that do not keep step; −3 dB is even.",
    )
    low_mono_loss_db: float = Field(default=-1.0, ge=-24, le=0, title="Mono loss, lows")
    low_hz: float = Field(default=120.0, ge=60, le=250, title="Lows end at")
    mono_loss_db: float = Field(default=-3.0, ge=-24, le=0, title="Mono loss, whole")
    hollow_db: float = Field(default=9.0, ge=0, le=36, title="Hollow")
    thin_db: float = Field(default=6.0, ge=1, le=36, title="Thin partials")
    strike_db: float = Field(default=0.5, ge=0.05, le=12, title="Spread of strikes")
    floor_hz: float = Field(default=32.0, ge=15, le=80, title="Room's floor")
    rumble_db: float = Field(default=-9.0, ge=-60, le=12, title="Rumble under the floor")
    kick_room_db: float = Field(default=6.0, ge=-12, le=36, title="Room for the kick")
    soft_lufs: float = Field(default=-20.0, ge=-60, le=0, title="Loudness from")
    loud_lufs: float = Field(default=-8.0, ge=-60, le=0, title="Loudness to")
    peak_dbtp: float = Field(default=-1.0, ge=-24, le=0, title="Output peak")
    opening_db: float = Field(default=3.0, ge=0.5, le=24, title="Notes open to")
    shut_db: float = Field(default=12.0, ge=3, le=48, title="Fundamental shut away")
    wet_low_hz: float = Field(default=100.0, ge=40, le=300, title="Wet lows end at")
    pump_db: float = Field(default=6.0, ge=1, le=24, title="Pumping of the lows")
    alias_db: float = Field(default=50.0, ge=20, le=100, title="What a distortion folds back stands under")
    crest_db: float = Field(default=6.0, ge=1, le=24, title="Crest that a chain may cost")
    flat_share: float = Field(default=0.5, ge=0.1, le=0.9, title="Share of a movement that has to stay")
    clip_dbfs: float = Field(default=0.0, ge=-24, le=24, title="Clip point of a stage")


@dataclass(frozen=True)
class Fix:
    """Edits that cure a finding, with the figure that was measured with them.

    harms: titles of findings that get worse. None while that is not known.
    """

    label: str
    edits: tuple[Edit, ...]
    after: float | None = None
    harms: tuple[str, ...] | None = None

    def plain(self) -> dict[str, Any]:
        """The fix as JSON data."""
        return {
            "label": self.label,
            "edits": [{"path": e.path, "value": e.value} for e in self.edits],
            "after": self.after,
            "harms": None if self.harms is None else list(self.harms),
        }


Candidate = tuple[str, tuple[Edit, ...]]
"""The name of a possible fix, and its edits."""


def first_that_holds(
    candidates: Iterable[Candidate],
    measured: Callable[[tuple[Edit, ...]], float | None],
    holds: Callable[[float], bool],
) -> Fix | None:
    """Of candidate fixes, mildest first, the first with which the finding holds, else the last.

    measured: the figure with edits applied. None, if there is none any more, holds.
    """
    fix = None
    for label, edits in candidates:
        after = measured(edits)
        fix = Fix(label, edits, after)
        if after is None or holds(after):
            break
    return fix


@dataclass(frozen=True)
class Where:
    """The place that a finding is about."""

    layers: tuple[str, ...] = ()
    note: str | None = None
    beat: float | None = None
    low_hz: float | None = None
    high_hz: float | None = None
    path: str | None = None


@dataclass(frozen=True)
class Finding:
    """One measurement against its limit. ``text`` is a sentence with the figure.

    limit_name: the field of the limit, if there is one. alone: the check makes one statement about the whole patch,
    which is the same finding wherever it points.
    """

    check: str
    verdict: Verdict
    title: str
    text: str
    value: float | None
    unit: str
    limit: float
    limit_text: str
    limit_name: str = ""
    where: Where = field(default_factory=Where)
    fixes: tuple[Fix, ...] = ()
    evidence: tuple[tuple[str, float | None], ...] = ()
    alone: bool = False

    @property
    def key(self) -> str:
        """Identifies the same finding in two runs of the checks."""
        if self.alone:
            return self.check
        return "/".join((self.check, *self.where.layers, *([self.where.path] if self.where.path else [])))

    def plain(self) -> dict[str, Any]:
        """The finding as JSON data."""
        return {
            "check": self.check,
            "verdict": self.verdict,
            "title": self.title,
            "text": self.text,
            "value": self.value,
            "unit": self.unit,
            "limit": self.limit,
            "where": vars(self.where),
            "fixes": [f.plain() for f in self.fixes],
            "evidence": [{"what": k, "value": v} for k, v in self.evidence],
        }
