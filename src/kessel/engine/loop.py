"""The loop as it is heard when it runs: rendered once, kept by content."""

from __future__ import annotations

import hashlib
import json
import threading
from collections import OrderedDict
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..dsp import QUANTUM, RATE
from ..dsp.mixing import place_part
from ..patch import Envelope, Layer, Oscillator, Patch, Segments, layer_leans, movers_of
from .hands import Lanes
from .knobs import Array
from .layers import TRAVEL_STEP, LayerRun
from .output import OutputRun, place_of, places_of
from .schedule import NoteEvent, Schedule, loop_samples, samples_per_beat
from .stages import Chain

ENGINE_VERSION = 4
SEAM = RATE // 100
SETTLE = RATE // 5


@dataclass
class LayerTake:
    """One layer's rendering over the whole span, before its fader."""

    x: NDArray[np.float32]
    latency: int
    meters: dict[str, Array]
    travel: dict[str, Array]


@dataclass
class BusTake:
    """One bus over the whole span, the worked one behind its chain."""

    x: NDArray[np.float32]
    meters: dict[str, Array]


@dataclass
class Loop:
    """One pass of the phrase, joined to itself.

    sum and layers: (2, n) float64; a layer as it stands in the sum (level, place, polarity, delay), before the worked
    chain. worked: the worked path behind its chain. meters: peak, sum of squares, samples after each stage.
    travel: values on the control's own scale for every TRAVEL_STEP samples.
    """

    sum: Array
    layers: dict[str, Array]
    worked: Array
    meters: dict[str, Array]
    travel: dict[str, Array]
    peak_before_ceiling: float
    step: int = TRAVEL_STEP


@dataclass
class Span:
    """The rendered stretch of time: pre-roll, the loop, and what lies past its end."""

    pre: int
    length: int
    total: int


