"""Models of movement: movers, movements, stances, ties, drawn curves."""

from .curves import DRAWN_CURVE, PUMP, CurvePoint, in_order
from .dependencies import cycle_of, layer_dependencies, mover_dependencies, movers_below, movers_of, topological_order
from .kinds import MOVERS, Mover, is_bipolar, kind_of, manner
from .movers import (
    MOST_MACROS,
    Blend,
    Curve,
    Envelope,
    Feed,
    Follower,
    Hand,
    LevelEnvelope,
    Lfo,
    Macro,
    Movement,
    Segments,
    Stance,
    mixed,
)
from .tie import Tie

__all__ = [
    "DRAWN_CURVE",
    "MOST_MACROS",
    "MOVERS",
    "PUMP",
    "Blend",
    "Curve",
    "CurvePoint",
    "Envelope",
    "Feed",
    "Follower",
    "Hand",
    "LevelEnvelope",
    "Lfo",
    "Macro",
    "Movement",
    "Mover",
    "Segments",
    "Stance",
    "Tie",
    "cycle_of",
    "in_order",
    "is_bipolar",
    "kind_of",
    "layer_dependencies",
    "manner",
    "mixed",
    "mover_dependencies",
    "movers_below",
    "movers_of",
    "topological_order",
]
