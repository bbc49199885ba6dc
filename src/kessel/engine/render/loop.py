"""The loop as it is heard when it runs: rendered once, kept by content."""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from ...dsp import QUANTUM
from ...dsp.mixing import place_part
from ...patch import Layer, Patch
from ..clock import samples_per_beat
from ..effects import Meters, Record, at_once
from ..mixer import (
    Gain,
    LayerChain,
    OutputRun,
    Place,
    ReturnRun,
    WorkedRun,
    chain_latency,
    fed,
    place_of,
    places_of,
    return_latency,
    sending,
    sent,
    still_sends,
    traced,
)
from ..modulation import TRAVEL_STEP, Array
from ..voices import LayerRun
from .cache import BusTake, Clock, LayerTake, RenderCache, Stop, VoicesTake
from .cache_keys import SEAM, bus_key, followed, heard_by, layer_key, return_key, span_of, voices_key


@dataclass
class Loop:
    """One pass of the phrase, joined to itself.

    sum and layers: (2, n) float64; a layer as it stands in the sum (level, place, polarity, delay), before the worked
    chain. worked: the worked path behind its chain. meters: peak, sum of squares, samples after each stage.
    travel: values on the control's own scale for every TRAVEL_STEP samples. traces: what effects did, in dB, as often.
    """

    sum: Array
    layers: dict[str, Array]
    worked: Array
    meters: dict[str, Array]
    travel: dict[str, Array]
    peak_before_ceiling: float
    step: int = TRAVEL_STEP
    traces: dict[str, Array] = field(default_factory=dict)


def _take_voices(patch: Patch, layer: Layer, stop: Stop, heard: dict[str, LayerTake]) -> VoicesTake:
    clock = Clock(patch)
    run = LayerRun(patch, layer.id)
    run.follow_travel = True
    run.phrase_length = clock.now.length
    out = np.empty((2, clock.span.total), dtype=np.float32)
    for part in clock.steps(stop, run.row.meters.forget):
        now, events = clock.at(part.start, heard)
        run.hands, run.heard = now.hands, now.heard
        run.quantum(now.start, events, out[:, part])
    return VoicesTake(out, run.latency, run.row.meters.found, {path: t.values for path, t in run.travel.items()})


def take_chain(
    patch: Patch, layer: Layer, voices: VoicesTake, stop: Stop, heard: dict[str, LayerTake], record: Record
) -> LayerTake:
    """A layer behind its chain, made anew."""
    run = LayerChain(patch, layer.id)
    if run.plain and record.taps is None:
        return LayerTake(voices.x, voices.latency, voices.meters, voices.travel)
    clock = Clock(patch)
    run.run.record = record
    out = np.empty_like(voices.x)
    sends: dict[str, list[Gain]] = {}
    for part in clock.steps(stop, run.run.chain.meters.forget, run.quanta):
        block = voices.x[:, part].copy()
        if block.shape[1] > QUANTUM:
            run.stretch(block, clock.batch(part, heard))
        else:
            run.quantum(block, *clock.at(part.start, heard), keep=True)
        out[:, part] = block
        for to, gain in run.moved.items():
            sends.setdefault(to, []).append(gain)
    travel = {path: t.values for path, t in run.run.travel.items()}
    return LayerTake(
        out,
        voices.latency + run.latency,
        {**voices.meters, **run.run.chain.meters.found},
        {**voices.travel, **travel},
        {to: np.concatenate(parts) for to, parts in sends.items()},
        traced(record),
    )


def _added(heard: list[tuple[NDArray[np.float32], Place]], part: slice) -> Array:
    """A part of a bus."""
    block = np.zeros((2, part.stop - part.start))
    for x, place in heard:
        place_part(x, part.start, block, place.at)
    return block


def _take_bus(
    patch: Patch, path: str, layers: dict[str, LayerTake], late: tuple[int, int], stop: Stop, record: Record
) -> BusTake:
    """late: of the worked path, and of the latest return."""
    clock = Clock(patch)
    pad = max(t.latency for t in layers.values())
    bus = np.empty((2, clock.span.total), dtype=np.float32)
    heard = []
    for layer in patch.layers:
        if layer.path == path:
            wanted = places_of(layer, pad - layers[layer.id].latency, *late, {})[path]
            if not wanted.silent:
                heard.append((layers[layer.id].x, wanted))
    run = WorkedRun(patch) if path == "worked" else None
    sends: dict[str, list[Gain]] = {}
    followed_ones = {i: layers[i] for i in heard_by(patch, "worked.", "sends.")}
    if run is not None:
        run.run.record = record
    meters = Meters() if run is None else run.run.chain.meters
    for part in clock.steps(stop, meters.forget, at_once if run is None else run.run.quanta):
        block = _added(heard, part)
        if run is not None and block.shape[1] > QUANTUM:
            run.run.stretch(block, clock.batch(part, followed_ones))
        elif run is not None:
            movers = run.quantum(block, *clock.at(part.start, followed_ones))
            run.run.keep_travel()
            for to, gain in run.sends.moved(movers).items():
                sends.setdefault(to, []).append(gain)
        bus[:, part] = block
    if run is None:
        return BusTake(bus, {})
    return BusTake(
        bus,
        run.run.chain.meters.found,
        {path: t.values for path, t in run.run.travel.items()},
        {to: np.concatenate(parts) for to, parts in sends.items()},
        traced(record),
    )


