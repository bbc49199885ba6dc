"""Edits as functions from a patch to a list of edits. Nothing here has a state."""

from . import curves, notes, waves
from .amp_envelopes import own_envelope
from .arrivals import with_single_lows
from .bindings import bind, bound, unbind
from .carrying import carry
from .comparing import SettingsPair, without
from .controls import EACH, ControlChange, Shown, apply_change, end_of, movement_end, value_shown
from .curves import record_macro
from .kept_parts import KINDS, REPLACED, StoredPart, put_in, stored_part_from, take_out
from .layers import MOST_LAYERS, duplicate_layer, free_hatch, split_off, tie_split, unlink_layer, untie_split
from .limits import changed_limit, limit_title, limit_words
from .movements import add_movement, aim, clear_lost, mirror, movable_controls, told_apart, turn_round, unused
from .new_movers import NEW, new_movers
from .notes import SHAPES, SHORTEST, SNAPS, grid_of, record, resized
from .parts import (
    NEW_SOURCE,
    add_part,
    branch_around,
    let_through,
    modulate,
    move_octave,
    move_part,
    remove_part,
    turn_into,
)
from .rooms import changed_room, copied_room
from .stances import blended, keep_stance, pin, take_stance
from .starting_settings import same_bands, start_from
from .stock_parts import STARTS, start_patch, stock_parts
from .tapping import tap
from .ties import frequencies, tie, untie
from .whole_patch import transpose_patch

__all__ = [
    "EACH",
    "KINDS",
    "MOST_LAYERS",
    "NEW",
    "NEW_SOURCE",
    "REPLACED",
    "SHAPES",
    "SHORTEST",
    "SNAPS",
    "STARTS",
    "ControlChange",
    "SettingsPair",
    "Shown",
    "StoredPart",
    "add_movement",
    "add_part",
    "aim",
    "apply_change",
    "bind",
    "blended",
    "bound",
    "branch_around",
    "carry",
    "changed_limit",
    "changed_room",
    "clear_lost",
    "copied_room",
    "curves",
    "duplicate_layer",
    "end_of",
    "free_hatch",
    "frequencies",
    "grid_of",
    "keep_stance",
    "let_through",
    "limit_title",
    "limit_words",
    "mirror",
    "modulate",
    "movable_controls",
    "move_octave",
    "move_part",
    "movement_end",
    "new_movers",
    "notes",
    "own_envelope",
    "pin",
    "put_in",
    "record",
    "record_macro",
    "remove_part",
    "resized",
    "same_bands",
    "split_off",
    "start_from",
    "start_patch",
    "stock_parts",
    "stored_part_from",
    "take_out",
    "take_stance",
    "tap",
    "tie",
    "tie_split",
    "told_apart",
    "transpose_patch",
    "turn_into",
    "turn_round",
    "unbind",
    "unlink_layer",
    "untie",
    "untie_split",
    "unused",
    "value_shown",
    "waves",
    "with_single_lows",
    "without",
]
