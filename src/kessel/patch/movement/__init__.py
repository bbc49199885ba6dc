"""Models of movement: movers, movements, stances, ties, drawn curves."""

from .curves import DRAWN_CURVE, PUMP, CurvePoint, in_order
from .dependencies import cycle_of, layer_dependencies, mover_dependencies, movers_below, movers_of, topological_order
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
    Mover,
    Segments,
    Stance,
    is_bipolar,
    mixed,
)
from .tie import Tie

__all__ = [
    "DRAWN_CURVE",
    "MOST_MACROS",
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
    "layer_dependencies",
    "mixed",
    "mover_dependencies",
    "movers_below",
    "movers_of",
    "topological_order",
]
