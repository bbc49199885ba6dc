"""The lows of every note: uneven harmonics, rumble below the room's floor, notes too low to be played."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ...patch import KEY_TRACK_CENTER, Edit, note_name, number, write
from ..evidence import SUM, Evidence
from ..finding import Candidate, Finding, Fix, Limits, Where
from ..notes import HeardNote
from ..pairs import kept_above, moved_splits
from .fundamental import fundamental_of

PARTIALS = 4
_MATTERS_DB = 9.0
"""A partial that stays this many dB below the strongest one on every note has at most an eighth of its power. It is not
missed where it is weaker still."""
_LOWEST_DB = 60.0
_TINY = 1e-5

_Real = NDArray[np.float64]


@dataclass(frozen=True)
class NotePartials:
    """Harmonics 1..8 of a note in the sum and of every layer in it, in dBFS. None if there is none.

    hz: of the first. under: how far the first is below what matters to its pitch, as ``Fundamental.under``.
    """

    note: HeardNote
    hz: float
    sum: tuple[float | None, ...]
    layers: dict[str, tuple[float | None, ...]]
    under: float


def _levels(frames: NDArray[np.complex128]) -> list[float | None]:
    rms = np.sqrt(np.square(np.abs(frames)).mean(axis=0))
    return [20.0 * float(np.log10(a)) if a > _TINY else None for a in rms]


def note_partials(e: Evidence) -> list[NotePartials]:
    """Harmonics of every note, of the sum and of each pitched layer as it is mixed before the worked chain."""
    return e.once("note partials", lambda: _note_partials(e))


def _note_partials(e: Evidence) -> list[NotePartials]:
    found = []
    for note in e.notes:
        ratio = e.base_ratio(note)
        if ratio is None:
            continue
        hz = e.note_hz(note, ratio)
        frames = e.partials(SUM, note, hz, 8, 0.0)
        if frames.shape[0] == 0:
            continue
        whole = _levels(frames)
        layers = {i: tuple(_levels(e.partials(i, note, hz, 8, 0.0))) for i in e.pitched if i is not None}
        if any(x is not None for x in whole):
            under = fundamental_of(note, hz, {"": np.sqrt(np.square(np.abs(frames)).mean(axis=0))}).under
            found.append(NotePartials(note, hz, tuple(whole), layers, under))
    return found


@dataclass(frozen=True)
class Weight:
    """A low harmonic against the strongest of its note, in dB: by key, its median, and on every note of the phrase.

    keys: (level, note) of every key, weakest first. A repeated key counts with its median.
    """

    partial: int
    usual: float
    keys: tuple[tuple[float, NotePartials], ...]

    @property
    def spread(self) -> float:
        """Difference between the keys on which it is weakest and strongest."""
        return self.keys[-1][0] - self.keys[0][0]

    def missed(self, limits: Limits) -> dict[int, float]:
        """Keys on which it is weaker than usual by more than the limit, and by how much."""
        return {n.note.pitch: self.usual - level for level, n in self.keys if self.usual - level > limits.thin_db}


def _middle(rows: list[tuple[float, NotePartials]]) -> tuple[float, NotePartials]:
    return sorted(rows, key=lambda r: r[0])[len(rows) // 2]


def weights_of(e: Evidence) -> list[Weight]:
    """Weights of the lowest four harmonics that count on any note. None if fewer than two keys are played."""
    notes = note_partials(e)
    if len({n.note.pitch for n in notes}) < 2:
        return []
    found = []
    for k in range(PARTIALS):
        keys: dict[int, list[tuple[float, NotePartials]]] = {}
        for n in notes:
            top = max((x for x in n.sum[:PARTIALS] if x is not None), default=None)
            if top is not None:
                level = n.sum[k]
                under = -_LOWEST_DB if level is None else max(level - top, -_LOWEST_DB)
                keys.setdefault(n.note.pitch, []).append((under, n))
        rows = sorted((_middle(own) for own in keys.values()), key=lambda r: r[0])
        if rows and rows[-1][0] >= -_MATTERS_DB:
            found.append(Weight(k + 1, _middle(rows)[0], tuple(rows)))
    return found


def _following(e: Evidence, weight: Weight) -> Iterator[Candidate]:
    """Candidates with unmoved voice filters that follow the key, from the middle of the played range."""
    middle = sorted(n.note.pitch for _, n in weight.keys)[len(weight.keys) // 2]
    for layer in e.patch.layers:
        for stage in layer.stages:
            follow = getattr(stage, "key_follow", None)
            if not stage.on or follow is None or follow >= 100.0:
                continue
            path = f"layers.{layer.id}.stages.{stage.id}"
            edits = [Edit(f"{path}.key_follow", 100.0)]
            cutoff = getattr(stage, "cutoff", None)
            if cutoff is not None:
                # on the center key the value stays the same
                control = number(e.patch, f"{path}.cutoff")
                hz = control.tidy(cutoff * 2.0 ** ((follow / 100.0 - 1.0) * (middle - KEY_TRACK_CENTER) / 12.0))
                edits.append(Edit(f"{path}.cutoff", hz))
            yield f"Make {stage.name} of {layer.name} follow the key", tuple(edits)


def _even(e: Evidence, weight: Weight, limits: Limits) -> tuple[Fix, ...]:
    """A filter that follows the key, or a split away from the harmonic: one of each, and only what is enough."""

    def spread(x: Evidence) -> float:
        return max((w.spread for w in weights_of(x)), default=0.0)

    def still_there(x: Evidence) -> float:
        # a split that removes the partial from every note is no cure
        return spread(x) if any(w.partial == weight.partial for w in weights_of(x)) else weight.spread

    def enough(value: float) -> bool:
        return value <= limits.thin_db

    return (
        *e.full_cure(_following(e, weight), spread, enough),
        *e.full_cure(moved_splits(e.patch, e.patch.splits), still_there, enough),
    )


def thin(e: Evidence, limits: Limits) -> list[Finding]:
    """A low harmonic that is weaker on one note than on another, each against the strongest of its note."""
    worst = max(weights_of(e), key=lambda w: w.spread, default=None)
    if worst is None:
        return []
    spread, k, low_note, high_note = worst.spread, worst.partial - 1, worst.keys[0][1], worst.keys[-1][1]
    held = spread <= limits.thin_db
    fixes = () if held else e.sought(lambda: _even(e, worst, limits))
    a, b = note_name(low_note.note.pitch), note_name(high_note.note.pitch)
    hz = low_note.hz * (k + 1)
    return [
        Finding(
            check="thin",
            verdict="holds" if held else "look",
            title="Harmonics are even across the notes"
            if held
            else f"Uneven harmonics: harmonic {k + 1} is weak on {a}",
            text=f"Harmonic {k + 1} differs by {write(spread, 'dB')} between {a} and {b}",
            value=spread,
            unit="dB",
            limit=limits.thin_db,
            limit_text=f"{write(limits.thin_db, 'dB')}",
            limit_name="thin_db",
            where=Where((), a, low_note.note.beat, hz / 1.12, hz * 1.12),
            fixes=fixes,
        )
    ]


def under_floor(e: Evidence, limits: Limits) -> float | None:
    """Power below the room's floor against the lows above it, in dB. None if there are no lows."""
    s = e.sum.spectrum
    under, low = s.power(2.0, limits.floor_hz), s.power(limits.floor_hz, 120.0)
    return 10.0 * float(np.log10(max(under, 1e-14) / low)) if low > 1e-12 else None


