"""The sources of a voice: phases, tables, noise and recordings."""

from __future__ import annotations

from copy import copy
from dataclasses import dataclass, replace
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ...dsp import QUANTUM, RATE
from ...dsp.delays.in_place import delay_in_place
from ...dsp.nonlinear.halfband import DOWN_LATENCY, LINE, double, halve
from ...dsp.sources.cycles import Cycle, stretched_tables, table_of
from ...dsp.sources.modulation import EdgeArrays, ReadyArrays, sources_in_order, sources_modulated
from ...dsp.sources.noise import STATE as NOISE_STATE
from ...dsp.sources.noise import noise
from ...dsp.sources.oscillators import (
    NOWHERE,
    OWN,
    STAGES,
    STRETCHED,
    CycleArrays,
    SourceArrays,
    add_ready,
    sources_plain,
)
from ...dsp.sources.playback import Region, play, stretch_of
from ...dsp.sources.tables import POINTS, tables
from ...patch import Noise, Oscillator, Sample
from ..modulation import Array, ModulationValues
from .source_arrays import row_of
from .source_plan import SourcePlan

_NONE = np.zeros((0, QUANTUM))
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
        first = plan.rows_at(hz if not plan.drifts else hz * 1.03)
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


@dataclass(frozen=True, slots=True)
class VoiceQuantum:
    """What a voice tells its sources about one quantum.

    a: sample at which it begins to sound. freq: (QUANTUM,) Hz; highest: its maximum. down: half-band states. since:
    samples since the note began.
    """

    a: int
    freq: Array
    highest: float
    gliding: bool
    movers: ModulationValues
    down: Array
    since: int


def sound(
    state: SourceState,
    plan: SourcePlan,
    x: Array,
    past: Array,
    now: VoiceQuantum,
    dest: NDArray[np.int64],
    raw: int | None = None,
) -> None:
    """Add all sources of a voice to x and past, (channels, QUANTUM).

    dest: where each source goes. raw: a source that is rendered at full level.
    """
    if plan.count == 0 or now.a >= QUANTUM:
        return
    values = _values(plan, now.movers, raw)
    ratio = plan.wandered(state.note, now.since) if plan.drifts else plan.ratio
    rows = _rows(state, plan, now, values, ratio)
    made = SourceArrays(
        plan.kind, ratio, plan.offset, plan.heard_copies, plan.gain, dest, values.level, values.pitch, values.shape,
        _moves(plan, now, values),
    )  # fmt: skip
    cycles = CycleArrays(tables(), state.own, *rows, state.phase, state.phase2)
    amount = plan.edges.amounts(now.movers) if plan.edges else _NONE
    if plan.ready.of:
        state.fill_ready(plan, now.a, now.freq, values.pitch, now.movers, amount)
        _add_ready(state, plan, x, past, now.a, dest, values.level)
    if plan.edges:
        _modulated(state, plan, x, past, now, made, cycles, amount)
    else:
        sources_plain(x, past, now.a, QUANTUM, now.freq, made, cycles)
    if plan.own:
        state.settled(plan, *rows)


_Rows = tuple[NDArray[np.int64], NDArray[np.int64]]


def _rows(state: SourceState, plan: SourcePlan, now: VoiceQuantum, values: _Values, ratio: Array) -> _Rows:
    """Table rows at the start and the end of the quantum. They stay if nothing changes."""
    plain = not now.gliding and not plan.own and not plan.drifts and not plan.moved_rows
    if plain and state.rows_for == (plan, now.highest, plan.now.turns):
        return state.rows_kept, state.rows_kept
    pitch, a = values.pitch, now.a
    rise = np.array([[now.highest * (pitch[i, a] if s else pitch[i, a:].max())] for i, s in enumerate(values.still)])
    if plan.edges:
        rise *= plan.edges.swept(rise[:, 0] * ratio[:, 0] + plan.offset)[:, None]
    first, second = state.rows(plan, rise, ratio, now.movers, a)
    before = state.rows_kept
    if plan.edges and before.shape == second.shape:
        # other tables as the depth is turned: faded, for they can differ within what is heard
        first = np.where(np.isin(np.arange(plan.count), plan.own)[:, None], first, before)
    state.rows_for, state.rows_kept = (plan, now.highest, plan.now.turns), second
    return first, second


