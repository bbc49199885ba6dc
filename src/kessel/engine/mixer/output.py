"""Placement of layers on the buses, and the output stage."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ...dsp import QUANTUM, RATE
from ...dsp.delays.in_place import delay_in_place
from ...dsp.dynamics.limiter import LATENCY as LIMITER_LATENCY
from ...dsp.dynamics.limiter import limit, rest
from ...dsp.filters.svf import BUTTERWORTH, PREWARP_TABLE, SvfCurves, filter_svf
from ...dsp.mixing import PLACE, from_mid_side, meter, place, ramp_gain, to_mid_side
from ...patch import Ceiling, Layer, Output, Patch, pitch_hz
from ..blocks import constant_block
from ..effects import ChainRecorder, Clips, batch_size, clipped, kick_duck_gain
from ..modulation import Array, Batch, LastNoteTracker, ModulationMatrix, as_factor, gain_of

RING = 8192
_ACROSS = np.arange(1, QUANTUM + 1) / QUANTUM


FADERS = ("level", "pan", "width")
"""Controls of a layer's place in the mix that can be moved. The layer's chain applies those that are."""
Moved = frozenset[str]
"""Those of ``FADERS`` that are moved."""


def resting_gain(layer: Layer, moved: bool) -> float:
    """The gain of a layer's placement: that of its fader, or 1 if it is off and opened by movements."""
    return gain_of(layer.level) or (1.0 if moved else 0.0)


def moved_faders(patch: Patch) -> dict[str, Moved]:
    """Which controls of each layer's place in the mix are moved, by the layer's id."""
    targets = {m.target for m in patch.movements if not m.lost}
    return {x.id: frozenset(n for n in FADERS if f"layers.{x.id}.{n}" in targets) for x in patch.layers}


def pan_gains(pan: Array) -> tuple[Array, Array]:
    """The gains of the left and the right side at a pan in per cent, as loud anywhere, 1 in the middle."""
    angle = (pan / 100.0 + 1.0) * math.pi / 4.0
    return math.sqrt(2) * np.cos(angle), math.sqrt(2) * np.sin(angle)


def placement_of(layer: Layer, moved: Moved, heard: bool = True) -> Array:
    """A layer's level, pan, width, polarity and delay as (ll, lr, rl, rr, delay in samples), without a pan or a width
    that is moved.
    """
    gain = 0.0 if layer.mute or not heard else resting_gain(layer, "level" in moved)
    if layer.polarity == "inverted":
        gain = -gain
    middle = layer.pan == 0 or "pan" in moved
    left, right = (1.0, 1.0) if middle else (float(g) for g in pan_gains(np.array(layer.pan)))
    side = 1.0 if "width" in moved else layer.width / 100.0
    near, far = 0.5 * (1.0 + side), 0.5 * (1.0 - side)
    return np.array(
        [
            gain * left * near,
            gain * left * far,
            gain * right * far,
            gain * right * near,
            round(layer.delay * RATE / 1000),
        ]
    )


@dataclass(frozen=True)
class Placement:
    """How a layer is mixed to one bus: gains and delay as ``place`` takes them, and whether it is silent there."""

    at: Array
    silent: bool


def sending(layer: Layer, places: dict[str, Placement], worked: int) -> Placement:
    """The placement of a layer on a return at full send level. places: of ``placements_of``."""
    at = places["worked" if layer.path == "worked" else "clean"].at.copy()
    own = places["worked"].at
    at[4] = own[4] + worked
    return Placement(at, not at[:4].any())


def sent(
    worked: NDArray[np.float32],
    to: str,
    still: dict[str, float],
    moved: dict[str, NDArray[np.float32]],
    was: float | None = None,
) -> NDArray[np.float64]:
    """What the worked path, (2, n), sends to a return. was: its gain before, if it was turned, from which it rises."""
    gain = moved.get(to)
    if gain is not None:
        return (worked * gain).astype(np.float64)
    now = still.get(to, 0.0)
    if was is None or was == now:
        return worked.astype(np.float64) * now
    return worked.astype(np.float64) * np.linspace(was, now, worked.shape[1] + 1)[1:]


_NO_GAIN = np.array([0.0, 0.0, 0.0, 0.0, 1.0])
SILENT = Placement(np.zeros(PLACE), True)


