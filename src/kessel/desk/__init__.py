"""The desk: open patches, edits, undo, measuring in the background, live streams."""

from .desk import Desk
from .live import LiveStream
from .measuring import Measured, Picture
from .open_patch import Edited, OpenPatch
from .parts import PARTS, add_part, modulate, move_part, remove_part
from .turning import Shown, Turn, end_of, far_end, turned, value_shown

__all__ = [
    "PARTS",
    "Desk",
    "Edited",
    "LiveStream",
    "Measured",
    "OpenPatch",
    "Picture",
    "Shown",
    "Turn",
    "add_part",
    "end_of",
    "far_end",
    "modulate",
    "move_part",
    "remove_part",
    "turned",
    "value_shown",
]
