"""Models of compressor, expander, multiband dynamics and ceiling."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import Field, model_validator

from ..base import Id, Name, Part, distinct
from ..conditions import counts, unless, when
from ..controls import choice, control, toggle
from .stages import ItemPart

_ATTACK = "Time in which the gain goes 63 % of the way when the level asks for more of it."
_RELEASE = "Time in which the gain comes 63 % of the way back."
_HOLD = "So long the gain stays before it comes back; half a period of the lowest note keeps it still."
_OUT = "So many dB in become one dB out."


def threshold(name: str, db: float, says: str) -> Any:
    """Declare a threshold."""
    return control(name, "dB", -72, 0, db, moves=True, help=says)


def ratio(name: str, value: float, says: str = _OUT) -> Any:
    """Declare a ratio."""
    return control(name, "x", 1, 40, value, taper="log", step=0.1, moves=True, help=says)


def knee() -> Any:
    """Declare a knee."""
    return control("Knee", "dB", 0, 24, 6, moves=True, help="Width over which it sets in.")


def attack(name: str, ms: float) -> Any:
    """Declare an attack time."""
    return control(name, "ms", 0.1, 250, ms, taper="log", moves=True, help=_ATTACK)


def release(name: str, ms: float) -> Any:
    """Declare a release time."""
    return control(name, "ms", 5, 2500, ms, taper="log", moves=True, help=_RELEASE)


_ORDER = ("first", "second", "third", "fourth")


def split(number: int, hz: float, what: str) -> Any:
    """Declare the edge between two neighbouring bands or paths, counted from 1."""
    lower, upper = _ORDER[number - 1 : number + 1]
    says = f"Edge between the {lower} and the {upper} {what}."
    shown = counts("bands", number + 1) if what == "band" else when("into", "bands") & counts("ways", number + 1)
    return control(f"Split {number}", "Hz", 30, 16000, hz, taper="log", moves=True, shown_if=shown, help=says)


class EffectPart(ItemPart):
    """Controls of all effects."""

    mix: float = control("Mix", "%", 0, 100, 100, step=1, moves=True, help="Share of the effect.")
    trim: float = control("Trim", "dB", -24, 24, 0, moves=True, help="Level after it.")


class Compressor(EffectPart):
    """Reduces loud parts, or boosts soft ones."""

    kind: Literal["compressor"] = "compressor"
    way: Literal["downward", "upward"] = choice(
        "Way", "downward", help="Downward turns down what is over the threshold, upward lifts what is under it."
    )
    detect: Literal["peak", "RMS"] = choice("Listens to", "peak", help="The peaks, or the mean power over 25 ms.")
    threshold: float = threshold("Threshold", -18, "Level from which it works.")
    ratio: float = ratio("Ratio", 4)
    knee: float = knee()
    attack: float = attack("Attack", 10)
    release: float = release("Release", 120)
    hold: float = control(
        "Hold", "ms", 0, 100, 12, taper="ease", step=0.1, moves=True, shown_if=unless("detect", "RMS"), help=_HOLD
    )
    ahead: float = control(
        "Look-ahead", "ms", 0, 10, 0, step=0.1, help="Holds the sound back so that the gain is there before the peak."
    )
    most: float = control("Most", "dB", 0, 48, 36, moves=True, help="It never turns further than this.")
    listen_low: float = control(
        "Listen from",
        "Hz",
        20,
        1000,
        20,
        taper="log",
        moves=True,
        off_low="all",
        help="It does not hear what lies below, so that the sub does not pump the rest.",
    )
    makeup: float = control("Makeup", "dB", -12, 36, 0, moves=True, help="Level of what is compressed.")


class Expander(EffectPart):
    """Makes soft parts softer: what is below the threshold falls away."""

    kind: Literal["expander"] = "expander"
    threshold: float = threshold("Threshold", -36, "Level under which it works.")
    ratio: float = ratio("Ratio", 2, "One dB under becomes so many dB under.")
    knee: float = knee()
    attack: float = attack("Opens", 1)
    release: float = release("Closes", 80)
    hold: float = control("Hold", "ms", 0, 200, 20, taper="ease", step=0.1, moves=True, help=_HOLD)
    most: float = control("Most", "dB", 0, 96, 60, moves=True, help="It never turns further down than this.")


class BandDynamics(Part):
    """One band of the multiband dynamics."""

    id: Id
    name: Name
    on: bool = toggle("Band on", True, help="Off lets the band pass as it is.")
    solo: bool = toggle("Alone", False, help="Only bands that are alone are heard.")
    down_threshold: float = threshold("Down from", -18, "What is over it is turned down.")
    down_ratio: float = ratio("Down ratio", 3)
    up_threshold: float = threshold("Up from", -40, "What is under it is lifted.")
    up_ratio: float = ratio("Up ratio", 1)
    attack: float = attack("Attack", 10)
    release: float = release("Release", 120)
    gain: float = control("Gain", "dB", -36, 24, 0, moves=True, help="Level of the band after it.")


_NAMES = ("Low", "Lower mid", "Upper mid", "High")


def bands_of(count: int) -> list[BandDynamics]:
    """So many bands with default names."""
    names = {2: ("Low", "High"), 3: ("Low", "Mid", "High")}.get(count, _NAMES)
    return [BandDynamics(id=n.lower().replace(" ", "-"), name=n) for n in names]


class Multiband(EffectPart):
    """Dynamics of two to four bands, each compressed from above and boosted from below."""

    kind: Literal["multiband"] = "multiband"
    split_1: float = split(1, 140, "band")
    split_2: float = split(2, 2200, "band")
    split_3: float = split(3, 7000, "band")
    knee: float = knee()
    depth: float = control(
        "Depth", "%", 0, 200, 100, step=1, moves=True, help="How far all bands turn, of what they would."
    )
    speed: float = control(
        "Quicker", "x", 0.1, 10, 1, taper="log", step=0.01, moves=True, help="All attacks and releases so much quicker."
    )
    hold: float = control("Hold", "ms", 0, 100, 12, taper="ease", step=0.1, moves=True, help=_HOLD)
    most: float = control("Most lift", "dB", 0, 48, 18, moves=True, help="What is soft is never lifted further.")
    bands: list[BandDynamics] = Field(default_factory=lambda: bands_of(3), min_length=2, max_length=4)

    @model_validator(mode="after")
    def _hangs_together(self) -> Multiband:
        distinct(list(self.bands), "bands")
        return self


class CeilingItem(EffectPart):
    """A limit for all peaks: a soft clip, a hard clip or a limiter."""

    kind: Literal["ceiling"] = "ceiling"
    way: Literal["soft clip", "hard clip", "limiter"] = choice(
        "Way", "limiter", help="Rounds what is over the limit, cuts it, or turns it down ahead of the true peak."
    )
    drive: float = control("Drive", "dB", -12, 36, 0, moves=True, help="Level into it.")
    limit: float = control("Limit", "dB", -36, 0, -1, moves=True, help="Nothing goes above.")
    release: float = control("Release", "ms", 5, 1000, 80, taper="log", moves=True, help="Time to let go after a peak.")