class BusMixer:
    """Adds one layer to buses with its gains and delays. begun: whether the sound has, so that what is new rises."""

    def __init__(self, room: int = RING, begun: bool = False) -> None:
        self.line = np.zeros((2, room))
        self.at = 0
        self.now: dict[str, Placement] = {}
        self.begun = begun

    def add(self, x: NDArray[np.float32], buses: dict[str, Array], wanted: dict[str, Placement]) -> None:
        """Add x, (2, n) float32, to each bus. ``wanted``: a placement for each bus."""
        heard = False
        for name, bus in buses.items():
            new = wanted.get(name)
            if new is None:
                # nothing is sent there any more
                old = self.now.get(name)
                new = SILENT if old is None else Placement(old.at * _NO_GAIN, True)
            # what begins later than the first quantum rises from nothing
            old = self.now.get(name, new if not self.begun else Placement(new.at * _NO_GAIN, True))
            if not (old.silent and new.silent):
                place(x, self.line, bus, self.at, old.at, new.at)
                heard = True
            self.now[name] = new
        self.begun = True
        n, room = x.shape[1], self.line.shape[1]
        if not heard:
            index = (self.at + np.arange(n)) % room
            self.line[:, index] = x
        self.at = (self.at + n) % room


def placements_of(
    layer: Layer, moved: Moved, pad: int, worked: int, back: int, sends: dict[str, float], heard: bool = True
) -> dict[str, Placement]:
    """A layer's placement on every bus: clean, worked, and the returns by id.

    moved: of ``moved_faders``. pad: samples of delay that align all layers. worked: latency of the worked path.
    back: latency of the latest return. sends: gains into the returns.
    """
    own = placement_of(layer, moved, heard)
    own[4] += pad
    found = {}
    for bus, gain, late in (
        ("clean", 1.0 if layer.path == "clean" else 0.0, worked + back),
        ("worked", 1.0 if layer.path == "worked" else 0.0, 0),
        *((i, gain, worked) for i, gain in sends.items()),
    ):
        at = own.copy()
        at[:4] *= gain
        at[4] += late
        found[bus] = Placement(at, not at[:4].any())
    return found


