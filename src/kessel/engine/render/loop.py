"""The loop as it sounds in steady state, rendered once and cached."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from ...dsp import QUANTUM
from ...dsp.mixing import place_part
from ...patch import Layer, Patch
from ..clock import samples_per_beat
from ..effects import ChainRecorder, Meters, batch_size
from ..mixer import (
    Gain,
    Moved,
    OutputStage,
    Placement,
    ReturnBus,
    WorkedPath,
    chain_latency,
    fed,
    moved_faders,
    placement_of,
    placements_of,
    return_latency,
    sending,
    sent,
    still_sends,
    traced,
)
from ..modulation import TRAVEL_STEP, Array
from .cache import CancelToken, RenderCache, RenderClock, RenderedBus, RenderedLayer
from .cache_keys import SEAM, bus_key, followed, heard_by, return_key, span_of
from .layers import render_chain, render_layers, voices_of_layer


@dataclass
class Loop:
    """One pass of the phrase, crossfaded at its seam.

    sum and layers: (2, n) float64; a layer as it is mixed into the sum (level, pan, polarity, delay), before the worked
    chain. worked: the worked path behind its chain. meters: peak, sum of squares, samples behind each stage. travel:
    values on the control's own scale, one every TRAVEL_STEP samples. traces: gains of the effects in dB, as often.
    """

    sum: Array
    layers: dict[str, Array]
    worked: Array
    meters: dict[str, Array]
    travel: dict[str, Array]
    peak_before_ceiling: float
    step: int = TRAVEL_STEP
    traces: dict[str, Array] = field(default_factory=dict)


def _added(heard: list[tuple[NDArray[np.float32], Placement]], part: slice) -> Array:
    """A part of a bus."""
    block = np.zeros((2, part.stop - part.start))
    for x, place in heard:
        place_part(x, part.start, block, place.at)
    return block


def _render_bus(
    patch: Patch,
    path: str,
    layers: dict[str, RenderedLayer],
    late: tuple[int, int],
    stop: CancelToken,
    record: ChainRecorder,
) -> RenderedBus:
    """late: latency of the worked path, and of the latest return."""
    clock = RenderClock(patch)
    heard = _placed(patch, path, layers, late)
    bus = np.empty((2, clock.span.total), dtype=np.float32)
    if path != "worked":
        for part in clock.steps(stop, Meters().forget, batch_size):
            bus[:, part] = _added(heard, part)
        return RenderedBus(bus, {})
    worked = WorkedPath(patch)
    chain = worked.processor
    chain.record = record
    sends: dict[str, list[Gain]] = {}
    heard_layers = {i: layers[i] for i in heard_by(patch, "worked.", "sends.")}
    for part in clock.steps(stop, chain.chain.meters.forget, chain.quanta):
        block = _added(heard, part)
        if block.shape[1] > QUANTUM:
            chain.stretch(block, clock.batch(part, heard_layers))
        else:
            movers = worked.quantum(block, *clock.at(part.start, heard_layers))
            chain.keep_travel()
            for to, gain in worked.sends.moved(movers).items():
                sends.setdefault(to, []).append(gain)
        bus[:, part] = block
    return RenderedBus(
        bus,
        chain.chain.meters.found,
        {path: t.values for path, t in chain.travel.items()},
        {to: np.concatenate(parts) for to, parts in sends.items()},
        traced(record),
    )


def _placed(
    patch: Patch, path: str, layers: dict[str, RenderedLayer], late: tuple[int, int]
) -> list[tuple[NDArray[np.float32], Placement]]:
    """The layers that are heard on a path, with their places in it."""
    pad = max(t.latency for t in layers.values())
    heard, moved = [], moved_faders(patch)
    for layer in patch.layers:
        if layer.path == path:
            wanted = placements_of(layer, moved[layer.id], pad - layers[layer.id].latency, *late, {})[path]
            if not wanted.silent:
                heard.append((layers[layer.id].x, wanted))
    return heard


def render_return(
    patch: Patch,
    to: str,
    layers: dict[str, RenderedLayer],
    worked: RenderedBus,
    late: int,
    stop: CancelToken,
    record: ChainRecorder,
) -> RenderedBus:
    """A return, rendered anew. late: latency of the worked path."""
    clock = RenderClock(patch)
    pad = max(t.latency for t in layers.values())
    heard: list[tuple[NDArray[np.float32], Placement]] = []
    moved = moved_faders(patch)
    for layer in patch.layers:
        take = layers[layer.id]
        still = still_sends(patch, f"layers.{layer.id}.sends", list(layer.sends))
        places = placements_of(layer, moved[layer.id], pad - take.latency, late, 0, still)
        if to in take.sends:
            heard.append((take.x * take.sends[to], sending(layer, places, late)))
        elif to in places:
            heard.append((take.x, places[to]))
    processor = ReturnBus(patch, to)
    followed_ones = {i: layers[i] for i in heard_by(patch, f"returns.{to}.")}
    processor.processor.record = record
    still = still_sends(patch, "sends", list(patch.sends))
    bus = np.empty((2, clock.span.total), dtype=np.float32)
    heard = [h for h in heard if not h[1].silent]
    for part in clock.steps(stop, processor.processor.chain.meters.forget, processor.processor.quanta):
        block = _added(heard, part)
        block += sent(worked.x[:, part], to, still, {i: g[part] for i, g in worked.sends.items()})
        if block.shape[1] > QUANTUM:
            processor.stretch(block, clock.batch(part, followed_ones))
        else:
            processor.quantum(block, *clock.at(part.start, followed_ones))
            processor.processor.keep_travel()
        bus[:, part] = block
    travel = {path: t.values for path, t in processor.processor.travel.items()}
    return RenderedBus(bus, processor.processor.chain.meters.found, travel, {}, traced(record))


def render_worked_path(
    patch: Patch, layers: dict[str, RenderedLayer], stop: CancelToken, record: ChainRecorder
) -> RenderedBus:
    """The worked path behind its chain, rendered anew."""
    late = chain_latency(list(patch.worked)), return_latency(patch)
    return _render_bus(patch, "worked", layers, late, stop, record)


def render_buses(
    patch: Patch, layers: dict[str, RenderedLayer], cache: RenderCache, stop: CancelToken
) -> dict[str, RenderedBus]:
    """All buses, cached or rendered: clean, worked, and the returns that receive anything."""
    pad = max(t.latency for t in layers.values())
    pads = {i: pad - t.latency for i, t in layers.items()}
    late = chain_latency(list(patch.worked)), return_latency(patch)
    found: dict[str, RenderedBus] = {}
    keys = {path: bus_key(patch, path, pads, sum(late)) for path in ("clean", "worked")}
    for path, key in keys.items():
        found[path] = cache.get(
            key,
            lambda path=path: _render_bus(patch, path, layers, late, stop, ChainRecorder()),  # type: ignore[misc]
            path,
        )
    for to in fed(patch):
        found[to] = cache.get(
            return_key(patch, to, pads, late[0], keys["worked"]),
            lambda to=to: render_return(patch, to, layers, found["worked"], late[0], stop, ChainRecorder()),  # type: ignore[misc]
            to,
        )
    return found


def loop_crossfade(x: Array, pre: int, length: int) -> Array:
    """One pass of a longer stretch, (2, n), with its end crossfaded into its beginning."""
    out = np.array(x[:, pre : pre + length], dtype=np.float64)
    n = min(SEAM, length)
    t = (np.arange(n) + 0.5) / n
    after = x[:, pre + length : pre + length + n]
    out[:, :n] = t * out[:, :n] + (1.0 - t) * after
    return out


def placed(layer: Layer, moved: Moved, take: RenderedLayer, pad: int, first: int, length: int) -> Array:
    """One pass of a layer from sample ``first`` on with its level, pan, polarity and delay, (2, n) float64."""
    own = placement_of(layer, moved)
    x = _later(take.x, slice(first, first + length + SEAM), int(own[4]) + pad)
    y = np.empty_like(x)
    for side in (0, 1):
        near, far = own[2 * side], own[2 * side + 1]
        np.multiply(x[0], near, out=y[side])
        if far:
            y[side] += far * x[1]
    return loop_crossfade(y, 0, length)


def _later(x: NDArray[np.float32], part: slice, lag: int) -> Array:
    """A part of a signal delayed by ``lag`` samples, (2, n) float64."""
    n = part.stop - part.start
    if lag == 0:
        return x[:, part].astype(np.float64)
    out = np.zeros((2, n))
    first = max(0, lag - part.start)
    if first < n:
        out[:, first:] = x[:, part.start + first - lag : part.stop - lag]
    return out


@dataclass
class LayerSum:
    """The output over the whole span, and what it was made from.

    x: (2, total). peak: before the ceiling. late: delay of the buses in samples. meters, traces: of the output stage.
    """

    x: Array
    peak: float
    late: int
    buses: dict[str, RenderedBus]
    layers: dict[str, RenderedLayer]
    meters: dict[str, Array]
    traces: dict[str, Array]


def mix_layers(
    patch: Patch, cache: RenderCache, stop: CancelToken | None = None, taps: ChainRecorder | None = None
) -> LayerSum:
    """The output over the whole span. The sound within the output stage is written to ``taps``."""
    stop = stop or CancelToken()
    layers = render_layers(patch, cache, stop)
    buses = render_buses(patch, layers, cache, stop)
    back = return_latency(patch)
    late = {r.id: back - chain_latency(list(r.chain)) for r in patch.returns}
    clock = RenderClock(patch)
    output = OutputStage(patch.output, patch.tuning)
    output.record = taps
    out = np.empty((2, clock.span.total))
    record = ChainRecorder()
    heard = fed(patch)
    for part in clock.steps(stop, output.forget, output.quanta):
        x = _later(buses["worked"].x, part, back)
        x += buses["clean"].x[:, part]
        for to in heard:
            x += _later(buses[to].x, part, late[to])
        output.process(x, clock.batch(part, {}))
        quanta = x.shape[1] // QUANTUM
        for path, db in output.traces.items():
            record.trace(path, db, quanta)
        record.count += quanta
        out[:, part] = x
    pad = max(t.latency for t in layers.values())
    whole = pad + chain_latency(list(patch.worked)) + back
    return LayerSum(out, output.peak_before, whole, buses, layers, output.meters, traced(record))


def render_sum(
    patch: Patch, cache: RenderCache, stop: CancelToken | None = None
) -> tuple[Array, float, dict[str, RenderedBus], dict[str, RenderedLayer]]:
    """The output over the whole span, (2, total), its peak before the ceiling, and what it was made from."""
    made = mix_layers(patch, cache, stop)
    return made.x, made.peak, made.buses, made.layers


def render_loop(patch: Patch, cache: RenderCache | None = None, stop: CancelToken | None = None) -> Loop:
    """One pass of the phrase in steady state. Raises RenderCancelled."""
    cache = cache or RenderCache()
    stop = stop or CancelToken()
    made = mix_layers(patch, cache, stop)
    span = span_of(patch)
    layers = made.layers
    pad = max(t.latency for t in layers.values())
    whole = loop_crossfade(made.x, span.pre + made.late + OutputStage.latency, span.length)
    moved = moved_faders(patch)
    own = {
        x.id: placed(x, moved[x.id], layers[x.id], pad - layers[x.id].latency, span.pre + pad, span.length)
        for x in patch.layers
    }
    behind = made.late - return_latency(patch)
    worked = loop_crossfade(made.buses["worked"].x.astype(np.float64), span.pre + behind, span.length)
    first = span.pre // TRAVEL_STEP
    count = -(-span.length // TRAVEL_STEP)
    parts: list[RenderedLayer | RenderedBus] = [*layers.values(), *made.buses.values()]
    travel = {p: v[first : first + count] for take in parts for p, v in take.travel.items()}
    meters = {k: v for take in parts for k, v in take.meters.items()} | made.meters
    traces = {p: v for take in parts for p, v in take.traces.items()} | made.traces
    traces = {p: np.pad(v, (0, max(0, first + count - v.size)))[first : first + count] for p, v in traces.items()}
    return Loop(whole, own, worked, meters, travel, made.peak, traces=traces)


def render_layer(patch: Patch, layer_id: str, cache: RenderCache, stop: CancelToken) -> Array:
    """One pass of a single layer behind its chain, mixed but not delayed, (2, n). Raises RenderCancelled."""
    layer = patch.layer(layer_id)
    if followed(patch)[layer_id]:
        take = render_layers(patch, cache, stop)[layer_id]
    else:
        voices = voices_of_layer(patch, layer, {}, cache, stop)
        take = render_chain(patch, layer, voices, stop, {}, ChainRecorder())
    span = span_of(patch)
    return placed(layer, moved_faders(patch)[layer.id], take, 0, span.pre + take.latency, span.length)


def render_bars(patch: Patch, bars: int, cache: RenderCache | None = None) -> Array:
    """``bars`` bars of the running loop, (2, n) float64. The phrase is repeated or cut."""
    whole = render_loop(patch, cache).sum
    n = round(bars * 4 * samples_per_beat(patch.tempo))
    times = -(-n // whole.shape[1])
    return np.tile(whole, (1, times))[:, :n]
