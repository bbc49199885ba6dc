"""Checks: measures against limits, findings, and the fixes they offer."""

from . import details
from .chains import StageReport, stage_report
from .check import CHECKS, UNJUDGED, check, with_harms
from .cure_all import MOST_STEPS, Applied, Cured, cure_all, next_cure
from .evidence import Evidence
from .finding import WORSE, Finding, Fix, Limits, Where
from .matching import any_matched, match_of, matches_wanted
from .notes import HeardNote
from .pairs import LayerPair, NoteSum, in_words, pairs_of
from .place_levels import ChainLevels, StageLevels, chain_levels, levels_from
from .sounding import sounds_at

__all__ = [
    "CHECKS",
    "MOST_STEPS",
    "UNJUDGED",
    "WORSE",
    "Applied",
    "ChainLevels",
    "Cured",
    "Evidence",
    "Finding",
    "Fix",
    "HeardNote",
    "LayerPair",
    "Limits",
    "NoteSum",
    "StageLevels",
    "StageReport",
    "Where",
    "any_matched",
    "chain_levels",
    "check",
    "cure_all",
    "details",
    "in_words",
    "levels_from",
    "match_of",
    "matches_wanted",
    "next_cure",
    "pairs_of",
    "sounds_at",
    "stage_report",
    "with_harms",
]
