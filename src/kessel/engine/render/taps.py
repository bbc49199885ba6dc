"""The sound before and behind every item of a chain."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from ...dsp import QUANTUM
from ...patch import Branch, ChainItem, ControlPath, Patch
from ..effects import Chain, ChainRecorder, VoiceContext, latency_of
from ..mixer import OutputStage, chain_latency, fed
from ..modulation import Array
from .cache import CancelToken, RenderCache
from .cache_keys import followed, span_of
from .layers import render_chain, render_layers, voices_of_layer
from .loop import (
    loop_crossfade,
    mix_layers,
    render_buses,
    render_return,
    render_worked_path,
)

OUTPUT = "output"


@dataclass
class Taps:
    """One pass of the loop at every place of a chain, (2, n), by path. The path of the chain is its input.

    before: the path of the input of every item.
    """

    x: dict[str, NDArray[np.float32]] = field(default_factory=dict)
    before: dict[str, str] = field(default_factory=dict)


def places_of_chains(patch: Patch) -> list[str]:
    """Paths of all chains of a patch that have items and are heard."""
    found = [f"layers.{x.id}.chain" for x in patch.layers if x.chain]
    found += ["worked"] if patch.worked else []
    heard = fed(patch)
    return found + [f"returns.{r.id}.chain" for r in patch.returns if r.chain and r.id in heard]


def _late(items: list[ChainItem], place: str, before: int, late: dict[str, int], previous: dict[str, str]) -> None:
    """Latency behind every item, and its input."""
    late[place] = before
    at, last = before, place
    for item in items:
        path = f"{place}.{item.id}"
        previous[path] = last
        if isinstance(item, Branch):
            for branch_path in item.paths:
                _late(list(branch_path.items), f"{path}.paths.{branch_path.id}.items", at, late, previous)
        at += latency_of(item)
        late[path] = at
        last = path


def tap_chain(patch: Patch, place: str, cache: RenderCache, stop: CancelToken | None = None) -> Taps:
    """The loop at every place of a chain or of the output stage. Raises KeyError.

    place: ``layers.ID.chain``, ``worked``, ``returns.ID.chain`` or ``output``.
    """
    stop = stop or CancelToken()
    if place == OUTPUT:
        return _tap_output(patch, cache, stop)
    layers = render_layers(patch, cache, stop)
    record = ChainRecorder(taps=True)
    pad = max(t.latency for t in layers.values())
    steps = ControlPath(place).steps
    items: list[ChainItem]
    if steps[0] == "layers":
        layer = patch.layer(steps[1])
        voices = voices_of_layer(patch, layer, layers, cache, stop)
        heard = {i: layers[i] for i in followed(patch)[layer.id]}
        render_chain(patch, layer, voices, stop, heard, record)
        items, first = list(layer.chain), voices.latency
    elif steps[0] == "worked":
        render_worked_path(patch, layers, stop, record)
        items, first = list(patch.worked), pad
    else:
        part = next((r for r in patch.returns if r.id == steps[1]), None)
        if part is None:
            raise KeyError(place)
        worked = render_buses(patch, layers, cache, stop)["worked"]
        render_return(patch, part.id, layers, worked, chain_latency(list(patch.worked)), stop, record)
        items, first = list(part.chain), pad + chain_latency(list(patch.worked))
    late: dict[str, int] = {}
    found = Taps()
    _late(items, place, first, late, found.before)
    span = span_of(patch)
    for path, parts in (record.taps or {}).items():
        x = np.concatenate(parts, axis=1).astype(np.float64)
        found.x[path] = loop_crossfade(x, span.pre + late[path], span.length).astype(np.float32)
    return found


def _tap_output(patch: Patch, cache: RenderCache, stop: CancelToken) -> Taps:
    record = ChainRecorder(taps=True)
    made = mix_layers(patch, cache, stop, record)
    span = span_of(patch)
    found = Taps()
    last = OUTPUT
    for path, parts in (record.taps or {}).items():
        late = made.late + (OutputStage.latency if path == f"{OUTPUT}.ceiling" else 0)
        x = np.concatenate(parts, axis=1).astype(np.float64)
        found.x[path] = loop_crossfade(x, span.pre + late, span.length).astype(np.float32)
        if path != OUTPUT:
            found.before[path] = last
        last = path
    return found


def through_item(part: ChainItem, x: Array) -> Array:
    """x, (2, n) of whole quanta, through a single unmoved item."""
    chain = Chain([part], "worked")
    out = np.array(x)
    for at in range(0, x.shape[1], QUANTUM):
        block = np.ascontiguousarray(out[:, at : at + QUANTUM])
        chain.process(block, VoiceContext())
        out[:, at : at + QUANTUM] = block
    return out
