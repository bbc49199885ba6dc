"""A binding: a control that a MIDI controller turns."""

from __future__ import annotations

from pydantic import Field

from .base import Id, Part

SLIDERS = range(16, 24)
"""Numbers of the eight sliders of the controller on the page."""
MOST_BINDINGS = 32
HIGHEST_CONTROLLER = 119
"""The numbers above are for channel modes (MIDI 1.0, table 3)."""


def controller_name(number: int) -> str:
    """What a controller is called."""
    if number in SLIDERS:
        return f"Slider {number - SLIDERS.start + 1}"
    return {1: "Wheel", 64: "Pedal"}.get(number, f"Controller {number}")


class Binding(Part):
    """A number control and the controller that turns it over its whole rule.

    A binding whose control is gone has no effect until that is back.
    """

    id: Id
    controller: int = Field(ge=0, le=HIGHEST_CONTROLLER)
    target: str = Field(max_length=160)
