"""Whether the same note sounds the same each time it is played."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ...engine import RATE, CancelToken, RenderCache
from ...patch import (
    PARTS,
    ChainItem,
    Curve,
    Edit,
    Follower,
    Lfo,
    Macro,
    Noise,
    Note,
    Oscillator,
    Patch,
    Sample,
    note_name,
    write,
)
from ..evidence import Evidence
from ..finding import Finding, Fix, Limits, Verdict, Where
from ..items import items_below
from ..pairs import pairs_of
from ..sounding import can_sound

STRIKES = 16
LOW_HZ = 20.0
_LONGEST = 0.45
"""Seconds of a strike that are examined; a beat longer than twice this is split in two strikes."""
_REACH_HZ = 250.0
"""Sounds that stay above this frequency do not change the lows."""
_LEAST_SHARE = 10.0 ** (-30.0 / 10.0)
"""Share of the power in the lows: a layer with less cannot change them by half a dB."""
_LEAST_MOVE = 1e-6
SHARED = ""
"""Stands for the worked path and the sends where a layer is named."""

_Real = NDArray[np.float64]


@dataclass(frozen=True)
class Cause:
    """A cause of differences, as text, and the edits that remove it, if there are any."""

    layer: str
    what: str
    text: str
    edits: tuple[Edit, ...]


@dataclass(frozen=True)
class RepeatedNotes:
    """The same note played sixteen times.

    waves: the mid signal of the sum from each start on, (strikes, n), at ``rate``. levels: of each below the lows'
    edge, in dB. angles: degrees of each, by the title of a pair of layers. spread_db: loudest less softest. spread_deg:
    the widest of any pair.
    """

    pitch: int
    rate: float
    waves: _Real
    levels: tuple[float, ...]
    angles: dict[str, tuple[float, ...]]
    spread_db: float | None
    spread_deg: float | None
    causes: tuple[Cause, ...]


def _moved_freely(patch: Patch, places: Sequence[str], layer: str) -> list[Cause]:
    """Movers that do not restart with a note and move something below these places."""
    found: dict[str, Cause] = {}
    movers = {m.id: m for m in patch.movers}
    for m in patch.movements:
        if m.lost or not m.target.startswith(tuple(places)) or abs(m.amount) < _LEAST_MOVE:
            continue
        for mover in (movers.get(m.mover), movers.get(m.scaled_by)):
            runs_on = PARTS[mover.kind].runs_on(mover) if mover is not None else ""
            if mover is None or not runs_on:
                continue
            if isinstance(mover, Lfo | Curve) and "random" not in getattr(mover, "shape", ""):
                what, edit = "free-running mover", Edit(f"movers.{mover.id}.restart", "note")
            elif isinstance(mover, Follower) or (isinstance(mover, Macro) and mover.drawn):
                what, edit = "movement", Edit(f"movements.{m.id}.amount", 0.0)
            else:
                what, edit = "random", Edit(f"movements.{m.id}.amount", 0.0)
            found[mover.id] = Cause(layer, what, f"{mover.name} {runs_on}", (edit,))
    return list(found.values())


def _effects_running_on(chain: Sequence[ChainItem], place: str, layer: str) -> list[Cause]:
    """Effects of a chain that swing independently of the notes."""
    return [
        Cause(layer, "effect", f"{item.name} {PARTS[item.kind].runs_on(item)}", (Edit(f"{path}.on", False),))
        for path, item in items_below(list(chain), place)
        if item.on and item.kind in PARTS and PARTS[item.kind].runs_on(item)
    ]


def causes_of(patch: Patch) -> list[Cause]:
    """What makes repeated notes of a patch differ in the lows, layer by layer."""
    found: list[Cause] = []
    heard = can_sound(patch)
    for layer in patch.layers:
        if layer.id not in heard or layer.range.low >= _REACH_HZ:
            continue
        for s in layer.sources:
            path = f"layers.{layer.id}.sources.{s.id}"
            whose = f"{s.name} of {layer.name}"
            if isinstance(s, Noise) and s in heard[layer.id]:
                found.append(Cause(layer.id, "noise", f"{whose} is noise", ()))
            if isinstance(s, Sample) and s in heard[layer.id] and s.begins == "phrase":
                found.append(Cause(layer.id, "sample", f"{whose} runs on in its loop", ()))
            if not isinstance(s, Oscillator) or (s not in heard[layer.id] and s.to != "modulates only"):
                continue
            if s.start == "free-running":
                found.append(
                    Cause(
                        layer.id,
                        "free-running phase",
                        f"{whose} is free-running",
                        (Edit(f"{path}.start", "retrigger"),),
                    )
                )
            elif s.start == "random" and s.random_range > 0:
                text = f"{whose} starts at a random phase"
                found.append(Cause(layer.id, "random", text, (Edit(f"{path}.start", "retrigger"),)))
            if s.drift > 0:
                text = f"{whose} drifts by {write(s.drift, 'ct')}"
                found.append(Cause(layer.id, "drift", text, (Edit(f"{path}.drift", 0.0),)))
        own = f"layers.{layer.id}."
        found += _moved_freely(patch, (own,), layer.id) + _effects_running_on(layer.chain, f"{own}chain", layer.id)
    return (
        found
        + _moved_freely(patch, ("worked.", "sends."), SHARED)
        + _effects_running_on(patch.worked, "worked", SHARED)
    )


def strike_patch(patch: Patch, pitch: int | None = None) -> Patch:
    """The patch with one note played sixteen times, by default the phrase's lowest."""
    spacing = 0.5 if 60.0 / patch.tempo >= _LONGEST - 0.05 else 1.0
    if pitch is None:
        pitch = min((n.pitch for n in patch.phrase.notes), default=33)
    notes = [
        Note(id=f"s{i}", pitch=pitch, start=i * spacing, length=0.9 * spacing, velocity=100) for i in range(STRIKES)
    ]
    phrase = patch.phrase.model_copy(
        update={"bars": int(STRIKES * spacing / 4.0), "notes": notes, "bend": [], "wheel": [], "pressure": []}
    )
    return patch.model_copy(update={"phrase": phrase})


