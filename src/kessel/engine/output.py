"""Places of the layers, the worked path and the output stage."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..dsp import QUANTUM, RATE
from ..dsp.filters import BUTTERWORTH, TANGENTS, filter_svf
from ..dsp.limiter import LATENCY as LIMITER_LATENCY
from ..dsp.limiter import POINTS, limit, rest
from ..dsp.mixing import PLACE, from_mid_side, place, ramp_gain, to_mid_side
from ..patch import Layer, Output
from .knobs import Array, gain_of
from .runs import full

RING = 8192


def place_of(layer: Layer, heard: bool = True) -> Array:
    """A layer's level, pan, width, polarity and delay as (ll, lr, rl, rr, delay in samples)."""
    gain = 0.0 if layer.mute or not heard else gain_of(layer.level)
    if layer.polarity == "flipped":
        gain = -gain
    angle = (layer.pan / 100.0 + 1.0) * math.pi / 4.0
    left, right = (1.0, 1.0) if layer.pan == 0 else (math.sqrt(2) * math.cos(angle), math.sqrt(2) * math.sin(angle))
    side = layer.width / 100.0
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
class Place:
    """Where a layer stands on one bus: gains and delay as ``place`` wants them, and whether it is silent there."""

    at: Array
    silent: bool


class Placer:
    """Adds one layer to a bus at its level, place and time."""

    def __init__(self, room: int = RING) -> None:
        self.line = np.zeros((2, room))
        self.at = 0
        self.now: dict[str, Place] = {}

    def add(self, x: NDArray[np.float32], buses: dict[str, Array], wanted: dict[str, Place]) -> None:
        """Add x, (2, n) float32, to each bus; ``wanted`` holds a place for each bus."""
        heard = False
        for name, bus in buses.items():
            new = wanted[name]
            old = self.now.get(name, new)
            if not (old.silent and new.silent):
                place(x, self.line, bus, self.at, old.at, new.at)
                heard = True
            self.now[name] = new
        n, room = x.shape[1], self.line.shape[1]
        if not heard:
            index = (self.at + np.arange(n)) % room
            self.line[:, index] = x
        self.at = (self.at + n) % room


def places_of(layer: Layer, pad: int, clean_pad: int, heard: bool = True) -> dict[str, Place]:
    """A layer's place on the clean and the worked bus, padded so that all layers and paths are equally late."""
    own = place_of(layer, heard)
    own[4] += pad
    none = np.zeros(PLACE)
    none[4] = own[4]
    if layer.path == "clean":
        own[4] += clean_pad
        return {"clean": Place(own, not own[:4].any()), "worked": Place(none, True)}
    none[4] += clean_pad
    return {"clean": Place(none, True), "worked": Place(own, not own[:4].any())}


class OutputRun:
    """Gain, mono fold, ceiling and trim."""

    latency = LIMITER_LATENCY

    def __init__(self, output: Output) -> None:
        self.update(output)
        self._gain, self._trim = self._goals
        self._edge = math.log2(output.mono_below)
        self._folding = 1.0 if output.fold else 0.0
        self._side = np.zeros((1, 4))
        self._line, self._needed, self._smooth, self._state = rest()
        self.peak_before = 0.0

    def update(self, output: Output) -> None:
        """Take over turned controls."""
        self.output = output
        self._goals = gain_of(output.gain), gain_of(output.trim)

    def process(self, x: Array) -> None:
        """Work on a quantum of x, (2, QUANTUM), in place."""
        gain, trim = self._goals
        ramp_gain(x, self._gain, gain)
        self._gain = gain
        self._fold(x)
        self.peak_before = max(self.peak_before, float(np.abs(x).max()))
        ceiling = self.output.ceiling
        top = 10.0 ** ((ceiling.limit - 0.05) / 20.0) if ceiling.on else 1e9
        fall = math.exp(-1000.0 / (ceiling.release * RATE))
        limit(x, top, fall, self._line, self._needed, self._smooth, self._state, POINTS)
        ramp_gain(x, self._trim, trim)
        self._trim = trim

    def _fold(self, x: Array) -> None:
        goal = 1.0 if self.output.fold else 0.0
        if goal == 0.0 and self._folding == 0.0:
            self._side[:] = 0.0
            return
        side = np.empty((1, QUANTUM))
        to_mid_side(x, side)
        edge = math.log2(self.output.mono_below)
        steady = edge == self._edge and goal == self._folding
        if steady:
            log_hz, mix = full(edge), full(1.0)
        else:
            t = np.arange(1, QUANTUM + 1) / QUANTUM
            log_hz, mix = self._edge + (edge - self._edge) * t, self._folding + (goal - self._folding) * t
        k = full(BUTTERWORTH)
        filter_svf(side, 0, QUANTUM, 1, True, log_hz, k, k, mix, steady, self._side, TANGENTS)
        from_mid_side(x, side)
        self._edge, self._folding = edge, goal
