"""Voices: notes, a layer's sources, and the voice stages they go through."""

from .layer_voices import LayerRun, voices_below
from .source_plan import SourcePlan
from .sources import SourceState, sound

__all__ = ["LayerRun", "SourcePlan", "SourceState", "sound", "voices_below"]
