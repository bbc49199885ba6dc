"""Whole loops: rendered once and cached, tapped between effects, drawn as curves, heard through rooms."""

from .backing import BackingPlayer, Track, beat_track, loop_track
from .cache import CancelToken, RenderCache, RenderCancelled
from .cache_keys import layer_key, span_of
from .effect_curves import (
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
from .layers import render_layer_voices
from .loop import Loop, render_bars, render_layer, render_loop, render_sum
from .playback_rooms import RoomProcessor, load_rooms, room_response, through_room
from .taps import Taps, places_of_chains, tap_chain, through_item

__all__ = [
    "BackingPlayer",
    "CancelToken",
    "Loop",
    "RenderCache",
    "RenderCancelled",
    "RoomProcessor",
    "SourcePicture",
    "Taps",
    "Track",
    "audio_outline",
    "beat_curve",
    "beat_track",
    "drawn_curve",
    "envelope_after",
    "envelope_curve",
    "layer_key",
    "lfo_curve",
    "load_rooms",
    "loop_track",
    "mover_over",
    "places_of_chains",
    "render_bars",
    "render_layer",
    "render_layer_voices",
    "render_loop",
    "render_sum",
    "room_response",
    "source_picture",
    "span_of",
    "static_curve",
    "tap_chain",
    "through_item",
    "through_room",
    "transfer_of",
]
