"""Findings, fixes and limits."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from typing import Any, Literal

from pydantic import BaseModel, ConfigDict, Field, model_validator

from ..patch import Edit

Verdict = Literal["holds", "look", "fails"]
WORSE: dict[str, int] = {"holds": 0, "look": 1, "fails": 2}
"""The order of verdicts, the best first."""


_RETIRED = {"sum_loss_apart_db"}


class Limits(BaseModel):
    """The limits of the checks. They belong to the set."""

    model_config = ConfigDict(extra="forbid", frozen=True, allow_inf_nan=False)

    sum_loss_db: float = Field(
        default=-1.5, ge=-24, le=0, title="Sum loss", description="For layers that stay in phase."
    )
    beat_db: float = Field(
        default=-6.0,
        ge=-24,
        le=0,
        title="Beats in the lows",
        description="How far the sum falls, a tenth of the time, below its parts' power. Half of it is worth a look.",
    )
    low_mono_loss_db: float = Field(default=-1.0, ge=-24, le=0, title="Mono loss, lows")
    low_hz: float = Field(default=120.0, ge=60, le=250, title="Lows end at")
    mono_loss_db: float = Field(default=-3.0, ge=-24, le=0, title="Mono loss, all frequencies")
    hollow_db: float = Field(default=9.0, ge=0, le=36, title="Weak fundamental")
    thin_db: float = Field(default=6.0, ge=1, le=36, title="Uneven harmonics")
    strike_db: float = Field(default=0.5, ge=0.05, le=12, title="Repeatability")
    floor_hz: float = Field(default=32.0, ge=15, le=80, title="Lowest frequency of the room")
    rumble_db: float = Field(default=-9.0, ge=-60, le=12, title="Rumble")
    kick_room_db: float = Field(default=6.0, ge=-12, le=36, title="Level under the kick")
    soft_lufs: float = Field(default=-20.0, ge=-60, le=0, title="Lowest loudness")
    loud_lufs: float = Field(default=-8.0, ge=-60, le=0, title="Highest loudness")
    peak_dbtp: float = Field(default=-1.0, ge=-24, le=0, title="Peak level")
    dc_dbfs: float = Field(default=-40.0, ge=-90, le=-10, title="DC offset")
    masked_percent: float = Field(
        default=90.0, ge=50, le=100, title="Masked share", description="Of a layer, far under all others."
    )
    opening_db: float = Field(default=3.0, ge=0.5, le=24, title="Level at note ends")
    shut_db: float = Field(default=12.0, ge=3, le=48, title="Fundamental taken off by a stage")
    wet_low_hz: float = Field(default=100.0, ge=40, le=300, title="Wet lows below")
    pump_db: float = Field(default=6.0, ge=1, le=24, title="Pumping of the lows")
    alias_db: float = Field(default=50.0, ge=20, le=100, title="Aliasing below the tone")
    crest_db: float = Field(default=6.0, ge=1, le=24, title="Crest lost in a chain")
    flat_share: float = Field(default=0.5, ge=0.1, le=0.9, title="Share of level changes to remain")
    clip_dbfs: float = Field(default=0.0, ge=-24, le=24, title="Clip point of a stage")

    @model_validator(mode="before")
    @classmethod
    def _of_any_age(cls, values: Any) -> Any:
        """Limits that sets were stored with, and that are no more."""
        return {k: v for k, v in values.items() if k not in _RETIRED} if isinstance(values, dict) else values


@dataclass(frozen=True)
class Fix:
    """Edits that cure a finding, with the figure that was measured with them.

    harms: findings that get worse, and what it costs. None while that is not known. helps: it does not reach the limit,
    but takes away a third of what is missing. louder: by how many LU it makes the loop louder, if that is over 1 LU.
    """

    label: str
    edits: tuple[Edit, ...]
    after: float | None = None
    harms: tuple[str, ...] | None = None
    helps: bool = False
    louder: float = 0.0

    @property
    def loudness(self) -> str:
        """How it changes the loudness, as text. Empty if it hardly does."""
        return f"{abs(self.louder):.1f} LU {'louder' if self.louder > 0 else 'quieter'}" if self.louder else ""

    def plain(self) -> dict[str, Any]:
        """The fix as JSON data."""
        return {
            "label": self.label,
            "edits": [{"path": e.path, "value": e.value} for e in self.edits],
            "after": self.after,
            "helps": self.helps,
            "louder_lu": self.louder,
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

    limit_name: the field of the limit, if there is one. goal: the value from which it holds, if that is not the limit.
    alone: the check makes one statement about the whole patch, which is the same finding wherever it points. wanted:
    why the patch accepts it.
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
    goal: float | None = None
    wanted: str = ""

    def missing(self, value: float) -> float:
        """How far a value is from where the finding holds, in its unit."""
        goal = self.limit if self.goal is None else self.goal
        under = (self.value or 0.0) < goal
        return max(0.0, goal - value if under else value - goal)

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
            "wanted": self.wanted,
            "where": vars(self.where),
            "fixes": [f.plain() for f in self.fixes],
            "evidence": [{"what": k, "value": v} for k, v in self.evidence],
        }
