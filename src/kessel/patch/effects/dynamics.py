"""Models of compressor, expander, multiband dynamics and ceiling."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import Field, model_validator

from ..base import Id, Name, Part, distinct
from ..conditions import counts, unless, when
from ..controls import choice, control, toggle
from .stages import ItemPart

_ATTACK = "Time in which the gain change reaches 63 %."
_RELEASE = "Time in which 63 % of the gain change is undone."
_HOLD = "Time for which the gain is held before release. Half a period of the lowest note avoids distortion."
_OUT = "This many dB in become 1 dB out."


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
    says = f"Crossover between the {lower} and the {upper} {what}."
    shown = counts("bands", number + 1) if what == "band" else when("into", "bands") & counts("paths", number + 1)
    return control(
        f"Split {number}", "Hz", 30, 16000, hz, taper="log", moves=True, shown_if=shown, help=says, handle="split"
    )


class EffectPart(ItemPart):
    """Controls of all effects."""

    mix: float = control("Mix", "%", 0, 100, 100, step=1, moves=True, help="Dry/wet mix.")
    trim: float = control("Trim", "dB", -24, 24, 0, moves=True, help="Output level of the effect.")


class Compressor(EffectPart):
    """Reduces loud parts, or boosts soft ones."""

    kind: Literal["compressor"] = "compressor"
    mode: Literal["downward", "upward"] = choice(
        "Mode", "downward", help="Downward reduces what is over the threshold. Upward boosts what is under it."
    )
    detector: Literal["peak", "RMS"] = choice("Detector", "peak", help="Peak level, or RMS over 25 ms.")
    threshold: float = threshold("Threshold", -18, "Level at which compression begins.")
    ratio: float = ratio("Ratio", 4)
    knee: float = knee()
    attack: float = attack("Attack", 10)
    release: float = release("Release", 120)
    hold: float = control(
        "Hold", "ms", 0, 100, 12, taper="ease", step=0.1, moves=True, shown_if=unless("detector", "RMS"), help=_HOLD
    )
    look_ahead: float = control(
        "Look-ahead",
        "ms",
        0,
        10,
        0,
        step=0.1,
        help="Delays the sound so that the gain is reduced before a peak arrives.",
    )
    max_reduction: float = control("Largest reduction", "dB", 0, 48, 36, moves=True, help="Limit of the gain change.")
    detector_low_cut: float = control(
        "Detector low cut",
        "Hz",
        20,
        1000,
        20,
        taper="log",
        moves=True,
        off_low="all",
        help="High-pass filter on the detector, so that the sub doesn't pump the rest.",
        handle="edge",
    )
    makeup: float = control("Makeup", "dB", -12, 36, 0, moves=True, help="Gain after compression, before the mix.")


class Expander(EffectPart):
    """Makes soft parts softer: what is below the threshold falls away."""

    kind: Literal["expander"] = "expander"
    threshold: float = threshold("Threshold", -36, "Level under which expansion begins.")
    ratio: float = ratio("Ratio", 2, "1 dB under the threshold becomes this many dB under it.")
    knee: float = knee()
    attack: float = attack("Attack", 1)
    release: float = release("Release", 80)
    hold: float = control("Hold", "ms", 0, 200, 20, taper="ease", step=0.1, moves=True, help=_HOLD)
    max_reduction: float = control(
        "Largest reduction", "dB", 0, 96, 60, moves=True, help="Limit of the gain reduction."
    )


class BandDynamics(Part):
    """One band of the multiband dynamics."""

    id: Id
    name: Name
    on: bool = toggle("On", True, help="Off passes the band unchanged.")
    solo: bool = toggle("Solo", False, help="Play only the bands that are soloed.")
    down_threshold: float = threshold("Upper threshold", -18, "Levels over it are reduced.")
    down_ratio: float = ratio("Down ratio", 3)
    up_threshold: float = threshold("Lower threshold", -40, "Levels under it are boosted.")
    up_ratio: float = ratio("Up ratio", 1)
    attack: float = attack("Attack", 10)
    release: float = release("Release", 120)
    gain: float = control("Gain", "dB", -36, 24, 0, moves=True, help="Output level of the band.")


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
    depth: float = control("Depth", "%", 0, 200, 100, step=1, moves=True, help="Scales the gain changes of all bands.")
    speed: float = control(
        "Attack and release speed",
        "x",
        0.1,
        10,
        1,
        taper="log",
        step=0.01,
        moves=True,
        help="Divides all attack and release times.",
    )
    hold: float = control("Hold", "ms", 0, 100, 12, taper="ease", step=0.1, moves=True, help=_HOLD)
    max_boost: float = control("Largest boost", "dB", 0, 48, 18, moves=True, help="Limit of the upward gain.")
    bands: list[BandDynamics] = Field(default_factory=lambda: bands_of(3), min_length=2, max_length=4)

    @model_validator(mode="after")
    def _hangs_together(self) -> Multiband:
        distinct(list(self.bands), "bands")
        return self


class CeilingItem(EffectPart):
    """A limit for all peaks: a soft clip, a hard clip or a limiter."""

    kind: Literal["ceiling"] = "ceiling"
    mode: Literal["soft clip", "hard clip", "limiter"] = choice(
        "Mode",
        "limiter",
        help="Soft clip rounds peaks over the limit, hard clip cuts them, limiter reduces the gain before a true peak.",
    )
    drive: float = control("Drive", "dB", -12, 36, 0, moves=True, help="Input gain.")
    limit: float = control("Limit", "dB", -36, 0, -1, moves=True, turned="fades", help="Highest output level.")
    release: float = control(
        "Release", "ms", 5, 1000, 80, taper="log", moves=True, help="Time in which the gain recovers after a peak."
    )
