"""Patch and phrase to audio, quantum by quantum. Knows no interface and no database."""

from ..dsp import QUANTUM, RATE
from .engine import Engine
from .loop import Loop, Stop, Stopped, Takes, layer_key, render_bars, render_loop, render_sum
from .pictures import cycle_of, envelope_curve, lfo_curve, response_of, transfer_of
from .schedule import NoteEvent, Schedule, loop_samples, samples_per_beat

__all__ = [
    "QUANTUM",
    "RATE",
    "Engine",
    "Loop",
    "NoteEvent",
    "Schedule",
    "Stop",
    "Stopped",
    "Takes",
    "cycle_of",
    "envelope_curve",
    "layer_key",
    "lfo_curve",
    "loop_samples",
    "render_bars",
    "render_loop",
    "render_sum",
    "response_of",
    "samples_per_beat",
    "transfer_of",
]
