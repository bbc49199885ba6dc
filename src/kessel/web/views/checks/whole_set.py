"""All patches of the set, check by check."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ....checks import WORSE, Finding
from ....desk import Desk, SetCheckRow, worst_by_check

COLUMNS = (
    ("layers-add-up", "Layers"),
    ("repeatability", "Repeats"),
    ("lows-in-mono", "Lows mono"),
    ("mono-loss", "Mono"),
    ("hollow", "Fundamental"),
    ("thin", "Harmonics"),
    ("rumble", "Rumble"),
    ("kick-clash", "Kick"),
    ("output-peak", "Peak"),
    ("loudness", "Loudness"),
)


@dataclass(frozen=True)
class SetRow:
    """A patch: (verdict, text) by column, and what else fails or is worth a look."""

    slug: str
    name: str
    cells: tuple[tuple[str, str], ...]
    others: str
    verdict: str
    here: bool
    problem: str


@dataclass(frozen=True)
class WholeSet:
    """The table of a set."""

    set_id: int
    name: str
    columns: tuple[str, ...]
    rows: tuple[SetRow, ...]
    running: bool
    done: int
    count: int
    answer: str


def _row(c: SetCheckRow, slug: str) -> SetRow:
    if c.findings is None:
        empty = tuple(("", "") for _ in COLUMNS)
        return SetRow(c.slug, c.name, empty, "", "", c.slug == slug, c.problem or "")
    worst = worst_by_check(c.findings)
    cells = tuple((worst.get(check, ""), _said(c.findings, check, worst.get(check))) for check, _ in COLUMNS)
    columns = {k for k, _ in COLUMNS}
    others = [f.title for f in c.findings if f.check not in columns and f.verdict != "holds"]
    verdict = max(worst.values(), key=lambda v: WORSE[v], default="holds")
    return SetRow(c.slug, c.name, cells, "; ".join(others), verdict, c.slug == slug, "")


def _said(findings: Sequence[Finding], check: str, verdict: str | None) -> str:
    said = next((f for f in findings if f.check == check and f.verdict == verdict), None)
    return f"{said.title}: {said.text}" if said else "nothing to judge"


def set_view(desk: Desk, set_id: int, slug: str = "") -> WholeSet:
    """The known findings of a set's patches."""
    check = desk.set_check(set_id)
    rows = tuple(_row(c, slug) for c in check.rows())
    done, count = check.progress
    name = next(c.name for c in desk.library.sets() if c.id == set_id)
    fails = sum(r.verdict == "fails" for r in rows)
    answer = ""
    if done == count and count:
        answer = "Every patch holds." if not fails else f"{fails} of {count} patches fail{'s' if fails == 1 else ''}."
    return WholeSet(set_id, name, tuple(n for _, n in COLUMNS), rows, check.running, done, count, answer)
