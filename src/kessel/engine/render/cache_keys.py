"""Cache keys of renderings: everything that they depend on, and nothing else."""

from __future__ import annotations

import hashlib
import json
import math
from dataclasses import dataclass
from typing import Any

from ...dsp import QUANTUM, RATE
from ...patch import (
    PARTS,
    ChainItem,
    Envelope,
    Follower,
    Layer,
    Oscillator,
    Patch,
    Segments,
    layer_dependencies,
    movers_below,
    within,
)
from ..clock import loop_samples, samples_per_beat
from ..mixer import below_of, chain_latency, fed, kicked_by, moved_faders, return_latency
from ..voices import voices_below

ENGINE_VERSION = 7
SEAM = RATE // 100
SETTLE = RATE // 5


@dataclass
class Span:
    """The rendered span in samples: pre-roll, the loop, and what follows it."""

    pre: int
    length: int
    total: int


def _items(patch: Patch) -> list[ChainItem]:
    """Every item of every chain that receives anything."""
    heard = fed(patch)
    chains = [list(x.chain) for x in patch.layers] + [list(patch.worked)]
    chains += [list(r.chain) for r in patch.returns if r.id in heard]
    return [i for chain in chains for i in within(chain) if i.on]


def _ring(item: ChainItem, beat: float) -> float:
    """Length of an effect's tail in samples, until it has fallen by 50 dB."""
    tail = PARTS[item.kind].tail
    return 0.0 if tail is None else tail(item, beat, RATE / 1000.0)


def span_of(patch: Patch) -> Span:
    """The span that has to be rendered around the loop.

    Tails are rounded up to whole bars, so that turning them rarely renders everything anew.
    """
    length = loop_samples(patch.phrase, patch.tempo)
    ms = RATE / 1000.0
    beat = samples_per_beat(patch.tempo)
    shapes: list[Segments] = [layer.envelope for layer in patch.layers]
    shapes += [m for m in patch.movers if isinstance(m, Envelope)]
    tail = 50 * ms + max(s.release * ms if s.clock == "ms" else s.release_beats * beat for s in shapes)
    ring = max((_ring(i, beat) for i in _items(patch)), default=0.0)
    tail += math.ceil(ring / (4.0 * beat)) * 4.0 * beat
    last = max((n.start for n in patch.phrase.notes), default=0.0)
    back = (patch.phrase.beats - last) * beat
    pre = min(length, int(tail + back) + SETTLE, round(8 * beat))
    pre = -(-pre // QUANTUM) * QUANTUM
    late = chain_latency(list(patch.worked)) + return_latency(patch)
    total = pre + length + SEAM + 5 * QUANTUM + -(-late // QUANTUM) * QUANTUM
    return Span(pre, length, -(-total // QUANTUM) * QUANTUM)


def digest(*parts: Any) -> str:
    """A digest of plain data."""
    text = json.dumps(parts, sort_keys=True, default=str)
    return hashlib.blake2b(text.encode(), digest_size=16).hexdigest()


FADER = {"level", "pan", "width", "polarity", "delay", "mute", "path", "name", "hatch"}
_AFTER = {"chain", "range", "sends"}


def followed(patch: Patch) -> dict[str, set[str]]:
    """The layers that each layer follows."""
    return layer_dependencies(patch)


def heard_by(patch: Patch, *below: str) -> set[str]:
    """Ids of the layers that the movers of some path prefixes follow."""
    used = movers_below(patch, *below)
    return {m.layer for m in patch.movers if isinstance(m, Follower) and m.layer and m.id in used}


def _moved(patch: Patch, *below: str) -> list[Any]:
    """What moves the controls below some path prefixes, and the layers that it follows."""
    used = movers_below(patch, *below)
    mine = (*below, *(f"movers.{i}." for i in used))
    own = [m.model_dump() for m in patch.movements if not m.lost and m.target.startswith(mine)]
    movers = [m.model_dump(exclude={"name"}) for m in patch.movers if m.id in used]
    return [own, movers, [layer_key(patch, patch.layer(i)) for i in sorted(heard_by(patch, *below))]]


def _played(patch: Patch) -> list[Any]:
    span = span_of(patch)
    notes = patch.phrase.model_dump(exclude={"root", "scale"})
    return [ENGINE_VERSION, notes, patch.tempo, patch.tuning, patch.seed, span.pre, span.total]


def voices_key(patch: Patch, layer: Layer) -> str:
    """Everything that the voices of a layer depend on."""
    drawn = {s.wave for s in layer.sources if isinstance(s, Oscillator)}
    return digest(
        _played(patch),
        layer.model_dump(exclude=FADER | _AFTER),
        _moved(patch, *voices_below(layer.id)),
        [w.frames for w in patch.waves if w.id in drawn],
    )


def _kick(patch: Patch, chain: list[ChainItem]) -> str:
    return patch.backing.beat.pattern if kicked_by(chain) else ""


def layer_key(patch: Patch, layer: Layer) -> str:
    """Everything that a layer before its fader depends on."""
    below = below_of(layer.id)
    moved = {name: getattr(layer, name) for name in sorted(moved_faders(patch)[layer.id])}
    return digest(
        voices_key(patch, layer),
        layer.range.model_dump(),
        [i.model_dump() for i in layer.chain],
        [s.model_dump() for s in layer.sends] if _moved(patch, f"layers.{layer.id}.sends.")[0] else [],
        _moved(patch, *below),
        moved,
        _kick(patch, list(layer.chain)),
    )


def bus_key(patch: Patch, path: str, pads: dict[str, int], late: int) -> str:
    """Everything that one bus depends on. pads: delay of every layer in samples. late: delays of all."""
    own = [layer for layer in patch.layers if layer.path == path]
    faders = [layer.model_dump(include=FADER - {"name", "hatch"}) for layer in own]
    chain: Any = late
    if path == "worked":
        moved = _moved(patch, "worked.", "sends.")
        chain = [i.model_dump() for i in patch.worked], moved, _kick(patch, list(patch.worked))
        chain = [*chain, _played(patch)]
    return digest(
        path, span_of(patch).total, [layer_key(patch, x) for x in own], [pads[x.id] for x in own], faders, chain
    )


def return_key(patch: Patch, return_id: str, pads: dict[str, int], late: int, worked: str) -> str:
    """Everything that a return depends on."""
    part = next(r for r in patch.returns if r.id == return_id)
    own = [
        [layer_key(patch, x), x.model_dump(include=FADER - {"name", "hatch"}), pads[x.id], x.sends]
        for x in patch.layers
    ]
    return digest(
        part.model_dump(exclude={"name"}),
        own,
        late,
        worked if any(s.id == return_id for s in patch.sends) else "",
        [s.model_dump() for s in patch.sends],
        _moved(patch, f"returns.{return_id}.", "sends."),
        _kick(patch, list(part.chain)),
        _played(patch),
    )