def span_of(patch: Patch) -> Span:
    """How far before and past the loop has to be rendered."""
    length = loop_samples(patch.phrase, patch.tempo)
    ms = RATE / 1000.0
    beat = samples_per_beat(patch.tempo)
    shapes: list[Segments] = [layer.envelope for layer in patch.layers]
    shapes += [m for m in patch.movers if isinstance(m, Envelope)]
    tail = 50 * ms + max(s.release * ms if s.clock == "ms" else s.release_beats * beat for s in shapes)
    last = max((n.start for n in patch.phrase.notes), default=0.0)
    back = (patch.phrase.beats - last) * samples_per_beat(patch.tempo)
    pre = min(length, int(tail + back) + SETTLE, round(8 * samples_per_beat(patch.tempo)))
    pre = -(-pre // QUANTUM) * QUANTUM
    total = pre + length + SEAM + 5 * QUANTUM
    return Span(pre, length, -(-total // QUANTUM) * QUANTUM)


def _hash(*parts: Any) -> str:
    text = json.dumps(parts, sort_keys=True, default=str)
    return hashlib.blake2b(text.encode(), digest_size=16).hexdigest()


_FADER = {"level", "pan", "width", "polarity", "delay", "mute", "path", "name", "hatch"}


def _followed(patch: Patch) -> dict[str, set[str]]:
    """The layers that each layer follows."""
    return layer_leans([layer.id for layer in patch.layers], patch.movers, patch.movements)


def layer_key(patch: Patch, layer: Layer) -> str:
    """Everything a layer's sound before its fader depends on."""
    used = movers_of(patch.movements, layer.id)
    mine = [f"layers.{layer.id}.", *(f"movers.{i}." for i in used)]
    own = [m.model_dump() for m in patch.movements if not m.lost and m.target.startswith(tuple(mine))]
    movers = [m.model_dump(exclude={"name"}) for m in patch.movers if m.id in used]
    level = layer.level if any(m["target"] == f"layers.{layer.id}.level" for m in own) else None
    span = span_of(patch)
    drawn = {s.wave for s in layer.sources if isinstance(s, Oscillator)}
    return _hash(
        ENGINE_VERSION,
        layer.model_dump(exclude=_FADER),
        patch.phrase.model_dump(exclude={"root", "scale"}),
        patch.tempo,
        patch.tuning,
        patch.seed,
        own,
        movers,
        level,
        [layer_key(patch, patch.layer(i)) for i in sorted(_followed(patch).get(layer.id, ()))],
        [w.frames for w in patch.waves if w.id in drawn],
        span.pre,
        span.total,
    )


def bus_key(patch: Patch, path: str, pads: dict[str, int], clean_pad: int) -> str:
    """Everything one bus depends on; ``pads`` holds the samples every layer is held back by."""
    own = [layer for layer in patch.layers if layer.path == path]
    faders = [layer.model_dump(include=_FADER - {"name", "hatch"}) for layer in own]
    chain = [i.model_dump() for i in patch.worked] if path == "worked" else clean_pad
    span = span_of(patch)
    return _hash(
        path, span.total, [layer_key(patch, layer) for layer in own], [pads[layer.id] for layer in own], faders, chain
    )


class Takes:
    """Renderings by content, the least used dropped first. Safe between threads."""

    def __init__(self, megabytes: int = 384) -> None:
        self._room = megabytes * 1024 * 1024
        self._kept: OrderedDict[str, tuple[Any, int]] = OrderedDict()
        self._lock = threading.Lock()
        self.rendered: list[str] = []

    def get(self, key: str, make: Callable[[], Any], size: Callable[[Any], int], what: str) -> Any:
        """What is kept under ``key``, made when it is not."""
        with self._lock:
            if key in self._kept:
                self._kept.move_to_end(key)
                return self._kept[key][0]
        made = make()
        with self._lock:
            self.rendered.append(what)
            del self.rendered[:-64]
            self._kept[key] = (made, size(made))
            while sum(s for _, s in self._kept.values()) > self._room and len(self._kept) > 1:
                self._kept.popitem(last=False)
        return made


@dataclass
class Stop:
    """Tells a rendering to give up."""

    asked: bool = field(default=False)


class Stopped(Exception):
    """The rendering was told to give up."""


def _take_layer(patch: Patch, layer: Layer, stop: Stop, heard: dict[str, LayerTake]) -> LayerTake:
    span = span_of(patch)
    run = LayerRun(patch, layer.id)
    run.follow_travel = True
    schedule = Schedule(patch.phrase, patch.tempo)
    run.phrase_length = schedule.length
    lanes = Lanes(patch.phrase, patch.tempo)
    out = np.empty((2, span.total), dtype=np.float32)
    block = np.empty((2, QUANTUM), dtype=np.float32)
    events: list[list[NoteEvent]] = [[] for _ in range(span.total // QUANTUM)]
    for event in schedule.between(-span.pre, span.total - span.pre):
        events[(event.at + span.pre) // QUANTUM].append(event)
    for at in range(0, span.total, QUANTUM):
        if stop.asked:
            raise Stopped
        time = at - span.pre
        run.hands = lanes.at(schedule.position(time), schedule.length)
        if heard:
            run.heard = {i: np.ascontiguousarray(take.x[:, at : at + QUANTUM]) for i, take in heard.items()}
        run.quantum(time, events[at // QUANTUM], block)
        out[:, at : at + QUANTUM] = block
    travel = {path: t.values for path, t in run.travel.items()}
    return LayerTake(out, run.latency, {**run.row.meters.found, **run.chain.meters.found}, travel)


def _take_bus(patch: Patch, path: str, takes: dict[str, LayerTake], stop: Stop) -> BusTake:
    span = span_of(patch)
    chain = Chain(patch.worked, "worked")
    pad = max(t.latency for t in takes.values())
    bus = np.empty((2, span.total), dtype=np.float32)
    heard = []
    for layer in patch.layers:
        if layer.path == path:
            wanted = places_of(layer, pad - takes[layer.id].latency, chain.latency)[path]
            if not wanted.silent:
                heard.append((takes[layer.id].x, wanted.at))
    block = np.empty((2, QUANTUM))
    for at in range(0, span.total, QUANTUM):
        if stop.asked:
            raise Stopped
        block[:] = 0.0
        for x, place in heard:
            place_part(x, at, block, place)
        if path == "worked":
            chain.process(block)
        bus[:, at : at + QUANTUM] = block
    return BusTake(bus, chain.meters.found if path == "worked" else {})


def take_buses(patch: Patch, layers: dict[str, LayerTake], takes: Takes, stop: Stop) -> dict[str, BusTake]:
    """Both buses, each from what is kept or made anew."""
    pad = max(t.latency for t in layers.values())
    pads = {i: pad - t.latency for i, t in layers.items()}
    clean_pad = Chain(patch.worked, "worked").latency
    return {
        path: takes.get(
            bus_key(patch, path, pads, clean_pad),
            lambda path=path: _take_bus(patch, path, layers, stop),  # type: ignore[misc]
            lambda b: int(b.x.nbytes),
            path,
        )
        for path in ("clean", "worked")
    }


def joined(x: Array, pre: int, length: int) -> Array:
    """One pass out of a longer stretch, (2, n), its end faded into its beginning over the seam."""
    out = np.array(x[:, pre : pre + length], dtype=np.float64)
    n = min(SEAM, length)
    t = (np.arange(n) + 0.5) / n
    after = x[:, pre + length : pre + length + n]
    out[:, :n] = t * out[:, :n] + (1.0 - t) * after
    return out


def placed(layer: Layer, take: LayerTake, pad: int) -> Array:
    """A layer's take at its level, place, polarity and delay, (2, n) float64."""
    own = place_of(layer)
    x = take.x.astype(np.float64)
    y = np.stack([own[0] * x[0] + own[1] * x[1], own[2] * x[0] + own[3] * x[1]])
    late = int(own[4]) + pad
    return np.pad(y, ((0, 0), (late, 0)))[:, : x.shape[1]] if late else y


_POOL = ThreadPoolExecutor(max_workers=2, thread_name_prefix="layer")


def take_layers(patch: Patch, takes: Takes, stop: Stop) -> dict[str, LayerTake]:
    """Every layer's rendering, from what is kept or made anew, two at a time."""

    leans = _followed(patch)
    found: dict[str, LayerTake] = {}

    def one(layer: Layer) -> LayerTake:
        heard = {i: found[i] for i in leans[layer.id]}
        made: LayerTake = takes.get(
            layer_key(patch, layer), lambda: _take_layer(patch, layer, stop, heard), lambda t: int(t.x.nbytes), layer.id
        )
        return made

    left = list(patch.layers)
    while left:
        # those that follow others wait for them
        ready = [x for x in left if leans[x.id] <= set(found)]
        left = [x for x in left if x not in ready]
        takes_of = [one(ready[0])] if len(ready) == 1 else list(_POOL.map(one, ready))
        found |= dict(zip([x.id for x in ready], takes_of, strict=True))
    return {layer.id: found[layer.id] for layer in patch.layers}


def render_sum(
    patch: Patch, takes: Takes, stop: Stop | None = None
) -> tuple[Array, float, dict[str, BusTake], dict[str, LayerTake]]:
    """The whole span of the output, (2, total), with the peak before the ceiling and what it was made from."""
    stop = stop or Stop()
    layers = take_layers(patch, takes, stop)
    buses = take_buses(patch, layers, takes, stop)
    output = OutputRun(patch.output)
    out = np.empty((2, buses["clean"].x.shape[1]))
    for at in range(0, out.shape[1], QUANTUM):
        x = buses["worked"].x[:, at : at + QUANTUM].astype(np.float64)
        x += buses["clean"].x[:, at : at + QUANTUM]
        output.process(x)
        out[:, at : at + QUANTUM] = x
    return out, output.peak_before, buses, layers


def render_loop(patch: Patch, takes: Takes | None = None, stop: Stop | None = None) -> Loop:
    """One pass of the phrase as it sounds when it runs. Raises Stopped."""
    takes = takes or Takes()
    stop = stop or Stop()
    out, peak, buses, layers = render_sum(patch, takes, stop)
    span = span_of(patch)
    pad = max(t.latency for t in layers.values())
    worked_late = Chain(patch.worked, "worked").latency
    late = pad + worked_late
    whole = joined(out, span.pre + late + OutputRun.latency, span.length)
    own = {
        layer.id: joined(placed(layer, layers[layer.id], pad - layers[layer.id].latency), span.pre + pad, span.length)
        for layer in patch.layers
    }
    worked = joined(buses["worked"].x.astype(np.float64), span.pre + late, span.length)
    first = span.pre // TRAVEL_STEP
    count = -(-span.length // TRAVEL_STEP)
    travel = {p: v[first : first + count] for take in layers.values() for p, v in take.travel.items()}
    meters = {k: v for take in layers.values() for k, v in take.meters.items()} | buses["worked"].meters
    return Loop(whole, own, worked, meters, travel, peak)


def render_bars(patch: Patch, bars: int, takes: Takes | None = None) -> Array:
    """``bars`` bars of the running loop, (2, n) float64, repeating or cutting the phrase."""
    whole = render_loop(patch, takes).sum
    n = round(bars * 4 * samples_per_beat(patch.tempo))
    times = -(-n // whole.shape[1])
    return np.tile(whole, (1, times))[:, :n]
