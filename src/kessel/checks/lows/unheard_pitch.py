"""Sources that are played below what is heard."""

from __future__ import annotations

from ...patch import Edit, Layer, Oscillator, note_name, number, write
from ..evidence import Evidence
from ..finding import Finding, Fix, Limits, Where
from ..sounding import can_sound, oscillators, sounds_at

LOWEST_HZ = 20.0
"""Below this a tone has no pitch."""


def unheard_pitch(e: Evidence, limits: Limits) -> list[Finding]:
    """Sources whose pitch on the lowest note is below what is heard, by their tuning alone."""
    if not e.notes:
        return []
    note = min(e.notes, key=lambda n: n.pitch)
    found = []
    for layer_id, sources in can_sound(e.patch).items():
        layer = e.patch.layer(layer_id)
        for source in oscillators(sources):
            hz = abs(sounds_at(e.patch, layer, source, note.pitch))
            if hz >= LOWEST_HZ:
                continue
            path = f"layers.{layer.id}.sources.{source.id}.octave"
            found.append(
                Finding(
                    check="unheard-pitch",
                    verdict="look",
                    title=f"{layer.name} {source.name} is played below what is heard",
                    text=f"{write(hz, 'Hz')} on {note_name(note.pitch)}, the lowest note",
                    value=hz,
                    unit="Hz",
                    limit=LOWEST_HZ,
                    limit_text=write(LOWEST_HZ, "Hz"),
                    where=Where((layer.id,), note_name(note.pitch), note.beat, path=path),
                    fixes=_up(e, layer, source, hz),
                )
            )
    return found


def _up(e: Evidence, layer: Layer, source: Oscillator, hz: float) -> tuple[Fix, ...]:
    """As many octaves up as bring it to where it is heard, if its range reaches that far."""
    path = f"layers.{layer.id}.sources.{source.id}.octave"
    up = 0
    while 0.0 < hz * 2.0**up < LOWEST_HZ:
        up += 1
    if not up or source.sync == "source" or source.offset or source.octave + up > number(e.patch, path).high:
        return ()
    far = "an octave" if up == 1 else f"{up} octaves"
    return (Fix(f"{source.name} {far} up", (Edit(path, source.octave + up),), hz * 2.0**up),)
