"""Checks of the low end: the fundamental, rumble, mono below the cut."""

from .fundamental import Fundamental, fundamental_of, hollow, note_levels, worst_note
from .low_end import NotePartials, note_partials, rumble, thin, under_floor, weights_of
from .lows_in_mono import lows_in_mono, mono_loss
from .mono_detail import MonoDetail, Third, mono_detail
from .shutting import Shut, gentler, shut_on, taken_off
from .unheard_pitch import unheard_pitch

__all__ = [
    "Fundamental",
    "MonoDetail",
    "NotePartials",
    "Shut",
    "Third",
    "fundamental_of",
    "gentler",
    "hollow",
    "lows_in_mono",
    "mono_detail",
    "mono_loss",
    "note_levels",
    "note_partials",
    "rumble",
    "shut_on",
    "taken_off",
    "thin",
    "under_floor",
    "unheard_pitch",
    "weights_of",
    "worst_note",
]
