"""The patch beside a recording at equal loudness: the largest differences, and advice."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ...engine import RATE, samples_per_beat
from ...measure import BANDS, Measures, measure
from ...patch import Patch
from ..evidence import Evidence

_Real = NDArray[np.floating[Any]]

STEPS = 32
"""Number of steps of the envelope over one beat."""
_SILENT_DB = -70.0
_NARROW = -24.0
"""Side against mid in dB below which no width is heard."""
_LEAST = {"level": 1.0, "mono": 1.0, "width": 3.0, "crest": 2.0}


@dataclass(frozen=True)
class Side:
    """One of the two: curve in dB along the axis, bands by name (level, mono loss, side against middle in dB; None if
    silent), envelope in dB over a beat, crest in dB, loudness in LUFS before the match.
    """

    curve: _Real
    bands: dict[str, tuple[float | None, float | None, float | None]]
    envelope: _Real
    crest: float | None
    loudness: float | None


@dataclass(frozen=True)
class Difference:
    """The patch less the recording. weight: how much it matters, which orders the differences."""

    what: str
    text: str
    advice: str
    value: float
    unit: str
    weight: float
    low_hz: float | None = None
    high_hz: float | None = None


@dataclass(frozen=True)
class Comparison:
    """Both sides, the recording matched by ``gain`` dB, and the differences, largest first."""

    own: Side
    other: Side
    gain: float
    differences: tuple[Difference, ...]


def envelope_over_beat(x: _Real, beat: float, offset: float = 0.0) -> _Real:
    """RMS in dB of x, (2, n), over a beat of so many samples, all beats averaged, (STEPS,)."""
    n = x.shape[1]
    place = np.floor(np.mod(np.arange(n) - offset, beat) / beat * STEPS).astype(np.int64) % STEPS
    power = np.bincount(place, 0.5 * np.square(x).sum(axis=0), minlength=STEPS)
    count = np.maximum(np.bincount(place, minlength=STEPS), 1)
    return np.asarray(10.0 * np.log10(np.maximum(2.0 * power / count, 1e-10)))


def _side(m: Measures, x: _Real, hz: _Real, beat: float, gain: float) -> Side:
    s = m.spectrum
    bands: dict[str, tuple[float | None, float | None, float | None]] = {}
    for name, low, high in BANDS:
        level = s.level(low, high)
        whole, mid = s.power(low, high), s.power(low, high, "mid")
        silent = level is None or level + gain < _SILENT_DB
        width = 10.0 * float(np.log10(max(whole - mid, 1e-9 * whole) / max(mid, 1e-9 * whole))) if whole > 0 else None
        loss = s.mono_loss(low, high)
        bands[name] = (None, None, None) if silent or level is None else (level + gain, loss, width)
    return Side(s.curve(hz) + gain, bands, envelope_over_beat(x, beat) + gain, m.crest_db, m.loudness.integrated)


def _owner(e: Evidence, low: float, high: float) -> str | None:
    """The name of the layer with most of a band."""
    power = {x.name: e.spectrum(x.id).power(low, high) for x in e.patch.layers if not x.mute}
    best = max(power, key=lambda i: power[i], default=None)
    return best if best is not None and power[best] > 1e-10 else None


def _split_near(patch: Patch, low: float, high: float) -> bool:
    edges = [patch.layer(s.lower).range.high for s in patch.splits]
    return any(low / 1.5 <= hz <= high * 1.5 for hz in edges)


def _level_advice(e: Evidence, low: float, high: float, apart: float) -> str:
    owner = _owner(e, low, high)
    need = f"needs {abs(apart):.0f} dB {'less' if apart > 0 else 'more'} {low:.0f}-{high:.0f}"
    if owner is None:
        return f"{need}: the patch has no sound there; add a layer, or widen a range"
    verb = "lower" if apart > 0 else "raise"
    also = " or move the split" if _split_near(e.patch, low, high) else ""
    return f"{need}: {verb} {owner}{also}"


def compare(e: Evidence, x: NDArray[np.float64], tempo: float, hz: NDArray[np.float64]) -> Comparison:
    """The loop beside a stretch of a recording x, (2, n) at 48 kHz, of known tempo. hz: the shared axis."""
    other = measure(x)
    own_loud, other_loud = e.sum.loudness.integrated, other.loudness.integrated
    gain = own_loud - other_loud if own_loud is not None and other_loud is not None else 0.0
    a = _side(e.sum, e.loop.sum, hz, samples_per_beat(e.patch.tempo), 0.0)
    b = _side(other, x, hz, RATE * 60.0 / tempo, gain)
    found = [d for band in BANDS for d in _in_band(e, a, b, band)]
    found += _in_time(a, b)
    return Comparison(a, b, gain, tuple(sorted(found, key=lambda d: -d.weight)))


def _in_band(e: Evidence, a: Side, b: Side, band: tuple[str, float, float]) -> list[Difference]:
    """How one band of the patch (a) differs from the reference's (b)."""
    name = band[0]
    (own_level, own_mono, own_width), (their_level, their_mono, their_width) = a.bands[name], b.bands[name]
    if own_level is None and their_level is None:
        return []
    own, their = (_SILENT_DB if x is None else x for x in (own_level, their_level))
    found = [_level_differs(e, band, max(min(own - their, 40.0), -40.0))]
    if own_mono is not None and their_mono is not None and abs(own_mono - their_mono) >= _LEAST["mono"]:
        found.append(_mono_differs(e, band, own_mono - their_mono))
    elif own_width is not None and their_width is not None and abs(own_width - their_width) >= _LEAST["width"]:
        found.append(_width_differs(e, band, max(own_width, _NARROW) - max(their_width, _NARROW)))
    return [d for d in found if d is not None]


