"""Layers over the whole span, rendered and cached: their voices, and their chains."""

from __future__ import annotations

import numpy as np

from ...dsp import QUANTUM
from ...patch import Layer, Patch
from ..effects import ChainRecorder
from ..mixer import Gain, LayerChain, traced
from ..voices import LayerVoices
from .cache import CancelToken, RenderCache, RenderClock, RenderedLayer, RenderedVoices
from .cache_keys import followed, layer_key, span_of, voices_key

_WORTH = 2_000_000
"""Samples times effort, without the costliest layer, from which a copy of this process saves more than it costs."""


def _render_voices(patch: Patch, layer: Layer, stop: CancelToken, heard: dict[str, RenderedLayer]) -> RenderedVoices:
    clock = RenderClock(patch)
    processor = LayerVoices(patch, layer.id)
    processor.follow_travel = True
    out = np.empty((2, clock.span.total), dtype=np.float32)

    def quanta(at: int, end: int) -> int:
        return clock.calm(at, end) if not heard and processor.can_span() else 1

    for part in clock.steps(stop, processor.row.meters.forget, quanta):
        now, events = clock.at(part.start, heard)
        now.quanta = (part.stop - part.start) // QUANTUM
        processor.render(now, events, out[:, part])
    return RenderedVoices(
        out, processor.latency, processor.row.meters.found, {path: t.values for path, t in processor.travel.items()}
    )


def render_chain(
    patch: Patch,
    layer: Layer,
    voices: RenderedVoices,
    stop: CancelToken,
    heard: dict[str, RenderedLayer],
    record: ChainRecorder,
) -> RenderedLayer:
    """A layer behind its chain, rendered anew."""
    processor = LayerChain(patch, layer.id)
    if processor.plain and record.taps is None:
        return RenderedLayer(voices.x, voices.latency, voices.meters, voices.travel)
    clock = RenderClock(patch)
    processor.processor.record = record
    out = np.empty_like(voices.x)
    sends: dict[str, list[Gain]] = {}
    for part in clock.steps(stop, processor.processor.chain.meters.forget, processor.quanta):
        block = voices.x[:, part].copy()
        if block.shape[1] > QUANTUM:
            processor.stretch(block, clock.batch(part, heard))
        else:
            processor.quantum(block, *clock.at(part.start, heard), keep=True)
        out[:, part] = block
        for to, gain in processor.moved.items():
            sends.setdefault(to, []).append(gain)
    travel = {path: t.values for path, t in processor.processor.travel.items()}
    return RenderedLayer(
        out,
        voices.latency + processor.latency,
        {**voices.meters, **processor.processor.chain.meters.found},
        {**voices.travel, **travel},
        {to: np.concatenate(parts) for to, parts in sends.items()},
        traced(record),
    )


def voices_of_layer(
    patch: Patch, layer: Layer, found: dict[str, RenderedLayer], cache: RenderCache, stop: CancelToken
) -> RenderedVoices:
    """The voices of a layer, cached or rendered. found: the layers that it follows."""
    heard = {i: found[i] for i in followed(patch)[layer.id]}
    made: RenderedVoices = cache.get(
        voices_key(patch, layer),
        lambda: _render_voices(patch, layer, stop, heard),
        f"{layer.id} voices",
    )
    return made


def render_layers(patch: Patch, cache: RenderCache, stop: CancelToken) -> dict[str, RenderedLayer]:
    """All layers, cached or rendered; two at a time where the cache allows it."""
    dependencies = followed(patch)
    found: dict[str, RenderedLayer] = {}
    left = list(patch.layers)
    while left:
        # layers that follow another one wait for it
        ready = [x for x in left if dependencies[x.id] <= set(found)]
        left = [x for x in left if x not in ready]
        if cache.shares:
            _share_layers(patch, ready, found, cache, stop)
        found |= {x.id: _layer(patch, x, found, cache, stop) for x in ready}
    return {layer.id: found[layer.id] for layer in patch.layers}


def _layer(
    patch: Patch, layer: Layer, found: dict[str, RenderedLayer], cache: RenderCache, stop: CancelToken
) -> RenderedLayer:
    """A layer, cached or rendered. found: the layers that it follows."""
    heard = {i: found[i] for i in followed(patch)[layer.id]}
    made: RenderedLayer = cache.get(
        layer_key(patch, layer),
        lambda: render_chain(
            patch, layer, voices_of_layer(patch, layer, found, cache, stop), stop, heard, ChainRecorder()
        ),
        layer.id,
    )
    return made


def _share_layers(
    patch: Patch, layers: list[Layer], found: dict[str, RenderedLayer], cache: RenderCache, stop: CancelToken
) -> None:
    """Render the layers that are missing, here and in a copy of this process, into the cache."""
    missing = [x for x in layers if not cache.has(layer_key(patch, x))]
    # the costliest first, so that both are done at about the same time
    missing.sort(key=_effort, reverse=True)
    if sum(map(_effort, missing[1:])) * span_of(patch).total < _WORTH:
        return

    cache.each(missing, lambda layer: bool(_layer(patch, layer, found, cache, stop)), stop)


def _effort(layer: Layer) -> float:
    """Roughly what a layer costs: a copy of a source a third of a stage."""
    return len(layer.sources) * (1.0 + 0.3 * layer.unison.copies) + len(layer.stages) + len(layer.chain)


def render_layer_voices(patch: Patch, layer_id: str, cache: RenderCache, stop: CancelToken) -> RenderedVoices:
    """The voices of a single layer over the whole span, before its chain. Raises RenderCancelled."""
    found = render_layers(patch, cache, stop) if followed(patch)[layer_id] else {}
    return voices_of_layer(patch, patch.layer(layer_id), found, cache, stop)
