"""The findings rail."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass

from ....checks import Finding, Fix
from ....desk import Measured
from ....patch import NoSuchPath, Patch, get, shown, title
from ..evidence import Spot, spot_of
from ..svg import across
from .header import WAITS


@dataclass(frozen=True)
class FixView:
    """A fix as a button, with its changes and the figure that was measured with it."""

    label: str
    changes: str
    after: str
    harms: str = ""
    helps: bool = False


@dataclass(frozen=True)
class FindingView:
    """One finding."""

    key: str
    check: str
    verdict: str
    title: str
    text: str
    limit: str
    before: str
    x: float | None
    width: float | None
    layers: str
    fixes: tuple[FixView, ...]
    spot: Spot
    wanted: str = ""

    @property
    def id(self) -> str:
        """Its key as an id of the page."""
        return re.sub(r"[^a-z0-9]+", "-", self.key.lower())


@dataclass(frozen=True)
class Rail:
    """All findings of one version."""

    version: int
    measured: bool
    count: str
    findings: tuple[FindingView, ...]
    stage: int = 2
    fails: int = 0
    broken: bool = False

    @property
    def can_cure(self) -> bool:
        """Whether any finding that is not wanted has a fix."""
        return any(f.fixes and not f.wanted for f in self.findings)


def _changes(patch: Patch, fix: Fix) -> str:
    words = []
    for edit in fix.edits:
        try:
            if get(patch, edit.path) != edit.value:
                words.append(
                    f"{title(patch, edit.path)} {shown(patch, edit.path)} → {shown(patch, edit.path, edit.value)}"
                )
        except NoSuchPath:
            words.append(edit.path)
    return ", ".join(words)


def finding_view(patch: Patch, f: Finding, before: Mapping[str, str]) -> FindingView:
    """A finding of a measured patch. ``before``: its figure before its fix."""
    low, high = f.where.low_hz, f.where.high_hz
    x = across(low) if low else None
    fixes = tuple(
        FixView(
            fix.label,
            "; ".join(w for w in (_changes(patch, fix), fix.loudness) if w),
            "" if fix.after is None else f"{round(fix.after, 1) + 0.0:.1f} {f.unit}".replace("-", "−"),
            "; ".join(fix.harms or ()),
            fix.helps,
        )
        for fix in f.fixes
    )
    return FindingView(
        key=f.key,
        check=f.check,
        verdict=f.verdict,
        title=f.title,
        text=f.text,
        limit=f.limit_text,
        before=before.get(f.key, ""),
        x=x,
        width=round(across(high) - x, 3) if x is not None and high else None,
        layers=" ".join(f.where.layers),
        fixes=tuple(fixes) if f.verdict != "holds" else (),
        spot=spot_of(f.check, f.where),
        wanted=f.wanted,
    )


def rail_view(measured: Measured | None, version: int, before: Mapping[str, str], problem: str | None = None) -> Rail:
    """The newest findings. ``version`` is the patch's own; ``before``: figures before fixes."""
    if problem is not None:
        return Rail(version, True, problem, (), broken=True)
    if measured is None:
        return Rail(-1, False, WAITS, ())
    found = measured.findings
    fails, look = (sum(f.verdict == v for f in found) for v in ("fails", "look"))
    parts = [f"{fails} fail" + ("s" if fails == 1 else "")] if fails else []
    parts += [f"{look} worth a look"] if look else []
    count = ", ".join(parts) or "all hold"
    return Rail(
        measured.version,
        measured.version >= version,
        count,
        tuple(finding_view(measured.picture.patch, f, before) for f in found),
        measured.stage,
        fails,
    )
