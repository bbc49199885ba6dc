"""The tempo of taps."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from ...patch import Control, Edit, Patch, ValueProblem, declared, write

FEWEST = 4
"""Taps from which a tempo is told."""
_EVEN = 0.2
"""Share of the middle interval by which the others may differ."""


def tapped_tempo(times: Sequence[float]) -> float:
    """Beats per minute of taps at so many ms: by a straight line through them (least squares).

    A tempo outside the limits is doubled or halved into them. Raises ValueProblem if there are too few taps, or if they
    are uneven.
    """
    found = declared(Patch, "tempo")
    assert isinstance(found, Control)
    if len(times) < FEWEST:
        raise ValueProblem(f"tap at least {FEWEST} beats")
    gaps = np.diff(np.asarray(times, dtype=np.float64))
    middle = float(np.median(gaps))
    if middle <= 0.0 or float(np.abs(gaps - middle).max()) > _EVEN * middle:
        raise ValueProblem("the taps were uneven: tap again")
    step = float(np.polyfit(np.arange(len(times)), np.asarray(times, dtype=np.float64), 1)[0])
    tempo = round(60000.0 / step, 1)
    while tempo < found.low:
        tempo *= 2.0
    while tempo > found.high:
        tempo *= 0.5
    return found.tidy(tempo)


def tap(times: Sequence[float]) -> tuple[list[Edit], str]:
    """Set the tempo to that of taps at so many ms. Raises ValueProblem."""
    tempo = tapped_tempo(times)
    return [Edit("tempo", tempo)], f"Tap the tempo: {write(tempo, 'BPM')}"
