"""What takes a source off the pitch of the note, and its name in findings."""

from __future__ import annotations

from collections.abc import Iterator

from ...patch import Edit, Layer, Oscillator, Patch, Source, write
from ..finding import Candidate

_MOVED = ("semitones", "cents")


def called(layer: Layer, source: Source) -> str:
    """The name of a source: its layer's, if that has no other."""
    return layer.name if len(layer.sources) == 1 else f"{source.name} of {layer.name}"


def untuned(patch: Patch, layer: Layer, source: Source) -> Iterator[Candidate]:
    """Each thing that takes a source off its pitch, taken away."""
    if not isinstance(source, Oscillator):
        return
    own, name = f"layers.{layer.id}.sources.{source.id}", called(layer, source)
    if source.cents:
        yield f"Take the {write(source.cents, 'ct')} of detune of {name} away", (Edit(f"{own}.cents", 0.0),)
    if layer.play.fine:
        yield f"Take the fine tuning of {layer.name} away", (Edit(f"layers.{layer.id}.play.fine", 0.0),)
    if source.offset:
        yield f"Take the offset of {name} away", (Edit(f"{own}.offset", 0.0),)
    if source.drift:
        yield f"Take the drift of {name} away", (Edit(f"{own}.drift", 0.0),)
    targets = {f"{own}.{field}" for field in _MOVED}
    moves = [m for m in patch.movements if m.target in targets and m.amount and not m.lost]
    if moves:
        yield f"Take the pitch movement of {name} away", tuple(Edit(f"movements.{m.id}.amount", 0.0) for m in moves)
