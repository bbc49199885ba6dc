"""Which stage or effect shuts out the fundamental of a layer, and how it would let it through."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

import numpy as np

from ...engine import complex_response
from ...patch import Edit, Layer, number, write
from ..evidence import SUM, Evidence
from ..finding import Candidate, Limits
from ..notes import HeardNote


@dataclass(frozen=True)
class Shut:
    """An item of a layer that shuts out the fundamental at ``hz``. loss: how far the sum's falls by it, in dB.

    bare: the evidence without it.
    """

    layer: Layer
    item: Any
    path: str
    hz: float
    loss: float
    bare: Evidence


def shut_on(e: Evidence, note: HeardNote, limits: Limits) -> list[Shut]:
    """The filters of layers that take the fundamental of a note off the sum, where nothing else carries it."""
    found = []
    for layer in e.patch.layers:
        if not e.has_pitch(layer):
            continue
        hz = e.note_hz(note, e.lowest_ratio(layer))
        if layer.range.low > hz:
            continue
        own = f"layers.{layer.id}"
        items = [(f"{own}.stages.{x.id}", x) for x in layer.stages] + [(f"{own}.chain.{x.id}", x) for x in layer.chain]
        for path, item in items:
            if not item.on or _kindest(e, path, item, note, hz) > -limits.shut_db:
                continue
            bare = e.with_edits((Edit(f"{path}.on", False),))
            loss = taken_off(e, bare, note, hz)
            if loss > limits.shut_db:
                found.append(Shut(layer, item, path, hz, loss, bare))
    return found


def gentler(it: Shut) -> Iterator[Candidate]:
    """Candidates with less of the item: its cutoff below the fundamental, less of it, none of it."""
    if getattr(it.item, "type", "") == "high-pass":
        cutoff = number(it.bare.patch, f"{it.path}.cutoff")
        for share in (0.9, 0.7, 0.5):
            value = cutoff.tidy(float(f"{share * it.hz:.2g}"))
            if value < it.item.cutoff:
                yield f"{it.item.name} cutoff to {cutoff.write(value)}", (Edit(f"{it.path}.cutoff", value),)
    for mix in (70.0, 50.0, 30.0):
        if mix < it.item.mix:
            yield f"{it.item.name} mix to {write(mix, '%')}", (Edit(f"{it.path}.mix", mix),)
    yield f"Switch {it.item.name} off", (Edit(f"{it.path}.on", False),)


def taken_off(e: Evidence, bare: Evidence, note: HeardNote, hz: float) -> float:
    """How far the fundamental of the sum is below that of ``bare``, in dB."""
    levels = []
    for x in (e, bare):
        frames = x.partials(SUM, note, hz, 8, 0.0)
        if not frames.shape[0]:
            return 0.0
        levels.append(max(float(np.sqrt(np.square(np.abs(frames[:, 0])).mean())), 1e-9))
    return 20.0 * float(np.log10(levels[1] / levels[0]))


def _kindest(e: Evidence, path: str, item: Any, note: HeardNote, hz: float) -> float:
    """Level in dB that an item leaves of a frequency, where its moved cutoff leaves most."""
    options = [item]
    values = e.loop.travel.get(f"{path}.cutoff")
    if values is not None and np.isfinite(values).any():
        options = [item.model_copy(update={"cutoff": float(2.0**v)}) for v in (np.nanmin(values), np.nanmax(values))]
    found = []
    for option in options:
        h = complex_response(option, np.array([hz]), float(note.pitch), e.patch.tuning)
        if h is None:
            return 0.0
        found.append(20.0 * float(np.log10(max(abs(h[0]), 1e-5))))
    return max(found)
