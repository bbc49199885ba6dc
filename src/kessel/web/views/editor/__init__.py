"""The editor: the tabs of a layer and of what all layers share."""

from .editor import VIEWS, Asked, Editor, editor_view, first_tab, tabs_of
from .item_panel import Place, place_of
from .movement_list import control_menu
from .source_panel import source_drawing

__all__ = [
    "VIEWS",
    "Asked",
    "Editor",
    "Place",
    "control_menu",
    "editor_view",
    "first_tab",
    "place_of",
    "source_drawing",
    "tabs_of",
]
