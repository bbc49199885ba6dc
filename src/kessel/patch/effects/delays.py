"""Models of chorus, thicken, phaser, flanger, echo and space."""

from __future__ import annotations

from typing import Literal

from ..conditions import when
from ..controls import choice, control, pick
from .dynamics import EffectPart

_LOW_CUT = "Nothing of the effect's own sound lies below, so that the lows stay clean and in the middle."


def _low_cut() -> float:
    made: float = control("Low cut", "Hz", 20, 2000, 150, taper="log", moves=True, off_low="off", help=_LOW_CUT)
    return made


class TimeEffect(EffectPart):
    """An effect with a wet sound beside the dry one."""

    low_cut: float = _low_cut()


class Swinging(TimeEffect):
    """An effect with an LFO."""

    clock: Literal["Hz", "beats"] = choice("Clock", "Hz", help="Swings so often a second, or in note values.")
    rate: float = control(
        "Rate",
        "Hz",
        0.01,
        20,
        0.4,
        taper="log",
        step=0.01,
        moves=True,
        shown_if=when("clock", "Hz"),
        help="Swings a second.",
    )
    length: float = control(
        "Length",
        "beats",
        1 / 8,
        64,
        4,
        taper="log",
        step=0.001,
        moves=True,
        shown_if=when("clock", "beats"),
        help="Length of one swing.",
    )


class Chorus(Swinging):
    """Copies with modulated delays."""

    kind: Literal["chorus"] = "chorus"
    voices: int = control("Voices", "count", 1, 6, 2, whole=True, step=1, help="How many copies.")
    delay: float = control("Delay", "ms", 1, 40, 9, taper="log", moves=True, help="Where the copies stand.")
    depth: float = control("Depth", "ms", 0, 12, 2, taper="ease", step=0.01, moves=True, help="How far they swing.")
    width: float = control("Width", "%", 0, 100, 80, step=1, moves=True, help="How far the copies stand apart.")
    mix: float = control("Mix", "%", 0, 100, 40, step=1, moves=True, help="Up to 50 % the dry sound stays whole.")


class Thicken(TimeEffect):
    """Copies that drift independently."""

    kind: Literal["thicken"] = "thicken"
    voices: int = control("Voices", "count", 1, 8, 4, whole=True, step=1, help="How many copies.")
    rate: float = control(
        "Rate", "Hz", 0.05, 8, 0.6, taper="log", step=0.01, moves=True, help="How quickly they drift."
    )
    delay: float = control("Delay", "ms", 1, 60, 14, taper="log", moves=True, help="How far back they stand at most.")
    detune: float = control("Detune", "ct", 0, 60, 9, moves=True, help="How far they drift from the pitch.")
    width: float = control("Width", "%", 0, 100, 90, step=1, moves=True, help="How far the copies stand apart.")
    mix: float = control("Mix", "%", 0, 100, 40, step=1, moves=True, help="Up to 50 % the dry sound stays whole.")


class Phaser(Swinging):
    """A modulated row of all-passes."""

    kind: Literal["phaser"] = "phaser"
    stages: int = control("Passes", "count", 2, 12, 4, whole=True, step=2, help="Two make a notch.")
    cutoff: float = control("Centre", "Hz", 60, 12000, 700, taper="log", moves=True, help="Around here the notches go.")
    depth: float = control("Depth", "oct", 0, 5, 1.5, step=0.01, moves=True, help="How far the notches swing.")
    feedback: float = control("Feedback", "%", -95, 95, 30, step=1, moves=True, help="Lifts what lies between notches.")
    apart: float = control(
        "Sides apart", "deg", 0, 180, 60, step=1, moves=True, help="How much later the right swings."
    )
    mix: float = control("Mix", "%", 0, 100, 50, step=1, moves=True, help="At 50 % the notches are deepest.")


class Flanger(Swinging):
    """A short modulated delay with feedback."""

    kind: Literal["flanger"] = "flanger"
    delay: float = control("Delay", "ms", 0.1, 20, 1.5, taper="log", moves=True, help="Where the echo stands.")
    depth: float = control("Depth", "ms", 0, 10, 1, taper="ease", step=0.01, moves=True, help="How far it swings.")
    feedback: float = control("Feedback", "%", -95, 95, 40, step=1, moves=True, help="How long it rings.")
    apart: float = control(
        "Sides apart", "deg", 0, 180, 90, step=1, moves=True, help="How much later the right swings."
    )
    mix: float = control("Mix", "%", 0, 100, 50, step=1, moves=True, help="At 50 % the notches are deepest.")


