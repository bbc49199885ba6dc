"""The editor: the tabs of a layer, and of what all layers share."""

from .editor import VIEWS, Editor, Selection, editor_view, first_tab, tabs_of
from .item_panel import ChainPlace, place_of
from .movement_list import control_menu
from .source_panel import group_of, source_drawing

__all__ = [
    "VIEWS",
    "ChainPlace",
    "Editor",
    "Selection",
    "control_menu",
    "editor_view",
    "first_tab",
    "group_of",
    "place_of",
    "source_drawing",
    "tabs_of",
]
