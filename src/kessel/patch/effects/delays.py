"""Models of chorus, thicken, phaser, flanger, echo and space."""

from __future__ import annotations

from typing import Literal

from ..conditions import when
from ..controls import choice, control, pick
from .dynamics import EffectPart

_LOW_CUT = "High-pass filter on the effect's own sound: the lows stay clean and in the middle."


def _low_cut() -> float:
    made: float = control("Low cut", "Hz", 20, 2000, 150, taper="log", moves=True, off_low="off", help=_LOW_CUT)
    return made


class TimeEffect(EffectPart):
    """An effect with a wet sound beside the dry one."""

    low_cut: float = _low_cut()


class Swinging(TimeEffect):
    """An effect with an LFO."""

    clock: Literal["Hz", "beats"] = choice("Clock", "Hz", help="Rate in Hz, or in note values.")
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
        help="Cycles per second.",
        handle="edge",
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
        turned="fades",
        help="Length of one cycle.",
    )


class Chorus(Swinging):
    """Copies with modulated delays."""

    kind: Literal["chorus"] = "chorus"
    voices: int = control("Voices", "count", 1, 6, 2, whole=True, step=1, help="Number of delayed copies.")
    delay: float = control(
        "Delay", "ms", 1, 40, 9, taper="log", moves=True, turned="fades", help="Mean delay of the copies."
    )
    depth: float = control(
        "Depth",
        "ms",
        0,
        12,
        2,
        taper="ease",
        step=0.01,
        moves=True,
        turned="fades",
        help="How far the delay is modulated.",
    )
    width: float = control(
        "Width", "%", 0, 100, 80, step=1, moves=True, turned="fades", help="Stereo spread of the copies."
    )
    mix: float = control(
        "Mix", "%", 0, 100, 40, step=1, moves=True, help="Dry/wet mix. Up to 50 % the dry level stays as it is."
    )


class Thicken(TimeEffect):
    """Copies that drift independently."""

    kind: Literal["thicken"] = "thicken"
    voices: int = control("Voices", "count", 1, 8, 4, whole=True, step=1, help="Number of delayed copies.")
    rate: float = control(
        "Rate",
        "Hz",
        0.05,
        8,
        0.6,
        taper="log",
        step=0.01,
        moves=True,
        turned="fades",
        help="How quickly the copies drift.",
    )
    delay: float = control(
        "Delay", "ms", 1, 60, 14, taper="log", moves=True, turned="fades", help="Longest delay of the copies."
    )
    detune: float = control(
        "Detune", "ct", 0, 60, 9, moves=True, turned="fades", help="How far the copies drift in pitch."
    )
    width: float = control(
        "Width", "%", 0, 100, 90, step=1, moves=True, turned="fades", help="Stereo spread of the copies."
    )
    mix: float = control(
        "Mix", "%", 0, 100, 40, step=1, moves=True, help="Dry/wet mix. Up to 50 % the dry level stays as it is."
    )


class Phaser(Swinging):
    """A modulated row of all-passes."""

    kind: Literal["phaser"] = "phaser"
    stages: int = control(
        "Stages", "count", 2, 12, 4, whole=True, step=2, help="Number of all-pass stages. Two make one notch."
    )
    cutoff: float = control(
        "Centre", "Hz", 60, 12000, 700, taper="log", moves=True, help="Centre frequency of the notches."
    )
    depth: float = control("Depth", "oct", 0, 5, 1.5, step=0.01, moves=True, help="How far the notches are modulated.")
    feedback: float = control(
        "Feedback", "%", -95, 95, 30, step=1, moves=True, help="Raises the peaks between the notches."
    )
    stereo_offset: float = control(
        "Stereo offset",
        "deg",
        0,
        180,
        60,
        step=1,
        moves=True,
        turned="fades",
        help="Phase of the right side's modulation against the left.",
    )
    mix: float = control(
        "Mix", "%", 0, 100, 50, step=1, moves=True, help="Dry/wet mix. At 50 % the notches are deepest."
    )


class Flanger(Swinging):
    """A short modulated delay with feedback."""

    kind: Literal["flanger"] = "flanger"
    delay: float = control("Delay", "ms", 0.1, 20, 1.5, taper="log", moves=True, turned="anew", help="Mean delay.")
    depth: float = control(
        "Depth",
        "ms",
        0,
        10,
        1,
        taper="ease",
        step=0.01,
        moves=True,
        turned="anew",
        help="How far the delay is modulated.",
    )
    feedback: float = control("Feedback", "%", -95, 95, 40, step=1, moves=True, help="How long it rings.")
    stereo_offset: float = control(
        "Stereo offset",
        "deg",
        0,
        180,
        90,
        step=1,
        moves=True,
        turned="fades",
        help="Phase of the right side's modulation against the left.",
    )
    mix: float = control(
        "Mix", "%", 0, 100, 50, step=1, moves=True, help="Dry/wet mix. At 50 % the notches are deepest."
    )