def _circular_spread(degrees: _Real) -> float:
    """The smallest arc that holds all angles."""
    a = np.sort(np.mod(degrees, 360.0))
    gaps = np.diff(np.append(a, a[0] + 360.0))
    return float(360.0 - gaps.max())


def strike(
    patch: Patch, limits: Limits, takes: RenderCache | None = None, stop: CancelToken | None = None
) -> RepeatedNotes:
    """Play a patch's lowest note sixteen times and compare. Raises RenderCancelled."""
    struck = strike_patch(patch)
    e = Evidence(struck, takes, stop, False)
    x = e.middle_of_sum
    size = min(n.length for n in e.notes)
    rows = np.stack([e.stretch(x, n, 0, size) for n in e.notes])
    power = np.square(np.abs(np.fft.rfft(rows * np.hanning(size), axis=1)))
    hz = np.arange(power.shape[1]) * RATE / size
    low = power[:, (hz >= LOW_HZ) & (hz <= limits.low_hz)].sum(axis=1)
    scale = 2.0 / (size * 0.375 * size)
    levels = 10.0 * np.log10(np.maximum(2.0 * low * scale, 1e-14))
    angles = {
        p.title: tuple(n.phase for n in p.notes) for p in pairs_of(e) if len(p.notes) == STRIKES and not p.sources
    }
    audible = levels.max() > -70.0
    return RepeatedNotes(
        pitch=e.notes[0].pitch,
        rate=RATE / 4.0,
        waves=rows[:, ::4],
        levels=tuple(levels.tolist()),
        angles=angles,
        spread_db=float(levels.max() - levels.min()) if audible else None,
        spread_deg=max((_circular_spread(np.array(a)) for a in angles.values()), default=None),
        causes=tuple(causes_of(patch)),
    )


