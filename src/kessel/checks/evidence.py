"""A patch's rendered loop and what is measured on it, each figure once."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from ..engine import RATE, Loop, Stop, Stopped, Takes, Taps, render_loop, samples_per_beat, tap_chain
from ..measure import Measures, Spectrum, decibels, fit_tones, measure
from ..patch import Edit, Layer, Oscillator, Patch, apply, pitch_hz

_Complex = NDArray[np.complex128]
_Real = NDArray[np.float64]

ONSET_SECONDS = 0.08


@dataclass(frozen=True)
class HeardNote:
    """A note as it is heard: from its start to its end or to the next note, in samples of the loop."""

    id: str
    pitch: int
    beat: float
    start: int
    length: int


def heard_notes(patch: Patch) -> list[HeardNote]:
    """The phrase's notes in order, each cut where the next begins."""
    beat = samples_per_beat(patch.tempo)
    total = round(patch.phrase.beats * beat)
    notes = sorted(patch.phrase.notes, key=lambda n: (n.start, n.id))
    found = []
    for i, n in enumerate(notes):
        start = round(n.start * beat)
        following = round(notes[i + 1].start * beat) if i + 1 < len(notes) else total + round(notes[0].start * beat)
        length = min(round(n.length * beat), following - start)
        if length > 0:
            found.append(HeardNote(n.id, n.pitch, n.start, start, length))
    return found


def source_ratios(layer: Layer) -> list[float]:
    """Frequency of every heard oscillator of a layer against the note, strongest first."""
    heard = [s for s in layer.sources if isinstance(s, Oscillator) and s.to != "nowhere" and s.level > -60]
    heard.sort(key=lambda s: -s.level)
    return [2.0 ** (s.octave + s.semitones / 12.0 + s.cents / 1200.0) for s in heard]


class Evidence:
    """Measured figures of a patch, made when first asked for."""

    def __init__(self, patch: Patch, takes: Takes | None = None, stop: Stop | None = None) -> None:
        self.patch = patch
        self.takes = takes or Takes()
        self.stop = stop or Stop()
        self.loop: Loop = render_loop(patch, self.takes, self.stop)
        self.notes = heard_notes(patch)
        self._layers: dict[str, Spectrum] = {}
        self._mids: dict[str | None, _Real] = {}
        self._partials: dict[tuple[str | None, str, float, int, float], _Complex] = {}
        self._taps: dict[str, Taps] = {}

    def with_edits(self, edits: Sequence[Edit]) -> Evidence:
        """Evidence of the patch with edits in place, from the same kept work; gives up when this one does."""
        return Evidence(apply(self.patch, edits), self.takes, self.stop)

    @cached_property
    def sum(self) -> Measures:
        """Measures of what leaves the output."""
        return measure(self.loop.sum, wrap=True)

    @cached_property
    def stages(self) -> dict[str, tuple[float | None, float | None]]:
        """Peak and RMS in dBFS after every voice stage and chain item, by its path; None where nothing sounded."""
        return {
            path: (decibels(peak * peak), decibels(squares / max(count, 1.0)))
            for path, (peak, squares, count) in sorted(self.loop.meters.items())
        }

    def taps(self, place: str) -> Taps:
        """The loop at every place of a chain, each chain once."""
        if place not in self._taps:
            self._taps[place] = tap_chain(self.patch, place, self.takes, self.stop)
        return self._taps[place]

    def spectrum(self, layer_id: str) -> Spectrum:
        """Spectrum of a layer as it stands in the sum, before the worked chain."""
        if layer_id not in self._layers:
            self._layers[layer_id] = Spectrum.of(self.loop.layers[layer_id], wrap=True)
        return self._layers[layer_id]

    @cached_property
    def base_ratio(self) -> float | None:
        """The lowest heard oscillator of the patch against the note played; None when nothing has a pitch."""
        ratios = [
            r
            for layer in self.patch.layers
            if not layer.mute and layer.level > -48 and float(np.abs(self.loop.layers[layer.id]).max(initial=0)) > 1e-4
            for r in source_ratios(layer)
        ]
        return min(ratios, default=None)

    def stretch(self, x: _Real, note: HeardNote, start: int, length: int) -> _Real:
        """Samples of a loop x, (n,), from ``start`` samples into a note, going round its end."""
        at = (note.start + start + np.arange(length)) % x.shape[-1]
        return np.asarray(x[..., at])

    def frames(self, signals: list[_Real], note: HeardNote, hz: float, count: int, glide_ms: float = 0.0) -> _Complex:
        """Amplitudes of partials 1..count of ``hz`` over a note's steady part, (frames, signals, count).

        signals: (n,) loops. The steady part begins after 80 ms, four periods or the glide; a short note is taken whole.
        """
        if self.stop.asked:
            raise Stopped
        period = RATE / hz
        size = round(max(4.0 * period, 0.06 * RATE))
        skip = round(max(ONSET_SECONDS * RATE, 4.0 * period, glide_ms * RATE / 1000.0))
        if note.length - skip < size:
            skip = min(round(0.01 * RATE), note.length // 8)
            size = min(size, note.length - skip)
        if size < 1.5 * period:
            return np.zeros((0, len(signals), count), dtype=np.complex128)
        starts = np.arange(skip, note.length - size + 1, max(1, size // 2))
        tones = hz * np.arange(1, max(1, min(max(count, 12), int(0.45 * RATE / hz))) + 1)
        out = np.zeros((starts.size, len(signals), count), dtype=np.complex128)
        got = min(count, tones.size)
        # all frames are as long and hold the same tones: one fit serves them all
        rows = np.stack([self.stretch(s, note, int(start), size) for start in starts for s in signals])
        out[:, :, :got] = fit_tones(rows, tones)[0][:, :got].reshape(starts.size, len(signals), got)
        return out

    def partials(self, layer: str | None, note: HeardNote, hz: float, count: int, glide_ms: float) -> _Complex:
        """As ``frames`` for the middle of a layer, or of the worked path for None, each kept; (frames, count)."""
        key = (layer, note.id, hz, count, glide_ms)
        if key not in self._partials:
            self._partials[key] = self.frames([self.middle(layer)], note, hz, count, glide_ms)[:, 0]
        return self._partials[key]

    def note_hz(self, note: HeardNote, ratio: float) -> float:
        """Frequency of a source at ``ratio`` on a note."""
        return pitch_hz(note.pitch, self.patch.tuning) * ratio

    def middle(self, layer: str | None) -> _Real:
        """The middle of a layer's loop, or of the worked path's for None, (n,)."""
        if layer not in self._mids:
            x = self.loop.worked if layer is None else self.loop.layers[layer]
            self._mids[layer] = 0.5 * (x[0] + x[1])
        return self._mids[layer]

    @cached_property
    def middle_of_sum(self) -> _Real:
        """The middle of what leaves the output, (n,)."""
        return np.asarray(0.5 * (self.loop.sum[0] + self.loop.sum[1]))


def has_pitch(layer: Layer) -> bool:
    """Whether a layer is heard and has partials."""
    return not layer.mute and layer.level > -60 and bool(source_ratios(layer))
