"""A layer's sources laid out as arrays for the loops."""

from __future__ import annotations

import math
from collections.abc import Sequence
from functools import lru_cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ...dsp import QUANTUM, RATE
from ...dsp.chance import key, share, sign
from ...dsp.sources.cycles import Cycle, coarse
from ...dsp.sources.modulation import PHASE, RING
from ...dsp.sources.oscillators import NOWHERE, PAST, PULSE, READY, STAGES, STRETCHED, TABLE
from ...dsp.sources.tables import SAW_ROW, SINE_ROW, TRIANGLE_ROW
from ...dsp.store import remembered
from ...patch import Layer, Noise, Oscillator, Sample, Wave, stage_of
from ..modulation import (
    Array,
    Convert,
    SmoothedParameter,
    amp_of,
    as_cycles,
    as_gain,
    as_is,
    as_quarter,
    as_ratio_ct,
    as_ratio_st,
    as_share,
    as_stretch,
    parameter_of,
)
from .single_cycle import SHAPING, cycle_from, is_plain
from .source_arrays import PresentValues, ReadySources, TableRows
from .source_modulation import ModulationEdge, ModulationEdges

_DEST = {"stages": STAGES, "past the stages": PAST, "modulates only": NOWHERE}
_BASE = {"sine": SINE_ROW, "saw": SAW_ROW, "pulse": SAW_ROW, "triangle": TRIANGLE_ROW, "mix": 0, "drawn": 0}


