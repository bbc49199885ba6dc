"""Whether movements are audible, and whether notes let them open."""

from __future__ import annotations

from functools import partial
from itertools import pairwise

import numpy as np

from ...engine import RATE, envelope_after, samples_per_beat
from ...patch import (
    ControlPath,
    Curve,
    Edit,
    Envelope,
    Layer,
    Lfo,
    Macro,
    Movement,
    Mover,
    Performance,
    note_name,
    number,
    title,
    write,
)
from ..evidence import Evidence
from ..finding import Finding, Fix, Limits, Where
from ..notes import HeardNote

_LEAST_WAY = 0.004
"""Share of its range that a control must cover to count as moving."""
_FAR_UNDER = 54.0
"""dB below a layer's loudest moment from which a movement is examined more closely."""
_SILENT_MOVE = -40.0
"""Change in dB against the layer below which a movement counts as inaudible."""


def _rests(mover: Mover, e: Evidence) -> bool:
    """Whether a mover waits for a controller that the phrase does not have."""
    if isinstance(mover, Macro):
        return not (mover.drawn and len(mover.points) > 1)
    lanes = {"wheel": e.patch.phrase.wheel, "pressure": e.patch.phrase.pressure, "bend": e.patch.phrase.bend}
    return isinstance(mover, Performance) and mover.what in lanes and not lanes[mover.what]


def _reach(e: Evidence, m: Movement) -> tuple[float, float] | None:
    values = e.loop.travel.get(m.target)
    if values is None or not np.isfinite(values).any():
        return None
    return float(np.nanmin(values)), float(np.nanmax(values))


def _changes(e: Evidence, m: Movement, layer: str) -> float:
    """What a movement changes in its layer, in dB against it."""
    still = e.with_edits((Edit(f"movements.{m.id}.amount", 0.0),))
    own = e.loop.layers[layer]
    rms = float(np.sqrt(np.mean(own**2)))
    other = float(np.sqrt(np.mean((own - still.loop.layers[layer]) ** 2)))
    return 20.0 * float(np.log10(max(other, 1e-9) / max(rms, 1e-9)))


def _to_the_sound(e: Evidence, m: Movement, layer: str) -> Fix | None:
    """Candidates that bring a cutoff's travel to where the layer has energy."""
    hz = np.geomspace(20.0, 20000.0, 400)
    power = 10.0 ** (e.spectrum(layer).curve(hz) / 10.0)
    middle = 2.0 ** float(np.average(np.log2(hz), weights=power))
    control = number(e.patch, m.target)
    goal = control.tidy(middle * 2.0 ** (-0.5 * m.amount if not m.both_ways else 0.0))
    edits = (Edit(m.target, goal),)
    after = _changes(e.with_edits(edits), m, layer)
    return (
        Fix(f"Move it to where the layer sounds: {write(goal, 'Hz')}", edits, after) if after > _SILENT_MOVE else None
    )


def idle_movement(e: Evidence, limits: Limits) -> list[Finding]:
    """Movements without travel, or where nothing sounds."""
    found = [_idle(e, m) for m in e.patch.movements]
    return [f for f in found if f is not None]


def _idle(e: Evidence, m: Movement) -> Finding | None:
    """The finding about a movement that can't be heard. None if it can, or is not judged."""
    reach = None if m.lost or _waits(e, m) else _reach(e, m)
    if reach is None:
        return None
    control = number(e.patch, m.target)
    low, high = (control.from_scale(v) for v in reach)
    span = f"between {control.write(low)} and {control.write(high)}"
    path = ControlPath(m.target)
    layers: tuple[str, ...] = (path.layer,) if path.layer else ()
    distance = control.position(high) - control.position(low)
    if distance < _LEAST_WAY:
        mover = next(x for x in e.patch.movers if x.id == m.mover)
        text = f"{mover.name} moves it only {span}"
        return _unheard(
            e, m, text, (100.0 * distance, 100.0 * _LEAST_WAY, "% of its range"), Where(layers, path=m.target)
        )
    of_stage = bool(layers) and path.steps[2] == "stages" and control.unit == "Hz"
    if not of_stage or _sounds_near(e, layers[0], low, high):
        return None
    change = _changes(e, m, layers[0])
    if change > _SILENT_MOVE:
        return None
    text = f"The layer has no sound {span}: the change is {write(change, 'dB')}"
    where = Where(layers, low_hz=low, high_hz=high, path=m.target)
    fixes = e.sought(partial(_to_the_sound, e, m, layers[0]))
    return _unheard(e, m, text, (change, _SILENT_MOVE, "dB"), where, fixes)


