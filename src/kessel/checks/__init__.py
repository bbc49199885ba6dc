"""Measures held against limits: findings, and the fixes they offer."""

from .check import CHECKS, check
from .evidence import Evidence, HeardNote
from .finding import Finding, Fix, Limits, Where
from .layers_add_up import NoteSum, PairOfLayers, pairs_of

__all__ = [
    "CHECKS",
    "Evidence",
    "Finding",
    "Fix",
    "HeardNote",
    "Limits",
    "NoteSum",
    "PairOfLayers",
    "Where",
    "check",
    "pairs_of",
]