class Echo(TimeEffect):
    """Repeats that fade."""

    kind: Literal["echo"] = "echo"
    clock: Literal["ms", "beats"] = choice("Clock", "beats", help="Time in milliseconds, or in note values.")
    time: float = control(
        "Time",
        "ms",
        1,
        4000,
        260,
        taper="log",
        moves=True,
        shown_if=when("clock", "ms"),
        help="Time from one repeat to the next.",
    )
    length: float = control(
        "Time",
        "beats",
        1 / 16,
        8,
        0.75,
        taper="log",
        step=0.001,
        moves=True,
        shown_if=when("clock", "beats"),
        help="Time from one repeat to the next.",
    )
    feedback: float = control("Feedback", "%", 0, 110, 35, step=1, moves=True, help="How much of a repeat comes again.")
    cross: float = control("Cross-feed", "%", 0, 100, 0, step=1, moves=True, help="How far repeats change sides.")
    apart: float = control(
        "Sides apart", "%", -50, 50, 0, step=0.1, moves=True, help="How much later the right one is."
    )
    loop_low: float = control(
        "Loses below", "Hz", 20, 2000, 20, taper="log", moves=True, off_low="off", help="Repeats lose what lies below."
    )
    loop_high: float = control(
        "Loses above",
        "Hz",
        200,
        20000,
        5000,
        taper="log",
        moves=True,
        off_high="off",
        help="Repeats lose what is above.",
    )
    detune: float = control("Detune", "ct", 0, 100, 0, moves=True, help="How far repeats sway around the pitch.")
    duck: float = control("Duck", "dB", 0, 36, 0, moves=True, help="Repeats are so much softer while the sound plays.")
    mix: float = control("Mix", "%", 0, 100, 20, step=1, moves=True, help="Up to 50 % the dry sound stays whole.")


class Space(TimeEffect):
    """Reverberation by a feedback network or by convolution."""

    kind: Literal["space"] = "space"
    way: Literal["network", "built-in", "recorded"] = choice(
        "Way", "network", help="A network of delays, one of our own spaces, or a response from the library."
    )
    shape: Literal["silo", "stairwell", "sheet", "cistern", "closet", "culvert"] = choice(
        "Space", "silo", shown_if=when("way", "built-in"), help="Which of our own spaces."
    )
    audio: str = pick(
        "Response",
        "response",
        "",
        shown_if=when("way", "recorded"),
        help="Audio of the library that is a room's response.",
    )
    decay: float = control(
        "Decay", "ms", 100, 20000, 1400, taper="log", step=1, moves=True, help="Time to fall by 60 dB."
    )
    size: float = control(
        "Size",
        "%",
        20,
        300,
        100,
        taper="log",
        step=1,
        moves=True,
        shown_if=when("way", "network", "built-in"),
        help="How far the walls stand.",
    )
    ahead: float = control(
        "Before it", "ms", 0, 250, 12, taper="ease", step=0.1, moves=True, help="Time before the room answers."
    )
    early: float = control(
        "Early part",
        "%",
        0,
        100,
        40,
        step=1,
        moves=True,
        shown_if=when("way", "network"),
        help="Level of the first reflections.",
    )
    damping: float = control(
        "Damping",
        "Hz",
        200,
        20000,
        5000,
        taper="log",
        moves=True,
        off_high="off",
        shown_if=when("way", "network"),
        help="Above it decay is quicker.",
    )
    high_cut: float = control(
        "High cut", "Hz", 500, 20000, 9000, taper="log", moves=True, off_high="off", help="The room has nothing above."
    )
    width: float = control("Width", "%", 0, 100, 100, step=1, moves=True, help="How far the room stands to the sides.")
    mix: float = control("Mix", "%", 0, 100, 15, step=1, moves=True, help="Up to 50 % the dry sound stays whole.")
