"""Models of movement: movers, movements, stances, ties, drawn curves."""

from .curves import DRAWN_CURVE, PUMP, CurvePoint, in_order
from .dependencies import cycle_of, layer_dependencies, mover_dependencies, movers_below, movers_of, topological_order
from .kinds import MOVERS, Mover, is_bipolar, kind_of, manner
from .movers import (
    MOST_MACROS,
    AudioRate,
    Blend,
    Curve,
    Envelope,
    Follower,
    LevelEnvelope,
    Lfo,
    Macro,
    Movement,
    Performance,
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
    "AudioRate",
    "Blend",
    "Curve",
    "CurvePoint",
    "Envelope",
    "Follower",
    "LevelEnvelope",
    "Lfo",
    "Macro",
    "Movement",
    "Mover",
    "Performance",
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
