"""Checks of playback: rooms, all keys, repeated notes, neighbours and a reference."""

from .keys import AT_ONCE, FIRST, LAST, KeyFigures, keys_patch, level_by_key, playable, slope_of, strike_keys
from .neighbours import Meeting, Neighbours, kick_alone, kick_clash, names_of, neighbours, over_loop
from .reference import Comparison, Difference, compare
from .repeatability import RepeatedNotes, repeatability, strike
from .rooms import InRoom, in_rooms

__all__ = [
    "AT_ONCE",
    "FIRST",
    "LAST",
    "Comparison",
    "Difference",
    "InRoom",
    "KeyFigures",
    "Meeting",
    "Neighbours",
    "RepeatedNotes",
    "compare",
    "in_rooms",
    "keys_patch",
    "kick_alone",
    "kick_clash",
    "level_by_key",
    "names_of",
    "neighbours",
    "over_loop",
    "playable",
    "repeatability",
    "slope_of",
    "strike",
    "strike_keys",
]
