"""Sound through a chain, as the engine runs it."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray
from pydantic import TypeAdapter

from kessel.engine import QUANTUM
from kessel.engine.effects.base import VoiceContext
from kessel.engine.effects.chain import Chain, ChainRecorder
from kessel.engine.modulation.transport import TransportContext
from kessel.patch import ChainItem

ITEM: TypeAdapter[Any] = TypeAdapter(ChainItem)
KINDS = (
    "distortion", "eq", "filter", "ladder", "comb", "vowel", "allpass", "compressor", "expander", "multiband",
    "ceiling", "chorus", "thicken", "phaser", "flanger", "echo", "space", "width", "auto-pan", "shift", "beat-shape",
    "cabinet", "vocoder", "branch",
)  # fmt: skip


def item(kind: str, **words: Any) -> Any:
    """An item of a kind with some of its controls set."""
    return ITEM.validate_python({"kind": kind, "id": "it", "name": "It"} | words)


def transport(start: int = 0) -> TransportContext:
    """120 BPM, a kick on every beat."""
    return TransportContext(
        start=start, length=96000, tempo=120.0, seed=1, beats=4.0, kicks=tuple(float(k) for k in range(8))
    )


def through(
    x: NDArray[np.float64], *items: Any, octaves: float = 0.0, record: ChainRecorder | None = None, batch_size: int = 1
) -> NDArray[np.float64]:
    """x, (n,) or (2, n), through items; whole quanta are made of it and the rest is cut off again.

    at_once: quanta that are worked on together, after the first.
    """
    both = np.repeat(np.atleast_2d(x), 2, axis=0) if np.ndim(x) == 1 else np.asarray(x)
    n = both.shape[1]
    padded = np.pad(both, ((0, 0), (0, -n % QUANTUM)))
    chain = Chain(list(items), "worked")
    chain.record = record
    parts = []
    starts = range(0, padded.shape[1], QUANTUM)
    each = [VoiceContext({}, octaves, False, 440.0, transport(at)) for at in starts]
    first = 0
    while first < len(each):
        own = each[first : first + (batch_size if first and chain.calm else 1)]
        block = np.ascontiguousarray(padded[:, starts[first] : starts[first] + len(own) * QUANTUM])
        several = VoiceContext({}, octaves, False, 440.0, own[0].now, len(own), tuple(own))
        chain.process(block, own[0] if len(own) == 1 else several)
        first += len(own)
        if record is not None:
            record.count += len(own)
        parts.append(block)
    return np.concatenate(parts, axis=1)[:, :n]