def _off_the_floor(e: Evidence, limits: Limits) -> tuple[Fix, ...]:
    """The layer that brings most of the power below the floor, cut above it."""
    layers = [layer for layer in e.patch.layers if not layer.mute]
    most = max(layers, key=lambda layer: e.spectrum(layer.id).power(2.0, limits.floor_hz))
    candidates = (kept_above(most, over * limits.floor_hz) for over in (1.0, 1.25, 1.6))
    return e.full_cure(
        [option for option in candidates if option is not None],
        lambda x: under_floor(x, limits),
        lambda value: value <= limits.rumble_db,
    )


def rumble(e: Evidence, limits: Limits) -> list[Finding]:
    """Power below the room's floor, which a club system does not play but which costs headroom."""
    value = under_floor(e, limits)
    if value is None:
        return []
    held = value <= limits.rumble_db
    deep = sorted({n.note.pitch for n in note_partials(e) if n.hz < limits.floor_hz})
    floor = write(limits.floor_hz, "Hz")
    text = f"{write(value, 'dB')} against the sound above"
    if deep:
        text += f"; {', '.join(note_name(p) for p in deep[:3])} has its fundamental there"
    return [
        Finding(
            check="rumble",
            verdict="holds" if held else "look",
            title=f"No rumble under {floor}" if held else f"Rumble under {floor}",
            text=text,
            value=value,
            unit="dB",
            limit=limits.rumble_db,
            limit_text=f"{write(limits.rumble_db, 'dB')}",
            limit_name="rumble_db",
            where=Where(low_hz=20.0, high_hz=limits.floor_hz),
            fixes=() if held else e.sought(lambda: _off_the_floor(e, limits)),
        )
    ]
