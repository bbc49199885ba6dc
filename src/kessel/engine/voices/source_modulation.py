"""FM, ring modulation and feedback between the sources of a layer, laid out for the loops."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ...dsp import QUANTUM
from ...dsp.nonlinear.halfband import DOWN_LATENCY
from ...dsp.sources.modulation import PHASE
from ..modulation import Array, SmoothedParameter

_CLEAR = 2.8
"""How far phase modulation may sweep the partials of a table: from 20 kHz (a third of an octave more at the top of its
row) to 70 kHz, of which twice the rate folds nothing back below 16 kHz."""


@dataclass(frozen=True)
class ModulationEdge:
    """Source ``by`` modulates the phase of ``target``, or rings it, by the amount of ``parameter``.

    by: from the number of sources on, a stage of the loop.
    """

    target: int
    by: int
    mode: int
    parameter: SmoothedParameter


class ModulationEdges:
    """All modulations of a layer of ``count`` sources.

    order: (sources,) in dependency order. Edges are grouped by target: those of s are first[s]..first[s + 1]. source,
    way, back: (edges,); back: whether the modulator comes later in the order. worked: modulated sources; at_work: those
    and their modulators. late: latency of all in samples.
    """

    def __init__(self, found: list[ModulationEdge], count: int) -> None:
        found = sorted(found, key=lambda e: e.target)
        order = _sorted([(e.by, e.target) for e in found if e.by != e.target and e.by < count], count)
        place = {s: i for i, s in enumerate(order)}
        self.parameters = [e.parameter for e in found]
        self.order = np.array(order, dtype=np.int64)
        self.source = np.array([e.by for e in found], dtype=np.int64)
        self.mode = np.array([e.mode for e in found], dtype=np.int64)
        self.back = np.array([int(e.by >= count or place[e.by] >= place[e.target]) for e in found], dtype=np.int64)
        self.first = np.array([sum(e.target < s for e in found) for s in range(count + 1)], dtype=np.int64)
        self.circles = bool(self.back.any())
        self.worked = {e.target for e in found}
        self.at_work = self.worked | {e.by for e in found if e.by < count}
        self.late = DOWN_LATENCY if found else 0
        self._count = count
        self._amounts: dict[int, Array] = {}
        self._rooms: dict[int, tuple[Array, Array]] = {}
        self._swept_for: tuple[object, ...] = ()
        self._swept: Array = np.ones(count)

    def __bool__(self) -> bool:
        """Whether there is any modulation."""
        return bool(self.parameters)

    def changed(self) -> None:
        """Note that a control was turned or is moved by something else."""
        self._amounts = {}

    def room(self, quanta: int) -> tuple[Array, Array]:
        """Space for sources at twice the rate, (sources + 2, 2 n), and for what they add up to, (2, 2, 2 n)."""
        if quanta not in self._rooms:
            n = 2 * quanta * QUANTUM
            self._rooms[quanta] = np.zeros((self._count + 2, n)), np.zeros((2, 2, n))
        return self._rooms[quanta]

    def amounts(self, movers: dict[str, Array], quanta: int) -> Array:
        """Amount of every edge over so many quanta, (edges, n)."""
        kept = self._amounts.get(quanta)
        if kept is not None:
            return kept
        made = np.stack([k.value(movers, quanta) for k in self.parameters])
        if not any(k.movements for k in self.parameters):
            self._amounts[quanta] = made
        return made

    def swept(self, hz: Array) -> Array:
        """How much higher than its pitch each source runs at most, as its table must know. hz: (sources,) pitches.

        1 where the partials of a plain table stay clear at twice the rate: with the frequency swept by phase modulation
        (the modulator's, times the deviation in radians; Carson 1922), the highest may reach ``_CLEAR`` times as far.
        """
        stamp = hz.tobytes(), *(k.revision for k in self.parameters)
        if stamp != self._swept_for:
            self._swept_for, self._swept = stamp, self._rises(hz)
        return self._swept

    def moved(self) -> None:
        """Note that movements were added or taken away."""
        self._swept_for = ()

    def _rises(self, hz: Array) -> Array:
        rises = np.abs(hz)
        highest = float(rises.max(initial=0.0))
        for s in self.order:
            for e in range(self.first[s], self.first[s + 1]):
                if self.mode[e] == PHASE:
                    by = self.source[e]
                    modulator = highest if by >= self._count else np.abs(hz[by]) if self.back[e] else rises[by]
                    rises[s] += 2.0 * np.pi * self._most(e) * modulator
        return np.asarray(np.maximum(1.0, rises / np.maximum(np.abs(hz), 1e-9) / _CLEAR))

    def _most(self, e: int) -> float:
        """The largest deviation of an edge in cycles, turned and moved."""
        parameter = self.parameters[e]
        ends = parameter.convert(np.array(parameter.reach))
        return float(np.abs(ends).max())

    def reach(self, s: int, amount: Array) -> float:
        """Largest phase deviation of a source in cycles, at the present ``amount`` of every edge."""
        is_bipolar = [e for e in range(self.first[s], self.first[s + 1]) if self.mode[e] == PHASE]
        return 2.5 * float(sum(np.abs(amount[e]).max() for e in is_bipolar))


def _sorted(edges: list[tuple[int, int]], count: int) -> list[int]:
    """Sources in dependency order. In a cycle, the first named comes first."""
    done: list[int] = []
    while len(done) < count:
        left = [s for s in range(count) if s not in done]
        ready = [s for s in left if all(o in done for o, t in edges if t == s)]
        done.append((ready or left)[0])
    return done
