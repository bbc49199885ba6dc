"""Whether the fundamental is strong enough on every note."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from itertools import chain

import numpy as np
from numpy.typing import NDArray

from ...patch import SILENT_DB, Edit, Oscillator, note_name, number, write
from ..evidence import SUM, Evidence
from ..finding import Candidate, Finding, Fix, Limits, Where
from ..notes import HeardNote
from ..pairs import moved_splits
from ..sounding import ratio_of
from .shutting import Shut, gentler, shut_on

_Real = NDArray[np.float64]

_SPARE = 1.0
LOWEST_HZ = 20.0
"""Nothing is heard as a pitch below."""
_UPPER_DB = 6.0
"""How much more harmonics 5 to 8 may be above the fundamental than 2 to 4: they matter less to its pitch."""

_ALONE_DB = 90.0
"""A fundamental this many dB above harmonics 2 to 4 has no others."""


def note_levels(e: Evidence, note: HeardNote, hz: float) -> dict[str, _Real]:
    """RMS amplitude of harmonics 1..8 over a note, of the sum and of every pitched layer."""
    found = {"": e.partials(SUM, note, hz, 8, 0.0)}
    found |= {i: e.partials(i, note, hz, 8, 0.0) for i in e.pitched if i is not None}
    if found[""].shape[0] == 0:
        return {}
    return {i: np.sqrt(np.square(np.abs(frames)).mean(axis=0)) for i, frames in found.items()}


@dataclass(frozen=True)
class Fundamental:
    """The fundamental of a note. near, far: how far it is below the strongest of harmonics 2..4 and 5..8, in dB.

    best: the layer that brings most of it.
    """

    note: HeardNote
    hz: float
    near: float
    far: float
    best: str

    @property
    def under(self) -> float:
        """How far it is below what matters to its pitch, in dB. Harmonics 5 to 8 may be 6 dB louder than 2 to 4."""
        return max(self.near, self.far - _UPPER_DB)


def fundamental_of(note: HeardNote, hz: float, levels: Mapping[str, _Real]) -> Fundamental:
    """levels: amplitudes of harmonics 1..8, of the sum under an empty id and of every layer."""

    def under(over: _Real) -> float:
        return 20.0 * float(np.log10(max(over.max(initial=0.0), 1e-9) / max(levels[""][0], 1e-9)))

    layers = {i: float(x[0]) for i, x in levels.items() if i}
    best = max(layers, key=layers.__getitem__, default="")
    return Fundamental(note, hz, under(levels[""][1:4]), under(levels[""][4:8]), best)


def fundamentals(e: Evidence) -> list[Fundamental]:
    """The fundamental of every note that plays a pitch and is heard."""
    return e.once("fundamentals", lambda: _fundamentals(e))


def _fundamentals(e: Evidence) -> list[Fundamental]:
    found = []
    for note in e.notes:
        ratio = e.base_ratio(note)
        if ratio is None:
            continue
        hz = e.note_hz(note, ratio)
        levels = note_levels(e, note, hz)
        if levels and levels[""].max() >= 1e-4:
            found.append(fundamental_of(note, hz, levels))
    return found


def worst_note(e: Evidence) -> Fundamental | None:
    """The note whose fundamental is weakest."""
    return max(fundamentals(e), key=lambda f: f.under, default=None)


def _raised(e: Evidence, layer_id: str, missing: float) -> Iterator[Candidate]:
    """Candidates with the layer that carries the fundamental raised, as far as its fader goes."""
    path = f"layers.{layer_id}.level"
    if not layer_id:
        return
    layer = e.patch.layer(layer_id)
    control = number(e.patch, path)
    for more in (missing + _SPARE, missing + 3.0 * _SPARE):
        level = control.tidy(layer.level + more)
        if level > layer.level:
            yield f"Raise {layer.name} to {write(level, 'dB')}", (Edit(path, level),)


def _opened(e: Evidence, worst: Fundamental) -> Iterator[Candidate]:
    """Candidates with a layer that plays the fundamental, and is not heard, unmuted or opened."""
    heard = [x.level for x in e.patch.layers if e.sounds(x.id, worst.note)]
    for layer in e.patch.layers:
        own = [
            s for s in layer.sources if isinstance(s, Oscillator) and s.to != "modulates only" and s.level > SILENT_DB
        ]
        ratio = worst.hz / e.note_hz(worst.note, 1.0)
        if e.sounds(layer.id, worst.note) or not any(ratio_of(layer, s) < 1.06 * ratio for s in own):
            continue
        path = f"layers.{layer.id}"
        unmuted = (Edit(f"{path}.mute", False),) if layer.mute else ()
        if unmuted and layer.level > SILENT_DB:
            yield f"Unmute {layer.name}", unmuted
        elif layer.level <= SILENT_DB:
            level = number(e.patch, f"{path}.level").tidy(max(heard, default=-9.0))
            yield f"Open {layer.name} at {write(level, 'dB')}", (*unmuted, Edit(f"{path}.level", level))


def _let_down(e: Evidence, worst: Fundamental) -> Iterator[Candidate]:
    """Candidates with the low cut of the layer that brings most of the fundamental below it."""
    lowest = min(f.hz for f in fundamentals(e))
    for layer in e.patch.layers:
        if (
            layer.range.low > lowest
            and e.sounds(layer.id, worst.note)
            and not any(s.upper == layer.id for s in e.patch.splits)
        ):
            low = max(20.0, float(f"{0.7 * lowest:.2g}"))
            yield f"Let {layer.name} down to {write(low, 'Hz')}", (Edit(f"layers.{layer.id}.range.low", low),)


def _fixes(e: Evidence, worst: Fundamental, shut: list[Shut], limits: Limits) -> tuple[Fix, ...]:
    """Less of what shuts it out, the layer raised, or the split moved that keeps the fundamental from it."""

    def left(x: Evidence) -> float | None:
        after = worst_note(x)
        return after.under if after else None

    def holds(value: float) -> bool:
        return value <= limits.hollow_db

    freed = tuple(fix for it in shut for fix in e.full_cure(gentler(it), left, holds))
    opened = e.full_cure(chain(_opened(e, worst), _let_down(e, worst)), left, holds)
    raised = e.cure(_raised(e, worst.best, worst.under - limits.hollow_db), left, holds)
    up = moved_splits(e.patch, [s for s in e.patch.splits if s.lower == worst.best], (1, 2, 3, 4))
    down = moved_splits(e.patch, [s for s in e.patch.splits if s.upper == worst.best], (-1, -2, -3, -4))
    return (*freed, *opened, *(() if raised is None else (raised,)), *e.full_cure(chain(up, down), left, holds))


def _words(worst: Fundamental) -> str:
    if worst.under < -_ALONE_DB:
        return "No other harmonics"
    db, which = (worst.near, "2 to 4") if worst.near >= worst.far - _UPPER_DB else (worst.far, "5 to 8")
    where = "below" if db > 0 else "above"
    return f"{write(abs(db), 'dB')} {where} harmonics {which}, worst note {note_name(worst.note.pitch)}"


def hollow(e: Evidence, limits: Limits) -> list[Finding]:
    """The fundamental against the harmonics that matter to its pitch, on the worst note."""
    worst = worst_note(e)
    if worst is None:
        return []
    fails = worst.under > limits.hollow_db
    text, title = _words(worst), "Weak fundamental" if fails else "The fundamental is strong enough"
    shut = shut_on(e, worst.note, limits) if fails else []
    if shut:
        title = f"{shut[0].item.name} removes the fundamental of {shut[0].layer.name}"
        text += f"; it takes {write(shut[0].loss, 'dB')} off {write(shut[0].hz, 'Hz')}, and no other layer has it"
    deep = min(fundamentals(e), key=lambda f: f.hz)
    unheard = deep.hz < LOWEST_HZ and not fails
    if unheard:
        title = "The fundamental is too low to be heard"
        name = note_name(deep.note.pitch)
        text = f"{name} is at {write(deep.hz, 'Hz')}; below {write(LOWEST_HZ, 'Hz')} no pitch is heard"
    shown = deep if unheard else worst
    return [
        Finding(
            check="hollow",
            verdict="fails" if fails else "look" if unheard else "holds",
            title=title,
            text=text,
            value=worst.under,
            unit="dB",
            limit=limits.hollow_db,
            limit_text=f"{write(limits.hollow_db, 'dB')} below harmonics 2 to 4, "
            f"{write(limits.hollow_db + _UPPER_DB, 'dB')} below 5 to 8",
            limit_name="hollow_db",
            where=Where(
                (worst.best,) if fails and worst.best else (),
                note_name(shown.note.pitch),
                shown.note.beat,
                shown.hz / 1.12,
                shown.hz * 1.12,
                shut[0].path if shut else None,
            ),
            fixes=e.sought(lambda: _fixes(e, worst, shut, limits)) if fails else (),
            alone=True,
        )
    ]
