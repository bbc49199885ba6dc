"""The desk: open patches, edits, undo, measuring in the background, live streams."""

from . import live_hands, note_edits, wave_edits
from .desk import Desk
from .freezing import freeze
from .kept_parts import KINDS, Kept, kept_from, put_in, take_out
from .layer_edits import duplicate_layer, out_of_step, split_off, tie_split, untie_split
from .live import LiveStream, go_first
from .measuring import Measured
from .open_patch import Edited, OpenPatch
from .parts import (
    PARTS,
    add_movement,
    add_part,
    modulate,
    movable_controls,
    move_octave,
    move_part,
    remove_part,
)
from .picture import Picture
from .stock_parts import STARTS
from .turning import Shown, Turn, end_of, far_end, turned, value_shown

__all__ = [
    "KINDS",
    "PARTS",
    "STARTS",
    "Desk",
    "Edited",
    "Kept",
    "LiveStream",
    "Measured",
    "OpenPatch",
    "Picture",
    "Shown",
    "Turn",
    "add_movement",
    "add_part",
    "duplicate_layer",
    "end_of",
    "far_end",
    "freeze",
    "go_first",
    "kept_from",
    "live_hands",
    "modulate",
    "movable_controls",
    "move_octave",
    "move_part",
    "note_edits",
    "out_of_step",
    "put_in",
    "remove_part",
    "split_off",
    "take_out",
    "tie_split",
    "turned",
    "untie_split",
    "value_shown",
    "wave_edits",
]
