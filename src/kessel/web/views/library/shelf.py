"""The rows of the library."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC, datetime

from ....desk import Measured
from ....library import Damaged, Library, PatchCard
from ....patch import note_name, with_signs
from ..frame import figure
from ..svg import level_line


@dataclass(frozen=True)
class PatchRow:
    """The row of one patch."""

    slug: str
    name: str
    note: str
    layers: int
    tempo: str
    key: str
    span: str
    edited: str
    damaged: bool = False


@dataclass(frozen=True)
class Shelf:
    """A set with its patches."""

    name: str
    demo: bool
    rows: tuple[PatchRow, ...]


@dataclass(frozen=True)
class Card:
    """The measured part of a row."""

    slug: str
    measured: bool
    line: str
    loudness: str
    peak: str
    fails: int
    look: int


def ago(then: datetime, now: datetime | None = None) -> str:
    """How long ago, as text."""
    minutes = int(((now or datetime.now(UTC)) - then).total_seconds() // 60)
    if minutes < 1:
        return "just now"
    for size, word in ((1440, "day"), (60, "hour"), (1, "minute")):
        if minutes >= size:
            n = minutes // size
            return f"{n} {word}{'' if n == 1 else 's'} ago"
    return "just now"


def _row(library: Library, card: PatchCard) -> PatchRow:
    try:
        patch = library.load(card.slug)
    except Damaged:
        return PatchRow(card.slug, card.name, "This patch is damaged.", 0, "", "", "", ago(card.edited), True)
    pitches = [n.pitch for n in patch.phrase.notes]
    span = f"{note_name(min(pitches))} to {note_name(max(pitches))}" if pitches else "no notes"
    key = f"{with_signs(patch.phrase.root)} {patch.phrase.scale}"
    return PatchRow(
        card.slug, card.name, patch.note, len(patch.layers), f"{patch.tempo:g}", key, span, ago(card.edited)
    )


def shelf_view(library: Library) -> list[Shelf]:
    """All sets with patches."""
    found = []
    for card in library.sets():
        rows = tuple(_row(library, p) for p in library.patches(card.id))
        found.append(Shelf(card.name, card.demo, rows))
    return found


def card_view(slug: str, measured: Measured | None) -> Card:
    """The measured part of a patch's row."""
    if measured is None:
        return Card(slug, False, "", "…", "…", 0, 0)
    p = measured.picture
    fails, look = (sum(f.verdict == v for f in measured.findings) for v in ("fails", "look"))
    loudness, peak = figure(p.loudness), figure(p.true_peak)
    return Card(slug, True, level_line(p.sum), loudness, peak, fails, look)