def take_return(
    patch: Patch, to: str, layers: dict[str, LayerTake], worked: BusTake, late: int, stop: Stop, record: Record
) -> BusTake:
    """A return, made anew. late: of the worked path."""
    clock = Clock(patch)
    pad = max(t.latency for t in layers.values())
    heard: list[tuple[NDArray[np.float32], Place]] = []
    for layer in patch.layers:
        take = layers[layer.id]
        still = still_sends(patch, f"layers.{layer.id}.sends", list(layer.sends))
        places = places_of(layer, pad - take.latency, late, 0, still)
        if to in take.sends:
            heard.append((take.x * take.sends[to], sending(layer, places, late)))
        elif to in places:
            heard.append((take.x, places[to]))
    run = ReturnRun(patch, to)
    followed_ones = {i: layers[i] for i in heard_by(patch, f"returns.{to}.")}
    run.run.record = record
    still = still_sends(patch, "sends", list(patch.sends))
    bus = np.empty((2, clock.span.total), dtype=np.float32)
    heard = [h for h in heard if not h[1].silent]
    for part in clock.steps(stop, run.run.chain.meters.forget, run.run.quanta):
        block = _added(heard, part)
        block += sent(worked.x[:, part], to, still, {i: g[part] for i, g in worked.sends.items()})
        if block.shape[1] > QUANTUM:
            run.stretch(block, clock.batch(part, followed_ones))
        else:
            run.quantum(block, *clock.at(part.start, followed_ones))
            run.run.keep_travel()
        bus[:, part] = block
    travel = {path: t.values for path, t in run.run.travel.items()}
    return BusTake(bus, run.run.chain.meters.found, travel, {}, traced(record))


def take_worked(patch: Patch, layers: dict[str, LayerTake], stop: Stop, record: Record) -> BusTake:
    """The worked path behind its chain, made anew."""
    late = chain_latency(list(patch.worked)), return_latency(patch)
    return _take_bus(patch, "worked", layers, late, stop, record)


def take_buses(patch: Patch, layers: dict[str, LayerTake], takes: RenderCache, stop: Stop) -> dict[str, BusTake]:
    """All buses, each from what is kept or made anew: clean, worked, and the returns that something goes to."""
    pad = max(t.latency for t in layers.values())
    pads = {i: pad - t.latency for i, t in layers.items()}
    late = chain_latency(list(patch.worked)), return_latency(patch)
    found: dict[str, BusTake] = {}
    keys = {path: bus_key(patch, path, pads, sum(late)) for path in ("clean", "worked")}
    for path, key in keys.items():
        found[path] = takes.get(
            key,
            lambda path=path: _take_bus(patch, path, layers, late, stop, Record()),  # type: ignore[misc]
            path,
        )
    for to in fed(patch):
        found[to] = takes.get(
            return_key(patch, to, pads, late[0], keys["worked"]),
            lambda to=to: take_return(patch, to, layers, found["worked"], late[0], stop, Record()),  # type: ignore[misc]
            to,
        )
    return found


def joined(x: Array, pre: int, length: int) -> Array:
    """One pass out of a longer stretch, (2, n), its end faded into its beginning over the seam."""
    out = np.array(x[:, pre : pre + length], dtype=np.float64)
    n = min(SEAM, length)
    t = (np.arange(n) + 0.5) / n
    after = x[:, pre + length : pre + length + n]
    out[:, :n] = t * out[:, :n] + (1.0 - t) * after
    return out


def placed(layer: Layer, take: LayerTake, pad: int, first: int, length: int) -> Array:
    """One pass from sample ``first`` on of a layer at its level, place, polarity and delay, (2, n) float64."""
    own = place_of(layer)
    x = _later(take.x, slice(first, first + length + SEAM), int(own[4]) + pad)
    y = np.empty_like(x)
    for side in (0, 1):
        near, far = own[2 * side], own[2 * side + 1]
        np.multiply(x[0], near, out=y[side])
        if far:
            y[side] += far * x[1]
    return joined(y, 0, length)


def take_voices_of(
    patch: Patch, layer: Layer, found: dict[str, LayerTake], takes: RenderCache, stop: Stop
) -> VoicesTake:
    """A layer's voices, from what is kept or made anew; ``found``: the layers that it follows."""
    heard = {i: found[i] for i in followed(patch)[layer.id]}
    made: VoicesTake = takes.get(
        voices_key(patch, layer),
        lambda: _take_voices(patch, layer, stop, heard),
        f"{layer.id} voices",
    )
    return made


