"""The sources of a voice: phases, tables, noise and recordings."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ...dsp import QUANTUM
from ...dsp.delays.in_place import delay_in_place
from ...dsp.nonlinear.halfband import halve
from ...dsp.sources.modulation import EdgeArrays, ReadyArrays, sources_in_order, sources_modulated
from ...dsp.sources.oscillators import (
    NOWHERE,
    STAGES,
    STRETCHED,
    CycleArrays,
    SourceArrays,
    add_ready,
    sources_plain,
)
from ...dsp.sources.stage_loop import LoopArrays
from ...dsp.sources.tables import tables
from ...patch import Noise, Oscillator
from ..modulation import Array, ModulationValues
from .source_plan import SourcePlan
from .source_state import SourceState
from .stage_loop import NO_LOOP

_NONE = np.zeros((0, QUANTUM))


@dataclass(frozen=True, slots=True)
class VoiceQuantum:
    """What a voice tells its sources about one quantum, or about several of one pitch.

    a: sample at which it begins to sound. freq: (n,) Hz; highest: its maximum. down: half-band states. since: samples
    from the beginning of the note to the first quantum.
    """

    a: int
    freq: Array
    highest: float
    gliding: bool
    movers: ModulationValues
    down: Array
    since: int

    @property
    def size(self) -> int:
        """Its length in samples."""
        return self.freq.size

    @property
    def quanta(self) -> int:
        """Number of quanta."""
        return self.freq.size // QUANTUM

    def part(self, first: int, last: int) -> VoiceQuantum:
        """The quanta ``first`` up to ``last``."""
        at, end = first * QUANTUM, last * QUANTUM
        freq, a = self.freq[at:end], min(max(self.a - at, 0), end - at)
        highest = float(freq[a:].max()) if self.gliding and a < freq.size else self.highest
        movers = {name: values[at:end] for name, values in self.movers.items()}
        since = self.since + at - self.a if at else self.since
        return replace(self, a=a, freq=freq, highest=highest, movers=movers, since=since)


def sound(
    state: SourceState,
    plan: SourcePlan,
    x: Array,
    past: Array,
    now: VoiceQuantum,
    dest: NDArray[np.int64],
    raw: int | None = None,
    loop: LoopArrays = NO_LOOP,
) -> None:
    """Add all sources of a voice to x and past, (channels, n).

    dest: where each source goes. raw: a source that is rendered at full level. loop: the stages that feed back.
    """
    if plan.count == 0 or now.a >= now.size:
        return
    if now.quanta > 1:
        first = _alone(state, plan, now)
        if first:
            for span in (*((k, k + 1) for k in range(first)), (first, now.quanta)):
                _sound_part(state, plan, x, past, now, dest, span)
            return
    values = _values(plan, now.movers, raw, now.quanta)
    ratio = plan.strayed(state.note, now.since, now.movers) if plan.strays else plan.ratio
    rows = _rows(state, plan, now, values, ratio)
    made = SourceArrays(
        plan.kind, ratio, plan.offset, plan.heard_copies, plan.gain, dest, values.level, values.pitch, values.shape,
        _moves(plan, now, values), plan.shaped, values.amp,
    )  # fmt: skip
    cycles = CycleArrays(tables(), state.own, *rows, state.phase, state.phase2)
    amount = plan.edges.amounts(now.movers, now.quanta) if plan.edges else _NONE
    if plan.ready.of:
        state.fill_ready(plan, now.a, now.freq, values.pitch, now.movers, amount)
        _add_ready(state, plan, x, past, now.a, dest, values.level)
    if plan.edges:
        _modulated(state, plan, x, past, now, made, cycles, amount, loop)
    else:
        sources_plain(x, past, now.a, now.size, now.freq, made, cycles)
    if plan.own:
        state.settled(plan, *rows)


def _alone(state: SourceState, plan: SourcePlan, now: VoiceQuantum) -> int:
    """How many of the first quanta must be rendered one by one, because other tables are faded in within them."""
    if now.gliding or not plan.can_span:
        return now.quanta
    changes = state.rows_for != (plan, now.highest, plan.now.turns)
    return 1 if changes and (plan.own or plan.edges) else 0


def _sound_part(
    state: SourceState,
    plan: SourcePlan,
    x: Array,
    past: Array,
    now: VoiceQuantum,
    dest: NDArray[np.int64],
    span: tuple[int, int],
) -> None:
    """Add the sources over some of the quanta."""
    at, end = span[0] * QUANTUM, span[1] * QUANTUM
    if at == end:
        return
    own = np.zeros((x.shape[0], end - at))
    own_past = np.zeros((past.shape[0], end - at)) if plan.has_past else past
    sound(state, plan, own, own_past, now.part(*span), dest)
    x[:, at:end] = own
    if plan.has_past:
        past[:, at:end] = own_past


_Rows = tuple[NDArray[np.int64], NDArray[np.int64]]


def _rows(state: SourceState, plan: SourcePlan, now: VoiceQuantum, values: _Values, ratio: Array) -> _Rows:
    """Table rows at the start and the end of the quantum. They stay if nothing changes."""
    plain = not now.gliding and not plan.own and not plan.strays and not plan.moved_rows
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
    loop: LoopArrays,
) -> None:
    """Add the sources that modulate each other, at twice the rate. amount: of every edge, (edges, QUANTUM)."""
    edges, channels = plan.edges, x.shape[0]
    work, (x2, past2) = edges.room(now.quanta)
    x2, past2 = x2[:channels], past2[:channels]
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
        loop = loop._replace(memory=state.memory, x=x)
        sources_modulated(x2, past2, now.a, now.size, now.freq, made, cycles, ready, present, loop)
    else:
        sources_in_order(x2, past2, now.a, now.size, now.freq, made, cycles, ready, present, work)
    if not loop.plan.size:
        halve(x2, x, now.a, now.size, now.down[0])
    if plan.has_past:
        halve(past2, past, now.a, now.size, now.down[1])


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
    """Level, pitch and shape of every source over the quanta, (sources, n), and which are constant.

    amp: the amp envelopes of those that have one, (sources, n). The level has them already.
    """

    level: Array
    pitch: Array
    shape: Array
    still: NDArray[np.bool_]
    amp: Array = _NONE


def _values(plan: SourcePlan, movers: ModulationValues, raw: int | None, quanta: int) -> _Values:
    now = plan.now.over(quanta)
    if not plan.moved_rows and raw is None:
        return _Values(*now, plan.now.still)
    amp = np.ones((plan.count, quanta * QUANTUM)) if plan.amp else _NONE
    level, pitch, shape, still = (*(x.copy() for x in now), plan.now.still.copy())
    for s in plan.moved_rows:
        own, master = plan.of[s], plan.of[plan.master[s]]
        source = plan.layer.sources[s]
        still[s] = False
        level[s] = own["level"].value(movers, quanta)
        if not isinstance(source, Noise):
            pitch[s] = master["semitones"].value(movers, quanta) * master["cents"].value(movers, quanta)
        if isinstance(source, Oscillator):
            shape[s] = own["stretch" if plan.kind[s] == STRETCHED else "pulse_width"].value(movers, quanta)
    if raw is not None:
        level[raw] = 1.0
    for s, name in plan.amp.items():
        amp[s] = movers[name]
        level[s] *= amp[s]
    return _Values(level, pitch, shape, still, amp)
