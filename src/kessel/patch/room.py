"""Rooms: simulated playback systems. They belong to the library, not to a patch."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from .base import Id, Name, Part
from .controls import choice, control

Slope = Literal["off", "12 dB", "24 dB"]


class Room(Part):
    """A playback system in numbers: filters, a mono edge, reflections, a ceiling."""

    id: Id
    name: Name
    note: str = Field(default="", max_length=200)
    low_cut: float = control("Low cut", "Hz", 15, 1000, 30, taper="log", help="The system rolls off below this.")
    low_slope: Slope = choice("Low cut slope", "off", help="Slope in dB per octave.")
    high_cut: float = control("High cut", "Hz", 500, 20000, 18000, taper="log", help="The system rolls off above this.")
    high_slope: Slope = choice("High cut slope", "off", help="Slope in dB per octave.")
    shelf: float = control("Low shelf", "dB", -18, 18, 0, help="Gain of the low shelf.")
    shelf_at: float = control(
        "Shelf frequency", "Hz", 40, 500, 100, taper="log", help="The shelf acts below this frequency."
    )
    bump: float = control("Peak", "dB", -18, 18, 0, help="Gain of one resonance, as of a box or a cabin.")
    bump_at: float = control("Peak frequency", "Hz", 25, 8000, 60, taper="log", help="Centre frequency of the peak.")
    bump_q: float = control("Peak width", "Q", 0.3, 8, 1.2, taper="log", help="Q: higher is narrower.")
    mono_below: float = control(
        "Mono below",
        "Hz",
        20,
        20000,
        20,
        taper="log",
        off_low="never",
        off_high="all",
        help="The system is mono below this.",
    )
    reflections: float = control(
        "Reflections",
        "dB",
        -36,
        0,
        -36,
        off_low="none",
        help="Level of the early reflections against the direct sound.",
    )
    spread: float = control("Wall distance", "ms", 2, 40, 9, taper="log", help="Delay of the first reflection.")
    ceiling: float = control("Ceiling", "dB", -30, 0, 0, help="Highest output level.")
    ceiling_mode: Literal["off", "limiter", "hard"] = choice(
        "Ceiling mode", "off", help="Limiter reduces the gain before a peak, hard cuts it."
    )


def stock_rooms() -> tuple[Room, ...]:
    """The six rooms that ship with Kessel."""
    return (
        Room(
            id="main-floor",
            name="Main floor",
            note="A club system: sub stacks in mono, low shelf up, limiter.",
            low_cut=32,
            low_slope="24 dB",
            shelf=6,
            shelf_at=100,
            mono_below=110,
            ceiling=-1,
            ceiling_mode="limiter",
        ),
        Room(
            id="side-bar",
            name="Side bar",
            note="Two small boxes on a wall, close walls.",
            low_cut=55,
            low_slope="12 dB",
            reflections=-9,
            spread=6,
        ),
        Room(
            id="car",
            name="Car",
            note="The cabin lifts 60 Hz; the lows come from one box.",
            low_cut=25,
            low_slope="12 dB",
            bump=7,
            bump_at=60,
            bump_q=1.4,
            mono_below=120,
        ),
        Room(
            id="phone",
            name="Phone",
            note="One tiny speaker, driven to its end.",
            low_cut=380,
            low_slope="24 dB",
            high_cut=8000,
            high_slope="12 dB",
            mono_below=20000,
            ceiling=-6,
            ceiling_mode="hard",
        ),
        Room(
            id="laptop",
            name="Laptop",
            note="Two small speakers in a flat case.",
            low_cut=200,
            low_slope="24 dB",
            high_cut=14000,
            high_slope="12 dB",
        ),
        Room(id="headphones", name="Headphones", note="Flat, nothing taken away."),
    )