def take_layers(patch: Patch, takes: RenderCache, stop: Stop) -> dict[str, LayerTake]:
    """Every layer's rendering, from what is kept or made anew, two at a time."""

    leans = followed(patch)
    found: dict[str, LayerTake] = {}

    def one(layer: Layer) -> LayerTake:
        heard = {i: found[i] for i in leans[layer.id]}
        made: LayerTake = takes.get(
            layer_key(patch, layer),
            lambda: take_chain(patch, layer, take_voices_of(patch, layer, found, takes, stop), stop, heard, Record()),
            layer.id,
        )
        return made

    left = list(patch.layers)
    # threads of its own: they run with the priority of the one that asks
    with ThreadPoolExecutor(max_workers=2, thread_name_prefix="layer") as pool:
        while left:
            # those that follow others wait for them
            ready = [x for x in left if leans[x.id] <= set(found)]
            left = [x for x in left if x not in ready]
            takes_of = [one(ready[0])] if len(ready) == 1 else list(pool.map(one, ready))
            found |= dict(zip([x.id for x in ready], takes_of, strict=True))
    return {layer.id: found[layer.id] for layer in patch.layers}


def _later(x: NDArray[np.float32], part: slice, lag: int) -> Array:
    """A part of what is held back by ``lag`` samples, (2, n) float64."""
    n = part.stop - part.start
    if lag == 0:
        return x[:, part].astype(np.float64)
    out = np.zeros((2, n))
    first = max(0, lag - part.start)
    if first < n:
        out[:, first:] = x[:, part.start + first - lag : part.stop - lag]
    return out


@dataclass
class Sum:
    """The whole span of the output, and what it was made from.

    x: (2, total). peak: before the ceiling. late: samples that the buses are late. meters, traces: of the output stage.
    """

    x: Array
    peak: float
    late: int
    buses: dict[str, BusTake]
    layers: dict[str, LayerTake]
    meters: dict[str, Array]
    traces: dict[str, Array]


def make_sum(patch: Patch, takes: RenderCache, stop: Stop | None = None, taps: Record | None = None) -> Sum:
    """The whole span of the output; the sound within the output stage is written into ``taps``."""
    stop = stop or Stop()
    layers = take_layers(patch, takes, stop)
    buses = take_buses(patch, layers, takes, stop)
    back = return_latency(patch)
    late = {r.id: back - chain_latency(list(r.chain)) for r in patch.returns}
    clock = Clock(patch)
    output = OutputRun(patch.output, patch.tuning)
    output.record = taps
    out = np.empty((2, clock.span.total))
    record = Record()
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
    return Sum(out, output.peak_before, whole, buses, layers, output.meters, traced(record))


def render_sum(
    patch: Patch, takes: RenderCache, stop: Stop | None = None
) -> tuple[Array, float, dict[str, BusTake], dict[str, LayerTake]]:
    """The whole span of the output, (2, total), with the peak before the ceiling and what it was made from."""
    made = make_sum(patch, takes, stop)
    return made.x, made.peak, made.buses, made.layers


def render_loop(patch: Patch, takes: RenderCache | None = None, stop: Stop | None = None) -> Loop:
    """One pass of the phrase as it sounds when it runs. Raises Stopped."""
    takes = takes or RenderCache()
    stop = stop or Stop()
    made = make_sum(patch, takes, stop)
    span = span_of(patch)
    layers = made.layers
    pad = max(t.latency for t in layers.values())
    whole = joined(made.x, span.pre + made.late + OutputRun.latency, span.length)
    own = {
        layer.id: placed(layer, layers[layer.id], pad - layers[layer.id].latency, span.pre + pad, span.length)
        for layer in patch.layers
    }
    behind = made.late - return_latency(patch)
    worked = joined(made.buses["worked"].x.astype(np.float64), span.pre + behind, span.length)
    first = span.pre // TRAVEL_STEP
    count = -(-span.length // TRAVEL_STEP)
    parts: list[LayerTake | BusTake] = [*layers.values(), *made.buses.values()]
    travel = {p: v[first : first + count] for take in parts for p, v in take.travel.items()}
    meters = {k: v for take in parts for k, v in take.meters.items()} | made.meters
    traces = {p: v for take in parts for p, v in take.traces.items()} | made.traces
    traces = {p: np.pad(v, (0, max(0, first + count - v.size)))[first : first + count] for p, v in traces.items()}
    return Loop(whole, own, worked, meters, travel, made.peak, traces=traces)


def render_layer(patch: Patch, layer_id: str, takes: RenderCache, stop: Stop) -> Array:
    """One pass of a layer alone, behind its chain and at its place, as early as it can be, (2, n). Raises Stopped."""
    layer = patch.layer(layer_id)
    if followed(patch)[layer_id]:
        take = take_layers(patch, takes, stop)[layer_id]
    else:
        voices = take_voices_of(patch, layer, {}, takes, stop)
        take = take_chain(patch, layer, voices, stop, {}, Record())
    span = span_of(patch)
    return placed(layer, take, 0, span.pre + take.latency, span.length)


def render_bars(patch: Patch, bars: int, takes: RenderCache | None = None) -> Array:
    """``bars`` bars of the running loop, (2, n) float64, repeating or cutting the phrase."""
    whole = render_loop(patch, takes).sum
    n = round(bars * 4 * samples_per_beat(patch.tempo))
    times = -(-n // whole.shape[1])
    return np.tile(whole, (1, times))[:, :n]
