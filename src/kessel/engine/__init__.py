"""Patch and phrase to audio, quantum by quantum. Knows no interface and no database."""

from ..dsp import QUANTUM, RATE
from .audio import audio_of, forget, keeper
from .engine import Engine
from .loop import Loop, Stop, Stopped, Takes, layer_key, render_bars, render_loop, render_sum
from .pictures import SourcePicture, audio_outline, envelope_curve, lfo_curve, response_of, source_picture, transfer_of
from .schedule import NoteEvent, Schedule, loop_samples, samples_per_beat

__all__ = [
    "QUANTUM",
    "RATE",
    "Engine",
    "Loop",
    "NoteEvent",
    "Schedule",
    "SourcePicture",
    "Stop",
    "Stopped",
    "Takes",
    "audio_of",
    "audio_outline",
    "envelope_curve",
    "forget",
    "keeper",
    "layer_key",
    "lfo_curve",
    "loop_samples",
    "render_bars",
    "render_loop",
    "render_sum",
    "response_of",
    "samples_per_beat",
    "source_picture",
    "transfer_of",
]