def _span(band: tuple[str, float, float]) -> str:
    return f"{band[0]} {band[1]:.0f}-{band[2]:.0f} Hz"


def _level_differs(e: Evidence, band: tuple[str, float, float], apart: float) -> Difference | None:
    _, low, high = band
    if abs(apart) < _LEAST["level"]:
        return None
    text = f"{_span(band)}: {abs(apart):.1f} dB {'more' if apart > 0 else 'less'} than the reference"
    # the lows weigh most, the top least
    weight = abs(apart) * (1.5 if high <= 250 else 1.0 if high <= 6000 else 0.6)
    return Difference("level", text, _level_advice(e, low, high, apart), apart, "dB", weight, low, high)


def _mono_differs(e: Evidence, band: tuple[str, float, float], change: float) -> Difference:
    _, low, high = band
    text = f"{_span(band)}: mono loses {abs(change):.1f} dB {'less' if change > 0 else 'more'} than in the reference"
    advice = f"narrow {_owner(e, low, high) or 'it'} there, or raise the mono edge"
    return Difference(
        "mono", text, "it may be wider" if change > 0 else advice, change, "dB", abs(change) * 1.2, low, high
    )


def _width_differs(e: Evidence, band: tuple[str, float, float], change: float) -> Difference | None:
    _, low, high = band
    if abs(change) < _LEAST["width"]:
        return None
    text = f"{_span(band)}: {abs(change):.0f} dB {'wider' if change > 0 else 'narrower'} than the reference"
    advice = f"{'narrow' if change > 0 else 'widen'} {_owner(e, low, high) or 'it'}"
    if change < 0 and high <= 250.0:
        advice = "leave it: narrow lows are safer"
    return Difference("width", text, advice, change, "dB", 0.25 * abs(change), low, high)


def _in_time(a: Side, b: Side) -> list[Difference]:
    found = []
    if a.crest is not None and b.crest is not None and abs(a.crest - b.crest) >= _LEAST["crest"]:
        apart = a.crest - b.crest
        text = f"crest {abs(apart):.1f} dB {'more' if apart > 0 else 'less'} than the reference"
        advice = "compress it, or soften the attack" if apart > 0 else "ease the compression and the ceiling"
        found.append(Difference("crest", text, advice, apart, "dB", 0.8 * abs(apart)))
    swing = float(np.ptp(a.envelope)) - float(np.ptp(b.envelope))
    if abs(swing) >= 2.0:
        comparison = "more" if swing > 0 else "less"
        text = f"over a beat its level varies by {abs(swing):.1f} dB {comparison} than the reference's"
        advice = "soften the duck or the beat shape" if swing > 0 else "duck it under the kick, or shape the beat"
        found.append(Difference("envelope", text, advice, swing, "dB", 0.5 * abs(swing)))
    return found
