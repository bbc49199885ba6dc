"""Declarations of controls.

A control is declared once, as a field of a patch model: ``cutoff: float = control("Cutoff", "Hz", 20, 20000, 800,
taper="log", help="...")``. The rule on the screen, parsing, validation, JSON Schema, movement targets and help are read
from the declaration.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cache
from typing import Any, Literal, get_args, get_origin

from pydantic import BaseModel, Field
from pydantic.fields import FieldInfo

from .conditions import Shown, shown_from
from .fader import level_at, position_of
from .units import NOWHERE, Taper, Typing, Unit, ValueProblem, read, write

Handle = Literal["", "cutoff", "split", "edge"]
Turned = Literal["glides", "fades", "anew"]


@dataclass(frozen=True)
class Control:
    """A number with a unit, limits and a taper.

    handle: how it is drawn on a frequency axis, if it is dragged there. paired: the field of the same part that is
    dragged with it, up and down. turned: what a movable control does when it is turned: it glides, or the sound before
    fades into that after, or its effect begins anew while what was in it dies away.
    """

    name: str
    unit: Unit
    low: float
    high: float
    default: float
    taper: Taper
    step: float
    whole: bool
    moves: bool
    help: str
    off_low: str
    off_high: str
    shown_if: Shown | None = None
    handle: Handle = ""
    paired: str = ""
    turned: Turned = "glides"

    def __deepcopy__(self, _memo: dict[int, Any] | None = None) -> Control:
        """The same declaration: it never changes."""
        return self

    def to_scale(self, value: float) -> float:
        """``value`` on the taper's scale: log2 of it for log, the value itself otherwise."""
        return math.log2(value) if self.taper == "log" else value

    def from_scale(self, x: float) -> float:
        """The value at ``x`` on the taper's scale, clipped to the limits."""
        value = 2.0**x if self.taper == "log" else x
        return min(max(value, self.low), self.high)

    def position(self, value: float) -> float:
        """Position of ``value`` on the rule, 0..1."""
        if self.taper == "ease":
            return math.sqrt(max(0.0, (value - self.low) / (self.high - self.low)))
        if self.taper == "fader":
            return position_of(value, self.high)
        low, high = self.to_scale(self.low), self.to_scale(self.high)
        return (self.to_scale(min(max(value, self.low), self.high)) - low) / (high - low)

    def at(self, position: float) -> float:
        """The value at a position on the rule, 0..1, rounded to a readable number."""
        position = min(max(position, 0.0), 1.0)
        if self.taper == "ease":
            value = self.low + (self.high - self.low) * position * position
        elif self.taper == "fader":
            value = level_at(position, self.high)
        else:
            low, high = self.to_scale(self.low), self.to_scale(self.high)
            value = self.from_scale(low + (high - low) * position)
        return self.tidy(value)

    def tidy(self, value: float) -> float:
        """``value`` rounded to the control's step (three digits on a log rule) and clipped to the limits."""
        if self.whole:
            value = round(value)
        elif self.taper == "log" and value > 0:
            value = round(value, max(0, 3 - math.floor(math.log10(value))))
        else:
            value = round(round(value / self.step) * self.step, 6)
        return min(max(value, self.low), self.high)

    def nudged(self, value: float, steps: float) -> float:
        """``value`` moved by so many arrow steps. A fine step is a tenth."""
        if self.taper == "log":
            return self.tidy(self.from_scale(self.to_scale(value) + steps / 12.0))
        if self.taper == "ease":
            moved = self.at(self.position(value) + steps / 60.0)
            return moved if moved != value else self.tidy(value + math.copysign(self.step, steps))
        size = self.step * (1.0 if self.whole else 10.0)
        delta = steps * size
        if self.whole and 0 < abs(delta) < 1:
            delta = math.copysign(1.0, delta)
        return self.tidy(value + delta)

    def read(self, text: str, there: Typing = NOWHERE) -> float:
        """The value of typed text. Raises ValueProblem if it is out of limits. there: the tempo and the present value,
        for note values as times, and factors of frequencies.
        """
        if self.off_low and text.strip().lower() == self.off_low:
            return self.low
        if self.off_high and text.strip().lower() == self.off_high:
            return self.high
        value = 1.8 * read(text.replace("%", ""), self.unit) if self._is_fm(text) else read(text, self.unit, there)
        if value == 0.0 and self._nought_is_lowest:
            value = self.low
        if not self.low - 1e-9 <= value <= self.high + 1e-9:
            raise ValueProblem(
                f"{self.name} goes from {write(self.low, self.unit)} to {write(self.high, self.unit)}, "
                f"not {write(value, self.unit)}"
            )
        if self.whole and abs(value - round(value)) > 1e-9:
            raise ValueProblem(f"{self.name} takes whole numbers, not {text.strip()[:24]}")
        return float(min(max(value, self.low), self.high))

    def _is_fm(self, text: str) -> bool:
        """Whether it is phase modulation in per cent of half a turn."""
        return self.unit == "deg" and self.high > 360.0 and text.strip().endswith("%")

    @property
    def _nought_is_lowest(self) -> bool:
        """Whether 0 means the lowest value: off, or as short as can be."""
        least = {"ms": 5.0, "beats": 1.0 / 32.0}.get(self.unit, 0.0)
        return 0.0 < self.low <= least or (self.unit == "Hz" and bool(self.off_low))

    def write(self, value: float) -> str:
        """The value as text with its unit."""
        if self.off_low and value <= self.low:
            return self.off_low
        if self.off_high and value >= self.high:
            return self.off_high
        return write(value, self.unit)


