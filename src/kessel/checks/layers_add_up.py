"""Do two layers that share the bottom add up, or do they take away from each other?"""

from __future__ import annotations

import math
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from ..measure import pair_sums
from ..patch import Layer, Patch, note_name, write
from .evidence import Evidence, HeardNote, has_pitch, source_ratios
from .finding import Finding, Fix, Limits, Where

_Complex = NDArray[np.complex128]

COUNT = 8
HIGHEST_HZ = 500.0
"""Pairs whose lowest common partial lies above are not judged: there, nobody hears a cancellation as missing bass."""
INCOHERENT = 0.5
_QUIET = 1e-3


@dataclass(frozen=True)
class NoteSum:
    """How a pair adds on one note; losses in dB over the steady part, phase in degrees."""

    note: HeardNote
    base_hz: float
    hz: float
    sum_loss: float
    overlap_loss: float
    phase: float
    coherence: float
    low: float
    high: float


@dataclass
class PairOfLayers:
    """Two layers, or a clean layer and the worked path, note by note.

    a: (frames, partials) amplitudes for each note, likewise b, which is the side a fix may turn.
    """

    first: tuple[Layer, ...]
    turned: Layer
    path: bool
    ratio: float
    notes: list[NoteSum] = field(default_factory=list)
    a: list[_Complex] = field(default_factory=list)
    b: list[_Complex] = field(default_factory=list)

    @property
    def layers(self) -> tuple[str, ...]:
        """Ids, the turned one first."""
        return (self.turned.id, *(layer.id for layer in self.first))

    @property
    def title(self) -> str:
        """The names, joined."""
        other = self.first[0].name if len(self.first) == 1 else "the worked path"
        return f"{self.turned.name} and {other}"

    @property
    def worst(self) -> NoteSum:
        """The note on which least is left."""
        return min(self.notes, key=lambda n: n.sum_loss)

    @property
    def coherence(self) -> float:
        """Mean over the notes."""
        return float(np.mean([n.coherence for n in self.notes]))


def _loss(together: float, apart: float) -> float:
    return 10.0 * math.log10(max(together, 1e-12 * apart) / apart)


def _note_sum(note: HeardNote, hz: float, a: _Complex, b: _Complex) -> tuple[NoteSum, int] | None:
    """Sums over the frames, and the lowest common partial's index; None when the two share nothing low."""
    level_a, level_b = (np.sqrt(np.square(np.abs(x)).mean(axis=0)) for x in (a, b))
    if min(level_a.max(initial=0), level_b.max(initial=0)) < _QUIET:
        return None
    common = pair_sums(level_a.astype(np.complex128), level_b.astype(np.complex128))
    if common.sum_loss is None:
        return None
    loud = (level_a > level_a.max() * 10 ** (-2.5)) & (level_b > level_b.max() * 10 ** (-2.5))
    k = int(np.flatnonzero(loud)[0])
    apart = np.square(np.abs(a) + np.abs(b))
    together = np.square(np.abs(a + b))
    each = together[:, k] / np.maximum(apart[:, k], 1e-30)
    cross = (b[:, k] * np.conj(a[:, k])).sum()
    steady = abs(cross) / math.sqrt(float(np.square(np.abs(a[:, k])).sum() * np.square(np.abs(b[:, k])).sum()))
    low, high = np.percentile(10.0 * np.log10(np.maximum(each, 1e-12)), [5.0, 100.0])
    found = NoteSum(
        note=note,
        base_hz=hz,
        hz=hz * (k + 1),
        sum_loss=_loss(float(together[:, k].sum()), float(apart[:, k].sum())),
        overlap_loss=_loss(float(together[:, loud].sum()), float(apart[:, loud].sum())),
        phase=math.degrees(float(np.angle(cross))),
        coherence=float(steady),
        low=float(low),
        high=float(high),
    )
    return found, k


