"""The notes of a phrase as they are heard, and the frames in which they are measured."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..engine import RATE, samples_per_beat
from ..patch import Patch

ONSET_SECONDS = 0.08


@dataclass(frozen=True)
class HeardNote:
    """A note as it is heard: from its start to its end or to the next note, in samples of the loop."""

    id: str
    pitch: int
    beat: float
    start: int
    length: int


def heard_notes(patch: Patch) -> list[HeardNote]:
    """The phrase's notes in order, each cut where the next one begins."""
    beat = samples_per_beat(patch.tempo)
    total = round(patch.phrase.beats * beat)
    notes = sorted(patch.phrase.notes, key=lambda n: (n.start, n.id))
    found = []
    for i, n in enumerate(notes):
        start = round(n.start * beat)
        following = round(notes[i + 1].start * beat) if i + 1 < len(notes) else total + round(notes[0].start * beat)
        length = min(round(n.length * beat), following - start)
        if length > 0:
            found.append(HeardNote(n.id, n.pitch, n.start, start, length))
    return found


def frame_plan(note: HeardNote, hz: float, glide_ms: float = 0.0) -> tuple[NDArray[np.int64], int]:
    """Starts of the frames in a note's steady part, in samples after its start, and the size of a frame.

    The steady part begins after 80 ms, four periods or the glide. A short note is taken whole. There are no frames if
    it is shorter than one and a half periods.
    """
    period = RATE / hz
    size = round(max(4.0 * period, 0.06 * RATE))
    skip = round(max(ONSET_SECONDS * RATE, 4.0 * period, glide_ms * RATE / 1000.0))
    if note.length - skip < size:
        skip = min(round(0.01 * RATE), note.length // 8)
        size = min(size, note.length - skip)
    if size < 1.5 * period:
        return np.zeros(0, dtype=np.int64), 0
    return np.arange(skip, note.length - size + 1, max(1, size // 2)), size