@dataclass(frozen=True)
class Choice:
    """One of a few words. turned: "anew" if its effect begins anew with it, else what is before fades."""

    name: str
    options: tuple[str, ...]
    default: str
    help: str
    shown_if: Shown | None = None
    turned: Turned = "fades"


@dataclass(frozen=True)
class Toggle:
    """On or off."""

    name: str
    default: bool
    help: str
    shown_if: Shown | None = None


@dataclass(frozen=True)
class Pick:
    """A reference to something in the patch or the library. ``of``: its sort (wave, audio, source)."""

    name: str
    of: str
    default: str
    help: str
    shown_if: Shown | None = None


Declared = Control | Choice | Toggle | Pick


def control(
    name: str,
    unit: Unit,
    low: float,
    high: float,
    default: float,
    *,
    help: str,
    taper: Taper | None = None,
    step: float = 0.1,
    whole: bool = False,
    moves: bool = False,
    off_low: str = "",
    off_high: str = "",
    shown_if: Shown | None = None,
    handle: Handle = "",
    paired: str = "",
    turned: Turned = "glides",
) -> Any:
    """Declare a number as a model field. The parameters are those of ``Control``.

    A level that can be off is a fader unless told otherwise.
    """
    fader = unit == "dB" and off_low == "off"
    extra = {
        "unit": unit,
        "taper": taper or ("fader" if fader else "linear"),
        "step": step,
        "whole": whole,
        "moves": moves,
        "off_low": off_low,
        "off_high": off_high,
        "handle": handle,
        "paired": paired,
        "turned": turned,
    }
    return Field(
        default=int(default) if whole else float(default),
        ge=low,
        le=high,
        allow_inf_nan=False,
        title=name,
        description=help,
        json_schema_extra={"control": extra} | _shown(shown_if),
    )


def choice(name: str, default: str, *, help: str, shown_if: Shown | None = None, turned: Turned = "fades") -> Any:
    """Declare a choice. The options are the field's Literal."""
    extra = _shown(shown_if) | ({} if turned == "fades" else {"turned": turned})
    return Field(default=default, title=name, description=help, json_schema_extra=extra or None)


def toggle(name: str, default: bool, *, help: str, shown_if: Shown | None = None) -> Any:
    """Declare an on/off control."""
    return Field(default=default, title=name, description=help, json_schema_extra=_shown(shown_if) or None)


def pick(name: str, of: str, default: str, *, help: str, shown_if: Shown | None = None) -> Any:
    """Declare a reference to something in the patch or the library."""
    extra = {"pick": of} | _shown(shown_if)
    return Field(default=default, max_length=80, title=name, description=help, json_schema_extra=extra)


def _shown(shown_if: Shown | None) -> dict[str, Any]:
    return {} if shown_if is None else {"shown_if": shown_if.plain()}


def _limits(info: FieldInfo) -> tuple[float, float]:
    low = next(m.ge for m in info.metadata if hasattr(m, "ge"))
    high = next(m.le for m in info.metadata if hasattr(m, "le"))
    return float(low), float(high)


@cache
def declared(model: type[BaseModel], field: str) -> Declared | None:
    """The declaration of a model's field. None if the field is no control."""
    info = model.model_fields.get(field)
    if info is None or info.title is None:
        return None
    help_text = info.description or ""
    extra = info.json_schema_extra
    stated = extra.get("shown_if") if isinstance(extra, dict) else None
    shown_if = None if stated is None else shown_from(stated)  # type: ignore[arg-type]
    if isinstance(extra, dict) and "control" in extra:
        c: Any = extra["control"]
        low, high = _limits(info)
        return Control(
            name=info.title,
            unit=c["unit"],
            low=low,
            high=high,
            default=float(info.default),
            taper=c["taper"],
            step=c["step"],
            whole=c["whole"],
            moves=c["moves"],
            help=help_text,
            off_low=c["off_low"],
            off_high=c["off_high"],
            handle=c["handle"],
            paired=c["paired"],
            turned=c["turned"],
            shown_if=shown_if,
        )
    if isinstance(extra, dict) and "pick" in extra:
        return Pick(info.title, str(extra["pick"]), str(info.default), help_text, shown_if)
    if info.annotation is bool:
        return Toggle(info.title, bool(info.default), help_text, shown_if)
    if get_origin(info.annotation) is Literal:
        options = tuple(map(str, get_args(info.annotation)))
        turned: Any = extra.get("turned", "fades") if isinstance(extra, dict) else "fades"
        return Choice(info.title, options, str(info.default), help_text, shown_if, turned)
    return None


def declarations(model: type[BaseModel]) -> dict[str, Declared]:
    """All controls of a model, in the order of declaration."""
    found = {name: declared(model, name) for name in model.model_fields}
    return {name: c for name, c in found.items() if c is not None}


def shown_controls(part: BaseModel, owner: object = None) -> dict[str, Declared]:
    """The controls of a part that have an effect now. owner: the layer of a source or a voice stage."""
    found = declarations(type(part))
    return {name: c for name, c in found.items() if c.shown_if is None or c.shown_if.holds(part, owner)}