_LABELS = {
    "free-running phase": "Retrigger the oscillators on every note",
    "random": "Remove the randomness",
    "drift": "Remove the drift",
    "free-running mover": "Restart the movers with each note",
    "movement": "Take the free movement away",
    "effect": "Switch the swinging effects off",
}
"""The fix of each kind of cause."""


def _candidates(causes: Sequence[Cause]) -> dict[str, tuple[Edit, ...]]:
    """The edits that remove all causes, and those of each kind of cause, by label."""
    by_kind: dict[str, list[Edit]] = {}
    for cause in causes:
        if cause.edits:
            by_kind.setdefault(cause.what, []).extend(cause.edits)
    kinds = {_LABELS[kind]: tuple(dict.fromkeys(edits)) for kind, edits in by_kind.items()}
    if len(kinds) < 2:
        return kinds
    every = tuple(dict.fromkeys(edit for c in causes for edit in c.edits))
    return {"Make every note start alike": every} | kinds


def _fixes(e: Evidence, found: RepeatedNotes, limits: Limits) -> tuple[Fix, ...]:
    """All causes removed at once, and each kind of cause alone if that is enough."""
    fixes = []
    for label, edits in _candidates(found.causes).items():
        spread = strike(e.with_edits(edits).patch, limits, e.takes, e.stop).spread_db
        if spread is not None and found.spread_db is not None and spread < found.spread_db - 0.1:
            fixes.append(Fix(label, edits, spread))
    return tuple(sorted(fixes, key=lambda f: (f.after or 0.0) > limits.strike_db)[:3])


def _in_the_lows(e: Evidence, causes: list[Cause], limits: Limits) -> list[Cause]:
    """The causes whose layers bring enough of the lows to change them."""
    whole = sum(e.spectrum(x.id).power(LOW_HZ, limits.low_hz) for x in e.patch.layers if not x.mute)
    share = {
        c.layer: e.spectrum(c.layer).power(LOW_HZ, limits.low_hz) / max(whole, 1e-20)
        for c in causes
        if c.layer != SHARED
    }
    return [c for c in causes if c.layer == SHARED or share[c.layer] > _LEAST_SHARE]


def repeatability(e: Evidence, limits: Limits) -> list[Finding]:
    """Spread of the lows over sixteen repeats of the lowest note. Played only if something can differ."""
    if not e.notes or not any(e.has_pitch(layer) for layer in e.patch.layers):
        return []
    causes = _in_the_lows(e, causes_of(e.patch), limits)
    found = strike(e.patch, limits, e.takes, e.stop) if causes else None
    spread = 0.0 if found is None else found.spread_db
    if spread is None:
        return []
    fails = spread > limits.strike_db
    layers = tuple(dict.fromkeys(c.layer for c in causes if c.layer)) if fails else ()
    return [
        Finding(
            check="repeatability",
            verdict=_verdict(causes) if fails else "holds",
            title="Notes start differently each time" if fails else "Every note starts alike",
            text=_spread_words(found, spread, limits, causes[0].text if fails else ""),
            value=spread,
            unit="dB",
            limit=limits.strike_db,
            limit_text=write(limits.strike_db, "dB"),
            limit_name="strike_db",
            where=Where(layers, low_hz=LOW_HZ, high_hz=limits.low_hz),
            fixes=e.sought(lambda: _fixes(e, found, limits)) if fails and found is not None else (),
            evidence=(("angle_spread_deg", None if found is None else found.spread_deg),),
            alone=True,
        )
    ]


def _verdict(causes: Sequence[Cause]) -> Verdict:
    """A free-running movement may be intended; free-running phases in the lows never are."""
    return "fails" if any(c.what in ("free-running phase", "random") for c in causes) else "look"


def _spread_words(found: RepeatedNotes | None, spread: float, limits: Limits, cause: str) -> str:
    """The finding as text. cause: why it fails; empty if it holds."""
    if found is None:
        return "Nothing in the lows runs independently of the notes: every repeat is the same"
    text = f"{write(spread, 'dB')} of spread below {write(limits.low_hz, 'Hz')} over {STRIKES} repeats"
    return f"{text} of {note_name(found.pitch)}; {cause}" if cause else text
