"""How two sounds that share the lows add up, note by note."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, field
from itertools import combinations
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from ...engine import RATE
from ...measure import lag_of_cross, pair_sums
from ...patch import Layer, Oscillator
from ..evidence import BUSES, WORKED, Evidence
from ..notes import HeardNote, frame_plan
from ..sounding import ratio_of

_Complex = NDArray[np.complex128]

COUNT = 8
HIGHEST_HZ = 500.0
"""Pairs whose lowest common partial is above this are not judged: a cancellation there is not heard as missing bass."""
INCOHERENT = 0.5
_BEATS = 0.8
"""Coherence after removing the beat from which a pair counts as beating steadily rather than drifting."""
LEAST_DB = 0.5
"""A pair is blamed only if the sum would gain this much if either side were turned to it."""
_QUIET = 1e-3
_HEARD = 10.0 ** (-24.0 / 20.0)
"""Share of a note's strongest partial below which an overlap of two sounds is inaudible."""
_LOUD = 10.0 ** (-25.0 / 20.0)


@dataclass(frozen=True)
class NoteSum:
    """How a pair adds on one note. Losses are in dB over the steady part, phase in degrees.

    a, b: amplitudes at the lowest common partial. low, high: 5th percentile and maximum of the sum loss over the note.
    lag_ms: of the turned side against the other. beat_hz: None for a pair that keeps a fixed phase or wanders. common:
    number of common partials. share: of the strongest partial of the note. in_sum: what the sum would gain in dB if
    either side were turned to add to it.
    """

    note: HeardNote
    base_hz: float
    hz: float
    sum_loss: float
    overlap_loss: float
    phase: float
    coherence: float
    low: float
    high: float
    a: float
    b: float
    lag_ms: float
    ambiguous: bool
    polarity: int
    beat_hz: float | None
    common: int
    share: float
    in_sum: float

    @property
    def turns(self) -> bool:
        """Whether two that keep step still turn against each other by an eighth of a cycle or more."""
        return self.beat_hz is not None and self.beat_hz * self.note.length / RATE >= 0.125

    @property
    def lasting_loss(self) -> float:
        """The sum loss that holds for the whole note."""
        return self.low if self.turns else self.sum_loss


@dataclass
class LayerPair:
    """Two layers, a clean layer and the worked path, or two sources of a layer, note by note.

    turned: the layer that a fix may change; sources: its sources if the pair is of sources. ratio: the lowest frequency
    of both sides over the note's; lowest: that of the turned layer. a: (frames, partials) amplitudes for each note; b
    likewise, of the turned side.
    """

    kind: Literal["layers", "path", "sources"]
    first: tuple[Layer, ...]
    turned: Layer
    ratio: float
    lowest: float
    sources: tuple[Oscillator, ...] = ()
    notes: list[NoteSum] = field(default_factory=list)
    a: list[_Complex] = field(default_factory=list)
    b: list[_Complex] = field(default_factory=list)

    @property
    def layers(self) -> tuple[str, ...]:
        """Ids, the turned one first."""
        return (self.turned.id, *(layer.id for layer in self.first))

    @property
    def key(self) -> str:
        """Identifies the same pair in other evidence."""
        return " ".join((self.kind, *self.layers, *(s.id for s in self.sources)))

    @property
    def own(self) -> str:
        """The name of the turned side."""
        return self.sources[0].name if self.sources else self.turned.name

    @property
    def other(self) -> str:
        """The name of the other side."""
        if self.sources:
            return self.sources[1].name
        return self.first[0].name if self.kind == "layers" else "the worked path"

    @property
    def title(self) -> str:
        """The names, joined."""
        found = f"{self.own} and {self.other}"
        return f"{found} of {self.turned.name}" if self.sources else found

    @property
    def worst(self) -> NoteSum:
        """The note with the largest sum loss, of those that the pair is blamed for if there are any."""
        return min(self.blamed or self.notes, key=lambda n: n.sum_loss)

    @property
    def lasting_loss(self) -> float:
        """The sum loss that holds on every note from its start to its end."""
        return min(n.lasting_loss for n in self.blamed or self.notes)

    @property
    def blamed(self) -> list[NoteSum]:
        """The notes on which the sum loses by the pair."""
        return [n for n in self.notes if n.in_sum >= LEAST_DB]

    @property
    def coherence(self) -> float:
        """Mean over the notes."""
        return float(np.mean([n.coherence for n in self.notes]))

    @property
    def apart(self) -> bool:
        """Whether the two have no fixed phase."""
        return self.coherence < INCOHERENT

    @property
    def beat_hz(self) -> float | None:
        """Median beat of a pair that beats."""
        found = [n.beat_hz for n in self.notes if n.beat_hz is not None]
        return float(np.median(found)) if self.apart and len(found) > len(self.notes) / 2 else None

    @property
    def own_ratio(self) -> float:
        """Lowest frequency of the turned side over the note's."""
        return ratio_of(self.turned, self.sources[0]) if self.sources else self.lowest


