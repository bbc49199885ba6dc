"""Units: how values are written and read, and tapers.

A unit reads typed text ("2.4k", "1/8", "-12dB", "F#1") and writes a value with its unit. A taper maps values to
positions from 0 to 1 on a rule, and is the scale in which movements add (octaves for Hz, dB for levels).
"""

from __future__ import annotations

import math
import re
from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

from ..signs import with_signs

Unit = Literal["Hz", "dB", "ms", "beats", "st", "ct", "deg", "%", "oct", "BPM", "count", "bars", "Q", "x"]
Taper = Literal["linear", "log", "ease", "fader"]

MINUS = "−"
SILENT_DB = -72.0
NOTE_NAMES = ("C", "C#", "D", "Eb", "E", "F", "F#", "G", "Ab", "A", "Bb", "B")
_STEPS = {"C": 0, "D": 2, "E": 4, "F": 5, "G": 7, "A": 9, "B": 11}
_NOTE = re.compile(r"^([A-Ga-g])([#b♯♭]?)(-?\d)$")
_NUMBER = re.compile(r"^([+-]?(?:\d+\.?\d*|\.\d+)(?:e[+-]?\d+)?)\s*([a-z%°×]*)$")
_TIMES = re.compile(r"^[x×]\s*((?:\d+\.?\d*|\.\d+))$")

_EXAMPLES: dict[str, str] = {
    "Hz": "120 Hz, 2.4k or F#1",
    "dB": "-12 or -12 dB",
    "ms": "240, 240 ms or 0.3 s",
    "beats": "1/8, 1/8t, 1/4. or 2 bars",
    "st": "-12 or 7 st",
    "ct": "14 or 14 ct",
    "deg": "90 or 90°",
    "%": "62 or 62 %",
    "oct": "2.5 or 2.5 oct",
    "BPM": "132",
    "count": "7",
    "bars": "2",
    "Q": "1.4",
    "x": "2, 1.5 or 3/2",
}
_SUFFIX: dict[str, dict[str, float]] = {
    "Hz": {"": 1.0, "hz": 1.0, "k": 1000.0, "khz": 1000.0},
    "dB": {"": 1.0, "db": 1.0},
    "ms": {"": 1.0, "ms": 1.0, "s": 1000.0},
    "beats": {"": 1.0, "beat": 1.0, "beats": 1.0, "bar": 4.0, "bars": 4.0},
    "st": {"": 1.0, "st": 1.0, "oct": 12.0},
    "ct": {"": 1.0, "ct": 1.0, "st": 100.0},
    "deg": {"": 1.0, "deg": 1.0, "°": 1.0, "rad": 180.0 / math.pi},
    "%": {"": 1.0, "%": 1.0},
    "oct": {"": 1.0, "oct": 1.0, "st": 1.0 / 12.0},
    "BPM": {"": 1.0, "bpm": 1.0},
    "count": {"": 1.0, "x": 1.0},
    "bars": {"": 1.0, "bar": 1.0, "bars": 1.0},
    "Q": {"": 1.0, "q": 1.0},
    "x": {"": 1.0, "x": 1.0, "×": 1.0},
}


class ValueProblem(ValueError):
    """A value that can't be accepted. Its text says what to do."""


def pitch_of(text: str) -> int | None:
    """MIDI pitch of a note name such as ``F#1`` or ``Eb2`` (C4 = 60). None if it is no note name."""
    m = _NOTE.match(text.strip())
    if not m:
        return None
    step = _STEPS[m.group(1).upper()] + {"": 0, "#": 1, "♯": 1, "b": -1, "♭": -1}[m.group(2)]
    return 12 * (int(m.group(3)) + 1) + step