class OutputStage:
    """Duck, gain, mono fold, ceiling and trim. All modes of the ceiling have the latency of the limiter.

    traces: gains of duck and ceiling over the last quanta in dB, (quanta * TRACE_STEPS,) or finer, by path.
    """

    latency = LIMITER_LATENCY

    def __init__(self, output: Output, tuning: float = 440.0) -> None:
        self.tuning = tuning
        self.record: ChainRecorder | None = None
        self.latest = LastNoteTracker()
        self.traces: dict[str, Array] = {}
        self.meters: dict[str, Array] = {f"output.{n}": np.zeros(3) for n in ("gain", "fold", "ceiling")}
        self._bank = ModulationMatrix()
        self._clips: Clips | None = None
        self._way: str = output.ceiling.mode
        self._coming = ""
        self._lines: dict[str, Array] = {}
        self._ducked = 0.0
        self.update(output)
        self._gain, self._trim = self._goals
        self._edge = math.log2(output.mono_below)
        self._folding = 1.0 if output.fold else 0.0
        self._side = np.zeros((1, 4))
        self._limiter = rest()
        self.peak_before = 0.0

    def update(self, output: Output) -> None:
        """Apply new control values."""
        self.output = output
        self._goals = gain_of(output.gain), gain_of(output.trim)

    def forget(self) -> None:
        """Reset meters and peak."""
        self.peak_before = 0.0
        for acc in self.meters.values():
            acc[:] = 0.0

    def quanta(self, at: int, end: int) -> int:
        """Number of quanta that can be processed at once from sample ``at`` up to ``end``."""
        own = self.output
        depth = own.duck.depth if own.duck.on else 0.0
        still = (self._gain, self._trim) == self._goals and self._ducked == depth
        fold = self._folding == (1.0 if own.fold else 0.0) and not (own.fold and own.fold_follows)
        still &= fold and self._edge == math.log2(own.mono_below)
        limits = own.ceiling.mode == self._way == "limiter"
        return batch_size(at, end) if still and limits else 1

    def process(self, x: Array, batch: Batch) -> None:
        """Process the quanta of a batch, x, (2, n), in place: one, or as many as ``quanta`` allows."""
        self.traces = {}
        self._tap("output", x)
        self._duck(x, batch)
        gain, trim = self._goals
        ramp_gain(x, self._gain, gain)
        self._gain = gain
        self._after("output.gain", x)
        follows = self.output.fold and self.output.fold_follows
        octaves = self.latest.quantum(batch[0][1], self._bank, batch[0][0])[1] if follows else 0.0
        self._fold(x, octaves)
        self._after("output.fold", x)
        peaks = np.abs(x).reshape(2, -1, QUANTUM).max(axis=(0, 2))
        self.peak_before = max(self.peak_before, float(peaks.max()))
        self._ceiling(x, peaks)
        ramp_gain(x, self._trim, trim)
        self._trim = trim
        self._after("output.ceiling", x)

    def _after(self, path: str, x: Array) -> None:
        meter(x, 0, x.shape[1], self.meters[path])
        self._tap(path, x)

    def _tap(self, path: str, x: Array) -> None:
        if self.record is not None:
            self.record.tap(path, x)

    def _duck(self, x: Array, batch: Batch) -> None:
        duck = self.output.duck
        depth = duck.depth if duck.on else 0.0
        if depth == 0.0 and self._ducked == 0.0:
            return
        share = np.concatenate([kick_duck_gain(now, duck.attack, duck.hold, duck.release) for now, _ in batch])
        db = share * (depth if depth == self._ducked else self._ducked + (depth - self._ducked) * _ACROSS)
        self._ducked = depth
        self.traces["output.duck"] = -db
        x *= as_factor(-db)

    def _ceiling(self, x: Array, peaks: Array) -> None:
        ceiling = self.output.ceiling
        if ceiling.mode != "limiter" or self._way != "limiter":
            self._clip(x, ceiling, peaks)
        else:
            self._end(x, ceiling, "limiter", peaks)

    def _clip(self, x: Array, ceiling: Ceiling, peaks: Array) -> None:
        """Apply the ceiling. A new mode runs for one quantum unheard, then crossfades in over one."""
        if ceiling.mode == self._way:
            self._coming = ""
            self._end(x, ceiling, self._way, peaks)
            return
        y = x.copy()
        if self._coming != ceiling.mode:
            if ceiling.mode == "limiter":
                self._limiter = rest()
            self._end(y, ceiling, ceiling.mode, peaks)
            self._end(x, ceiling, self._way, peaks)
            self._coming = ceiling.mode
            return
        self._end(y, ceiling, ceiling.mode, peaks)
        self._end(x, ceiling, self._way, peaks)
        x += _ACROSS * (y - x)
        self._way, self._coming = ceiling.mode, ""

    def _end(self, x: Array, ceiling: Ceiling, mode: str, peaks: Array) -> None:
        """Apply one mode of the ceiling to x, (2, n), in place. peaks: (quanta,)."""
        top = 10.0 ** (ceiling.limit / 20.0) if ceiling.on else 1e9
        if ceiling.on and peaks.max() > top:
            self.traces["output.ceiling"] = np.repeat(-20.0 * np.log10(np.maximum(1.0, peaks / top)), 4)
        if mode == "limiter":
            fall = math.exp(-1000.0 / (ceiling.release * RATE))
            under = top * 10.0 ** (-0.05 / 20.0) if ceiling.on else top
            limit(x, under, fall, self._limiter)
            return
        if self._clips is None:
            self._clips = Clips()
        most = self.output.gain - ceiling.limit
        late = (
            clipped(x, self._clips, mode == "hard clip", constant_block(1.0 / top), constant_block(top), most)
            if ceiling.on
            else 0
        )
        line = self._lines.get(mode)
        if line is None or line.shape[1] != LIMITER_LATENCY - late:
            line = self._lines[mode] = np.zeros((2, LIMITER_LATENCY - late))
        delay_in_place(x, 0, x.shape[1], line)

    def _fold(self, x: Array, octaves: Array | float) -> None:
        goal = 1.0 if self.output.fold else 0.0
        if goal == 0.0 and self._folding == 0.0:
            self._side[:] = 0.0
            return
        side = np.empty((1, x.shape[1]))
        to_mid_side(x, side)
        edge = math.log2(self.output.mono_below)
        moving = self.output.fold_follows
        if moving:
            note = math.log2(pitch_hz(36.0, self.tuning) * self.output.fold_times)
            log_of = np.clip(note + octaves, math.log2(20.0), math.log2(2000.0))
            edge = float(np.asarray(log_of).reshape(-1)[-1])
        steady = edge == self._edge and goal == self._folding and not isinstance(octaves, np.ndarray)
        if moving and isinstance(octaves, np.ndarray):
            log_hz, mix = np.ascontiguousarray(log_of), constant_block(1.0)
        elif steady:
            log_hz, mix = constant_block(edge), constant_block(1.0)
        else:
            t = np.arange(1, QUANTUM + 1) / QUANTUM
            log_hz, mix = self._edge + (edge - self._edge) * t, self._folding + (goal - self._folding) * t
        k = constant_block(BUTTERWORTH)
        filter_svf(side, 0, x.shape[1], 1, True, SvfCurves(log_hz, k, k, mix), steady, self._side, PREWARP_TABLE)
        from_mid_side(x, side)
        self._edge, self._folding = edge, goal
