"""Checks of pairs: whether two sounds that share the lows add up, and how they are aligned."""

from .align import AlignPlan, plan_align
from .layers_add_up import layers_add_up, pair_verdict
from .lows_beat import lows_beat
from .pairs import LayerPair, NoteSum, in_words, onset_loss, pairs_of, signals_of, turned_by
from .splits import above_the_lows, kept_above, moved_splits

__all__ = [
    "AlignPlan",
    "LayerPair",
    "NoteSum",
    "above_the_lows",
    "in_words",
    "kept_above",
    "layers_add_up",
    "lows_beat",
    "moved_splits",
    "onset_loss",
    "pair_verdict",
    "pairs_of",
    "plan_align",
    "signals_of",
    "turned_by",
]