class Echo(TimeEffect):
    """Repeats that fade."""

    kind: Literal["echo"] = "echo"
    clock: Literal["ms", "beats"] = choice(
        "Clock",
        "beats",
        turned="anew",
        help="Time in milliseconds, or in note values.",
    )
    time: float = control(
        "Time",
        "ms",
        1,
        4000,
        260,
        taper="log",
        moves=True,
        shown_if=when("clock", "ms"),
        turned="anew",
        help="Time between repeats.",
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
        turned="anew",
        help="Time between repeats.",
    )
    sides: Literal["linked", "own times", "mono"] = choice(
        "Sides",
        "linked",
        help="Linked repeats both sides together, apart by the stereo offset. Own times gives the right side a time of "
        "its own. Mono repeats the middle alone.",
    )
    time_right: float = control(
        "Right time",
        "ms",
        1,
        4000,
        390,
        taper="log",
        moves=True,
        shown_if=when("clock", "ms") & when("sides", "own times"),
        turned="anew",
        help="Time between repeats on the right side.",
    )
    length_right: float = control(
        "Right time",
        "beats",
        1 / 16,
        8,
        0.5,
        taper="log",
        step=0.001,
        moves=True,
        shown_if=when("clock", "beats") & when("sides", "own times"),
        turned="anew",
        help="Time between repeats on the right side.",
    )
    feedback: float = control(
        "Feedback", "%", 0, 110, 35, step=1, moves=True, help="How much of each repeat is fed back."
    )
    cross: float = control(
        "Cross-feed", "%", 0, 100, 0, step=1, moves=True, help="How far repeats alternate between left and right."
    )
    stereo_offset: float = control(
        "Stereo offset",
        "%",
        -50,
        50,
        0,
        step=0.1,
        moves=True,
        shown_if=when("sides", "linked"),
        turned="anew",
        help="How much longer the right side's time is.",
    )
    feedback_low_cut: float = control(
        "Feedback low cut",
        "Hz",
        20,
        2000,
        20,
        taper="log",
        moves=True,
        off_low="off",
        help="High-pass filter in the feedback: every repeat loses more below it.",
    )
    feedback_high_cut: float = control(
        "Feedback high cut",
        "Hz",
        200,
        20000,
        5000,
        taper="log",
        moves=True,
        off_high="off",
        help="Low-pass filter in the feedback: every repeat loses more above it.",
    )
    detune: float = control(
        "Detune", "ct", 0, 100, 0, moves=True, turned="anew", help="How far the pitch of the repeats wavers."
    )
    duck: float = control(
        "Duck", "dB", 0, 36, 0, moves=True, help="How much softer the repeats are while the dry sound plays."
    )
    mix: float = control(
        "Mix", "%", 0, 100, 20, step=1, moves=True, help="Dry/wet mix. Up to 50 % the dry level stays as it is."
    )


class Space(TimeEffect):
    """Reverberation by a feedback network or by convolution."""

    kind: Literal["space"] = "space"
    mode: Literal["network", "built-in", "recorded"] = choice(
        "Mode", "network", help="A delay network, a built-in space, or an impulse response from the library."
    )
    shape: Literal["silo", "stairwell", "sheet", "cistern", "closet", "culvert"] = choice(
        "Space", "silo", shown_if=when("mode", "built-in"), help="The built-in space."
    )
    audio: str = pick(
        "Impulse response",
        "response",
        "",
        shown_if=when("mode", "recorded"),
        help="Audio from the library, used as the room's impulse response.",
    )
    decay: float = control(
        "Decay",
        "ms",
        100,
        20000,
        1400,
        taper="log",
        step=1,
        moves=True,
        turned="anew",
        help="Time in which the reverb falls by 60 dB.",
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
        shown_if=when("mode", "network", "built-in"),
        turned="anew",
        help="Size of the room.",
    )
    pre_delay: float = control(
        "Pre-delay",
        "ms",
        0,
        250,
        12,
        taper="ease",
        step=0.1,
        moves=True,
        turned="anew",
        help="Time between the dry sound and the reverb.",
    )
    early: float = control(
        "Early reflections",
        "%",
        0,
        100,
        40,
        step=1,
        moves=True,
        shown_if=when("mode", "network"),
        help="Level of the early reflections.",
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
        shown_if=when("mode", "network"),
        help="The reverb decays faster above this frequency.",
    )
    high_cut: float = control(
        "High cut",
        "Hz",
        500,
        20000,
        9000,
        taper="log",
        moves=True,
        off_high="off",
        help="Low-pass filter on the reverb.",
    )
    width: float = control("Width", "%", 0, 100, 100, step=1, moves=True, help="Stereo width of the reverb.")
    mix: float = control(
        "Mix", "%", 0, 100, 15, step=1, moves=True, help="Dry/wet mix. Up to 50 % the dry level stays as it is."
    )
