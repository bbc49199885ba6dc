"""MIDI input from a controller.

On any channel: notes, pitch bend, controller 1 as the wheel, channel and key pressure, controllers 16 to 23 as the
eight sliders, 64 as the hold pedal. What a patch binds to a controller comes first.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Literal

from ...patch import SLIDERS

CONTROLLER = 0xB0
"""Status of a controller's message, without the channel."""

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
    read = _MESSAGES.get((data[0] & 0xF0, len(data)))
    return read(*(b & 0x7F for b in data[1:])) if read is not None else None


def _control_change(number: int, value: int) -> Played | None:
    if number == 1:
        return Played("wheel", value / 127.0)
    if number == 64:
        return Played("hold", float(value >= 64))
    return Played("slider", value / 127.0, number - SLIDERS.start) if number in SLIDERS else None


_MESSAGES: dict[tuple[int, int], Callable[..., Played | None]] = {
    (0x80, 2): lambda note: Played("note", 0, note),
    (0x80, 3): lambda note, velocity: Played("note", 0, note),
    (0x90, 3): lambda note, velocity: Played("note", velocity, note),
    (0xA0, 3): lambda note, pressure: Played("pressure", pressure / 127.0),
    (CONTROLLER, 3): _control_change,
    (0xD0, 2): lambda pressure: Played("pressure", pressure / 127.0),
    (0xD0, 3): lambda pressure, _: Played("pressure", pressure / 127.0),
    (0xE0, 3): lambda low, high: Played("bend", max(-1.0, ((high << 7 | low) - 8192) / 8191.0)),
}
"""How a message is read, by its status without the channel and its length in bytes."""