def _loss(together: float, apart: float) -> float:
    return 10.0 * math.log10(max(together, 1e-12 * apart) / apart)


def _beat(cross: _Complex, hop: float) -> float | None:
    """Rotation in Hz of cross, (frames,), ``hop`` seconds apart. None if it does not rotate evenly."""
    if cross.size < 4:
        return None
    step = float(np.angle((cross[1:] * np.conj(cross[:-1])).sum()))
    even = cross * np.exp(-1j * step * np.arange(cross.size))
    if abs(even.sum()) < _BEATS * np.abs(even).sum():
        return None
    return abs(step) / (2.0 * math.pi * hop)


def _gain(whole: _Complex, own: _Complex, turned: _Complex) -> float:
    """What a sum would gain in dB if one of its parts were turned to add to the rest, (frames,)."""
    best = float(np.square(np.abs(whole - own) + np.abs(turned)).sum())
    return 10.0 * math.log10(best / max(float(np.square(np.abs(whole)).sum()), 1e-12 * best, 1e-30))


def _note_sum(
    note: HeardNote, hz: float, a: _Complex, b: _Complex, hop: float, strongest: float, whole: _Complex, own: _Complex
) -> NoteSum | None:
    """Sums over the frames. None if the two share nothing low.

    whole: amplitudes of the sum that the pair is in. own: of the layer that both are sources of, in that sum; empty for
    a pair of layers.
    """
    level_a, level_b = (np.sqrt(np.square(np.abs(x)).mean(axis=0)) for x in (a, b))
    if min(level_a.max(initial=0), level_b.max(initial=0)) < _QUIET:
        return None
    common = pair_sums(level_a.astype(np.complex128), level_b.astype(np.complex128))
    if common.sum_loss is None:
        return None
    loud = (level_a > level_a.max() * _LOUD) & (level_b > level_b.max() * _LOUD)
    if not loud.any():
        return None
    k = int(np.flatnonzero(loud)[0])
    apart = np.square(np.abs(a) + np.abs(b))
    together = np.square(np.abs(a + b))
    each = together[:, k] / np.maximum(apart[:, k], 1e-30)
    cross = (b * np.conj(a)).sum(axis=0)
    steady = abs(cross[k]) / math.sqrt(float(np.square(np.abs(a[:, k])).sum() * np.square(np.abs(b[:, k])).sum()))
    low, high = np.percentile(10.0 * np.log10(np.maximum(each, 1e-12)), [5.0, 100.0])
    lag, ambiguous, polarity = lag_of_cross(cross[loud], hz * (np.flatnonzero(loud) + 1))
    return NoteSum(
        note=note,
        base_hz=hz,
        hz=hz * (k + 1),
        sum_loss=_loss(float(together[:, k].sum()), float(apart[:, k].sum())),
        overlap_loss=_loss(float(together[:, loud].sum()), float(apart[:, loud].sum())),
        phase=math.degrees(float(np.angle(cross[k]))),
        coherence=float(steady),
        low=float(low),
        high=float(high),
        a=float(level_a[k]),
        b=float(level_b[k]),
        lag_ms=1000.0 * lag,
        ambiguous=ambiguous,
        polarity=polarity,
        beat_hz=_beat(b[:, k] * np.conj(a[:, k]), hop),
        common=int(loud.sum()),
        share=float(level_a[k] + level_b[k]) / max(strongest, 1e-12),
        in_sum=_source_gain(whole[:, k], own[:, k], a[:, k], b[:, k])
        if own.size
        else min(_gain(whole[:, k], x[:, k], x[:, k]) for x in (a, b)),
    )


