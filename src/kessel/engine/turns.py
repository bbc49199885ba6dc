"""Turned controls: what is applied to a running engine when nothing but values changed.

A turn of one control must cost little, because a live stream applies one before nearly every quantum while something is
dragged. ``Engine.update`` looks at everything; here only the parts that changed are told. Both ways sound the same.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from ..patch import ChainItem, Control, Layer, Mover, Part, Patch, Source, declarations
from .edits import UNHEARD, same_parts
from .effects import latency_of
from .mixer import LayerChain, OutputStage, ReturnBus, WorkedPath
from .voices import LayerVoices

_PLACED = {"level", "pan", "width", "delay"}
"""Fields of a layer that its place in the mix is made of."""
_SOURCE = {"level", "semitones", "cents"}
"""Controls of a source on which nothing depends but a running parameter."""


def changed_fields(before: Part, after: Part) -> list[str]:
    """The fields in which two parts of one type hold different objects. Parts that did not change are shared."""
    return [n for n in type(before).model_fields if getattr(before, n) is not getattr(after, n)]


def only_values(before: Any, after: Any) -> bool:
    """Whether two parts, or lists of parts, differ in the values of controls alone."""
    if before is after:
        return True
    if isinstance(before, list | tuple) and isinstance(after, list | tuple):
        return same_parts(before, after) and all(only_values(x, y) for x, y in zip(before, after, strict=True))
    if not isinstance(before, Part) or type(before) is not type(after):
        return bool(before == after)
    own = declarations(type(before))
    return all(
        isinstance(own.get(n), Control) or only_values(getattr(before, n), getattr(after, n))
        for n in changed_fields(before, after)
    )


def _same_latency(before: Sequence[ChainItem], after: Sequence[ChainItem]) -> bool:
    return all(x is y or latency_of(x) == latency_of(y) for x, y in zip(before, after, strict=True))


def _is_plain_source(before: Source, after: Source) -> bool:
    return before is after or _SOURCE.issuperset(changed_fields(before, after))


def _is_turn(before: Layer, after: Layer) -> bool:
    """Whether a layer differs only in what ``turn_layer`` applies."""
    if not only_values(before, after) or not _same_latency(before.chain, after.chain):
        return False
    known = _PLACED | UNHEARD | {"stages", "chain", "envelope", "sources"}
    if not known.issuperset(changed_fields(before, after)):
        return False
    plain = all(_is_plain_source(x, y) for x, y in zip(before.sources, after.sources, strict=True))
    return plain and _same_latency(before.stages, after.stages)


def is_turn(before: Patch, after: Patch) -> bool:
    """Whether a patch differs only in values that can be applied one by one."""
    fields = set(changed_fields(before, after)) - UNHEARD
    if not fields <= {"layers", "worked", "output", "movers", "returns"}:
        return False
    if not all(only_values(getattr(before, n), getattr(after, n)) for n in fields):
        return False
    if not all(x is y or _is_turn(x, y) for x, y in zip(before.layers, after.layers, strict=True)):
        return False
    returns = zip(before.returns, after.returns, strict=True)
    return _same_latency(before.worked, after.worked) and all(_same_latency(x.chain, y.chain) for x, y in returns)


def turn_layer(before: Patch, patch: Patch, at: int, voices: LayerVoices, chain: LayerChain) -> None:
    """Apply the values of the layer at an index."""
    old, new = before.layers[at], patch.layers[at]
    fields = set(changed_fields(old, new))
    voices.turn(patch, new, fields)
    chain.turn(new, fields)


def turn_movers(before: Patch, patch: Patch, runs: Sequence[LayerVoices | LayerChain | WorkedPath | ReturnBus]) -> None:
    """Apply the values of movers wherever they run."""
    if before.movers is patch.movers:
        return
    changed: list[Mover] = [y for x, y in zip(before.movers, patch.movers, strict=True) if x is not y]
    for run in runs:
        run.turn_movers(changed)


def turn_buses(before: Patch, patch: Patch, worked: WorkedPath, returns: Mapping[str, ReturnBus]) -> None:
    """Apply the values of the worked path's and the returns' effects and levels."""
    if before.worked is not patch.worked:
        worked.processor.turn(list(patch.worked))
    if before.returns is not patch.returns:
        for bus in returns.values():
            bus.update(patch)


def turn_output(before: Patch, patch: Patch, output: OutputStage) -> None:
    """Apply the values of the output stage."""
    if before.output is not patch.output:
        output.update(patch.output)
