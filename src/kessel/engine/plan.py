"""A layer's sources laid out as arrays for the loops."""

from __future__ import annotations

import math
from functools import cache

import numpy as np
from numpy.typing import NDArray

from ..dsp.chance import key, share, sign
from ..dsp.oscillators import NOISE, NOWHERE, PAST, PULSE, STAGES, TABLE
from ..dsp.tables import LOWEST_HZ, ROWS, SAW_ROW, SINE_ROW, STEPS_PER_OCTAVE, TRIANGLE_ROW
from ..patch import Layer, Noise, Oscillator, declared
from ..patch.controls import Control
from .knobs import Array, Knob, as_cycles, as_gain, as_ratio_ct, as_ratio_st, as_share

_DEST = {"stages": STAGES, "past": PAST, "nowhere": NOWHERE}
_BASE = {"sine": SINE_ROW, "saw": SAW_ROW, "pulse": SAW_ROW, "triangle": TRIANGLE_ROW}


@cache
def copy_places(copies: int, seed: int, layer: str) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Detune and pan of every copy, -1..1: evenly spread, each pair on both sides, with a tiny seeded irregularity."""
    if copies == 1:
        return np.zeros(1), np.zeros(1)
    even = np.linspace(-1.0, 1.0, copies)
    uneven = np.array([sign(seed, layer, c, "detune") for c in range(copies)]) * 0.04
    if copies % 2:
        uneven[copies // 2] = 0.0
    pair = np.minimum(np.arange(copies), np.arange(copies)[::-1])
    return even + uneven * (np.abs(even) > 1e-9), even * np.where(pair % 2 == 0, 1.0, -1.0)


def _knob(part: object, field: str, convert) -> Knob:  # type: ignore[no-untyped-def]
    found = declared(type(part), field)  # type: ignore[arg-type]
    assert isinstance(found, Control)
    return Knob(found, float(getattr(part, field)), convert)


class SourcePlan:
    """Arrays for one layer's sources; rebuilt when the layer changes, keeping its knobs."""

    def __init__(self, layer: Layer, seed: int, old: SourcePlan | None = None) -> None:
        self.layer = layer
        self.seed = seed
        sources = layer.sources
        n, copies = len(sources), layer.unison.copies
        self.ids = tuple(s.id for s in sources)
        self.count, self.copies = n, copies
        self.kind = np.zeros(n, dtype=np.int64)
        self.base = np.zeros(n, dtype=np.int64)
        self.ratio = np.ones((n, copies))
        self.offset = np.zeros(n)
        self.heard_copies = np.ones(n, dtype=np.int64)
        self.gain = np.zeros((n, copies, 2))
        self.dest = np.zeros(n, dtype=np.int64)
        self.knobs: dict[str, Knob] = {}
        detune, pan = copy_places(copies, seed, layer.id)
        spread = 2.0 ** (detune * layer.unison.detune / 1200.0)
        angle = (pan * layer.unison.width / 100.0 + 1.0) * math.pi / 4.0
        sides = math.sqrt(2.0) * np.stack([np.cos(angle), np.sin(angle)], axis=1)
        wide = copies > 1 and layer.unison.width > 0
        self.channels = 1
        for s, source in enumerate(sources):
            turn = -1.0 if source.polarity == "flipped" else 1.0
            self.dest[s] = _DEST[source.to]
            prefix = f"sources.{source.id}."
            self._keep(prefix + "level", _knob(source, "level", as_gain), old)
            if isinstance(source, Noise):
                self.kind[s] = NOISE
                self.gain[s, 0] = turn
                self._keep(prefix + "width", _knob(source, "width", as_share), old)
                if source.width > 0:
                    self.channels = 2
                continue
            self.kind[s] = PULSE if source.shape == "pulse" else TABLE
            self.base[s] = _BASE[source.shape]
            self.offset[s] = source.offset
            self.ratio[s] = 2.0**source.octave
            self._keep(prefix + "semitones", _knob(source, "semitones", as_ratio_st), old)
            self._keep(prefix + "cents", _knob(source, "cents", as_ratio_ct), old)
            self._keep(prefix + "pulse_width", _knob(source, "pulse_width", as_share), old)
            if source.unison and copies > 1:
                self.heard_copies[s] = copies
                self.ratio[s] = self.ratio[s] * spread
                self.gain[s] = turn * sides / math.sqrt(copies)
                if wide:
                    self.channels = 2
            else:
                self.gain[s, 0] = turn
            for m in source.modulators:
                self._keep(f"{prefix}modulators.{m.id}.depth", _knob(m, "depth", as_cycles), old)
        if self.channels == 1:
            self.gain[:, :, 0] = np.where(self.gain.any(axis=2), self.gain.mean(axis=2), 0.0)
        self.edges = [
            (self.ids.index(m.source), s, f"sources.{source.id}.modulators.{m.id}.depth")
            for s, source in enumerate(sources)
            if isinstance(source, Oscillator)
            for m in source.modulators
        ]
        self.source = np.array([e[0] for e in self.edges], dtype=np.int64)
        self.target = np.array([e[1] for e in self.edges], dtype=np.int64)
        self.order = np.array(self._sorted(), dtype=np.int64)
        self._sine = self.base == SINE_ROW
        self._rows_of: bytes | float | None = None
        self._rows = np.zeros((n, copies), dtype=np.int64)

    def _keep(self, path: str, knob: Knob, old: SourcePlan | None) -> None:
        before = old.knobs.get(path) if old else None
        if before is not None and before.convert is knob.convert:
            before.turn(knob.control.from_scale(knob.goal))
            knob = before
        self.knobs[path] = knob

    def _sorted(self) -> list[int]:
        done: list[int] = []
        while len(done) < self.count:
            for s in range(self.count):
                if s not in done and all(e[0] in done for e in self.edges if e[1] == s):
                    done.append(s)
        return done

    def rows(self, hz: Array | float) -> NDArray[np.int64]:
        """Table row of every source and copy for a note of ``hz`` (with all it may rise to), (sources, copies)."""
        key = hz.tobytes() if isinstance(hz, np.ndarray) else hz
        if key == self._rows_of:
            return self._rows
        at = np.abs(hz * self.ratio + self.offset[:, None])
        steps = np.floor(STEPS_PER_OCTAVE * np.log2(np.maximum(at, LOWEST_HZ) / LOWEST_HZ) + 1e-9)
        rows = self.base[:, None] + np.minimum(steps, ROWS - 1)
        self._rows_of = key
        self._rows = np.ascontiguousarray(np.where(self._sine[:, None], 0, rows).astype(np.int64))
        return self._rows

    def start_phases(self, note: str, free: NDArray[np.float64] | None) -> NDArray[np.uint64]:
        """Phases at the start of a note, (sources, copies). free: cycles where free-running sources stand."""
        turns = np.zeros((self.count, self.copies))
        for s, source in enumerate(self.layer.sources):
            if isinstance(source, Noise):
                continue
            if source.start == "free":
                if free is not None and free.shape == turns.shape:
                    turns[s] = free[s]
                else:
                    turns[s] = [share(self.seed, self.layer.id, source.id, c, "free") for c in range(self.copies)]
                continue
            turns[s] = source.phase / 360.0
            if source.start == "chance":
                turns[s] += sign(self.seed, self.layer.id, note, source.id, "phase") * source.chance / 360.0
            if source.unison and self.copies > 1:
                # steps of the golden ratio fill the cycle evenly for any count
                steps = np.mod(np.arange(self.copies) * 0.6180339887498949, 1.0)
                turns[s] += steps * self.layer.unison.spread / 100.0
        part = turns - np.floor(turns)
        return (part * 2.0**53).astype(np.uint64) << np.uint64(11)

    def noise_keys(self, note: str) -> NDArray[np.uint64]:
        """Keys of the noises for a note, (sources,)."""
        return np.array(
            [
                key(self.seed, self.layer.id, note, s, "noise") if self.kind[i] == NOISE else 0
                for i, s in enumerate(self.ids)
            ],
            dtype=np.uint64,
        )
