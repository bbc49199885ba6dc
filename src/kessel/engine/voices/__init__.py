"""Voices: notes, a layer's sources, and the voice stages they pass."""

from .layer_voices import LayerVoices, voices_below
from .source_plan import SourcePlan
from .source_state import SourceState
from .sources import VoiceQuantum, sound

__all__ = ["LayerVoices", "SourcePlan", "SourceState", "VoiceQuantum", "sound", "voices_below"]
