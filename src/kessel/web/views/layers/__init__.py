"""The Layers workspace: the section drawing and the phrase."""

from .phrase import phrase_view
from .phrase_panel import phrase_panel
from .sheet import GRID, KEYS, TICKS, FrequencyHandle, sheet_view

__all__ = ["GRID", "KEYS", "TICKS", "FrequencyHandle", "phrase_panel", "phrase_view", "sheet_view"]
