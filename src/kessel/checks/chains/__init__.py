"""Checks of effects: what the chains and the voice stages do to level, punch and lows."""

from .dynamics import crest_lost, movement_flattened
from .levels import folds_back, lows_pump, stage_clips, stage_idles, wet_lows
from .stage_report import StageReport, stage_report
from .voice_stages import fundamental_shut, resonance_clips

__all__ = [
    "StageReport",
    "crest_lost",
    "folds_back",
    "fundamental_shut",
    "lows_pump",
    "movement_flattened",
    "resonance_clips",
    "stage_clips",
    "stage_idles",
    "stage_report",
    "wet_lows",
]
