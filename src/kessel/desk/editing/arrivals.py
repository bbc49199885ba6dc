"""What comes in is safe: where a new layer stands, and which sines stay out of a unison."""

from __future__ import annotations

from ...checks import sounds_at
from ...patch import ControlPath, Edit, Layer, Noise, Oscillator, Patch, Sample, get, pitch_hz

LOWS_HZ = 120.0
"""Below this, copies of a sine that drift apart take the lows away."""


def _lowest_note(patch: Patch) -> float:
    return float(min((n.pitch for n in patch.phrase.notes), default=36))


def place_of(patch: Patch, layer: Layer) -> int:
    """Where a new layer stands among those of a patch: above all that begin as low as it does, or lower."""
    own = _begins(patch, layer)
    return max((n + 1 for n, other in enumerate(patch.layers) if _begins(patch, other) <= own), default=0)


def _begins(patch: Patch, layer: Layer) -> float:
    """The lowest frequency of a layer in Hz: of its pitch on the phrase's lowest note, or of its low cut.

    What has no pitch, or keeps the one it was recorded at, stands above what has one.
    """
    note = _lowest_note(patch)
    found = [sounds_at(patch, layer, s, note) for s in layer.sources if isinstance(s, Oscillator)]
    found += [pitch_hz(note, patch.tuning) for s in layer.sources if isinstance(s, Sample) and s.follows == "note"]
    if not found and any(isinstance(s, Noise | Sample) for s in layer.sources):
        found = [2000.0]
    return max(min(map(abs, found), default=0.0), layer.range.low)


def stays_single(patch: Patch, layer: Layer, source: Oscillator) -> bool:
    """Whether a source is a sine that sounds in the lows on the phrase's lowest note."""
    return source.shape == "sine" and abs(sounds_at(patch, layer, source, _lowest_note(patch))) < LOWS_HZ


def with_single_lows(patch: Patch, edit: Edit) -> list[Edit]:
    """An edit of the number of copies, and with the first unison of a layer those that keep its low sines single."""
    steps = ControlPath(edit.path).steps
    if steps[0] != "layers" or steps[2:] != ("unison", "copies") or get(patch, edit.path) > 1 or edit.value < 2:
        return [edit]
    layer = patch.layer(steps[1])
    others = [s for s in layer.sources if not (isinstance(s, Oscillator) and stays_single(patch, layer, s))]
    # in a layer of nothing else, the copies are what is wanted
    low = [s for s in layer.sources if s not in others and isinstance(s, Oscillator) and s.unison] if others else []
    return [edit, *(Edit(f"layers.{layer.id}.sources.{s.id}.unison", False) for s in low)]
