"""The desk: open patches, edits, undo, measuring in the background, live streams."""

from ..worker import Picture, axis
from . import curve_edits, live_hands, note_edits, wave_edits
from .checking import worst_by_check
from .comparing import Pair, without
from .desk import Desk
from .freezing import freeze
from .kept_parts import KINDS, Kept, kept_from, put_in, take_out
from .layer_edits import duplicate_layer, out_of_step, split_off, tie_split, untie_split
from .limits import limit_title, limit_words
from .live import LiveStream, go_first
from .measuring import Measured
from .messages import SLOW
from .movements import add_movement, aim, clear_lost, mirror, movable_controls, turn_round, unused
from .open_patch import ChangedElsewhere, Edited, News, OpenPatch
from .parts import (
    CHAIN_KINDS,
    FAMILIES,
    MOVER_KINDS,
    PARTS,
    STAGE_KINDS,
    add_part,
    branch_around,
    modulate,
    move_octave,
    move_part,
    remove_part,
    turn_into,
)
from .room_edits import changed_room, copied_room
from .set_check import Checked
from .stances import keep_stance, pin, take_stance
from .starting_settings import STARTING, same_bands, start_from
from .stock_parts import STARTS
from .ties import frequencies, tie, untie
from .turning import EACH, Shown, Turn, end_of, far_end, turned, value_shown

__all__ = [
    "CHAIN_KINDS",
    "EACH",
    "FAMILIES",
    "KINDS",
    "MOVER_KINDS",
    "PARTS",
    "SLOW",
    "STAGE_KINDS",
    "STARTING",
    "STARTS",
    "ChangedElsewhere",
    "Checked",
    "Desk",
    "Edited",
    "Kept",
    "LiveStream",
    "Measured",
    "News",
    "OpenPatch",
    "Pair",
    "Picture",
    "Shown",
    "Turn",
    "add_movement",
    "add_part",
    "aim",
    "axis",
    "branch_around",
    "changed_room",
    "clear_lost",
    "copied_room",
    "curve_edits",
    "duplicate_layer",
    "end_of",
    "far_end",
    "freeze",
    "frequencies",
    "go_first",
    "keep_stance",
    "kept_from",
    "limit_title",
    "limit_words",
    "live_hands",
    "mirror",
    "modulate",
    "movable_controls",
    "move_octave",
    "move_part",
    "note_edits",
    "out_of_step",
    "pin",
    "put_in",
    "remove_part",
    "same_bands",
    "split_off",
    "start_from",
    "take_out",
    "take_stance",
    "tie",
    "tie_split",
    "turn_into",
    "turn_round",
    "turned",
    "untie",
    "untie_split",
    "unused",
    "value_shown",
    "wave_edits",
    "without",
    "worst_by_check",
]
