"""Details behind the findings, for the topics of the Checks workspace."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..measure import coherence_over, spectrogram
from .evidence import Evidence
from .finding import WORSE, Limits, Verdict
from .lows import NotePartials, note_partials, under_floor, weights_of
from .pairs import LayerPair, in_words, onset_loss, pair_verdict, pairs_of, signals_of

_Real = NDArray[np.floating[Any]]

LOW_HZ, HIGH_HZ = 20.0, 250.0
POINTS = 320
COHERENCE_HZ = 20.0 * 2.0 ** (np.arange(60) / 6.0)
"""Sixth-octave frequencies on the shared axis."""


@dataclass(frozen=True)
class PairDetail:
    """A pair with its drawings: onset losses by note, coherence at COHERENCE_HZ, text by note.

    limit: of the sum loss in dB, -inf for a pair that is judged as a beat.
    """

    pair: LayerPair
    verdict: Verdict
    limit: float
    onsets: tuple[float | None, ...]
    coherence: _Real
    words: tuple[str, ...]


def pair_details(e: Evidence, limits: Limits) -> tuple[PairDetail, ...]:
    """Details of every pair that shares the lows, worst first."""
    found = []
    for p in sorted(pairs_of(e), key=lambda p: (-WORSE[pair_verdict(p, limits)], p.worst.sum_loss)):
        a, b = signals_of(e, p)
        found.append(
            PairDetail(
                p,
                pair_verdict(p, limits),
                -np.inf if p.apart else limits.sum_loss_db,
                tuple(onset_loss(e, p, n) for n in p.notes),
                coherence_over(a, b, COHERENCE_HZ),
                tuple(in_words(p, n) for n in p.notes),
            )
        )
    return tuple(found)


def low_axis() -> NDArray[np.float64]:
    """Frequencies from 20 to 250 Hz, evenly spaced on a log axis."""
    return np.asarray(LOW_HZ * (HIGH_HZ / LOW_HZ) ** (np.arange(POINTS) / (POINTS - 1)))


@dataclass(frozen=True)
class LowDetail:
    """The low end.

    Curves are in dB along ``low_axis``. shares: each layer's share of the power there, 0..1, in the order of the
    layers. notes: harmonics of every note. levels: (rows, columns) of the loop in dB, from 20 to 250 Hz. thin: by key,
    harmonics that are weaker on it than usual, as (harmonic, dB).
    """

    sum: _Real
    layers: dict[str, _Real]
    shares: dict[str, _Real]
    notes: tuple[NotePartials, ...]
    levels: _Real
    floor_db: float | None
    thin: dict[int, tuple[tuple[int, float], ...]]


def low_detail(e: Evidence, limits: Limits) -> LowDetail:
    """The low end of the loop, with the layers as they are mixed before the worked chain."""
    hz = low_axis()
    curves = {x.id: e.spectrum(x.id).curve(hz) for x in e.patch.layers if not x.mute}
    power = {i: 10.0 ** (c / 10.0) for i, c in curves.items()}
    whole = np.maximum(np.sum(list(power.values()), axis=0), 1e-14) if power else np.ones(POINTS)
    s = e.sum.spectrum
    levels = spectrogram(e.loop.sum, rows=192, columns=400)
    missed: dict[int, list[tuple[int, float]]] = {}
    for w in weights_of(e):
        for pitch, by in w.missed(limits).items():
            missed.setdefault(pitch, []).append((w.partial, by))
    top = round(191 * np.log(HIGH_HZ / 20.0) / np.log(1000.0))
    return LowDetail(
        sum=s.curve(hz),
        layers=curves,
        shares={i: p / whole for i, p in power.items()},
        notes=tuple(note_partials(e)),
        levels=levels[: top + 1],
        floor_db=under_floor(e, limits),
        thin={pitch: tuple(rows) for pitch, rows in missed.items()},
    )
