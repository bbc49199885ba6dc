"""Envelopes: of a layer's level, and as movers."""

from __future__ import annotations

from typing import Literal

from ..base import Id, Name, Part
from ..conditions import above, when
from ..controls import choice, control

_CURVE = "0 % is straight. Positive values change early, negative late."


class Segments(Part):
    """Times and curvatures of all envelopes. A moved time takes effect with the next note."""

    clock: Literal["ms", "beats"] = choice("Clock", "ms", help="Times in milliseconds, or in note values.")
    attack: float = control(
        "Attack",
        "ms",
        0.5,
        10000,
        2,
        taper="log",
        moves=True,
        shown_if=when("clock", "ms"),
        help="Time from the start to the end value.",
    )
    hold: float = control(
        "Hold",
        "ms",
        0,
        5000,
        0,
        taper="ease",
        step=1,
        moves=True,
        shown_if=when("clock", "ms"),
        help="Time at the end value.",
    )
    decay: float = control(
        "Decay",
        "ms",
        1,
        20000,
        250,
        taper="log",
        moves=True,
        shown_if=when("clock", "ms"),
        help="Time from the end value to the sustain.",
    )
    release: float = control(
        "Release",
        "ms",
        2,
        20000,
        120,
        taper="log",
        moves=True,
        shown_if=when("clock", "ms"),
        help="Time back to the control's own value after the note ends.",
    )
    attack_beats: float = control(
        "Attack",
        "beats",
        1 / 128,
        16,
        1 / 32,
        taper="log",
        step=0.001,
        moves=True,
        shown_if=when("clock", "beats"),
        help="Time from the start to the end value.",
    )
    hold_beats: float = control(
        "Hold",
        "beats",
        0,
        16,
        0,
        taper="ease",
        step=0.001,
        moves=True,
        shown_if=when("clock", "beats"),
        help="Time at the end value.",
    )
    decay_beats: float = control(
        "Decay",
        "beats",
        1 / 32,
        32,
        1,
        taper="log",
        step=0.001,
        moves=True,
        shown_if=when("clock", "beats"),
        help="Time from the end value to the sustain.",
    )
    release_beats: float = control(
        "Release",
        "beats",
        1 / 64,
        32,
        0.25,
        taper="log",
        step=0.001,
        moves=True,
        shown_if=when("clock", "beats"),
        help="Time back to the control's own value after the note ends.",
    )
    attack_curve: float = control("Attack curve", "%", -100, 100, 0, step=1, help=_CURVE)
    decay_curve: float = control("Decay curve", "%", -100, 100, 50, step=1, help=_CURVE)
    release_curve: float = control("Release curve", "%", -100, 100, 50, step=1, help=_CURVE)
    accent_decay: float = control(
        "Accent decay",
        "ms",
        1,
        2000,
        40,
        taper="log",
        moves=True,
        shown_if=above("accent", 0),
        help="Time in which the accent fades.",
    )


class LevelEnvelope(Segments):
    """The level envelope of a layer's notes."""

    attack: float = control(
        "Attack",
        "ms",
        0.5,
        10000,
        3,
        taper="log",
        moves=True,
        shown_if=when("clock", "ms"),
        help="Time from silence to full level.",
    )
    decay: float = control(
        "Decay",
        "ms",
        1,
        20000,
        400,
        taper="log",
        moves=True,
        shown_if=when("clock", "ms"),
        help="Time from full level to the sustain level.",
    )
    sustain: float = control(
        "Sustain", "dB", -72, 0, 0, moves=True, off_low="off", help="Level while the note is held."
    )
    release: float = control(
        "Release",
        "ms",
        2,
        20000,
        60,
        taper="log",
        moves=True,
        shown_if=when("clock", "ms"),
        help="Time to silence after the note ends.",
    )
    start: float = control("Start level", "dB", -72, 0, -72, off_low="off", help="Level at which a note begins.")
    accent: float = control(
        "Accent", "dB", 0, 24, 0, moves=True, turned="fades", help="Extra level at the beginning of a note."
    )


class Envelope(Segments):
    """An envelope, started by every note."""

    kind: Literal["envelope"] = "envelope"
    id: Id
    name: Name
    sustain: float = control(
        "Sustain", "%", 0, 100, 0, step=1, moves=True, help="Share of the movement while the note is held."
    )
    start: float = control("Start level", "%", 0, 100, 0, step=1, help="Share of the movement at which a note begins.")
    accent: float = control(
        "Accent",
        "%",
        0,
        100,
        0,
        step=1,
        moves=True,
        turned="fades",
        help="How far the beginning of a note goes past the end value.",
    )