def note_name(pitch: int) -> str:
    """Name of a MIDI pitch: 60 is ``C4``. Flats are written with ♭."""
    return with_signs(NOTE_NAMES[pitch % 12]) + str(pitch // 12 - 1)


KEY_TRACK_CENTER = 36.0
"""C2: the center key, on which key tracking leaves every value as it is set."""


def pitch_hz(pitch: float, tuning: float = 440.0) -> float:
    """Frequency in Hz of a MIDI pitch in equal temperament."""
    return float(tuning * 2.0 ** ((pitch - 69.0) / 12.0))


@dataclass(frozen=True)
class Typing:
    """Where a value is typed: the tempo in beats per minute, and the value that is there."""

    tempo: float | None = None
    now: float | None = None


NOWHERE = Typing()


def _level(factor: float) -> float:
    """A gain as a level in dB."""
    return SILENT_DB if factor <= 0.0 else max(20.0 * math.log10(factor), SILENT_DB)


def _in_other_units(low: str, unit: Unit, there: Typing) -> float | None:
    """Typed text in a unit that means something for another one: a share or a factor for a level, note values for a
    time, a time for note values, a factor of a frequency. None if it is not such.
    """
    times = _TIMES.match(low)
    factor = float(times.group(1)) if times else None
    m = _NUMBER.match(low)
    value, suffix = (float(m.group(1)), m.group(2)) if m else (0.0, "")
    if unit == "dB" and (factor is not None or suffix == "%"):
        return _level(factor if factor is not None else value / 100.0)
    if unit == "%":
        return 100.0 * factor if factor is not None else 100.0 * 10.0 ** (value / 20.0) if suffix == "db" else None
    if unit == "Hz" and factor is not None and there.now is not None:
        return factor * there.now
    if there.tempo is None:
        return None
    beat = 60.0 / there.tempo
    if unit == "beats" and suffix in ("ms", "s", "hz") and value > 0.0:
        return {"ms": value / 1000.0, "s": value, "hz": 1.0 / value}[suffix] / beat
    if unit in ("ms", "Hz") and (beats := _note_values(low)) is not None and beats > 0.0:
        return 1000.0 * beats * beat if unit == "ms" else 1.0 / (beats * beat)
    return None


def _note_values(low: str) -> float | None:
    """Beats in note values: ``1/8``, ``1/8t``, ``1/4.``, or in beats or bars by name."""
    m = re.match(r"^(\d+)\s*/\s*(\d+)\s*([t.]?)$", low)
    if m and int(m.group(2)) > 0:
        return 4.0 * int(m.group(1)) / int(m.group(2)) * {"": 1.0, "t": 2.0 / 3.0, ".": 1.5}[m.group(3)]
    m = _NUMBER.match(low)
    return (
        float(m.group(1)) * _SUFFIX["beats"][m.group(2)]
        if m and m.group(2) in ("beat", "beats", "bar", "bars")
        else None
    )


def read(text: str, unit: Unit, there: Typing = NOWHERE) -> float:
    """The number in typed text, in ``unit``.

    Raises ValueProblem with an example if it can't be read.
    """
    raw = text.strip().replace(MINUS, "-").replace("–", "-").replace(",", ".").replace(" ", " ")
    if unit == "Hz":
        pitch = pitch_of(raw)
        if pitch is not None:
            return pitch_hz(pitch)
    low = raw.lower()
    if unit == "dB" and low in ("-inf", "off", "silent", "-∞"):
        return SILENT_DB
    if unit == "beats":
        beats = _note_values(low)
        if beats is not None and math.isfinite(beats):
            return beats
    if unit == "x":
        m = re.match(r"^(\d+)\s*/\s*(\d+)$", low)
        if m and int(m.group(2)) > 0:
            return int(m.group(1)) / int(m.group(2))
    m = _NUMBER.match(low)
    if m and m.group(2) in _SUFFIX[unit]:
        value = float(m.group(1)) * _SUFFIX[unit][m.group(2)]
        if math.isfinite(value):
            return value
    other = _in_other_units(low, unit, there)
    if other is not None and math.isfinite(other):
        return other
    shown = text.strip()[:24]
    raise ValueProblem(f"“{shown}” can't be read here: type for example {_EXAMPLES[unit]}")


def _sig(value: float, digits: int = 3) -> str:
    if value == 0:
        return "0"
    places = max(0, digits - 1 - math.floor(math.log10(abs(value))))
    text = f"{value:.{places}f}"
    return text.rstrip("0").rstrip(".") if "." in text else text


def write(value: float, unit: Unit) -> str:
    """``value`` with its unit, with a true minus sign and no needless digits."""
    text = _WRITERS[unit](value) if unit in _WRITERS else f"{_sig(value, _digits(value))} {unit}"
    if text.startswith("-") and not any(c in "123456789" for c in text):
        text = text[1:]
    return text.replace("-", MINUS)


def _digits(value: float) -> int:
    return 4 if abs(value) >= 100 else 3


def _bars(value: float) -> str:
    count = round(value)
    return f"{count} bar" + ("" if count == 1 else "s")


def _beats(value: float) -> str:
    if value >= 4 and abs(value / 4 - round(value / 4)) < 1e-9:
        return _bars(value / 4)
    for denominator in (1, 2, 4, 8, 16, 32):
        plain = 4.0 / denominator
        for factor, mark in ((1.0, ""), (2.0 / 3.0, "t"), (1.5, ".")):
            if abs(value - plain * factor) < 1e-6:
                return f"1/{denominator}{mark}"
    return f"{_sig(value)} beats"


_WRITERS: dict[Unit, Callable[[float], str]] = {
    "Hz": lambda v: f"{_sig(v / 1000)} kHz" if abs(v) >= 999.5 else f"{_sig(v)} Hz",
    "dB": lambda v: "off" if v <= SILENT_DB else f"{v:.1f} dB",
    "ms": lambda v: f"{_sig(v / 1000)} s" if v >= 999.5 else f"{_sig(v)} ms",
    "beats": _beats,
    "deg": lambda v: f"{_sig(v, _digits(v))}°",
    "BPM": lambda v: f"{v:.1f} BPM",
    "bars": _bars,
    "count": lambda v: f"{v:.0f}",
    "x": lambda v: f"×{_sig(v, 4)}",
    "Q": lambda v: f"Q {_sig(v)}",
}
"""How the units are written that are not simply a number and the unit."""
