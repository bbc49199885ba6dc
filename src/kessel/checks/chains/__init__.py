"""Checks of effects: what the chains and the voice stages do to level, punch and lows."""

from .dynamics import crest_lost, movement_flattened
from .levels import folds_back, lows_pump, stage_clips, stage_idles, wet_lows
from .stage_report import (
    ChainLevels,
    StageLevels,
    StageReport,
    any_matched,
    chain_levels,
    levels_from,
    match_of,
    matches_wanted,
    stage_report,
)
from .voice_stages import fundamental_shut, resonance_clips

__all__ = [
    "ChainLevels",
    "StageLevels",
    "StageReport",
    "any_matched",
    "chain_levels",
    "crest_lost",
    "folds_back",
    "fundamental_shut",
    "levels_from",
    "lows_pump",
    "match_of",
    "matches_wanted",
    "movement_flattened",
    "resonance_clips",
    "stage_clips",
    "stage_idles",
    "stage_report",
    "wet_lows",
]
