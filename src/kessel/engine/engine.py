"""The one engine: a patch and its notes as sound, quantum by quantum."""

from __future__ import annotations

from collections import deque

import numpy as np
from numpy.typing import NDArray

from ..dsp import QUANTUM
from ..patch import Layer, Patch, layer_leans, sorted_so
from .hands import RESTING, Controller, Lanes
from .knobs import Array
from .layers import LayerRun
from .output import OutputRun, Place, Placer, places_of
from .schedule import NoteEvent, Schedule
from .stages import Chain


class Engine:
    """Plays a patch from a sample of the phrase on, any request size giving the same sound.

    ``start`` is the engine's time at its first sample; the phrase begins at time 0. With ``loop`` off only played
    notes sound.
    """

    def __init__(self, patch: Patch, start: int = 0, loop: bool = True) -> None:
        self.patch = patch
        self.time = start
        self.loop = loop
        self.solo: frozenset[str] = frozenset()
        self.solo_source: tuple[str, str] | None = None
        self.controller = Controller()
        self.schedule = Schedule(patch.phrase, patch.tempo)
        self._lanes = Lanes(patch.phrase, patch.tempo)
        self.layers: dict[str, LayerRun] = {}
        self.placers: dict[str, Placer] = {}
        self.worked = Chain(patch.worked, "worked")
        self.output = OutputRun(patch.output)
        # the layer is kept beside its key, so that another can't take its place in memory
        self._places: dict[str, tuple[tuple[int, int, int, bool], Layer, dict[str, Place]]] = {}
        self._played: deque[NoteEvent] = deque()
        self._left: Array = np.zeros((2, 0))
        self._take(patch)

    @property
    def latency(self) -> int:
        """Samples by which everything is late."""
        return self._pad + self.worked.latency + self.output.latency

    def update(self, patch: Patch) -> None:
        """Take over a patch's controls from the next quantum on, without a click; what sounds goes on."""
        if patch is self.patch:
            return
        before = self.patch
        if patch.tempo != before.tempo or patch.phrase != before.phrase:
            self._reschedule(patch)
        self._take(patch)

    def _reschedule(self, patch: Patch) -> None:
        place = self.schedule.position(self.time) / self.schedule.length * self.patch.phrase.beats
        fresh = Schedule(patch.phrase, patch.tempo)
        beat = place % patch.phrase.beats
        fresh.origin = self.time - round(beat / patch.phrase.beats * fresh.length)
        self.schedule = fresh
        self._lanes = Lanes(patch.phrase, patch.tempo)
        for run in self.layers.values():
            run.all_off()

    def _take(self, patch: Patch) -> None:
        shared = patch.tempo, patch.tuning, patch.seed, patch.movers, patch.movements, patch.waves, patch.phrase.notes
        old = self.patch
        same = shared == (old.tempo, old.tuning, old.seed, old.movers, old.movements, old.waves, old.phrase.notes)
        self.patch = patch
        ids = [layer.id for layer in patch.layers]
        self._leans = layer_leans(ids, patch.movers, patch.movements)
        self._order = [patch.layer(i) for i in sorted_so(ids, self._leans)]
        for layer in patch.layers:
            run = self.layers.get(layer.id)
            if run is None:
                self.layers[layer.id] = LayerRun(patch, layer.id)
                self.placers[layer.id] = Placer()
            elif not same or (run.layer is not layer and run.layer != layer):
                run.update(patch)
            else:
                run.patch = patch
        kept = {layer.id for layer in patch.layers}
        self.layers = {i: r for i, r in self.layers.items() if i in kept}
        self.placers = {i: p for i, p in self.placers.items() if i in kept}
        self.worked.update(patch.worked)
        self.output.update(patch.output)
        self._pad = max((r.latency for r in self.layers.values()), default=0)

    def _place(self, layer: Layer, run: LayerRun, heard: bool) -> dict[str, Place]:
        key = (id(layer), self._pad - run.latency, self.worked.latency, heard)
        kept = self._places.get(layer.id)
        if kept is None or kept[0] != key:
            kept = self._places[layer.id] = (key, layer, places_of(layer, key[1], key[2], heard))
        return kept[2]

    def play(self, event: NoteEvent) -> None:
        """Take a note played by hand; it sounds from its own sample or from the next quantum."""
        self._played.append(event)

    def restart(self) -> None:
        """Let the phrase begin at the next quantum."""
        self.schedule.origin = self.time
        for run in self.layers.values():
            run.all_off()

    def silence(self) -> None:
        """End all held notes."""
        for run in self.layers.values():
            run.all_off()

    def quantum(self) -> Array:
        """The next quantum, (2, QUANTUM) float64."""
        events = self.schedule.between(self.time, self.time + QUANTUM) if self.loop else []
        while self._played:
            events.append(self._played.popleft())
        events.sort(key=lambda e: e.at)
        position = self.schedule.position(self.time)
        hands = self.controller.join(self._lanes.at(position, self.schedule.length) if self.loop else RESTING)
        buses = {"clean": np.zeros((2, QUANTUM)), "worked": np.zeros((2, QUANTUM))}
        blocks: dict[str, NDArray[np.float32]] = {}
        for layer in self._order:
            x: NDArray[np.float32] = np.empty((2, QUANTUM), dtype=np.float32)
            blocks[layer.id] = x
            run = self.layers[layer.id]
            run.heard = {i: blocks[i] for i in self._leans[layer.id]}
            run.phrase_origin, run.phrase_length = self.schedule.origin, self.schedule.length
            run.hands, run.running = hands, self.loop
            run.solo_source = self.solo_source[1] if self.solo_source and self.solo_source[0] == layer.id else None
            run.quantum(self.time, events, x)
        for layer in self.patch.layers:
            run, x = self.layers[layer.id], blocks[layer.id]
            heard = layer.id in self.solo if self.solo else True
            if self.solo_source is not None:
                heard = layer.id == self.solo_source[0]
            self.placers[layer.id].add(x, buses, self._place(layer, run, heard))
        self.worked.process(buses["worked"])
        # rounded as the kept renderings are, so that both give the same samples
        mixed = buses["worked"].astype(np.float32).astype(np.float64)
        mixed += buses["clean"].astype(np.float32)
        self.output.process(mixed)
        self.time += QUANTUM
        return mixed

    def read(self, n: int) -> Array:
        """The next n samples, (2, n) float64."""
        parts = [self._left]
        have = self._left.shape[1]
        while have < n:
            parts.append(self.quantum())
            have += QUANTUM
        x = np.concatenate(parts, axis=1)
        self._left = x[:, n:]
        return np.ascontiguousarray(x[:, :n])
