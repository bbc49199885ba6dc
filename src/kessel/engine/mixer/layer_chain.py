"""What follows the voices of a layer: its range, its chain, its moved level, and its sends."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from ...dsp.filters.svf import BUTTERWORTH, PREWARP_TABLE, SvfCurves, filter_svf
from ...patch import Layer, Mover, Patch
from ..blocks import constant_block
from ..clock import NoteEvent
from ..modulation import Array, Batch, SmoothedParameter, TransportContext, as_gain, as_is, as_share, parameter_of
from .modulated_chain import ModulatedChain
from .output import FADERS, pan_gains, resting_gain
from .sends import Gain, Sends


class LayerChain:
    """Applies the range, the chain and the moved level of one layer to the sound of its voices."""

    def __init__(self, patch: Patch, layer_id: str) -> None:
        layer = patch.layer(layer_id)
        self.layer = layer
        own = f"layers.{layer_id}"
        self.place = f"{own}.chain"
        self._level = parameter_of(layer, "level", as_is)
        self._pan = parameter_of(layer, "pan", as_is)
        self._width = parameter_of(layer, "width", as_share)
        self._faders = {"level": self._level, "pan": self._pan, "width": self._width}
        self.sends = Sends(f"{own}.sends")
        self.processor = ModulatedChain(
            self.place, below_of(layer_id), {f"{own}.{n}": k for n, k in self._faders.items()}
        )
        self._edges: dict[str, SmoothedParameter] = {}
        self._states = {(place, name): np.zeros((2, 4)) for place in ("before", "after") for name in ("low", "high")}
        self._edging: dict[str, list[tuple[SmoothedParameter, int, Array]]] = {"before": [], "after": []}
        self._restless = True
        self.moved: dict[str, Gain] = {}
        self.update(patch)

    @property
    def latency(self) -> int:
        """Latency in samples."""
        return self.processor.latency

    def update(self, patch: Patch) -> None:
        """Apply a patch's controls."""
        layer = self.layer = patch.layer(self.layer.id)
        self._turn_faders(layer)
        for name in ("low", "high"):
            if name in self._edges:
                self._edges[name].turn(float(getattr(layer.range, name)))
            else:
                self._edges[name] = parameter_of(layer.range, name, as_is)
        self.sends.update(list(layer.sends))
        self.moved = {}
        faders = {f"layers.{layer.id}.{name}": parameter for name, parameter in self._faders.items()}
        self.processor.beside = faders | self.sends.parameters
        self.processor.update(patch, list(layer.chain))
        self._lowest = min((n.pitch for n in patch.phrase.notes), default=29)
        self._restless = True

    def turn(self, layer: Layer, fields: set[str]) -> None:
        """Apply the layer with other values in some of its fields, as ``update`` would."""
        self.layer = layer
        self._turn_faders(layer)
        if "chain" in fields:
            self.processor.turn(list(layer.chain))

    def _turn_faders(self, layer: Layer) -> None:
        for name, parameter in self._faders.items():
            parameter.turn(float(getattr(layer, name)))

    def turn_movers(self, movers: Sequence[Mover]) -> None:
        """Apply other values of movers."""
        self.processor.matrix.turn(movers)

    @property
    def plain(self) -> bool:
        """Whether the sound passes unchanged."""
        layer = self.layer
        open_ends = layer.range.low <= 20.0 and layer.range.high >= 20000.0
        settled = not any(k.turning for k in self._edges.values())
        return not layer.chain and open_ends and settled and not self.processor.matrix.moved

    def _tick(self, layer: Layer) -> None:
        for parameter in self._edges.values():
            parameter.tick()
        self._restless = any(k.turning for k in self._edges.values())
        for place in ("before", "after"):
            active = layer.range.where in (place, "both")
            self._edging[place] = []
            for name, kind in (("low", 1), ("high", 0)):
                parameter, state = self._edges[name], self._states[place, name]
                limit = parameter.control.low if kind == 1 else parameter.control.high
                if active and not (parameter.still and parameter.goal == parameter.control.to_scale(limit)):
                    self._edging[place].append((parameter, kind, state))
                else:
                    state[:] = 0.0

    def _edge(self, place: str, x: Array) -> None:
        for parameter, kind, state in self._edging[place]:
            k = constant_block(BUTTERWORTH)
            filter_svf(
                x,
                0,
                x.shape[1],
                kind,
                True,
                SvfCurves(parameter.converted, k, k, constant_block(1.0)),
                parameter.still,
                state,
                PREWARP_TABLE,
            )

    def quantum(
        self, x: NDArray[np.float32], now: TransportContext, events: list[NoteEvent], keep: bool = False
    ) -> None:
        """Process a quantum of x, (2, QUANTUM) float32, in place. keep: record the travel of moved controls."""
        if self._restless:
            self._tick(self.layer)
        if self.layer.play.mode == "drone":
            events = self._drone(now, events)
        self.processor.begin(now, events)
        total = x.astype(np.float64)
        self._edge("before", total)
        self.processor.process(total)
        self._edge("after", total)
        if self._level.movements:
            total *= self._moved_level()
        if self._width.movements:
            self._widen(total)
        if self._pan.movements:
            total *= np.stack(pan_gains(self._pan.scale(self.processor.movers)))
        x[:] = total
        self.moved = self.sends.moved(self.processor.movers)
        if keep:
            self.processor.keep_travel()

    def quanta(self, at: int, end: int) -> int:
        """Number of quanta that can be processed at once from sample ``at`` up to ``end``."""
        return 1 if self._restless else self.processor.quanta(at, end)

    def stretch(self, x: NDArray[np.float32], batch: Batch) -> None:
        """Process several quanta of x, (2, n) float32, in place, while nothing changes."""
        if self.layer.play.mode == "drone":
            batch = [(now, self._drone(now, events)) for now, events in batch]
        total = x.astype(np.float64)
        self._edge("before", total)
        self.processor.stretch(total, batch)
        self._edge("after", total)
        x[:] = total

    def _drone(self, now: TransportContext, events: list[NoteEvent]) -> list[NoteEvent]:
        """The events of a drone: one note that never ends, and what is played by hand."""
        found = [e for e in events if e.note.startswith("hand-")]
        if not self.processor.latest.begun:
            found.insert(0, NoteEvent(now.start, True, "drone", self._lowest, 127))
        return found

    def _moved_level(self) -> Array:
        """The gain that movements add to the fader's placement."""
        rest = resting_gain(self.layer, True)
        return as_gain(self._level.scale(self.processor.movers)) / rest

    def _widen(self, x: Array) -> None:
        """Scale the side of x, (2, n), in place, as movements say."""
        middle, side = 0.5 * (x[0] + x[1]), 0.5 * (x[0] - x[1]) * self._width.value(self.processor.movers)
        x[0], x[1] = middle + side, middle - side


def below_of(layer_id: str) -> tuple[str, ...]:
    """Path prefixes of what is moved behind a layer's voices."""
    own = f"layers.{layer_id}"
    return f"{own}.chain.", *(f"{own}.{name}" for name in FADERS), f"{own}.sends."
