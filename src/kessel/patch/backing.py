"""The backing: what plays beside the patch and is never part of its measures."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from .base import Id, Name, Part
from .controls import choice, control, toggle

_FADER = "Level of playback only. It is never part of the measurements."
PATTERNS = ("four", "half-step", "broken", "rolling", "offbeat", "slow")


class Beat(Part):
    """The built-in beat: kick, snare and hats."""

    on: bool = toggle("Beat", False, help="The built-in drum beat. It plays beside the patch.")
    pattern: Literal["four", "half-step", "broken", "rolling", "offbeat", "slow"] = choice(
        "Pattern", "four", help="Rhythm of kick, snare and hats."
    )
    level: float = control("Beat level", "dB", -72, 6, -9, off_low="off", help=_FADER)
    kick_pitch: float = control("Kick pitch", "Hz", 30, 120, 50, taper="log", help="Pitch at which the kick settles.")
    kick: float = control("Kick", "dB", -72, 6, 0, off_low="off", help="Level of the kick in the beat.")
    snare: float = control("Snare", "dB", -72, 6, -3, off_low="off", help="Level of the snare in the beat.")
    hats: float = control("Hats", "dB", -72, 6, -9, off_low="off", help="Level of the hats in the beat.")


class BackingLoop(Part):
    """An imported loop, resampled to the patch's tempo."""

    id: Id
    name: Name
    audio: str = Field(max_length=80)
    on: bool = toggle("On", True, help="Off leaves it out of the backing.")
    level: float = control("Level", "dB", -72, 6, -9, off_low="off", help=_FADER)
    tempo: float = control("Loop tempo", "BPM", 40, 240, 128, step=0.1, help="Tempo of the recording.")
    offset: float = control(
        "Offset", "beats", -32, 32, 0, step=0.01, help="How much later than the phrase the loop starts."
    )


class BackingPatch(Part):
    """Another patch of the library, which plays its own phrase at this patch's tempo."""

    id: Id
    name: Name
    slug: str = Field(max_length=80)
    on: bool = toggle("On", True, help="Off leaves it out of the backing.")
    level: float = control("Level", "dB", -72, 6, -9, off_low="off", help=_FADER)


class Backing(Part):
    """Everything that plays beside the patch."""

    beat: Beat = Field(default_factory=Beat)
    loops: list[BackingLoop] = Field(default_factory=list, max_length=4)
    patches: list[BackingPatch] = Field(default_factory=list, max_length=4)
