"""Modulation: smoothed parameters, movers, the matrix that connects them, envelopes, controllers."""

from .amp_envelopes import amp_of
from .controllers import CONTROLLERS_AT_REST, Controller, ControllerState, PhraseLanes
from .envelopes import EnvelopeProcessor, EnvelopeShape, run_envelope
from .last_note import LastNoteTracker
from .matrix import ModulationMatrix
from .movers import mover_processor
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
from .transport import Batch, Blocks, TransportContext
from .travel import TRAVEL_STEP, Travel
from .voice import LEVEL, Voice

__all__ = [
    "CONTROLLERS_AT_REST",
    "LEVEL",
    "TRAVEL_STEP",
    "Array",
    "Batch",
    "Blocks",
    "Controller",
    "ControllerState",
    "Convert",
    "EnvelopeProcessor",
    "EnvelopeShape",
    "LastNoteTracker",
    "ModulationMatrix",
    "ModulationValues",
    "PhraseLanes",
    "SmoothedParameter",
    "TransportContext",
    "Travel",
    "Voice",
    "amp_of",
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
    "mover_processor",
    "parameter_of",
    "run_envelope",
    "steady",
]
