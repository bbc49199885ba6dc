"""Modulation: smoothed parameters, movers, the matrix that joins them, envelopes, controllers."""

from .controllers import RESTING, Controller, Hands, Lanes
from .envelopes import EnvelopeRun, EnvelopeShape, run_shape
from .last_note import LastNoteTracker
from .matrix import ModulationMatrix
from .movers import mover_run
from .parameters import (
    Array,
    Convert,
    ModulationValues,
    SmoothedParameter,
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
    parameter_of,
    steady,
)
from .transport import Batch, Blocks, Moment
from .travel import TRAVEL_STEP, Travel
from .voice import LEVEL, Voice

__all__ = [
    "LEVEL",
    "RESTING",
    "TRAVEL_STEP",
    "Array",
    "Batch",
    "Blocks",
    "Controller",
    "Convert",
    "EnvelopeRun",
    "EnvelopeShape",
    "Hands",
    "Lanes",
    "LastNoteTracker",
    "ModulationMatrix",
    "ModulationValues",
    "Moment",
    "SmoothedParameter",
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
    "mover_run",
    "parameter_of",
    "run_shape",
    "steady",
]
