"""The cache of renderings, the clock of a rendering, and how one is cancelled."""

from __future__ import annotations

import os
from collections.abc import Callable, Iterator, Sequence
from copy import copy
from dataclasses import dataclass, field
from typing import Any, TypeVar

import numpy as np
from numpy.typing import NDArray

from ...dsp import QUANTUM
from ...dsp.store import Store
from ...patch import Patch
from ...processes import share
from ..clock import NoteEvent, Schedule
from ..mixer import Gain, transport_of
from ..modulation import Array, Batch, PhraseLanes, TransportContext
from .cache_keys import span_of

T = TypeVar("T")
R = TypeVar("R")
MEGABYTES = 384
"""Size of a command's rendering cache."""


@dataclass
class RenderedVoices:
    """The voices of one layer over the whole span."""

    x: NDArray[np.float32]
    latency: int
    meters: dict[str, Array]
    travel: dict[str, Array]


@dataclass
class RenderedLayer:
    """One layer over the whole span, behind its chain and before its fader.

    sends: gains of the moved sends, (total,). traces: gains of the effects in dB.
    """

    x: NDArray[np.float32]
    latency: int
    meters: dict[str, Array]
    travel: dict[str, Array]
    sends: dict[str, Gain] = field(default_factory=dict)
    traces: dict[str, Array] = field(default_factory=dict)


@dataclass
class RenderedBus:
    """One bus over the whole span. The worked bus and the returns are behind their chains."""

    x: NDArray[np.float32]
    meters: dict[str, Array]
    travel: dict[str, Array] = field(default_factory=dict)
    sends: dict[str, Gain] = field(default_factory=dict)
    traces: dict[str, Array] = field(default_factory=dict)


class RenderCache:
    """Renderings by content, in a store of its own or a shared one. Thread-safe.

    shares: whether what is missing may be rendered by a copy of this process too (``kessel.processes.share``).
    """

    def __init__(self, store: Store | None = None, shares: bool = False) -> None:
        self.store = store or Store(MEGABYTES)
        self.shares = shares
        self.rendered: list[str] = []

    def get(self, key: str, make: Callable[[], R], what: str) -> R:
        """What is cached under ``key``; it is made if it is missing."""

        def made() -> R:
            found = make()
            self.rendered.append(what)
            del self.rendered[:-64]
            return found

        return self.store.get(key, made)

    def has(self, key: str) -> bool:
        """Whether it is cached."""
        return self.store.has(key)

    def each(self, items: Sequence[T], act: Callable[[T], R], stop: CancelToken) -> list[R]:
        """``act`` on every item, by a copy of this process too if that is allowed. Results in order.

        What the copy has rendered for them is cached too.
        """
        if not self.shares:
            return [act(item) for item in items]
        here = os.getpid()

        def done(item: T) -> tuple[R, dict[str, Any]]:
            if os.getpid() == here:
                return act(item), {}
            before = self.store.items()
            result = act(item)
            return result, {k: v for k, v in self.store.items().items() if isinstance(k, str) and k not in before}

        found = []
        for result, rendered in share(items, done, lambda: stop.asked):
            for key, value in rendered.items():
                self.store.get(key, lambda value=value: value)  # type: ignore[misc]
            found.append(result)
        return found


@dataclass
class CancelToken:
    """Tells a rendering to stop, and receives its progress."""

    asked: bool = field(default=False)

    def tick(self, samples: int) -> None:
        """So many more samples were rendered."""


class RenderCancelled(Exception):
    """The rendering was cancelled."""


SPAN_QUANTA = 8
"""Most quanta of a layer's voices that are rendered in one go. More would not fit the processor's cache."""


class RenderClock:
    """Time over a span: the events and the transport context of every quantum."""

    def __init__(self, patch: Patch) -> None:
        self.span = span_of(patch)
        self._schedule = Schedule(patch.phrase, patch.tempo)
        self._lanes = PhraseLanes(patch.phrase, patch.tempo)
        self.now = transport_of(patch, self._schedule)
        self.events: list[list[NoteEvent]] = [[] for _ in range(self.span.total // QUANTUM)]
        for event in self._schedule.between(-self.span.pre, self.span.total - self.span.pre):
            self.events[(event.at + self.span.pre) // QUANTUM].append(event)

    def steps(
        self, stop: CancelToken, forget: Callable[[], None], quanta: Callable[[int, int], int] | None = None
    ) -> Iterator[slice]:
        """The span in pieces of one quantum, or of as many as ``quanta`` allows. Raises RenderCancelled.

        ``forget`` is called where the pass begins, so that meters cover the loop alone.
        """
        at, pre = 0, self.span.pre
        while at < self.span.total:
            if stop.asked:
                raise RenderCancelled
            if at == pre:
                forget()
            many = 1 if quanta is None else quanta(at, pre if at < pre else self.span.total)
            yield slice(at, at + many * QUANTUM)
            at += many * QUANTUM
            stop.tick(many * QUANTUM)

    def at(self, place: int, heard: dict[str, RenderedLayer]) -> tuple[TransportContext, list[NoteEvent]]:
        """The transport context ``place`` samples into the span, and its events."""
        now = self.now
        now.start = place - self.span.pre
        if self._lanes.drawn:
            now.controllers = self._lanes.at(self._schedule.position(now.start), self._schedule.length)
        if heard:
            now.heard = {i: np.ascontiguousarray(t.x[:, place : place + QUANTUM]) for i, t in heard.items()}
        return now, self.events[place // QUANTUM]

    def calm(self, at: int, end: int) -> int:
        """Number of quanta from ``at`` up to ``end`` that are rendered at once: after the first, no note event."""
        if self._lanes.drawn:
            return 1
        first = at // QUANTUM
        last = first + min(SPAN_QUANTA, (end - at) // QUANTUM)
        return next((k for k in range(first + 1, last) if self.events[k]), last) - first

    def batch(self, part: slice, heard: dict[str, RenderedLayer]) -> Batch:
        """The transport contexts of several quanta, and their events."""
        return _Request(self, part, heard)


class _Request(Sequence[tuple[TransportContext, list[NoteEvent]]]):
    """The transport contexts of a part of a span, made on demand, as few effects need them."""

    def __init__(self, clock: RenderClock, part: slice, heard: dict[str, RenderedLayer]) -> None:
        self._clock, self._part, self._heard = clock, part, heard

    def __len__(self) -> int:
        n: int = (self._part.stop - self._part.start) // QUANTUM
        return n

    def __getitem__(self, k: Any) -> Any:
        if not 0 <= k < len(self):
            raise IndexError(k)
        now, events = self._clock.at(self._part.start + k * QUANTUM, self._heard)
        return copy(now), events