def _source_gain(whole: _Complex, own: _Complex, a: _Complex, b: _Complex) -> float:
    """Like ``_gain`` for two sources: their layer would be louder by what they lose together."""
    lost = np.sqrt(np.square(np.abs(a) + np.abs(b)).sum() / max(float(np.square(np.abs(a + b)).sum()), 1e-30))
    return _gain(whole, own, own * float(min(lost, 1e3)))


def signals_of(e: Evidence, pair: LayerPair) -> list[NDArray[np.float64]]:
    """The loops of both sides, the turned one last."""
    if pair.sources:
        return [e.alone(pair.turned, s.id) for s in reversed(pair.sources)]
    return [e.middle(None if pair.kind == "path" else pair.first[0].id), e.middle(pair.turned.id)]


def onset_loss(e: Evidence, pair: LayerPair, n: NoteSum) -> float | None:
    """Sum loss at the lowest common partial over the first 80 ms or four periods of a note, in dB."""
    k = round(n.hz / n.base_hz) - 1
    begun = e.onset(signals_of(e, pair), n.note, n.base_hz, COUNT)[:, k]
    apart = float(np.abs(begun).sum()) ** 2
    return _loss(float(abs(begun.sum()) ** 2), apart) if apart > _QUIET**2 else None


def _measure(e: Evidence, pair: LayerPair) -> LayerPair:
    """The pair with its notes measured."""
    glide = max(layer.play.glide for layer in (*pair.first, pair.turned))
    signals = signals_of(e, pair) if pair.sources else []
    for note in e.notes:
        if not _together(e, pair, note):
            continue
        hz = e.note_hz(note, pair.ratio)
        if pair.sources:
            frames = e.frames(signals, note, hz, COUNT, glide)
            a, b = frames[:, 0], frames[:, 1]
        else:
            a = e.partials(None if pair.kind == "path" else pair.first[0].id, note, hz, COUNT, glide)
            b = e.partials(pair.turned.id, note, hz, COUNT, glide)
        beside = e.beside(_lowest_of(e, pair), note, hz, glide)
        if not a.shape[0] or not beside.any():
            continue
        hop = max(1, frame_plan(note, hz, glide)[1] // 2) / RATE
        into = WORKED if pair.kind != "path" and pair.turned.path == "worked" else BUSES
        whole = e.partials(into, note, hz, COUNT, glide)
        own = e.partials(pair.turned.id, note, hz, COUNT, glide) if pair.sources else np.zeros((0, 0), complex)
        a, b, whole = a[beside], b[beside], whole[beside]
        own = own[beside] if pair.sources else own
        found = _note_sum(note, hz, a, b, hop, e.strongest(note), whole, own)
        if found is None or found.hz > HIGHEST_HZ or found.share < _HEARD:
            continue
        pair.notes.append(found)
        pair.a.append(a)
        pair.b.append(b)
    return pair


def _lowest_of(e: Evidence, pair: LayerPair) -> list[tuple[Layer, str]]:
    """The lowest source of either side, with its layer."""
    if pair.sources:
        return [(pair.turned, s.id) for s in pair.sources]
    layers = (pair.turned, *pair.first)
    return [(x, min(e.pitched_sources(x), key=lambda s, x=x: ratio_of(x, s)).id) for x in layers]  # type: ignore[misc]


def _together(e: Evidence, pair: LayerPair, note: HeardNote) -> bool:
    """Whether both sides are heard on a note."""
    if pair.sources:
        return all(e.source_sounds(pair.turned, s.id, note) for s in pair.sources)
    return e.sounds(pair.turned.id, note) and any(e.sounds(layer.id, note) for layer in pair.first)


def _named(e: Evidence) -> list[LayerPair]:
    heard = [layer for layer in e.patch.layers if e.has_pitch(layer)]
    clean = [layer for layer in heard if layer.path == "clean"]
    worked = [layer for layer in heard if layer.path == "worked"]
    found = [_pair(e, "layers", turned, (it,)) for group in (clean, worked) for turned, it in combinations(group, 2)]
    found += [_pair(e, "path", turned, tuple(worked)) for turned in clean if worked]
    return found + [pair for layer in heard for pair in _of_sources(e, layer)]


def _pair(e: Evidence, kind: Literal["layers", "path"], turned: Layer, first: tuple[Layer, ...]) -> LayerPair:
    lowest = e.lowest_ratio(turned)
    return LayerPair(kind, first, turned, min(lowest, *(e.lowest_ratio(x) for x in first)), lowest)


def _of_sources(e: Evidence, layer: Layer) -> list[LayerPair]:
    found = []
    for other, turned in combinations(e.pitched_sources(layer), 2):
        lowest = ratio_of(layer, turned)
        found.append(LayerPair("sources", (), layer, min(lowest, ratio_of(layer, other)), lowest, (turned, other)))
    return found


def pairs_of(e: Evidence) -> list[LayerPair]:
    """Every pair that shares partials low enough to matter.

    Clean layers are compared with each other and with the worked path behind its chain; worked layers with each other
    before the chain; sources of a layer with each other before its chain.
    """
    return e.once("pairs", lambda: [p for p in (_measure(e, named) for named in _named(e)) if p.notes])


def same_pair(e: Evidence, pair: LayerPair) -> LayerPair | None:
    """A pair of other evidence, measured on this one. None if it shares nothing here."""
    for named in _named(e):
        if named.key == pair.key:
            found = _measure(e, named)
            return found if found.notes else None
    return None


def in_words(pair: LayerPair, n: NoteSum) -> str:
    """Lag and polarity of a pair on a note, as text."""
    if pair.beat_hz is not None:
        return f"{pair.own} and {pair.other} beat {n.beat_hz or pair.beat_hz:.2g} times a second"
    if pair.apart:
        return f"{pair.own} and {pair.other} drift in phase"
    if n.common == 1 or n.ambiguous:
        if abs(n.phase) < 5.0:
            return f"{pair.own} and {pair.other} are in phase at {n.hz:.0f} Hz"
        where = "leads" if n.phase > 0 else "lags"
        return f"{pair.own} {where} {pair.other} by {abs(n.phase):.0f}° at {n.hz:.0f} Hz"
    late = ""
    if abs(n.lag_ms) >= 0.05:
        late = f"{abs(n.lag_ms):.2f} ms {'late' if n.lag_ms > 0 else 'early'}"
    over = "inverted in polarity" if n.polarity < 0 else ""
    words = " and ".join(w for w in (late, over) if w) or f"in phase with {pair.other}"
    return f"{pair.own} is {words}"


def turned_by(pair: LayerPair, degrees: Callable[[NoteSum], float]) -> list[tuple[NoteSum, float]]:
    """Every note with its sum loss at the lowest common partial if the turned side were rotated by so many degrees.

    Computed from the measured amplitudes. Exact for pure rotations, such as a delay or a start phase.
    """
    found = []
    for n, a, b in zip(pair.notes, pair.a, pair.b, strict=True):
        k = round(n.hz / n.base_hz) - 1
        turned = b[:, k] * np.exp(1j * math.radians(degrees(n)))
        together = float(np.square(np.abs(a[:, k] + turned)).sum())
        found.append((n, _loss(together, float(np.square(np.abs(a[:, k]) + np.abs(b[:, k])).sum()))))
    return found
