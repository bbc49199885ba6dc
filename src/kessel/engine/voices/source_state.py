"""The state of a voice's sources between quanta: phases, tables of its own, noise and recordings."""

from __future__ import annotations

from copy import copy

import numpy as np
from numpy.typing import NDArray

from ...dsp import QUANTUM, RATE
from ...dsp.nonlinear.halfband import DOWN_LATENCY, LINE, double
from ...dsp.sources.cycles import Cycle, stretched_tables, table_of
from ...dsp.sources.noise import STATE as NOISE_STATE
from ...dsp.sources.noise import noise
from ...dsp.sources.oscillators import (
    OWN,
    STRETCHED,
)
from ...dsp.sources.playback import Region, play, stretch_of
from ...dsp.sources.tables import POINTS
from ...patch import Noise, Sample
from ..modulation import Array, ModulationValues
from .source_arrays import row_of
from .source_plan import SourcePlan

_FURTHEST = 65536.0
"""Most samples that modulation may shift a recording's read position, in either direction."""
_PER_SOURCE = 4
"""Table rows of one source in a voice: two to fade from and two to fade to."""


class SourceState:
    """State of one voice's sources between quanta."""

    def __init__(self, plan: SourcePlan, note: str, free: Array | None, at: int, phrase_zero: int) -> None:
        """A note that begins at sample ``at`` of the engine's time."""
        self.note, self.began = note, at
        self.phase = plan.start_phases(note, free)
        self.phase2 = self.phase.copy()
        self.memory = np.zeros((plan.copies, max(1, plan.count), 3))
        self._room(plan)
        self.noise_key = {s: plan.noise_key(note, s) for s in plan.ready.of if isinstance(plan.layer.sources[s], Noise)}
        self.noise_state = {s: np.zeros((2, NOISE_STATE)) for s in self.noise_key}
        self.noise_count = 0
        self.place = {s: np.array([self._first(plan, s, at - phrase_zero)]) for s in plan.ready.regions}
        self.own: Array = self._tables(plan)
        self._cycles: dict[int, tuple[Cycle, int, float]] = {}
        self._laid = (plan.ids, tuple(plan.own))
        self._fitted: SourcePlan | None = None
        self.rows_for: tuple[SourcePlan, float, int] | None = None
        self.rows_kept = np.zeros((0, 0), dtype=np.int64)

    def _room(self, plan: SourcePlan) -> None:
        self.ready = np.zeros((len(plan.ready.of), 2, QUANTUM))
        self.up = np.zeros((len(plan.ready.of), LINE))
        self.held = np.zeros((len(plan.ready.of), 2, DOWN_LATENCY))
        self.spans: Array = np.zeros((len(plan.ready.of), 2, 4))
        self.cycle = np.zeros(len(plan.ready.of))

    @staticmethod
    def _tables(plan: SourcePlan) -> Array:
        return np.zeros((_PER_SOURCE * len(plan.own), POINTS + 3)) if plan.own else np.zeros((1, 1))

    @staticmethod
    def _first(plan: SourcePlan, s: int, since: int) -> float:
        source, region = plan.layer.sources[s], plan.ready.regions[s]
        if not isinstance(source, Sample) or source.begins == "note" or region is None:
            return 0.0
        rate: float = 2.0 ** (source.octave + source.semitones / 12.0 + source.cents / 1200.0)
        place = since * rate
        return float(place % region.length) if region.looped else float(place)

    def twin(self) -> SourceState:
        """A copy that can be advanced on its own."""
        made = copy(self)
        for name, value in vars(self).items():
            if isinstance(value, np.ndarray):
                setattr(made, name, value.copy())
            elif isinstance(value, dict):
                setattr(made, name, {k: v.copy() if isinstance(v, np.ndarray) else v for k, v in value.items()})
        return made

    def fit(self, plan: SourcePlan) -> None:
        """Adapt to sources, copies or shapes that were added while the voice sounds."""
        if self._fitted is plan:
            return
        self._fitted = plan
        if self.phase.shape != (plan.count, plan.copies):
            fresh = plan.start_phases(self.note, None)
            rows, cols = min(fresh.shape[0], self.phase.shape[0]), min(fresh.shape[1], self.phase.shape[1])
            fresh[:rows, :cols] = self.phase[:rows, :cols]
            self.phase, self.phase2 = fresh, fresh.copy()
            self.memory = np.zeros((plan.copies, max(1, plan.count), 3))
        if self._laid == (plan.ids, tuple(plan.own)):
            return
        if self.ready.shape[0] != len(plan.ready.of):
            self._room(plan)
        for s in plan.ready.of:
            if isinstance(plan.layer.sources[s], Noise):
                self.noise_key[s] = plan.noise_key(self.note, s)
                self.noise_state.setdefault(s, np.zeros((2, NOISE_STATE)))
            else:
                self.place.setdefault(s, np.zeros(1))
        for s in plan.own:
            if s not in self._laid[1]:
                self.phase2[s] = self.phase[s]
        self.own = self._tables(plan)
        self._cycles = {}
        self._laid = (plan.ids, tuple(plan.own))

    # tables

    def rows(
        self, plan: SourcePlan, hz: Array, ratio: Array, movers: ModulationValues, a: int
    ) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
        """Table rows at the start and the end of the quantum, each (sources, copies). hz: (sources, 1), highest
        frequency.
        """
        first = plan.rows_at(hz * 1.03 if plan.drifts else hz, ratio)
        if not plan.own:
            return first, first
        first = first.copy()
        second = first.copy()
        top = np.abs(hz * ratio + plan.offset[:, None]).max(axis=1)
        for k, s in enumerate(plan.own):
            base = OWN + _PER_SOURCE * k
            row = int(row_of(top[s : s + 1])[0])
            stretch = self._stretch(plan, s, movers)
            before = self._cycles.get(s)
            if before is None:
                before = (plan.cycle(s, movers, min(a, QUANTUM - 1)), row, stretch)
                self._fill(plan, s, base - OWN, before)
            now = (plan.cycle(s, movers, QUANTUM - 1), row, stretch)
            first[s] = second[s] = base
            if now != before:
                self._fill(plan, s, base - OWN + 2, now)
                second[s] = base + 2
            self._cycles[s] = now
        return first, second

    @staticmethod
    def _stretch(plan: SourcePlan, s: int, movers: ModulationValues) -> float:
        """The largest stretch over the quantum, in coarse steps. It limits the number of partials."""
        if plan.kind[s] != STRETCHED:
            return 0.0
        widest = float(plan.of[s]["stretch"].value(movers).max()) - 1.0
        return float(np.ceil(max(widest, 0.0) * 16.0) / 16.0)

    def _fill(self, plan: SourcePlan, s: int, at: int, what: tuple[Cycle, int, float]) -> None:
        cycle, row, stretch = what
        if plan.kind[s] == STRETCHED:
            self.own[at], self.own[at + 1] = stretched_tables(cycle, row, stretch)
        else:
            self.own[at] = table_of(cycle, row)

    def settled(self, plan: SourcePlan, first: NDArray[np.int64], second: NDArray[np.int64]) -> None:
        """End the quantum: its last tables are the first of the next one."""
        for k, s in enumerate(plan.own):
            if first[s, 0] != second[s, 0]:
                at = _PER_SOURCE * k
                self.own[at : at + 2] = self.own[at + 2 : at + 4]

    # noise and recordings

    def fill_ready(
        self, plan: SourcePlan, a: int, freq: Array, pitch: Array, movers: ModulationValues, amount: Array
    ) -> None:
        """Render every noise and recording from sample ``a`` on, at twice the rate if it is modulated or modulates."""
        spans: dict[int, Array] = {}
        self.cycle[:] = 0.0
        for k, s in enumerate(plan.ready.of):
            out = self.ready[k]
            out[:, :a] = 0.0
            source = plan.layer.sources[s]
            width = float(plan.of[s]["width"].converted[-1])
            if isinstance(source, Noise):
                noise(
                    out, a, QUANTUM, plan.ready.colour[s], width, self.noise_key[s], np.uint64(self.noise_count),
                    self.noise_state[s],
                )  # fmt: skip
                if s in plan.edges.at_work:
                    double(out, plan.ready.twice[k], a, QUANTUM, self.up[k])
                continue
            region = plan.ready.regions[s]
            if region is None or not isinstance(source, Sample):
                out[:, a:] = 0.0
                plan.ready.twice[k] = 0.0
                continue
            rate = pitch[s] * plan.ratio[s, 0]
            if source.follows == "note":
                rate = rate * freq / source.root
            octave = max(0, int(np.ceil(np.log2(max(float(rate.max()), 1e-6)) - 0.2)))
            octave = min(octave, len(region.versions) - 1)
            if s in plan.edges.worked:
                spans[k] = self._span(plan, k, a, region, octave, rate, RATE / source.root, amount, width)
                continue
            if s in plan.edges.at_work:
                kept = self.place[s].copy()
                spans[k] = self._span(plan, k, a, region, octave, rate, RATE / source.root, amount, width)
                self.place[s] = kept
            data = region.versions[octave]
            scale = region.length / (data.shape[1] - 3)
            play(out, a, QUANTUM, data, scale, self.place[s], rate, int(region.looped), width)
        if spans:
            self.spans = np.zeros((len(plan.ready.of), 2, max(x.shape[1] for x in spans.values())))
            for k, x in spans.items():
                self.spans[k, :, : x.shape[1]] = x
        self.noise_count += QUANTUM - a

    def _span(
        self,
        plan: SourcePlan,
        k: int,
        a: int,
        region: Region,
        octave: int,
        rate: Array,
        cycle: float,
        amount: Array,
        width: float,
    ) -> Array:
        """The stretch of a recording that this quantum reads, and the read positions. cycle: samples."""
        s = plan.ready.of[k]
        places = self.place[s][0] + np.concatenate([[0.0], np.cumsum(rate[a:])])
        twice = np.stack([places[:-1], places[:-1] + 0.5 * rate[a:]], axis=1).ravel()
        reach = min(plan.edges.reach(s, amount) * cycle, _FURTHEST)
        x, spot, scale = stretch_of(region, octave, twice, reach, width)
        plan.ready.spot[k, 2 * a :] = spot
        self.cycle[k] = cycle / scale
        self.place[s][0] = places[-1] % region.length if region.looped else places[-1]
        return x
