"""All kinds of effects, one line each, in the order of the lists on the screen."""

from __future__ import annotations

import math
from functools import partial
from typing import Any

from ..kinds import Kind
from .delays import Chorus, Echo, Flanger, Phaser, Space, Thicken
from .dynamics import CeilingItem, Compressor, Expander, Multiband
from .stages import AllpassRow, Comb, Distortion, Eq, Filter, Ladder, Vowel
from .starting_settings import STARTING
from .stereo import AutoPan, BeatShape, Cabinet, FrequencyShift, Vocoder, Width

_INAUDIBLE = 50.0
"""An effect's tail ends when it has fallen by this many dB."""


def _echo_tail(part: Echo, beat: float, ms: float) -> float:
    time = part.length * beat if part.clock == "beats" else part.time * ms
    if part.sides == "own times":
        time = max(time, part.length_right * beat if part.clock == "beats" else part.time_right * ms)
    again = min(part.feedback / 100.0, 0.97)
    return time * (1.0 if again <= 0.003 else 1.0 + 5.76 / -math.log(again))


def _space_tail(part: Space, beat: float, ms: float) -> float:
    return (part.decay * _INAUDIBLE / 60.0 + part.pre_delay) * ms


def _filter_phrase(part: Any) -> str:
    return f"{part.type} {part.slope} dB"


_FILTERS, _DYNAMICS, _DELAYS, _STEREO = (
    f"kessel.engine.effects.{module}:" for module in ("filters", "dynamics", "delays", "stereo")
)
_tone = partial(Kind, family="Tone")
_level = partial(Kind, family="Level")
_time = partial(Kind, family="Time and place")
_swinging = partial(_time, runs_on=lambda part: "swings independently of the notes")

EFFECTS: tuple[Kind, ...] = (
    _tone(
        Filter, "Filter", processor=_FILTERS + "FilterProcessor", is_stage=True, phrase=_filter_phrase,
        starting=STARTING["filter"],
    ),
    _tone(Ladder, "Ladder", processor=_FILTERS + "LadderProcessor", is_stage=True, starting=STARTING["ladder"]),
    _tone(
        Comb, "Comb", processor=_FILTERS + "CombProcessor", is_stage=True, keeps_mix=False, starting=STARTING["comb"]
    ),
    _tone(
        Vowel, "Vowel", processor=_FILTERS + "VowelProcessor", is_stage=True, keeps_mix=False,
        starting=STARTING["vowel"],
    ),
    _tone(
        AllpassRow, "All-pass row", processor=_FILTERS + "AllpassProcessor", is_stage=True, keeps_mix=False,
        starting=STARTING["allpass"],
    ),
    _tone(
        Distortion, "Distortion", processor="kessel.engine.effects.distortion:DistortionProcessor", is_stage=True,
        starting=STARTING["distortion"],
    ),
    _tone(
        Eq, "EQ", processor="kessel.engine.effects.eq:EqProcessor", fresh={"bands": ({"id": "b1"},)},
        starting=STARTING["eq"],
    ),
    _tone(Cabinet, "Cabinet", processor=_STEREO + "CabinetProcessor", starting=STARTING["cabinet"]),
    _tone(
        Vocoder, "Vocoder", processor=_STEREO + "VocoderProcessor", starting=STARTING["vocoder"],
        runs_on=lambda part: "speaks on from note to note",
    ),
    _tone(
        FrequencyShift, "Frequency shift", processor=_STEREO + "FrequencyShiftProcessor", starting=STARTING["shift"],
        runs_on=lambda part: "shifts independently of the notes",
    ),
    _level(Compressor, "Compressor", processor=_DYNAMICS + "CompressorProcessor", starting=STARTING["compressor"]),
    _level(Expander, "Expander", processor=_DYNAMICS + "ExpanderProcessor", starting=STARTING["expander"]),
    _level(Multiband, "Multiband", processor=_DYNAMICS + "MultibandProcessor", starting=STARTING["multiband"]),
    _level(
        CeilingItem, "Ceiling", processor=_DYNAMICS + "CeilingProcessor", starting=STARTING["ceiling"],
        limits_level=True,
    ),
    _level(
        BeatShape, "Beat shape", processor=_STEREO + "BeatShapeProcessor", starting=STARTING["beat-shape"],
        runs_on=lambda part: "" if part.length in (0.125, 0.25, 0.5) else "runs over several notes",
    ),
    _swinging(Chorus, "Chorus", processor=_DELAYS + "ChorusProcessor", starting=STARTING["chorus"]),
    _swinging(Thicken, "Thicken", processor=_DELAYS + "ThickenProcessor", starting=STARTING["thicken"]),
    _swinging(Phaser, "Phaser", processor=_DELAYS + "PhaserProcessor", starting=STARTING["phaser"]),
    _swinging(Flanger, "Flanger", processor=_DELAYS + "FlangerProcessor", starting=STARTING["flanger"]),
    _time(Echo, "Echo", processor=_DELAYS + "EchoProcessor", tail=_echo_tail, starting=STARTING["echo"]),
    _time(
        Space, "Space", processor="kessel.engine.effects.reverb:SpaceProcessor", tail=_space_tail,
        starting=STARTING["space"],
    ),
    _time(Width, "Width", processor=_STEREO + "WidthProcessor", starting=STARTING["width"]),
    _swinging(AutoPan, "Auto-pan", processor=_STEREO + "AutoPanProcessor", starting=STARTING["auto-pan"]),
)  # fmt: skip
STAGES = tuple(kind for kind in EFFECTS if kind.is_stage)
"""Kinds of effects that can be voice stages."""
