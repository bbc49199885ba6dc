"""Beats in the lows: parts that share a pitch but not a phase, so that their sum swells and fades within a note.

Every source of every layer is rendered alone with one copy. All are demodulated at the lowest shared pitch as it glides
and bends (Hann window of two periods, power averaged over 30 ms). Parts that keep step are added first: what they do to
each other is the pairs' matter. The *dip* is the 10th percentile over the note of the sum's level less the power sum of
what is left, while that power sum is within 20 dB of its top. Two equal parts that beat have a mean of 0 dB and a dip
below -10 dB, however slowly they beat; unrelated partials of a chord are evened out by the 30 ms.

In a layer with a chain or stages, and on the worked path, what the effects do to the level is not the parts' doing:
there the parts are first scaled to the level that is left of them together.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from functools import partial

import numpy as np
from numpy.typing import NDArray

from ...engine import RATE
from ...patch import Layer, Oscillator, Source
from ..evidence import BUSES, Evidence
from ..following import EVERY, HOP, LOW_RATE, carrier, decimated, demodulated, lows_of_note, turning
from ..notes import HeardNote
from ..sounding import ratio_of

_Real = NDArray[np.float64]
_Complex = NDArray[np.complex128]

_AVERAGE = round(0.03 * LOW_RATE / HOP)
_SHORT = round(0.15 * RATE)
_NEAR = 2.0 ** (130.0 / 1200.0)
"""Harmonics nearer than this share a pitch: a little more than a semitone."""
_HARMONICS = 4
_WEIGHS_DB = 20.0
"""How far below the strongest part at the shared pitch a part still counts, and below its top the power sum."""
_REACH_DB = 30.0
"""A layer this far below the strongest in the lows cannot make them beat."""
_SLOWEST_HZ = 0.05
_IN_STEP = 0.5
"""Coherence from which two parts keep step."""


@dataclass(frozen=True)
class BeatingPart:
    """A source that takes part in a beat, and the number of its copies."""

    layer: Layer
    source: Source
    copies: int


@dataclass(frozen=True)
class Beat:
    """What beats on a note at ``hz``. dip: in dB; short: of a note under 150 ms, its mean. high: the 90th percentile.

    parts: those that do not keep step, strongest first. rate: beats in a second, None if they do not beat evenly.
    """

    note: HeardNote
    hz: float
    dip: float
    high: float
    short: bool
    parts: tuple[BeatingPart, ...]
    rate: float | None

    @property
    def own_unison(self) -> bool:
        """Whether the copies of one layer beat, and nothing else."""
        return len({p.layer.id for p in self.parts}) == 1 and any(p.copies > 1 for p in self.parts)


@dataclass
class _Tone:
    """One part on a note: what plays it, its demodulated sound at the shared pitch, (frames,), and whether it has a
    harmonic there.
    """

    layer: Layer
    source: Source
    copies: int
    x: _Complex
    near: bool

    @property
    def level(self) -> float:
        """Mean power."""
        return float(_power(self.x).mean())


def _averaged(power: _Real) -> _Real:
    """Power, (frames,), over 30 ms."""
    n = min(_AVERAGE, power.size)
    return np.convolve(power, np.ones(n) / n, "valid")


def _low_layers(e: Evidence, top: float) -> list[Layer]:
    """The layers with power in the lows that matters to them, up to a little over ``top`` Hz."""
    return e.once(f"low layers {top}", lambda: _with_lows(e, top))


def _with_lows(e: Evidence, top: float) -> list[Layer]:
    power = {x.id: e.spectrum(x.id).power(20.0, _NEAR * top) for x in e.patch.layers if x.id in e.can_sound}
    least = max(power.values(), default=0.0) * 10.0 ** (-_REACH_DB / 10.0)
    return [x for x in e.patch.layers if power.get(x.id, 0.0) > least]


def _shared(e: Evidence, note: HeardNote, top: float) -> list[float]:
    """Frequencies below ``top`` at which more than one part or copy has a harmonic, the lowest first."""
    found = []
    for layer in _low_layers(e, top):
        for s in e.pitched_sources(layer):
            if e.sounds(layer.id, note):
                first = e.note_hz(note, ratio_of(layer, s)) + s.offset
                copies = layer.unison.copies if s.unison else 1
                found += [(first * k, copies) for k in range(1, _HARMONICS + 1) if first > 0.0]
    return sorted(
        hz
        for n, (hz, copies) in enumerate(found)
        if hz <= top and (copies > 1 or any(m != n and hz / _NEAR < f < hz * _NEAR for m, (f, _) in enumerate(found)))
    )


def _plays_near(e: Evidence, note: HeardNote, layer: Layer, source: Source, hz: float) -> bool:
    """Whether a source has a harmonic at the shared pitch."""
    if not isinstance(source, Oscillator):
        return False
    first = e.note_hz(note, ratio_of(layer, source)) + source.offset
    k = round(hz / first) if first > 0.0 else 0
    return k >= 1 and hz / _NEAR < first * k < hz * _NEAR


def _tones(e: Evidence, note: HeardNote, hz: float, top: float) -> tuple[list[_Tone], _Complex]:
    """The parts of a note, and what turns the carrier they are demodulated with: that of the strongest at ``hz``."""
    sounds = [
        (layer, s, lows_of_note(_lows(e, f"alone {layer.id} {s.id}", partial(e.alone, layer, s.id, True)), note))
        for layer in _low_layers(e, top)
        if e.sounds(layer.id, note)
        for s in e.can_sound[layer.id]
    ]
    length = max(1, note.length // EVERY)
    still = np.asarray(2.0 * math.pi * hz / LOW_RATE * np.arange(1, length + 1), dtype=np.float64)
    every = np.stack([x for _, _, x in sounds])
    near = np.array([_plays_near(e, note, layer, s, hz) for layer, s, _ in sounds])
    turned = turning(still)
    found = demodulated(every, turned, hz)
    if e.pitch_moves:
        # a pitch that stays needs no following: a detune only turns evenly against the carrier
        strongest = int(np.argmax(np.where(near, _power(found).sum(axis=-1), -1.0)))
        layer, source, _ = sounds[strongest]
        turned = turning(carrier(every[strongest], hz, e.course(layer, source.id, note)))
        found = demodulated(every, turned, hz)
    return [
        _Tone(layer, s, layer.unison.copies if getattr(s, "unison", False) else 1, x, bool(is_near))
        for (layer, s, _), x, is_near in zip(sounds, found, near, strict=True)
    ], turned


def _power(x: _Complex) -> _Real:
    return np.asarray(np.square(np.abs(x)), dtype=np.float64)


def _scaled(tones: list[_Tone], whole: _Complex, steady: bool) -> None:
    """Scale parts to what is left of them together, (frames,). steady: by one factor for the note."""
    own = np.sum([_power(t.x) for t in tones], axis=0)
    if steady:
        factor = np.sqrt(_power(whole).mean() / max(float(own.mean()), 1e-20))
        gain: _Real | float = float(factor)
    else:
        before = _power(np.sum([t.x for t in tones], axis=0))
        left, mean = _averaged_over(_power(whole)), _averaged_over(before)
        gain = np.sqrt((left + 0.05 * left.mean()) / np.maximum(mean + 0.05 * mean.mean(), 1e-20))
    for t in tones:
        t.x = t.x * gain


def _averaged_over(power: _Real) -> _Real:
    """Power over 30 ms around every frame, (frames,)."""
    n = min(_AVERAGE, power.size)
    even = np.convolve(power, np.ones(n), "same") / np.convolve(np.ones(power.size), np.ones(n), "same")
    return np.asarray(even)


def _clusters(tones: list[_Tone]) -> list[list[_Tone]]:
    """Parts that keep step, together."""
    found: list[list[_Tone]] = []
    for t in tones:
        for group in found:
            a, b = group[0].x, t.x
            cross = abs(np.vdot(a, b)) / math.sqrt(max(float(_power(a).sum() * _power(b).sum()), 1e-30))
            if cross >= _IN_STEP and group[0].copies == t.copies == 1:
                group.append(t)
                break
        else:
            found.append([t])
    return found


def _rate(a: _Complex, b: _Complex) -> float | None:
    """Beats in a second of two parts that share a carrier. None if they do not turn evenly."""
    cross = b * np.conj(a)
    if cross.size < 4:
        return None
    step = float(np.angle((cross[1:] * np.conj(cross[:-1])).sum()))
    even = cross * np.exp(-1j * step * np.arange(cross.size))
    rate = abs(step) * LOW_RATE / (2.0 * math.pi * HOP)
    return rate if rate > _SLOWEST_HZ and abs(even.sum()) >= 0.8 * np.abs(even).sum() else None


def beat_on(e: Evidence, note: HeardNote, top: float) -> Beat | None:
    """What beats on a note below ``top`` Hz. None if no parts share a pitch there, or all keep step."""
    return e.once(f"beat {note.id} {top}", lambda: _beat_on(e, note, top))


def _beat_on(e: Evidence, note: HeardNote, top: float) -> Beat | None:
    for hz in _shared(e, note, top):
        if note.length < 1.5 * RATE / hz:
            return None
        tones, turned = _tones(e, note, hz, top)
        for layer in {t.layer.id: t.layer for t in tones}.values():
            if layer.chain or any(stage.on for stage in layer.stages):
                own = [t for t in tones if t.layer.id == layer.id]
                _scaled(own, _demodulated(e, note, layer.id, turned, hz), True)
        worked = [t for t in tones if t.layer.path == "worked"]
        if worked and e.patch.worked:
            _scaled(worked, _demodulated(e, note, None, turned, hz), False)
        weak = max(t.level for t in tones) * 10.0 ** (-_WEIGHS_DB / 10.0)
        beating = _clusters([t for t in tones if t.near and t.level > weak])
        if len(beating) > 1 or any(t.copies > 1 for g in beating for t in g):
            whole = _power(_demodulated(e, note, BUSES, turned, hz))
            return _judged(note, hz, [*beating, *([t] for t in tones if not t.near or t.level <= weak)], beating, whole)
    return None


def _lows(e: Evidence, name: str, make: Callable[[], _Real]) -> _Real:
    """The lows of a loop, computed once under its name."""
    return e.once(f"lows of {name}", lambda: decimated(make()))


def _demodulated(e: Evidence, note: HeardNote, of: str | None, turned: _Complex, hz: float) -> _Complex:
    """A layer, the worked path (None) or all of them (BUSES) on a note, demodulated."""
    low = _lows(e, f"mix {of}", lambda: e.middle_of_buses if of == BUSES else e.middle(of))
    return demodulated(lows_of_note(low, note), turned, hz)


def _judged(
    note: HeardNote, hz: float, groups: list[list[_Tone]], beating: list[list[_Tone]], whole: _Real
) -> Beat | None:
    """groups: all parts, those that keep step together. whole: power of the sum, (frames,)."""
    parts = _averaged(np.sum([_power(_together(g)) for g in groups], axis=0))
    together = _averaged(whole)
    there = parts > parts.max(initial=0.0) * 10.0 ** (-_WEIGHS_DB / 10.0)
    if not there.any() or parts.max() < 1e-10:
        return None
    left = 10.0 * np.log10(np.maximum(together[there] / parts[there], 1e-8))
    if short := note.length < _SHORT:
        left = np.array([10.0 * math.log10(max(float(together[there].sum() / parts[there].sum()), 1e-8))])
    by_level = sorted(beating, key=lambda g: -float(_power(_together(g)).mean()))
    named = tuple(BeatingPart(t.layer, t.source, t.copies) for g in by_level for t in g[:1])
    rate = _rate(by_level[0][0].x, by_level[1][0].x) if len(by_level) > 1 else None
    low, high = np.percentile(left, [10.0, 90.0])
    return Beat(note, hz, float(low), float(high), short, named, rate)


def _together(group: list[_Tone]) -> _Complex:
    return np.asarray(np.sum([t.x for t in group], axis=0))