@remembered
def unison_spread(copies: int, seed: int, layer: str) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Detune and pan of every copy, -1..1: evenly spread in pairs, with a small seeded irregularity."""
    if copies == 1:
        return np.zeros(1), np.zeros(1)
    even = np.linspace(-1.0, 1.0, copies)
    uneven = np.array([sign(seed, layer, c, "detune") for c in range(copies)]) * 0.04
    if copies % 2:
        uneven[copies // 2] = 0.0
    pair = np.minimum(np.arange(copies), np.arange(copies)[::-1])
    return even + uneven * (np.abs(even) > 1e-9), even * np.where(pair % 2 == 0, 1.0, -1.0)


@remembered
def unison_phases(copies: int, steady: bool) -> NDArray[np.float64]:
    """Start phases of the copies in cycles, from the lowest to the highest pitch.

    steady: a quadratic row (Schroeder, IEEE Trans. Inf. Theory 16, 1970), with which the sum of all copies has the
    power of one copy, and keeps it while they drift apart. Two copies begin a quarter apart and come together.
    Otherwise steps of the golden ratio, which fill the cycle evenly for any count.
    """
    if not steady:
        return np.asarray(np.mod(np.arange(copies) * 0.6180339887498949, 1.0))
    if copies == 2:
        return np.array([0.0, -0.25])
    row = np.arange(copies) - 0.5 * (copies - 1)
    return np.asarray(_CHIRP[copies - 3] * row**2 / (2.0 * copies), dtype=np.float64)


_CHIRP = (1.72, 1.28, 1.12, 0.98, 1.28, 1.12, 1.02, 0.92, 1.16, 1.08, 1.02, 0.96, 1.14, 1.06)
"""The curvature of the row for 3 to 16 copies, found by search: with it the mean of the fundamental over the first
second differs least from that of one copy, for detunes of up to 25 cents and notes from C1 to A2."""


@lru_cache(maxsize=4096)
def _wander(seed: int, layer: str, note: str, source: str, copy: int, step: int) -> float:
    return sign(seed, layer, note, source, copy, step, "drift")


DRIFT_STEP = round(0.9 * RATE)
"""Samples between two targets of a drifting pitch."""


class SourcePlan:
    """Arrays for one layer's sources. It is rebuilt when the layer changes, and keeps its parameters.

    now: the present values of unmoved controls. rows: the tables to read. ready: noises and recordings.
    """

    def __init__(
        self,
        layer: Layer,
        seed: int,
        waves: Sequence[Wave] = (),
        moved: frozenset[str] = frozenset(),
        old: SourcePlan | None = None,
        looped: Sequence[str] = (),
    ) -> None:
        """``moved``: paths below the layer of the moved controls. ``old``: the plan whose parameters continue.

        looped: ids of the stages that feed back, in the order of their loop.
        """
        self.layer, self.seed, self.waves, self.moved, self.looped = layer, seed, waves, moved, looped
        sources = layer.sources
        n, copies = len(sources), layer.unison.copies
        self.ids = tuple(s.id for s in sources)
        self.count, self.copies = n, copies
        self.kind = np.zeros(n, dtype=np.int64)
        base = np.array([_BASE[s.shape] if isinstance(s, Oscillator) else 0 for s in sources], dtype=np.int64)
        self.rows = TableRows(base, copies)
        self.ready = ReadySources(sources)
        self.ratio = np.ones((n, copies))
        self.offset = np.zeros(n)
        self.heard_copies = np.ones(n, dtype=np.int64)
        self.gain = np.zeros((n, copies, 2))
        self.amp = {s: amp_of(source) for s, source in enumerate(sources) if source.envelope}
        """The mover that is the amp envelope of a source, by its index."""
        self.shaped = np.array([int(s in self.amp) for s in range(n)], dtype=np.int64)
        self.dest = np.array([_DEST[s.to] for s in sources], dtype=np.int64)
        self.parameters: dict[str, SmoothedParameter] = {}
        self.of: list[dict[str, SmoothedParameter]] = [{} for _ in sources]
        self.own: list[int] = []
        self.drift = np.array([s.drift if isinstance(s, Oscillator) else 0.0 for s in sources])
        self.channels = 1
        self._old = old
        self._lay_out()
        self._master()
        if self.channels == 1:
            self.gain[:, :, 0] = np.where(self.gain.any(axis=2), self.gain.mean(axis=2), 0.0)
        self.edges = self._found_edges()
        self._settle()
        self._old = None
        self.now = PresentValues(n)
        self.ready.make_room(bool(self.edges))
        self.moved_rows: list[int] = []
        self.can_span = False
        """Whether the same tables are read as long as the pitch stays: then several quanta can be rendered at once."""
        self.has_past = bool((self.dest == PAST).any())
        self.nothing = np.zeros((self.channels, QUANTUM))
        self.drifts = bool(self.drift.any())
        self.strays = self.drifts
        """Whether pitches change from quantum to quantum by themselves: they drift, or the detune is moved."""
        self._unmoved: dict[int, tuple[int, Cycle]] = {}

    # layout

    def _lay_out(self) -> None:
        layer = self.layer
        self._detune, pan = unison_spread(self.copies, self.seed, layer.id)
        spread = 2.0 ** (self._detune * layer.unison.detune / 1200.0)
        self.detune = self._continued("unison.detune", parameter_of(layer.unison, "detune", as_is))
        angle = (pan * layer.unison.width / 100.0 + 1.0) * math.pi / 4.0
        sides = math.sqrt(2.0) * np.stack([np.cos(angle), np.sin(angle)], axis=1)
        wide = self.copies > 1 and layer.unison.width > 0
        for s, source in enumerate(layer.sources):
            turn = -1.0 if source.polarity == "inverted" else 1.0
            self._keep(s, "level", source, as_gain)
            if not isinstance(source, Oscillator):
                self.kind[s] = READY
                self.gain[s, 0] = turn
                self._lay_out_ready(s, source)
                continue
            self._keep_all(s, source)
            self.offset[s] = source.offset
            self.ratio[s] = 2.0**source.octave * source.ratio
            self.kind[s] = PULSE if source.shape == "pulse" else TABLE
            if source.unison and self.copies > 1:
                self.heard_copies[s] = self.copies
                self.ratio[s] = self.ratio[s] * spread
                self.gain[s] = turn * sides / math.sqrt(self.copies)
                if wide:
                    self.channels = 2
            else:
                self.gain[s, 0] = turn

    def _keep_all(self, s: int, source: Oscillator) -> None:
        """The parameters of an oscillator, except its level."""
        for name, convert in (("semitones", as_ratio_st), ("cents", as_ratio_ct), ("stretch", as_stretch)):
            self._keep(s, name, source, convert)
        for name in SHAPING:
            self._keep(s, name, source, as_share if name == "pulse_width" else as_is)
        self._keep(s, "feedback", source, as_quarter)

    def _lay_out_ready(self, s: int, source: Noise | Sample) -> None:
        """A noise or a recording, which is rendered before the oscillators."""
        self._keep(s, "width", source, as_share)
        is_stereo = source.width > 0
        if isinstance(source, Sample):
            self.ratio[s] = 2.0**source.octave
            self._keep(s, "semitones", source, as_ratio_st)
            self._keep(s, "cents", source, as_ratio_ct)
            region = self.ready.regions[s]
            is_stereo = is_stereo and region is not None and not _is_mono(region.versions[0])
        if is_stereo:
            self.channels = 2

    def _settle(self) -> None:
        """Choose how each oscillator is rendered."""
        for s, source in enumerate(self.layer.sources):
            if not isinstance(source, Oscillator):
                continue
            prefix = f"sources.{source.id}."
            shaped = any(prefix + name in self.moved for name in SHAPING if name != "pulse_width")
            shaped |= any(self.of[s][name].turning for name in SHAPING if name != "pulse_width")
            stretched = source.stretch != 0 or prefix + "stretch" in self.moved or self.of[s]["stretch"].turning
            plain = is_plain(source) and not shaped and not stretched
            self.kind[s] = STRETCHED if stretched else TABLE
            if plain:
                self.kind[s] = PULSE if source.shape == "pulse" else TABLE
            else:
                self.own.append(s)

    def _keep(self, s: int, name: str, part: Any, convert: Convert, at: str = "") -> SmoothedParameter:
        parameter = self._continued(f"sources.{self.ids[s]}.{at}{name}", parameter_of(part, name, convert))
        if not at:
            self.of[s][name] = parameter
        return parameter

    def _continued(self, path: str, parameter: SmoothedParameter) -> SmoothedParameter:
        """The parameter at a path below the layer: that of the plan before, turned, if there is one."""
        before = self._old.parameters.get(path) if self._old else None
        if before is not None and before.convert is parameter.convert:
            before.turn(parameter.control.from_scale(parameter.goal))
            parameter = before
        self.parameters[path] = parameter
        return parameter

    def _master(self) -> None:
        """The source whose cycle each source runs in: itself, unless it is synced to another."""
        self.master = list(range(self.count))
        for s, source in enumerate(self.layer.sources):
            if isinstance(source, Oscillator) and source.sync == "source" and source.sync_to in self.ids:
                self.master[s] = self.ids.index(source.sync_to)
        self.own_ratio = self.ratio[:, 0].copy() if self.count else np.zeros(0)
        first = self.ratio.copy()
        for s, m in enumerate(self.master):
            if m != s:
                self.ratio[s] = first[m]
                self.offset[s] = self.offset[m]

    def _found_edges(self) -> ModulationEdges:
        found: list[ModulationEdge] = []
        for s, source in enumerate(self.layer.sources):
            is_bipolar = isinstance(source, Oscillator) and (source.feedback > 0 or self.of[s]["feedback"].turning)
            if is_bipolar or f"sources.{source.id}.feedback" in self.moved:
                found.append(ModulationEdge(s, s, PHASE, self.of[s]["feedback"]))
            for m in source.modulators:
                name, mode, convert = ("depth", PHASE, as_cycles) if m.mode == "phase" else ("share", RING, as_share)
                parameter = self._keep(s, name, m, convert, f"modulators.{m.id}.")
                stage = stage_of(m.source)
                by = self.count + self.looped.index(stage) if stage else self.ids.index(m.source)
                found.append(ModulationEdge(s, by, mode, parameter))
        return ModulationEdges(found, self.count)

    def find_moved_rows(self) -> None:
        """Find the sources whose level, pitch or shape is moved, after the parameters have their movements."""
        self.edges.changed()
        self.edges.moved()
        self.moved_rows = []
        for s, source in enumerate(self.layer.sources):
            names = {"level"} | ({"stretch", "pulse_width"} if isinstance(source, Oscillator) else set())
            parameters = [self.of[s][n] for n in names]
            if not isinstance(source, Noise):
                parameters += [self.of[self.master[s]][n] for n in ("semitones", "cents")]
            if s in self.amp or any(k.movements for k in parameters):
                self.moved_rows.append(s)
        self.strays = self.drifts or bool(self.detune.movements)
        self.can_span = not self.ready.of and not self.strays and not self._tables_move()

    def turn(self) -> None:
        """Apply other levels and pitches of the layer's sources. Nothing else depends on them."""
        for s, source in enumerate(self.layer.sources):
            for name in ("level", "semitones", "cents"):
                if name in self.of[s]:
                    self.of[s][name].turn(float(getattr(source, name)))

    def _tables_move(self) -> bool:
        """Whether a mover can change which tables are read: it moves a pitch, or the shape of a wave of its own."""
        for s, source in enumerate(self.layer.sources):
            names = () if isinstance(source, Noise) else ("semitones", "cents")
            if s in self.own:
                names = (*names, "stretch", *SHAPING)
            if any(self.of[s][n].movements for n in names):
                return True
        return False

    # rendering a quantum

    def prepare(self) -> None:
        """Read the present values of all unmoved controls."""
        now = self.now
        for s, source in enumerate(self.layer.sources):
            own = self.of[s]
            level = own["level"]
            if now.changed(s, level):
                now.level[s] = level.converted
            now.still[s] = level.still
            if isinstance(source, Noise):
                continue
            m = self.master[s]
            pitch = self.of[m]
            if now.changed(s, pitch["semitones"]) | now.changed(s, pitch["cents"]):
                now.pitch[s] = pitch["semitones"].converted * pitch["cents"].converted
            now.still[s] &= pitch["semitones"].still and pitch["cents"].still
            if isinstance(source, Oscillator):
                shape = own["stretch"] if self.kind[s] == STRETCHED else own["pulse_width"]
                if now.changed(s, shape):
                    now.shape[s] = shape.converted
                now.still[s] &= shape.still
        now.settle()
        self.edges.changed()

    def cycle(self, s: int, movers: dict[str, Array], at: int) -> Cycle:
        """The cycle of a source that needs its own tables, at sample ``at`` of the quantum."""
        source = self.layer.sources[s]
        assert isinstance(source, Oscillator)
        own, master = self.of[s], self.of[self.master[s]]
        # a synced cycle also depends on the pitch of the source that restarts it
        on = [own[n] for n in ("semitones", "cents", *SHAPING)] + [master[n] for n in ("semitones", "cents")]
        if not any(k.movements or not k.still for k in on):
            stamp = sum(k.revision for k in on)
            kept = self._unmoved.get(s)
            if kept is not None and kept[0] == stamp:
                return kept[1]
            made = cycle_from(
                source, self.waves, lambda n: _at(own[n], movers, at), self._over(s, movers, at), self._scatter(s)
            )
            self._unmoved[s] = stamp, made
            return made
        made = cycle_from(
            source, self.waves, lambda n: _at(own[n], movers, at), self._over(s, movers, at), self._scatter(s)
        )
        return coarse(made)

    def _scatter(self, s: int) -> int:
        return key(self.seed, self.layer.id, self.ids[s], "scatter") >> 32

    def _over(self, s: int, movers: dict[str, Array], at: int) -> float:
        """Pitch of a synced source over its master's."""
        m = self.master[s]
        if m == s:
            return 1.0
        cents = 100.0 * (_at(self.of[s]["semitones"], movers, at) - _at(self.of[m]["semitones"], movers, at))
        cents += _at(self.of[s]["cents"], movers, at) - _at(self.of[m]["cents"], movers, at)
        return float(np.clip(self.own_ratio[s] / self.ratio[s, 0] * 2.0 ** (cents / 1200.0), 0.1, 64.0))

    def rows_at(self, hz: Array | float, ratio: Array) -> NDArray[np.int64]:
        """Table row of every source and copy, (sources, copies), for a note that rises to ``hz`` at most.

        ratio: the present one, which counts if the detune is moved.
        """
        return self.rows.at(hz, ratio if self.detune.movements else self.ratio, self.offset)

    def strayed(self, note: str, since: int, movers: dict[str, Array]) -> Array:
        """Frequency ratios with each source's drift and a moved detune, ``since`` samples into a note, (sources,
        copies).
        """
        cents = self._drifted(note, since) if self.drifts else np.zeros_like(self.ratio)
        if self.detune.movements:
            away = float(self.detune.value(movers)[-1]) - self.layer.unison.detune
            cents[self.heard_copies[self.master] > 1] += self._detune * away
        return np.asarray(self.ratio * 2.0 ** (cents / 1200.0))

    def _drifted(self, note: str, since: int) -> Array:
        """Each copy's drift in cents, (sources, copies)."""
        step, part = divmod(since, DRIFT_STEP)
        ease = 0.5 - 0.5 * math.cos(math.pi * part / DRIFT_STEP)
        cents = np.zeros_like(self.ratio)
        for s in range(self.count):
            if self.drift[s] > 0:
                for c in range(self.copies):
                    one, two = (_wander(self.seed, self.layer.id, note, self.ids[s], c, step + i) for i in (0, 1))
                    cents[s, c] = self.drift[s] * (one + (two - one) * ease)
        return cents

    def start_phases(self, note: str, free: NDArray[np.float64] | None) -> NDArray[np.uint64]:
        """Phases at the start of a note, (sources, copies). free: phases of free-running sources in cycles."""
        turns = np.zeros((self.count, self.copies))
        for s, m in enumerate(self.master):
            source = self.layer.sources[m]
            if not isinstance(source, Oscillator):
                continue
            if source.start == "free-running":
                if free is not None and free.shape == turns.shape:
                    turns[s] = free[m]
                else:
                    turns[s] = [share(self.seed, self.layer.id, source.id, c, "free") for c in range(self.copies)]
                continue
            turns[s] = source.phase / 360.0
            if source.start == "random":
                turns[s] += sign(self.seed, self.layer.id, note, source.id, "phase") * source.random_range / 360.0
            if source.unison and self.copies > 1:
                unison = self.layer.unison
                turns[s] += unison_phases(self.copies, unison.phases == "steady") * unison.spread / 100.0
        part = turns - np.floor(turns)
        return (part * 2.0**53).astype(np.uint64) << np.uint64(11)

    def noise_key(self, note: str, s: int) -> np.uint64:
        """Random key of a noise for a note."""
        return np.uint64(key(self.seed, self.layer.id, note, self.ids[s], "noise"))


def _at(parameter: SmoothedParameter, movers: dict[str, Array], at: int) -> float:
    """A parameter's value at one sample of the quantum, in its unit."""
    if not parameter.movements:
        return parameter.control.from_scale(float(parameter.base_value[at]))
    return parameter.control.from_scale(float(parameter.scale(movers)[at]))


def _is_mono(x: Array) -> bool:
    return bool(np.array_equal(x[0], x[1]))
