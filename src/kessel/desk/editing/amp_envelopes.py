"""Amp envelopes of single sources."""

from __future__ import annotations

from typing import Any

from ...patch import Edit, Envelope, Noise, Oscillator, Patch, Sample, free_id, part_at

_SUSTAIN = 30.0
"""Sustain in % of a new amp envelope: low enough to be heard at once."""


def own_envelope(patch: Patch, path: str) -> tuple[list[Edit], str]:
    """Edits that give the source at ``path`` a new amp envelope of its own, and the step as text."""
    source: Any = part_at(patch, path, (Oscillator, Noise, Sample), "source")
    new = Envelope(
        id=free_id(f"{source.name} amp", [m.id for m in patch.movers]),
        name=f"{source.name[:56]} amp",
        sustain=_SUSTAIN,
    )
    return [
        Edit("movers", [*(m.model_dump() for m in patch.movers), new.model_dump()]),
        Edit(f"{path}.envelope", new.id),
    ], f"Amp envelope for {source.name}"
