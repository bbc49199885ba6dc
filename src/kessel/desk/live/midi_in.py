"""MIDI input from a controller.

On any channel: notes, pitch bend, controller 1 as the wheel, channel and key pressure, controllers 16 to 23 as the
eight sliders, 64 as the hold pedal.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

SLIDERS = range(16, 24)

What = Literal["note", "bend", "wheel", "pressure", "slider", "hold"]


@dataclass(frozen=True)
class Played:
    """One input. number: the note or slider; value: velocity 0..127, bend -1..1, or 0..1."""

    what: What
    value: float
    number: int = 0


def read_midi(data: Sequence[int]) -> Played | None:
    """The meaning of a message's bytes. None if Kessel does not use it."""
    if not 2 <= len(data) <= 3 or any(not 0 <= b <= 255 for b in data):
        return None
    kind, first, second = data[0] & 0xF0, data[1] & 0x7F, (data[2] & 0x7F) if len(data) == 3 else 0
    if kind == 0x90 and len(data) == 3:
        return Played("note", second, first)
    if kind == 0x80:
        return Played("note", 0, first)
    if kind == 0xE0 and len(data) == 3:
        bend = (second << 7 | first) - 8192
        return Played("bend", max(-1.0, bend / 8191.0))
    if kind == 0xD0:
        return Played("pressure", first / 127.0)
    if kind == 0xA0 and len(data) == 3:
        return Played("pressure", second / 127.0)
    if kind == 0xB0 and len(data) == 3:
        if first == 1:
            return Played("wheel", second / 127.0)
        if first == 64:
            return Played("hold", float(second >= 64))
        if first in SLIDERS:
            return Played("slider", second / 127.0, first - SLIDERS.start)
    return None
