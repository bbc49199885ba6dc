"""Every kind of part that can be added to a patch, by its word."""

from __future__ import annotations

from .base import Part
from .effects import CHAIN_KINDS, BandDynamics, BranchPath, EqBand, Return
from .kinds import Kind
from .layer import Layer
from .movement import MOVERS
from .sources import SOURCES

_PLAIN_LAYER = {
    "path": "clean",
    "sources": ({"kind": "oscillator", "id": "sine", "name": "Sine", "shape": "sine"},),
}

PARTS: dict[str, Kind] = {
    kind.word: kind
    for kind in (
        *SOURCES,
        *CHAIN_KINDS,
        *MOVERS,
        Kind(EqBand, "Band", word="band"),
        Kind(BandDynamics, "Band", word="dynamics-band"),
        Kind(BranchPath, "Parallel path", word="path"),
        Kind(Return, "Return", word="return"),
        Kind(Layer, "Layer", word="layer", fresh=_PLAIN_LAYER),
    )
}


def highest_match(part: Part) -> float:
    """The highest gain in dB of an item's level match: none for what is there to limit a level."""
    kind = PARTS.get(getattr(part, "kind", ""))
    return 0.0 if kind is not None and kind.limits_level else 60.0