def _measured(e: Evidence, turned: Layer, first: tuple[Layer, ...], path: bool) -> PairOfLayers:
    """A pair note by note; with ``path``, the worked path as all of ``first`` leave it."""
    pair = PairOfLayers(first, turned, path, min(r for layer in (turned, *first) for r in source_ratios(layer)))
    glide = max(layer.play.glide for layer in (*first, turned))
    for note in e.notes:
        hz = e.note_hz(note, pair.ratio)
        a = e.partials(None if path else first[0].id, note, hz, COUNT, glide)
        b = e.partials(turned.id, note, hz, COUNT, glide)
        found = _note_sum(note, hz, a, b) if a.shape[0] else None
        if found is None or found[0].hz > HIGHEST_HZ:
            continue
        pair.notes.append(found[0])
        pair.a.append(a)
        pair.b.append(b)
    return pair


def _named(patch: Patch) -> list[tuple[Layer, tuple[Layer, ...], bool]]:
    heard = [layer for layer in patch.layers if has_pitch(layer)]
    clean = [layer for layer in heard if layer.path == "clean"]
    worked = [layer for layer in heard if layer.path == "worked"]
    found: list[tuple[Layer, tuple[Layer, ...], bool]] = []
    for group in (clean, worked):
        found += [(turned, (other,), False) for i, turned in enumerate(group) for other in group[i + 1 :]]
    return found + [(turned, tuple(worked), True) for turned in clean if worked]


def pairs_of(e: Evidence) -> list[PairOfLayers]:
    """Every pair that shares partials low enough to matter.

    Clean layers are compared with each other and with the worked path behind its chain; worked layers with each other
    before the chain.
    """
    return [p for p in (_measured(e, *named) for named in _named(e.patch)) if p.notes]


def same_pair(e: Evidence, pair: PairOfLayers) -> PairOfLayers | None:
    """A pair of other evidence measured on this, None when it shares nothing there."""
    for turned, first, path in _named(e.patch):
        if (turned.id, *(layer.id for layer in first)) == pair.layers and path == pair.path:
            found = _measured(e, turned, first, path)
            return found if found.notes else None
    return None


def layers_add_up(e: Evidence, limits: Limits) -> list[Finding]:
    """One finding a pair; those that fail offer a start phase, a polarity or a delay, measured with it in place."""
    from .align import align_fixes

    found: list[Finding] = []
    for pair in pairs_of(e):
        worst = pair.worst
        apart = pair.coherence < INCOHERENT
        limit = limits.sum_loss_apart_db if apart else limits.sum_loss_db
        fails = worst.sum_loss < limit
        name = note_name(worst.note.pitch)
        text = f"{write(worst.sum_loss, 'dB')} at {write(worst.hz, 'Hz')}, worst note {name}"
        if apart:
            title = f"{pair.title} drift apart"
            text = f"{write(worst.sum_loss, 'dB')} on average at {write(worst.hz, 'Hz')}; they do not keep step"
        else:
            title = f"{pair.title} {'cancel' if fails else 'add up'}"
        fixes: tuple[Fix, ...] = ()
        if fails and not apart:
            fixes = align_fixes(e, pair, limits)
        found.append(
            Finding(
                check="layers-add-up",
                verdict="holds" if not fails else "look" if apart else "fails",
                title=title,
                text=text,
                value=worst.sum_loss,
                unit="dB",
                limit=limit,
                limit_text=f"at least {write(limit, 'dB')}",
                where=Where(pair.layers, name, worst.note.beat, worst.hz / 1.12, worst.hz * 1.12),
                fixes=fixes,
                evidence=(
                    ("phase_deg", worst.phase),
                    ("coherence", pair.coherence),
                    ("sum_loss_overlap_db", min(n.overlap_loss for n in pair.notes)),
                    *((f"{note_name(n.note.pitch)} at beat {n.note.beat + 1:g}", n.sum_loss) for n in pair.notes),
                ),
            )
        )
    return found
