"""The engine: a patch and its notes as sound, quantum by quantum."""

from __future__ import annotations

import copy
from collections import deque
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from ..dsp import QUANTUM
from ..dsp.delays.in_place import delay_in_place
from ..patch import Layer, Patch, layer_dependencies, topological_order
from .clock import NoteEvent, Schedule
from .edits import glides
from .mixer import (
    BusMixer,
    LayerChain,
    OutputStage,
    Placement,
    ReturnBus,
    WorkedPath,
    fed,
    feeds_alike,
    moved_faders,
    placements_of,
    sending,
    sent,
    still_sends,
    transport_of,
)
from .modulation import CONTROLLERS_AT_REST, Array, Controller, ModulationValues, PhraseLanes
from .turns import is_turn, turn_buses, turn_layer, turn_movers, turn_output
from .voices import LayerVoices

_ACROSS = np.arange(1, QUANTUM + 1) / QUANTUM


class Engine:
    """Plays a patch from a sample of the phrase on. Any request size gives the same sound.

    start: the engine's time at its first sample; the phrase begins at time 0. With ``loop`` off, only notes that are
    played by hand sound.
    """

    def __init__(self, patch: Patch, start: int = 0, loop: bool = True) -> None:
        self.patch = patch
        self.time = start
        self.loop = loop
        self.solo: frozenset[str] = frozenset()
        self.solo_source: tuple[str, str] | None = None
        self.controller = Controller()
        self.schedule = Schedule(patch.phrase, patch.tempo)
        self._lanes = PhraseLanes(patch.phrase, patch.tempo)
        self.layers: dict[str, LayerVoices] = {}
        self.placers: dict[str, BusMixer] = {}
        self.chains: dict[str, LayerChain] = {}
        self.worked = WorkedPath(patch)
        self.returns: dict[str, ReturnBus] = {}
        self.output = OutputStage(patch.output, patch.tuning)
        self._now = transport_of(patch, self.schedule)
        self._places: dict[tuple[str, bool], dict[str, Placement]] = {}
        self._moved_faders: dict[str, frozenset[str]] = {}
        self._lines: dict[str, Array] = {}
        self._sending: dict[str, float] = {}
        self._played: deque[NoteEvent] = deque()
        self._left: Array = np.zeros((2, 0))
        self._begun = False
        self._order: list[Layer] = []
        self._unheard = False
        self._leaving: Engine | None = None
        """The engine before the last edit, while it fades."""
        self._take(patch)

    @property
    def latency(self) -> int:
        """Latency in samples."""
        return self._pad + self.worked.latency + self._back + self.output.latency

    def update(self, patch: Patch) -> None:
        """Apply a patch's controls from the next quantum on, without a click. Sounding notes continue.

        What is not ramped by itself is cross-faded: the engine as it was plays on for two quanta. In the first the new
        one is unheard, until its delay lines are filled; in the second it fades in.
        """
        if patch is self.patch:
            return
        before = self.patch
        if self._begun and not (glides(before, patch) and feeds_alike(before, patch)):
            # one that is still fading fades on within the copy
            self._leaving, self._unheard = copy.deepcopy(self), True
        if patch.tempo != before.tempo or patch.phrase != before.phrase:
            self._reschedule(patch)
        if is_turn(before, patch):
            self._turn(patch)
        else:
            self._take(patch)

    def _turn(self, patch: Patch) -> None:
        """Apply a patch in which only values of controls changed: a fraction of the work of ``_take``."""
        before, self.patch = self.patch, patch
        for at, layer in enumerate(patch.layers):
            voices = self.layers[layer.id]
            if before.layers[at] is not layer:
                turn_layer(before, patch, at, voices, self.chains[layer.id])
            voices.patch = patch
        if before.layers is not patch.layers:
            self._order = [patch.layer(x.id) for x in self._order]
        turn_movers(before, patch, [*self.layers.values(), *self.chains.values(), self.worked, *self.returns.values()])
        turn_buses(before, patch, self.worked, self.returns)
        turn_output(before, patch, self.output)
        self._places = {}

    def _reschedule(self, patch: Patch) -> None:
        place = self.schedule.position(self.time) / self.schedule.length * self.patch.phrase.beats
        fresh = Schedule(patch.phrase, patch.tempo)
        before, self.schedule = self.schedule, fresh
        self._lanes = PhraseLanes(patch.phrase, patch.tempo)
        if patch.phrase == self.patch.phrase and fresh.taken_over(before, self.time):
            return
        beat = place % patch.phrase.beats
        fresh.origin = self.time - round(beat / patch.phrase.beats * fresh.length)
        for processor in self.layers.values():
            processor.all_off()

    def _take(self, patch: Patch) -> None:
        shared = patch.tempo, patch.tuning, patch.seed, patch.movers, patch.movements, patch.waves, patch.phrase.notes
        old = self.patch
        same = shared == (old.tempo, old.tuning, old.seed, old.movers, old.movements, old.waves, old.phrase.notes)
        self.patch = patch
        ids = [layer.id for layer in patch.layers]
        self._leans = layer_dependencies(patch)
        self._order = [patch.layer(i) for i in topological_order(ids, self._leans)]
        for layer in patch.layers:
            processor = self.layers.get(layer.id)
            if processor is None:
                self.layers[layer.id] = LayerVoices(patch, layer.id)
                self.chains[layer.id] = LayerChain(patch, layer.id)
                self.placers[layer.id] = BusMixer(begun=self._begun)
            elif not same or (processor.layer is not layer and processor.layer != layer):
                processor.update(patch)
                self.chains[layer.id].update(patch)
            else:
                processor.patch = patch
        self.layers = {i: self.layers[i] for i in ids}
        self.chains = {i: self.chains[i] for i in ids}
        self.placers = {k: p for k, p in self.placers.items() if k.split("/")[0] in ids}
        self.worked.update(patch)
        self._feed(patch)
        self.output.update(patch.output)
        self.output.tuning = patch.tuning
        self._pad = max(self._late(i) for i in ids)
        self._sends = {x.id: still_sends(patch, f"layers.{x.id}.sends", list(x.sends)) for x in patch.layers}
        self._places = {}
        self._moved_faders = moved_faders(patch)
        self._now.tempo, self._now.seed = patch.tempo, patch.seed
        self._now.kicks = transport_of(patch, self.schedule).kicks

    def _feed(self, patch: Patch) -> None:
        """Apply the returns that receive anything."""
        found: dict[str, ReturnBus] = {}
        for return_id in fed(patch):
            processor = self.returns.get(return_id)
            if processor is None:
                processor = ReturnBus(patch, return_id)
            else:
                processor.update(patch)
            found[return_id] = processor
        self.returns = found
        self._sending = {i: gain for i, gain in self._sending.items() if i in found}
        self._back = max((r.latency for r in found.values()), default=0)

    def _late(self, layer_id: str) -> int:
        return self.layers[layer_id].latency + self.chains[layer_id].latency

    def _place(self, layer: Layer, heard: bool) -> dict[str, Placement]:
        key = layer.id, heard
        kept = self._places.get(key)
        if kept is None:
            pad = self._pad - self._late(layer.id)
            sends, moved = self._sends[layer.id], self._moved_faders[layer.id]
            own = placements_of(layer, moved, pad, self.worked.latency, self._back, sends, heard)
            kept = self._places[key] = own
        return kept

    def play(self, event: NoteEvent) -> None:
        """Play a note by hand, at its own sample or from the next quantum on."""
        self._played.append(event)

    def restart(self, at: int = 0, joins: bool = False) -> None:
        """Restart the phrase with the next quantum, at a sample of it. joins: notes that began before it sound too."""
        self.schedule.origin = self.time - at
        self.silence()
        if joins:
            for note in self.schedule.sounding(self.time):
                self.play(replace(note, at=self.time))

    def nudge(self, by: int) -> int:
        """Move the phrase on by so many samples, or back. Returns by how many: 0 if a note would be lost or doubled."""
        if not by or not self.schedule.moves_freely(self.time, by):
            return 0
        self.schedule.origin -= by
        return by

    def silence(self) -> None:
        """Release all held notes."""
        for processor in self.layers.values():
            processor.all_off()

    def _begin(self) -> list[NoteEvent]:
        """Begin a quantum: its events, and its transport context."""
        events = self.schedule.between(self.time, self.time + QUANTUM) if self.loop else []
        while self._played:
            events.append(self._played.popleft())
        events.sort(key=lambda e: e.at)
        position = self.schedule.position(self.time)
        now = self._now
        now.start, now.origin, now.length = self.time, self.schedule.origin, self.schedule.length
        now.beats = self.patch.phrase.beats
        now.controllers = self.controller.join(
            self._lanes.at(position, self.schedule.length) if self.loop else CONTROLLERS_AT_REST
        )
        now.heard = {}
        return events

    def _layers(self, events: list[NoteEvent]) -> dict[str, NDArray[np.float32]]:
        """All layers behind their chains, before their faders."""
        now = self._now
        blocks: dict[str, NDArray[np.float32]] = {}
        for layer in self._order:
            x: NDArray[np.float32] = np.empty((2, QUANTUM), dtype=np.float32)
            blocks[layer.id] = x
            processor = self.layers[layer.id]
            now.heard = {i: blocks[i] for i in self._leans[layer.id]}
            processor.running = self.loop
            processor.solo_source = (
                self.solo_source[1] if self.solo_source and self.solo_source[0] == layer.id else None
            )
            processor.render(now, events, x)
            chain = self.chains[layer.id]
            if not chain.plain:
                chain.quantum(x, now, events)
        now.heard = blocks
        return blocks

    def quantum(self) -> Array:
        """The next quantum, (2, QUANTUM) float64."""
        mixed = self._quantum()
        if self._leaving is None:
            return mixed
        was = self._leaving.quantum()
        if self._unheard:
            self._unheard = False
            return was
        self._leaving = None
        return np.asarray(was + (mixed - was) * _ACROSS)

    def _quantum(self) -> Array:
        self._begun = True
        events = self._begin()
        blocks = self._layers(events)
        buses = {name: np.zeros((2, QUANTUM)) for name in ("clean", "worked", *self.returns)}
        for layer in self.patch.layers:
            heard = layer.id in self.solo if self.solo else True
            if self.solo_source is not None:
                heard = layer.id == self.solo_source[0]
            places = self._place(layer, heard)
            self.placers[layer.id].add(blocks[layer.id], buses, places)
            for to, gain in self.chains[layer.id].moved.items():
                if to in buses:
                    own = self.placers.setdefault(f"{layer.id}/{to}", BusMixer(begun=self.time > 0))
                    own.add(blocks[layer.id] * gain, {to: buses[to]}, {to: sending(layer, places, self.worked.latency)})
        movers = self.worked.quantum(buses["worked"], self._now, events)
        # rounded like the cached renderings, so that both give the same samples
        worked = buses["worked"].astype(np.float32)
        for to, bus in buses.items():
            if to in self.returns:
                bus += self._sent(worked, to, movers)
        mixed = self._held("worked", worked, self._back)
        mixed += buses["clean"].astype(np.float32)
        for to, processor in self.returns.items():
            processor.quantum(buses[to], self._now, events)
            mixed += self._held(to, buses[to].astype(np.float32), self._back - processor.latency)
        self.output.process(mixed, [(self._now, events)])
        self.time += QUANTUM
        return mixed

    def _sent(self, worked: NDArray[np.float32], to: str, movers: ModulationValues) -> Array:
        still = still_sends(self.patch, "sends", list(self.patch.sends))
        # what begins later than the first quantum rises from nothing
        was = self._sending.get(to, 0.0 if self.time > 0 else None)
        self._sending[to] = still.get(to, 0.0)
        return sent(worked, to, still, self.worked.sends.moved(movers), was)

    def _held(self, name: str, x: NDArray[np.float32], lag: int) -> Array:
        """A delayed quantum, (2, QUANTUM) float64."""
        y = x.astype(np.float64)
        line = self._lines.get(name)
        if line is None or line.shape[1] != lag:
            line = self._lines[name] = np.zeros((2, lag))
        delay_in_place(y, 0, QUANTUM, line)
        return y

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
