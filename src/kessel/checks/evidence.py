"""The evidence of a patch: its rendered loop, and each figure measured on it, computed once."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import replace
from functools import cached_property, partial
from typing import Any, TypeVar

import numpy as np
from numpy.typing import NDArray

from ..engine import (
    QUANTUM,
    RATE,
    CancelToken,
    Loop,
    RenderCache,
    RenderCancelled,
    Taps,
    render_layer,
    render_layer_voices,
    render_loop,
    tap_chain,
    through_item,
)
from ..measure import Measures, Spectrum, decibels, measure, tones_of
from ..patch import Edit, Layer, Oscillator, Patch, Source, apply, pitch_hz
from .finding import Candidate, Fix, first_that_holds
from .following import EVERY, course_of, decimated, even_pitch, moves_pitch, straightened
from .matching import settling
from .notes import ONSET_SECONDS, HeardNote, frame_plan, heard_notes
from .sounding import (
    BELOW_DB,
    HEARD_DB,
    Played,
    bare,
    can_sound,
    frame_powers,
    loudest,
    moved_levels,
    oscillators,
    ratio_of,
    without_others,
)

_Complex = NDArray[np.complex128]
_Real = NDArray[np.float64]
_Made = TypeVar("_Made")

_STRETCH = 64 * QUANTUM
_CARRIES_DB = 12.0
_ASIDE = 0.03
"""Octaves by which two pitches may leave their interval and still be beside each other."""
SUM = "sum "
"""Stands for the output where a layer is named; the space keeps it apart from every id."""
BUSES = "buses "
"""Stands for the clean layers and the worked path together, before the output stage."""
WORKED = "into worked "
"""Stands for what enters the worked path."""
_SUMS = (WORKED, BUSES, SUM)


class Evidence:
    """The measured figures of a patch, computed on demand."""

    def __init__(
        self, patch: Patch, takes: RenderCache | None = None, stop: CancelToken | None = None, seeks: bool = True
    ) -> None:
        """``seeks``: whether checks look for fixes, which renders the patch with each of them."""
        self.patch = patch
        self.seeks = seeks
        self.takes = takes or RenderCache()
        self.stop = stop or CancelToken()
        self.loop: Loop = render_loop(patch, self.takes, self.stop)
        self.notes = heard_notes(patch)
        self._layers: dict[str, Spectrum] = {}
        self._mids: dict[str | None, _Real] = {}
        self._partials: dict[tuple[str, float, int, float], _Complex] = {}
        self._taps: dict[str, Taps] = {}
        self._once: dict[str, Any] = {}

    def with_edits(self, edits: Sequence[Edit]) -> Evidence:
        """Evidence of the patch as edits leave it, level matches settled, with the same cache.

        It is cancelled with this one.
        """
        every = (*edits, *settling(self.patch, edits, self.takes, self.stop))
        return Evidence(apply(self.patch, every), self.takes, self.stop, False)

    def once(self, what: str, make: Callable[[], _Made]) -> _Made:
        """The result of ``make``, computed once under this name."""
        if what not in self._once:
            self._once[what] = make()
        made: _Made = self._once[what]
        return made

    def sought(self, seek: Callable[[], tuple[Fix, ...] | Fix | None]) -> tuple[Fix, ...]:
        """The fixes that ``seek`` finds, if fixes are wanted."""
        found = seek() if self.seeks else None
        return found if isinstance(found, tuple) else (found,) if found is not None else ()

    def cure(
        self,
        candidates: Iterable[Candidate],
        measured: Callable[[Evidence], float | None],
        holds: Callable[[float], bool],
    ) -> Fix | None:
        """Of candidate fixes, mildest first, the first with which the finding holds, else the last.

        measured: the figure with a candidate applied. None, if there is none any more, holds.
        """
        if not self.seeks:
            return None
        return first_that_holds(candidates, lambda edits: measured(self.with_edits(edits)), holds)

    def full_cure(
        self,
        candidates: Iterable[Candidate],
        measured: Callable[[Evidence], float | None],
        holds: Callable[[float], bool],
    ) -> tuple[Fix, ...]:
        """Like ``cure``, but nothing if no candidate makes the finding hold."""
        fix = self.cure(candidates, measured, holds)
        return (fix,) if fix is not None and (fix.after is None or holds(fix.after)) else ()

    @cached_property
    def sum(self) -> Measures:
        """Measures of the output."""
        return measure(self.loop.sum, wrap=True)

    @cached_property
    def stages(self) -> dict[str, tuple[float | None, float | None]]:
        """Peak and RMS in dBFS behind every voice stage and chain item, by path. None if it was silent."""
        return {
            path: (decibels(peak * peak), decibels(squares / max(count, 1.0)))
            for path, (peak, squares, count) in sorted(self.loop.meters.items())
        }

    def voice_stage_peak(self, layer: str, path: str, edits: Sequence[Edit]) -> float | None:
        """Peak in dBFS behind a voice stage with edits to its layer, which is rendered alone. None if it is silent."""
        patch = apply(self.patch, edits)
        return decibels(render_layer_voices(patch, layer, self.takes, self.stop).meters[path][0] ** 2)

    def taps(self, place: str) -> Taps:
        """The loop at every place of a chain, each chain rendered once."""
        if place not in self._taps:
            self._taps[place] = tap_chain(self.patch, place, self.takes, self.stop)
        return self._taps[place]

    def level_at(self, path: str) -> tuple[float | None, float | None]:
        """Peak and RMS in dBFS behind a chain item, or of a chain's input by the chain's own path."""
        if path in self.loop.meters:
            return self.stages[path]
        x = self.into(path)
        power = float(np.mean(np.square(x), dtype=np.float64))
        return decibels(float(np.abs(x).max(initial=0.0)) ** 2), decibels(power)

    def into(self, place: str) -> NDArray[np.floating[Any]]:
        """The input of a chain, (2, n)."""
        if place != "worked":
            return self.taps(place).x[place]

        def summed() -> _Real:
            own = [self.loop.layers[x.id] for x in self.patch.layers if x.path == "worked"]
            return np.sum(own, axis=0) if own else np.zeros_like(self.loop.sum)

        return self.once("into worked", summed)

    def near(self, item: str) -> NDArray[np.floating[Any]]:
        """The loudest stretch of the output of an item of the worked path, (2, n)."""
        if "worked" in self._taps:
            return self._taps["worked"].x[item]

        def made() -> NDArray[np.floating[Any]]:
            x = self.into("worked")
            size = min(_STRETCH, x.shape[1] // QUANTUM * QUANTUM)
            hops = np.square(x[:, : x.shape[1] // QUANTUM * QUANTUM]).sum(axis=0).reshape(-1, QUANTUM).sum(axis=1)
            total = np.concatenate([[0.0], np.cumsum(hops)])
            at = int(np.argmax(total[size // QUANTUM :] - total[: total.size - size // QUANTUM])) * QUANTUM
            y = np.ascontiguousarray(x[:, at : at + size], dtype=np.float64)
            for part in self.patch.worked:
                y = through_item(part, y)
                if f"worked.{part.id}" == item:
                    break
            return y

        return self.once(f"near {item}", made)

    def spectrum(self, layer_id: str) -> Spectrum:
        """Spectrum of a layer as it is mixed, before the worked chain."""
        if layer_id not in self._layers:
            self._layers[layer_id] = Spectrum.of(self.loop.layers[layer_id], wrap=True)
        return self._layers[layer_id]

    @cached_property
    def can_sound(self) -> dict[str, list[Source]]:
        """The sources that can be heard, by layer."""
        return can_sound(self.patch)

    @cached_property
    def _loudness(self) -> dict[str, dict[str, float]]:
        """The loudest 10 ms of every layer on every note in dBFS RMS, by note and layer."""
        powers = {i: frame_powers(self.loop.layers[i]) for i in self.can_sound}
        return {n.id: {i: loudest(p, n.start, n.length) for i, p in powers.items()} for n in self.notes}

    def sounds(self, layer: str, note: HeardNote) -> bool:
        """Whether a layer is heard on a note."""
        levels = self._loudness[note.id]
        return levels.get(layer, -200.0) >= max(HEARD_DB, max(levels.values(), default=0.0) - BELOW_DB)

    def source_sounds(self, layer: Layer, source: str, note: HeardNote) -> bool:
        """Whether a source of a layer is heard on a note."""
        if not self.sounds(layer.id, note):
            return False
        own = self.can_sound[layer.id]
        if len(own) < 2:
            return any(s.id == source for s in own)
        powers = {s.id: self.once(f"powers {layer.id} {s.id}", partial(self._powers, layer, s.id)) for s in own}
        levels = {i: loudest(p, note.start, note.length) for i, p in powers.items()}
        return levels[source] >= max(HEARD_DB, max(levels.values()) - BELOW_DB)

    def _powers(self, layer: Layer, source: str) -> _Real:
        return frame_powers(self.alone(layer, source)[None])

    def pitched_sources(self, layer: Layer) -> list[Oscillator]:
        """The oscillators of a layer that can be heard."""
        return oscillators(self.can_sound.get(layer.id, ()))

    def has_pitch(self, layer: Layer) -> bool:
        """Whether a layer plays a pitch, and is heard on any note."""
        return bool(self.pitched_sources(layer)) and any(self.sounds(layer.id, n) for n in self.notes)

    def lowest_ratio(self, layer: Layer) -> float:
        """The lowest pitch of a layer over the note's."""
        return min(ratio_of(layer, s) for s in self.pitched_sources(layer))

    def played(self, note: HeardNote) -> list[Played]:
        """The oscillators that are played on a note, with their levels."""
        layers = [x for x in self.patch.layers if self.pitched_sources(x) and self.sounds(x.id, note)]
        moved = moved_levels(self.patch)
        still = not any(t.startswith(f"layers.{x.id}.") for t in moved for x in layers)
        return [
            Played(x.id, s.id, ratio_of(x, s), x.level + s.level if still else self._bare_level(x, s.id, note))
            for x in layers
            for s in self.pitched_sources(x)
        ]

    def _bare_level(self, layer: Layer, source: str, note: HeardNote) -> float:
        def make() -> _Real:
            return frame_powers(self._with_one(layer, [*without_others(layer, source), *bare(layer)])[None])

        return loudest(self.once(f"bare {layer.id} {source}", make), note.start, note.length)

    def base_ratio(self, note: HeardNote) -> float | None:
        """The fundamental of a note over the note's frequency: the lowest pitch among the oscillators within 12 dB of
        the loudest, by what is played, not by what the stages leave. None if nothing has a pitch.
        """
        played = self.once(f"played {note.id}", partial(self.played, note))
        top = max((p.level for p in played), default=0.0)
        return min((p.ratio for p in played if p.level >= top - _CARRIES_DB), default=None)

    def stretch(self, x: _Real, note: HeardNote, start: int, length: int) -> _Real:
        """Samples of a loop x, (n,), from ``start`` samples into a note, around its end."""
        first = (note.start + start) % x.shape[-1]
        if first + length <= x.shape[-1]:
            return x[..., first : first + length]
        return np.asarray(x[..., (first + np.arange(length)) % x.shape[-1]])

    def followed(self, note: HeardNote) -> _Real | None:
        """Where a note that glides or bends is read so that its pitch is even, in samples; None if it is."""
        if not self.pitch_moves:
            return None
        return self.once(f"followed {note.id}", partial(self._followed, note))

    @cached_property
    def pitch_moves(self) -> bool:
        """Whether anything bends a pitch or lets it glide."""
        return moves_pitch(self.patch)

    def _followed(self, note: HeardNote) -> _Real | None:
        ratio = self.base_ratio(note)
        if ratio is None:
            return None
        played = [p for p in self.once(f"played {note.id}", partial(self.played, note)) if p.ratio == ratio]
        best = max(played, key=lambda p: p.level)
        low = self.once(f"lows of mix {best.layer}", lambda: decimated(self.middle(best.layer)))
        course = self.course(self.patch.layer(best.layer), best.source, note)
        return even_pitch(low, self.loop.sum.shape[1], note, self.note_hz(note, ratio), course)

    def course(self, layer: Layer, source: str, note: HeardNote) -> _Real:
        """Where bends and movements take the pitch of a source on a note, as of ``course_of``."""
        return course_of(self.patch, layer, source, note, self.loop.travel, self.loop.sum.shape[1])

    def beside(
        self, sides: Sequence[tuple[Layer, str]], note: HeardNote, hz: float, glide_ms: float
    ) -> NDArray[np.bool_]:
        """In which frames of a note, as of ``frames``, sources keep the interval of their resting pitches."""
        follows = self.followed(note)
        if follows is None:
            return np.ones(frame_plan(note, hz, glide_ms)[0].size, dtype=bool)
        starts, size = frame_plan(replace(note, length=follows.size), hz, 0.0)
        middles = follows[starts + size // 2] - note.start
        courses = np.stack([np.log2(self.course(layer, source, note)) for layer, source in sides])
        at = np.minimum(middles.astype(np.int64) % self.loop.sum.shape[1] // EVERY, courses.shape[1] - 1)
        return np.asarray(np.ptp(courses[:, at], axis=0) < _ASIDE)

    def frames(self, signals: list[_Real], note: HeardNote, hz: float, count: int, glide_ms: float = 0.0) -> _Complex:
        """Amplitudes of partials 1..count of ``hz`` over a note's steady part, (frames, signals, count).

        signals: (n,) loops. Frames as in ``frame_plan``. A note that glides or bends is first played at an even pitch.
        """
        if self.stop.asked:
            raise RenderCancelled
        follows = self.followed(note)
        if follows is not None:
            note, glide_ms = replace(note, length=follows.size), 0.0
        starts, size = frame_plan(note, hz, glide_ms)
        if starts.size == 0:
            return np.zeros((0, len(signals), count), dtype=np.complex128)
        tones = hz * np.arange(1, max(1, min(max(count, 12), int(0.45 * RATE / hz))) + 1)
        out = np.zeros((starts.size, len(signals), count), dtype=np.complex128)
        got = min(count, tones.size)
        # all frames have the same length and tones: one least-squares fit serves them all
        if follows is None:
            rows = np.stack([self.stretch(s, note, int(start), size) for start in starts for s in signals])
        else:
            even = [straightened(s, follows) for s in signals]
            rows = np.stack([x[start : start + size] for start in starts for x in even])
        out[:, :, :got] = tones_of(rows, tones)[:, :got].reshape(starts.size, len(signals), got)
        return out

    def partials(self, layer: str | None, note: HeardNote, hz: float, count: int, glide_ms: float) -> _Complex:
        """Like ``frames``, for the mid signal of a layer, of the worked path (None), or of a sum (WORKED, BUSES, SUM);
        cached, (frames, count).
        """
        key = (note.id, hz, count, glide_ms)
        if key not in self._partials:
            # one fit serves all sounds
            signals = [*map(self.middle, self.pitched), self.middle_of_worked, self.middle_of_buses, self.middle_of_sum]
            self._partials[key] = self.frames(signals, note, hz, count, glide_ms)
        at = _SUMS.index(layer) - len(_SUMS) if layer in _SUMS else self.pitched.index(layer)
        return self._partials[key][:, at]

    @cached_property
    def pitched(self) -> list[str | None]:
        """Ids of all layers with a pitch, and None for the worked path."""
        return [*(x.id for x in self.patch.layers if self.has_pitch(x)), None]

    def note_hz(self, note: HeardNote, ratio: float) -> float:
        """Frequency of a source with ``ratio`` on a note."""
        return pitch_hz(note.pitch, self.patch.tuning) * ratio

    def middle(self, layer: str | None) -> _Real:
        """The mid signal of a layer's loop, or of the worked path's for None, (n,)."""
        if layer not in self._mids:
            x = self.loop.worked if layer is None else self.loop.layers[layer]
            self._mids[layer] = 0.5 * (x[0] + x[1])
        return self._mids[layer]

    def strongest(self, note: HeardNote) -> float:
        """Amplitude of the strongest partial of any layer or of the worked path on a note."""
        ratio = self.base_ratio(note)
        if ratio is None:
            return 0.0
        hz = self.note_hz(note, ratio)
        self.partials(None, note, hz, 8, 0.0)
        found = self._partials[note.id, hz, 8, 0.0][:, : -len(_SUMS)]
        return float(np.sqrt(np.square(np.abs(found)).mean(axis=0)).max()) if found.size else 0.0

    def onset(self, signals: list[_Real], note: HeardNote, hz: float, count: int) -> _Complex:
        """Amplitudes of partials 1..count over the first 80 ms or four periods of a note, (signals, count)."""
        size = min(note.length, round(max(ONSET_SECONDS * RATE, 4.0 * RATE / hz)))
        out = np.zeros((len(signals), count), dtype=np.complex128)
        if size >= 1.5 * RATE / hz:
            tones = hz * np.arange(1, max(1, min(max(count, 12), int(0.45 * RATE / hz))) + 1)
            rows = np.stack([self.stretch(s, note, 0, size) for s in signals])
            got = min(count, tones.size)
            out[:, :got] = tones_of(rows, tones)[:, :got]
        return out

    def alone(self, layer: Layer, source: str, chained: bool = False) -> _Real:
        """The mid signal of a layer's loop with one copy of one of its sources, before or behind its chain, (n,)."""
        unchained = bool(layer.chain) and not chained
        below = without_others(layer, source) + ([("chain", [])] if unchained else [])
        return self.once(f"alone {layer.id} {source} {unchained}", lambda: self._with_one(layer, below))

    def _with_one(self, layer: Layer, below: Sequence[tuple[str, object]]) -> _Real:
        """The mid signal of a layer's loop with edits below the layer, (n,)."""
        if not below:
            return self.middle(layer.id)
        # a split would move the edge of the layer beside it too
        edits = [Edit("splits", []), *(Edit(f"layers.{layer.id}.{path}", value) for path, value in below)]
        x = render_layer(apply(self.patch, edits), layer.id, self.takes, self.stop)
        return np.asarray(0.5 * (x[0] + x[1]))

    @cached_property
    def middle_of_buses(self) -> _Real:
        """The mid signal of what the clean layers and the worked path sum to, before the output stage, (n,)."""
        clean = [self.middle(x.id) for x in self.patch.layers if x.path == "clean" and not x.mute]
        return np.asarray(np.sum([*clean, self.middle(None)], axis=0))

    @cached_property
    def middle_of_worked(self) -> _Real:
        """The mid signal of what enters the worked path, (n,)."""
        x = self.into("worked")
        return np.asarray(0.5 * (x[0] + x[1]), dtype=np.float64)

    @cached_property
    def middle_of_sum(self) -> _Real:
        """The mid signal of the output, (n,)."""
        return np.asarray(0.5 * (self.loop.sum[0] + self.loop.sum[1]))
