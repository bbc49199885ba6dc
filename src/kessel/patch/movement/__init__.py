"""Models of movement: movers, movements, stances, ties, drawn curves."""

from .curves import DRAWN_CURVE, PUMP, CurvePoint, in_order
from .dependencies import cycle_of, layer_leans, mover_leans, movers_below, movers_of, sorted_so
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
    mixed,
    swings,
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
    "layer_leans",
    "mixed",
    "mover_leans",
    "movers_below",
    "movers_of",
    "sorted_so",
    "swings",
]