def _waits(e: Evidence, m: Movement) -> bool:
    """Whether a mover of the movement is at rest: it may be used live."""
    return any(_rests(x, e) for x in e.patch.movers if x.id in (m.mover, m.scaled_by))


def _sounds_near(e: Evidence, layer: str, low: float, high: float) -> bool:
    """Whether a layer has sound near a span of frequencies, or is silent throughout: then the span is not at fault."""
    if e.patch.layer(layer).mute or float(np.abs(e.loop.layers[layer]).max(initial=0.0)) < 1e-5:
        return True
    hz = np.geomspace(20.0, 20000.0, 240)
    levels = e.spectrum(layer).curve(hz, hold=True)
    near = (hz > low / 1.5) & (hz < high * 1.5)
    return bool(near.any() and levels[near].max() > levels.max() - _FAR_UNDER)


def _unheard(
    e: Evidence, m: Movement, text: str, figure: tuple[float, float, str], where: Where, fixes: tuple[Fix, ...] = ()
) -> Finding:
    """figure: value, limit and unit."""
    value, limit, unit = figure
    return Finding(
        check="idle-movement",
        verdict="look",
        title=f"The movement of {title(e.patch, m.target)} can't be heard",
        text=text,
        value=value,
        unit=unit,
        limit=limit,
        limit_text=f"{limit:g} {unit}".replace("-", "−"),
        where=where,
        fixes=fixes,
    )


# notes and envelopes


def _shortest(e: Evidence, layer: Layer) -> HeardNote | None:
    """The shortest note that restarts a layer."""
    if layer.play.mode == "drone":
        return None
    beat = samples_per_beat(e.patch.tempo)
    ends = {n.id: n.start + n.length for n in e.patch.phrase.notes}
    found: list[HeardNote] = []
    before = None
    for note in e.notes:
        slid = before is not None and ends[before.id] > note.beat + 1e-9
        if not (layer.play.mode == "legato" and slid):
            found.append(note)
        before = note
    lengths = {n.id: n.length for n in e.patch.phrase.notes}
    return min(found, key=lambda n: min(n.length, lengths[n.id] * beat), default=None)


def short_notes(e: Evidence, limits: Limits) -> list[Finding]:
    """Notes that end before their level or a movement per note has opened."""
    found = []
    for layer in e.patch.layers:
        note = _shortest(e, layer)
        if note is None or layer.mute:
            continue
        reached = envelope_after(layer.envelope, note.length, e.patch.tempo)
        db = 20.0 * float(np.log10(max(reached, 1e-4)))
        if db < -limits.opening_db:
            found.append(_short_level(e, layer, note, db, limits))
    moved: set[tuple[str, str]] = set()
    for m in e.patch.movements:
        mover = next(x for x in e.patch.movers if x.id == m.mover)
        steps = ControlPath(m.target).steps
        if m.lost or steps[0] != "layers" or not isinstance(mover, Envelope) or (mover.id, steps[1]) in moved:
            continue
        layer = e.patch.layer(steps[1])
        note = _shortest(e, layer)
        if note is None or layer.mute:
            continue
        reached = envelope_after(mover, note.length, e.patch.tempo)
        if reached < 10.0 ** (-limits.opening_db / 20.0):
            moved.add((mover.id, layer.id))
            found.append(_short_way(e, layer, mover, note, reached, limits))
    return found


def _attack_for(e: Evidence, part: object, path: str, note: HeardNote) -> Edit:
    """The attack that ends in the middle of the note."""
    beats = getattr(part, "clock", "ms") == "beats"
    unit = samples_per_beat(e.patch.tempo) if beats else RATE / 1000.0
    where = f"{path}.attack_beats" if beats else f"{path}.attack"
    return Edit(where, number(e.patch, where).tidy(0.5 * note.length / unit))


