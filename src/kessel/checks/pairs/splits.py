"""Splits as fixes: the edge between two layers is moved, or one layer is cut below another.

Below its edge a layer falls by 24 dB per octave, and both sides of a split are in phase there. An octave further apart,
what they share is 24 dB below the stronger one and costs 1.1 dB at most.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from ...patch import Edit, Layer, Patch, Split, write
from ..evidence import Evidence
from ..finding import Candidate, Limits

_THIRDS = (1, -1, 2, -2, 3, -3, 4, 5)
"""Split positions to try, in third octaves from the present one, nearest first."""
_OVER = (1.0, 1.5, 2.0, 3.0)
"""Low cuts to try, as multiples of the highest shared frequency."""


def _round(hz: float) -> float:
    """Two digits: nobody sets a split at 118.7 Hz."""
    return float(f"{hz:.2g}")


def split_to(patch: Patch, split: Split, hz: float) -> Candidate | None:
    """A split at another frequency. None if a layer beside it would have no range left."""
    low, high = patch.layer(split.lower), patch.layer(split.upper)
    hz = _round(hz)
    if not low.range.low * 1.05 < hz < high.range.high * 0.95 or hz == low.range.high:
        return None
    edit = Edit(f"layers.{low.id}.range.high", hz)
    return f"Move the split between {low.name} and {high.name} to {write(hz, 'Hz')}", (edit,)


def moved_splits(patch: Patch, splits: Sequence[Split], thirds: Sequence[int] = _THIRDS) -> Iterator[Candidate]:
    """Each split at frequencies ever further from its own."""
    for split in splits:
        for step in thirds:
            option = split_to(patch, split, patch.layer(split.lower).range.high * 2.0 ** (step / 3.0))
            if option is not None:
                yield option


def kept_above(layer: Layer, hz: float) -> Candidate | None:
    """A layer cut below a frequency. None if it has nothing there, or nothing else."""
    hz = _round(hz)
    if not layer.range.low < hz < layer.range.high * 0.95:
        return None
    return f"Keep {layer.name} above {write(hz, 'Hz')}", (Edit(f"layers.{layer.id}.range.low", hz),)


def _height(e: Evidence, layer: Layer) -> float:
    """Share of a layer's power above 120 Hz. The one with more of it is the upper."""
    s = e.spectrum(layer.id)
    whole = s.power(20.0, 20000.0)
    return s.power(120.0, 20000.0) / whole if whole > 0 else 0.0


def parted(e: Evidence, ids: set[str], worst: float, highest: float) -> Iterator[Candidate]:
    """Candidates that separate two layers: by the split between them, or by an edge of the upper one.

    worst, highest: frequencies that they share, in Hz.
    """
    between = [s for s in e.patch.splits if {s.lower, s.upper} <= ids]
    yield from moved_splits(e.patch, between)
    if between or len(ids) != 2:
        return
    upper = max((e.patch.layer(i) for i in sorted(ids)), key=lambda layer: _height(e, layer))
    for hz in (worst, *(over * highest for over in _OVER)):
        option = kept_above(upper, hz)
        if option is not None:
            yield option


def above_the_lows(patch: Patch, layer_id: str, limits: Limits) -> Iterator[Candidate]:
    """Candidates that keep a layer out of the lows by the split below it."""
    for split in patch.splits:
        if split.upper == layer_id:
            for over in (1.0, 1.25, 1.6, 2.0):
                hz = over * limits.low_hz
                option = split_to(patch, split, hz) if hz > patch.layer(layer_id).range.low else None
                if option is not None:
                    yield option
