"""Whether the fundamental is strong enough on every note."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import chain

import numpy as np

from ...patch import Edit, note_name, number, write
from ..evidence import SUM, Evidence, HeardNote
from ..finding import Candidate, Finding, Fix, Limits, Where
from ..pairs import moved_splits

_SPARE = 1.0

_ALONE_DB = 90.0
"""A fundamental this many dB above harmonics 2 to 4 has no others."""


def note_levels(e: Evidence, note: HeardNote, hz: float) -> dict[str, np.ndarray[tuple[int], np.dtype[np.float64]]]:
    """RMS amplitude of harmonics 1..4 over a note, of the sum and of every pitched layer."""
    found = {"": e.partials(SUM, note, hz, 8, 0.0)}
    found |= {i: e.partials(i, note, hz, 8, 0.0) for i in e.pitched if i is not None}
    if found[""].shape[0] == 0:
        return {}
    return {i: np.sqrt(np.square(np.abs(frames[:, :4])).mean(axis=0)) for i, frames in found.items()}


def worst_note(e: Evidence) -> tuple[float, HeardNote, float, str] | None:
    """Like ``_worst_note``, once per evidence."""
    return e.once("worst note", lambda: _worst_note(e))


def _worst_note(e: Evidence) -> tuple[float, HeardNote, float, str] | None:
    """How far the fundamental is below the strongest of 2..4 on the worst note; the note, Hz, and its best layer."""
    ratio = e.base_ratio
    if ratio is None:
        return None
    found: list[tuple[float, HeardNote, float, str]] = []
    for note in e.notes:
        hz = e.note_hz(note, ratio)
        levels = note_levels(e, note, hz)
        if not levels or levels[""].max() < 1e-4:
            continue
        whole = levels.pop("")
        under = 20.0 * float(np.log10(max(whole[1:].max(), 1e-9) / max(whole[0], 1e-9)))
        best = max(levels, key=lambda i: float(levels[i][0]))
        found.append((under, note, hz, best))
    return max(found, key=lambda f: f[0], default=None)


def _raised(e: Evidence, layer_id: str, missing: float) -> Iterator[Candidate]:
    """Candidates with the layer that carries the fundamental raised, as far as its fader goes."""
    path = f"layers.{layer_id}.level"
    layer = e.patch.layer(layer_id)
    control = number(e.patch, path)
    for more in (missing + _SPARE, missing + 3.0 * _SPARE):
        level = control.tidy(layer.level + more)
        if level > layer.level:
            yield f"Raise {layer.name} to {write(level, 'dB')}", (Edit(path, level),)


def _fixes(e: Evidence, layer_id: str, under: float, limits: Limits) -> tuple[Fix, ...]:
    """The layer raised, or the split moved that keeps the fundamental from it."""

    def left(x: Evidence) -> float | None:
        after = worst_note(x)
        return after[0] if after else None

    def holds(value: float) -> bool:
        return value <= limits.hollow_db

    raised = e.cure(_raised(e, layer_id, under - limits.hollow_db), left, holds)
    up = moved_splits(e.patch, [s for s in e.patch.splits if s.lower == layer_id], (1, 2, 3, 4))
    down = moved_splits(e.patch, [s for s in e.patch.splits if s.upper == layer_id], (-1, -2, -3, -4))
    return (*(() if raised is None else (raised,)), *e.full_cure(chain(up, down), left, holds))


def hollow(e: Evidence, limits: Limits) -> list[Finding]:
    """Harmonic 1 against the strongest of harmonics 2..4, on the worst note."""
    worst = worst_note(e)
    if worst is None:
        return []
    under, note, hz, best = worst
    fails = under > limits.hollow_db
    name = note_name(note.pitch)
    if under < -_ALONE_DB:
        text = "No other harmonics"
    else:
        where = "below" if under > 0 else "above"
        text = f"{write(abs(under), 'dB')} {where} harmonics 2 to 4, worst note {name}"
    fixes = e.sought(lambda: _fixes(e, best, under, limits)) if fails else ()
    return [
        Finding(
            check="hollow",
            verdict="fails" if fails else "holds",
            title="Weak fundamental" if fails else "The fundamental is strong enough",
            text=text,
            value=under,
            unit="dB",
            limit=limits.hollow_db,
            limit_text=f"{write(limits.hollow_db, 'dB')} below harmonics 2 to 4",
            limit_name="hollow_db",
            where=Where((best,) if fails else (), name, note.beat, hz / 1.12, hz * 1.12),
            fixes=fixes,
            alone=True,
        )
    ]
