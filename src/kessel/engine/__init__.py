"""Patch and phrase to audio, quantum by quantum. Knows no interface and no database."""

from ..dsp import QUANTUM, RATE
from .engine import Engine
from .loop import Loop, Stop, Stopped, Takes, layer_key, render_bars, render_loop
from .schedule import NoteEvent, Schedule, loop_samples, samples_per_beat
from .stages import curve_of

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
    "curve_of",
    "layer_key",
    "loop_samples",
    "render_bars",
    "render_loop",
    "samples_per_beat",
]
