"""The note editor."""

from __future__ import annotations

from dataclasses import dataclass
from hashlib import blake2b

import numpy as np

from ....desk.editing import SHAPES, SNAPS, grid_of
from ....patch import IDIOMS, LANES, NOTE_NAMES, Patch, Phrase, note_name
from ..controls import View, control_view

ROW = 8.0
"""Pixels of one semitone."""
LEAST_ROWS = 26


@dataclass(frozen=True)
class NoteView:
    """A note: position and width in per cent, its row from the top, and whether it slides from the one before."""

    id: str
    x: float
    width: float
    row: int
    pitch: int
    velocity: int
    name: str
    slides: bool
    exact: dict[str, str]


@dataclass(frozen=True)
class RowView:
    """One pitch."""

    pitch: int
    in_scale: bool
    root: bool
    name: str


@dataclass(frozen=True)
class PhrasePanel:
    """The content of the note editor."""

    snap: str
    step: float
    snaps: tuple[tuple[str, bool], ...]
    lane: str
    lanes: tuple[tuple[str, bool], ...]
    beats: float
    top: int
    rows: tuple[RowView, ...]
    notes: tuple[NoteView, ...]
    lines: tuple[tuple[float, int], ...]
    line: str
    has_lane: bool
    idioms: tuple[tuple[str, str], ...]
    key: View
    scale: View
    bars: View
    shapes: tuple[str, ...]

    @property
    def stamp(self) -> str:
        """Identifies the content of this note editor."""
        return blake2b(repr(self).encode(), digest_size=8).hexdigest()


def _lane_line(patch: Patch, lane: str) -> str:
    points = getattr(patch.phrase, lane) if lane in LANES else []
    if not points:
        return ""
    x = np.array([p.beat for p in points]) / patch.phrase.beats * 1000.0
    values = np.array([p.value for p in points])
    y = 50.0 - 48.0 * values if lane == "bend" else 98.0 - 96.0 * values
    words = [f"M0,{y[0]:.1f}", *(f"L{a:.1f},{b:.1f}" for a, b in zip(x, y, strict=True)), f"L1000,{y[-1]:.1f}"]
    return " ".join(words)


def _shown_pitches(phrase: Phrase) -> tuple[int, int]:
    """The lowest and the highest row: half an octave around the notes, and no fewer than LEAST_ROWS."""
    pitches = [n.pitch for n in phrase.notes] or [29]
    low, high = min(pitches) - 6, max(pitches) + 6
    if high - low + 1 < LEAST_ROWS:
        low -= (LEAST_ROWS - (high - low + 1)) // 2
        high = low + LEAST_ROWS - 1
    return max(0, low), min(127, high)


def _note_views(phrase: Phrase, high: int) -> tuple[NoteView, ...]:
    ordered = sorted(phrase.notes, key=lambda n: (n.start, n.id))
    beats = phrase.beats
    notes = []
    for before, n in zip([None, *ordered], ordered, strict=False):
        slides = before is not None and before.start < n.start < before.start + before.length
        name = f"{note_name(n.pitch)} at beat {n.start + 1:g}, {n.length:g} beats, velocity {n.velocity}"
        width = min(n.length, beats - n.start)
        notes.append(
            NoteView(
                n.id, round(100.0 * n.start / beats, 4), round(100.0 * width / beats, 4), high - n.pitch, n.pitch,
                n.velocity, name + (", glides from the note before" if slides else ""), slides,
                {"pitch": note_name(n.pitch), "start": f"{n.start + 1:g}", "length": f"{n.length:g}",
                 "velocity": str(n.velocity)},
            )
        )  # fmt: skip
    return tuple(notes)


def _grid_lines(beats: float, step: float) -> tuple[tuple[float, int], ...]:
    """Place and weight of every line: 2 at a bar, 1 at a beat."""
    fine = step if step >= 0.2 else 0.25
    at = [i * fine for i in range(round(beats / fine))]
    return tuple((round(100.0 * x / beats, 4), 2 if x % 4 < 1e-6 else 1 if abs(x - round(x)) < 1e-6 else 0) for x in at)


def phrase_panel(patch: Patch, snap: str, lane: str) -> PhrasePanel:
    """The note editor of a patch."""
    phrase = patch.phrase
    beats = phrase.beats
    low, high = _shown_pitches(phrase)
    rows = tuple(
        RowView(p, phrase.in_scale(p), p % 12 == NOTE_NAMES.index(phrase.root), note_name(p))
        for p in range(high, low - 1, -1)
    )
    snap = snap if snap in dict(SNAPS) else "1/16"
    lane = lane if lane in LANES else "velocity"
    step = grid_of(snap)
    return PhrasePanel(
        snap=snap,
        step=step,
        snaps=tuple((name, name == snap) for name, _ in SNAPS),
        lane=lane,
        lanes=tuple((name, name == lane) for name in ("velocity", *LANES)),
        beats=beats,
        top=high,
        rows=rows,
        notes=_note_views(phrase, high),
        lines=_grid_lines(beats, step),
        line=_lane_line(patch, lane),
        has_lane=lane in LANES and bool(getattr(phrase, lane)),
        idioms=tuple((i.slug, i.name) for i in IDIOMS),
        key=control_view(patch, "phrase.root"),
        scale=control_view(patch, "phrase.scale"),
        bars=control_view(patch, "phrase.bars"),
        shapes=tuple(SHAPES),
    )
