"""Models of movement: movers, movements, stances, ties, drawn curves."""

from .curves import DRAWN_CURVE, PUMP, CurvePoint, in_order
from .dependencies import (
    amp_envelopes,
    cycle_of,
    layer_dependencies,
    mover_dependencies,
    movers_below,
    movers_of,
    topological_order,
    with_their_movers,
)
from .envelopes import Envelope, LevelEnvelope, Segments
from .kinds import MOVERS, Mover, is_bipolar, kind_of, manner
from .movers import MOST_MACROS, AudioRate, Curve, Follower, Lfo, Macro, Movement, Performance
from .stances import Blend, Stance, mixed
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
    "amp_envelopes",
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
    "with_their_movers",
]