def _short_level(e: Evidence, layer: Layer, note: HeardNote, db: float, limits: Limits) -> Finding:
    edit = _attack_for(e, layer.envelope, f"layers.{layer.id}.envelope", note)
    with_it = e.with_edits((edit,)).patch.layer(layer.id)
    after = 20.0 * float(np.log10(max(envelope_after(with_it.envelope, note.length, e.patch.tempo), 1e-4)))
    control = number(e.patch, edit.path)
    return Finding(
        check="short-notes",
        verdict="look",
        title=f"{layer.name} opens too slowly for its notes",
        text=f"{note_name(note.pitch)} at beat {1 + note.beat:g} ends at {write(db, 'dB')}, "
        "before the envelope is open",
        value=db,
        unit="dB",
        limit=-limits.opening_db,
        limit_text=f"{write(-limits.opening_db, 'dB')}",
        limit_name="opening_db",
        where=Where((layer.id,), note_name(note.pitch), note.beat, path=edit.path),
        fixes=(Fix(f"Attack to {control.write(float(edit.value))}", (edit,), after),),
    )


def _short_way(e: Evidence, layer: Layer, mover: Envelope, note: HeardNote, reached: float, limits: Limits) -> Finding:
    edit = _attack_for(e, mover, f"movers.{mover.id}", note)
    new = next(m for m in e.with_edits((edit,)).patch.movers if m.id == mover.id)
    after = 100.0 * envelope_after(new, note.length, e.patch.tempo) if isinstance(new, Envelope) else None
    least = 100.0 * 10.0 ** (-limits.opening_db / 20.0)
    control = number(e.patch, edit.path)
    return Finding(
        check="short-notes",
        verdict="look",
        title=f"{mover.name} is too slow for the notes of {layer.name}",
        text=f"{note_name(note.pitch)} at beat {1 + note.beat:g} ends when the movement "
        f"has reached {100 * reached:.0f} %",
        value=100.0 * reached,
        unit="%",
        limit=least,
        limit_text=f"{least:.0f} %",
        where=Where((layer.id,), note_name(note.pitch), note.beat, path=edit.path),
        fixes=(Fix(f"Attack to {control.write(float(edit.value))}", (edit,), after),),
    )


def restarts(e: Evidence, limits: Limits) -> list[Finding]:
    """Movers per note that restart where notes slide, or do not where notes repeat."""
    ends = {n.id: n.start + n.length for n in e.patch.phrase.notes}
    slid = [b for a, b in pairwise(e.notes) if ends[a.id] > b.beat + 1e-9]
    if not slid:
        return []
    found = [_against_the_play_style(e, layer, slid) for layer in e.patch.layers if not layer.mute]
    return [f for f in found if f is not None]


def _started_by_notes(mover: Mover) -> bool:
    return isinstance(mover, Envelope) or (
        isinstance(mover, Curve | Lfo) and (mover.restart == "note" or getattr(mover, "play", "") == "hold")
    )


def _against_the_play_style(e: Evidence, layer: Layer, slid: list[HeardNote]) -> Finding | None:
    """The finding about a layer whose movers restart against its play style. slid: notes that overlap earlier ones."""
    movers = {m.id: m for m in e.patch.movers}
    moving = [m for m in e.patch.movements if not m.lost and m.target.startswith(f"layers.{layer.id}.")]
    names = " and ".join({m.mover: movers[m.mover].name for m in moving if _started_by_notes(movers[m.mover])}.values())
    many = f"{len(slid)} overlapping note" + ("" if len(slid) == 1 else "s")
    if names and layer.play.mode == "mono" and layer.play.glide > 0:
        heading, mode = f"{names} restarts where {layer.name} glides", "legato"
        text = f"Its play style is mono with a glide: {many} restart the movement"
    elif names and layer.play.mode == "legato" and layer.play.glide == 0:
        heading, mode = f"{names} does not start on overlapping notes of {layer.name}", "mono"
        text = f"Its play style is legato without a glide: {many} continue the movement"
    else:
        return None
    path = f"layers.{layer.id}.play.mode"
    return Finding(
        check="restarts",
        verdict="look",
        title=heading,
        text=text,
        value=float(len(slid)),
        unit="notes",
        limit=0.0,
        limit_text="no overlapping notes against the play style",
        where=Where((layer.id,), note_name(slid[0].pitch), slid[0].beat, path=path),
        fixes=(Fix(f"Play {layer.name} {mode}", (Edit(path, mode),), 0.0),),
    )


__all__ = ["idle_movement", "restarts", "short_notes"]
