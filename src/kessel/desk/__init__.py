"""The desk: open patches, edits, undo, measuring in the background, live streams."""

from .desk import Desk
from .live import LiveStream, go_first
from .measuring import Measured
from .open_patch import Edited, OpenPatch
from .parts import PARTS, add_part, modulate, move_octave, move_part, remove_part
from .picture import Picture
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
    "go_first",
    "modulate",
    "move_octave",
    "move_part",
    "remove_part",
    "turned",
    "value_shown",
]
