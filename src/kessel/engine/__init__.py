"""Patch and phrase to audio, quantum by quantum. Knows no interface and no database."""

from ..dsp import QUANTUM, RATE
from .audio import audio_of, forget, keeper, recording_of
from .backing import BackingRun, Track, beat_track, loop_track
from .engine import Engine
from .keys import layer_key, span_of
from .knobs import gain_of
from .loop import Loop, render_bars, render_layer, render_loop, render_sum
from .pictures import (
    SourcePicture,
    audio_outline,
    beat_curve,
    drawn_curve,
    envelope_after,
    envelope_curve,
    lfo_curve,
    mover_over,
    source_picture,
    static_curve,
    transfer_of,
)
from .responses import complex_response, eq_band_response, response_of
from .schedule import PATTERNS as BEAT_PATTERNS
from .schedule import NoteEvent, Schedule, kick_beats, loop_samples, samples_per_beat
from .stages import latency_of
from .takes import Stop, Stopped, Takes
from .tapping import Taps, places_of_chains, tap_chain, through_item
from .through_room import RoomRun, load_rooms, room_response, through_room

__all__ = [
    "BEAT_PATTERNS",
    "QUANTUM",
    "RATE",
    "BackingRun",
    "Engine",
    "Loop",
    "NoteEvent",
    "RoomRun",
    "Schedule",
    "SourcePicture",
    "Stop",
    "Stopped",
    "Takes",
    "Taps",
    "Track",
    "audio_of",
    "audio_outline",
    "beat_curve",
    "beat_track",
    "complex_response",
    "drawn_curve",
    "envelope_after",
    "envelope_curve",
    "eq_band_response",
    "forget",
    "gain_of",
    "keeper",
    "kick_beats",
    "latency_of",
    "layer_key",
    "lfo_curve",
    "load_rooms",
    "loop_samples",
    "loop_track",
    "mover_over",
    "places_of_chains",
    "recording_of",
    "render_bars",
    "render_layer",
    "render_loop",
    "render_sum",
    "response_of",
    "room_response",
    "samples_per_beat",
    "source_picture",
    "span_of",
    "static_curve",
    "tap_chain",
    "through_item",
    "through_room",
    "transfer_of",
]