def _add_ready(
    state: SourceState, plan: SourcePlan, x: Array, past: Array, a: int, dest: NDArray[np.int64], level: Array
) -> None:
    """Add the noises and recordings that nothing modulates."""
    for k, s in enumerate(plan.ready.of):
        if s not in plan.edges.worked and dest[s] != NOWHERE:
            to = x if dest[s] == STAGES else past
            if plan.edges:
                # delayed to match what is decimated from twice the rate
                delay_in_place(state.ready[k], 0, QUANTUM, state.held[k])
            add_ready(to, a, QUANTUM, state.ready[k], plan.gain[s, 0, 0], level[s])


def _moves(plan: SourcePlan, now: VoiceQuantum, values: _Values) -> NDArray[np.int64]:
    """0 for every source that is constant over the quantum, 1 for the others."""
    if now.gliding:
        return plan.now.moving
    return (~values.still).astype(np.int64) if plan.moved_rows else plan.now.moves


def _modulated(
    state: SourceState,
    plan: SourcePlan,
    x: Array,
    past: Array,
    now: VoiceQuantum,
    made: SourceArrays,
    cycles: CycleArrays,
    amount: Array,
) -> None:
    """Add the sources that modulate each other, at twice the rate. amount: of every edge, (edges, QUANTUM)."""
    edges, channels = plan.edges, x.shape[0]
    x2, past2 = edges.twice[0, :channels], edges.twice[1, :channels]
    x2[:] = 0.0
    if plan.has_past:
        past2[:] = 0.0
    if plan.ready.of:
        # sources that no stage processes have been added at the base rate
        dest = made.dest.copy()
        dest[[s for s in plan.ready.of if s not in edges.worked]] = NOWHERE
        made = made._replace(dest=dest)
    ready = ReadyArrays(plan.ready.twice, state.spans, plan.ready.spot, state.cycle, plan.ready.row)
    present = EdgeArrays(edges.order, edges.first, edges.source, edges.mode, edges.back, amount)
    if edges.circles:
        sources_modulated(x2, past2, now.a, QUANTUM, now.freq, made, cycles, ready, present, state.memory)
    else:
        sources_in_order(x2, past2, now.a, QUANTUM, now.freq, made, cycles, ready, present, edges.work)
    halve(x2, x, now.a, QUANTUM, now.down[0])
    if plan.has_past:
        halve(past2, past, now.a, QUANTUM, now.down[1])


def signals_of(state: SourceState, plan: SourcePlan, wanted: set[str], now: VoiceQuantum) -> dict[str, Array]:
    """Signals of single sources over the quantum at full level, (QUANTUM,), by id. The voice is not advanced."""
    found = {}
    for source in wanted:
        s = plan.ids.index(source)
        dest = np.full(plan.count, NOWHERE, dtype=np.int64)
        dest[s] = STAGES
        x, past = np.zeros((plan.channels, QUANTUM)), np.zeros((plan.channels, QUANTUM))
        sound(state.twin(), plan, x, past, replace(now, down=now.down.copy()), dest, s)
        found[source] = x.mean(axis=0)
    return found


class _Values(NamedTuple):
    """Level, pitch and shape of every source over the quantum, (sources, QUANTUM), and which are constant."""

    level: Array
    pitch: Array
    shape: Array
    still: NDArray[np.bool_]


def _values(plan: SourcePlan, movers: ModulationValues, raw: int | None) -> _Values:
    if not plan.moved_rows and raw is None:
        return _Values(plan.now.level, plan.now.pitch, plan.now.shape, plan.now.still)
    level, pitch, shape, still = (
        plan.now.level.copy(),
        plan.now.pitch.copy(),
        plan.now.shape.copy(),
        plan.now.still.copy(),
    )
    for s in plan.moved_rows:
        own, master = plan.of[s], plan.of[plan.master[s]]
        source = plan.layer.sources[s]
        still[s] = False
        level[s] = own["level"].value(movers)
        if not isinstance(source, Noise):
            pitch[s] = master["semitones"].value(movers) * master["cents"].value(movers)
        if isinstance(source, Oscillator):
            shape[s] = own["stretch" if plan.kind[s] == STRETCHED else "pulse_width"].value(movers)
    if raw is not None:
        level[raw] = 1.0
    return _Values(level, pitch, shape, still)
