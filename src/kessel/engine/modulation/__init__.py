"""Modulation: smoothed parameters, movers, the matrix that joins them, envelopes, controllers."""

from .controllers import RESTING, Controller, Hands, Lanes
from .envelopes import EnvelopeRun, EnvelopeShape, run_shape
from .last_note import Latest
from .matrix import Bank
from .movers import mover_run
from .parameters import (
    Array,
    Convert,
    Knob,
    Movers,
    as_cycles,
    as_damping,
    as_factor,
    as_gain,
    as_is,
    as_quarter,
    as_ratio_ct,
    as_ratio_st,
    as_share,
    as_stretch,
    gain_of,
    knob_of,
    steady,
)
from .transport import Blocks, Moment, Spell
from .travel import TRAVEL_STEP, Travel
from .voice import LEVEL, Voice

__all__ = [
    "LEVEL",
    "RESTING",
    "TRAVEL_STEP",
    "Array",
    "Bank",
    "Blocks",
    "Controller",
    "Convert",
    "EnvelopeRun",
    "EnvelopeShape",
    "Hands",
    "Knob",
    "Lanes",
    "Latest",
    "Moment",
    "Movers",
    "Spell",
    "Travel",
    "Voice",
    "as_cycles",
    "as_damping",
    "as_factor",
    "as_gain",
    "as_is",
    "as_quarter",
    "as_ratio_ct",
    "as_ratio_st",
    "as_share",
    "as_stretch",
    "gain_of",
    "knob_of",
    "mover_run",
    "run_shape",
    "steady",
]
