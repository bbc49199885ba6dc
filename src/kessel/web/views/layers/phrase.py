"""The phrase strip."""

from __future__ import annotations

from dataclasses import dataclass

from ....desk import Picture
from ....patch import Patch, note_name, number, title, with_signs
from ..svg import way_line


@dataclass(frozen=True)
class PhraseBar:
    """One note: position and size in per cent of the strip."""

    x: float
    y: float
    width: float
    name: str
    soft: float


@dataclass(frozen=True)
class PhraseView:
    """The notes over the beats, and the path of one moved control."""

    key: str
    count: str
    bars: tuple[PhraseBar, ...]
    beats: tuple[tuple[float, bool], ...]
    path: str
    moved: str


def phrase_view(patch: Patch, picture: Picture | None) -> PhraseView:
    """The phrase of a patch."""
    phrase = patch.phrase
    pitches = [n.pitch for n in phrase.notes] or [36]
    low, high = min(pitches), max(max(pitches), min(pitches) + 5)
    bars = []
    for n in phrase.notes:
        width = min(n.length, phrase.beats - n.start)
        y = 12.0 + 68.0 * (high - n.pitch) / (high - low)
        name = f"{note_name(n.pitch)}, velocity {n.velocity}"
        bars.append(
            PhraseBar(100 * n.start / phrase.beats, y, 100 * width / phrase.beats, name, 0.45 + 0.55 * n.velocity / 127)
        )
    beats = tuple((100.0 * b / phrase.beats, b % 4 == 0) for b in range(int(phrase.beats)))
    path, moved = _path(patch, picture)
    key = f"{with_signs(phrase.root)} {phrase.scale}"
    return PhraseView(key, f"{len(phrase.notes)} notes", tuple(bars), beats, path, moved)


def _path(patch: Patch, picture: Picture | None) -> tuple[str, str]:
    """The moved control with the largest travel, as a line in 1000 by 100."""
    if picture is None:
        return "", ""
    best, reach = "", 0.0
    for path, (low, high) in picture.travel.items():
        if not any(m.target == path for m in patch.movements):
            continue
        control = number(patch, path)
        span = abs(control.position(control.from_scale(high)) - control.position(control.from_scale(low)))
        if span > reach:
            best, reach = path, span
    if not best:
        return "", ""
    return way_line(number(patch, best), picture.paths[best], 500), title(patch, best)
