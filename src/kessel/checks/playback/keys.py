"""The low end over the keyboard: every key played through the whole patch."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy.fft import next_fast_len, rfft

from ...engine import RATE, CancelToken, RenderCache
from ...measure import loudness
from ...patch import ControlPath, Edit, Movement, Note, Patch, Performance, free_id, number
from ..evidence import Evidence
from ..finding import Limits
from ..lows import NotePartials, note_partials
from ..notes import HeardNote
from ..pairs import pairs_of

AT_ONCE = 5
"""Keys that are rendered together."""
NOTE_BEATS = 2.0
FIRST, LAST = 24, 48
"""C1 to C3."""
_KEYS_OVER = 72.0
"""Semitones, from C0 up, over which key tracking goes from zero to full."""
_KEY_FROM = 12.0

_Real = NDArray[np.float64]


@dataclass(frozen=True)
class KeyFigures:
    """One key. loudness in LUFS; first: harmonic 1 in dBFS; mono_loss below the lows' edge in dB; sum_loss: of the
    worst pair with a fixed phase, in dB; hollow: how far harmonic 1 is below the strongest of 2..4, in dB.
    """

    pitch: int
    loudness: float | None
    first: float | None
    mono_loss: float | None
    sum_loss: float | None
    hollow: float | None

    def fails(self, limits: Limits) -> tuple[str, ...]:
        """Names of the figures that fail."""
        found = []
        if self.mono_loss is not None and self.mono_loss < limits.low_mono_loss_db:
            found.append("mono_loss")
        if self.sum_loss is not None and self.sum_loss < limits.sum_loss_db:
            found.append("sum_loss")
        if self.hollow is not None and self.hollow > limits.hollow_db:
            found.append("hollow")
        return tuple(found)


def keys_patch(patch: Patch, pitches: Sequence[int]) -> Patch:
    """The patch with a note of two beats on each key, a bar per key."""
    notes = [Note(id=f"k{p}", pitch=p, start=4.0 * i, length=NOTE_BEATS, velocity=100) for i, p in enumerate(pitches)]
    phrase = patch.phrase.model_copy(
        update={"bars": len(pitches), "notes": notes, "bend": [], "wheel": [], "pressure": []}
    )
    return patch.model_copy(update={"phrase": phrase})


def _low_mono(x: _Real, high: float) -> float | None:
    """Mono loss of x, (2, n), between 20 Hz and ``high``, in dB."""
    n = x.shape[1]
    size = next_fast_len(n, real=True)
    f = rfft(x * np.hanning(n), size, axis=1)
    hz = np.arange(f.shape[1]) * RATE / size
    inside = (hz >= 20.0) & (hz <= high)
    both = 0.5 * float(np.square(np.abs(f[:, inside])).sum())
    mid = float(np.square(np.abs(0.5 * (f[0] + f[1])[inside])).sum())
    if both < 1e-9:
        return None
    return 10.0 * float(np.log10(max(mid / both, 1e-7)))


def _key(e: Evidence, note: HeardNote, limits: Limits, partials: dict[str, NotePartials]) -> KeyFigures:
    x = e.stretch(e.loop.sum, note, 0, note.length)
    own = partials.get(note.id)
    losses = [n.sum_loss for p in pairs_of(e) if not p.apart and not p.sources for n in p.notes if n.note.id == note.id]
    return KeyFigures(
        pitch=note.pitch,
        loudness=loudness(x).integrated,
        first=own.sum[0] if own else None,
        mono_loss=_low_mono(x, limits.low_hz),
        sum_loss=min(losses, default=None),
        hollow=own.under if own else None,
    )


def strike_keys(
    patch: Patch,
    pitches: Sequence[int],
    limits: Limits,
    takes: RenderCache | None = None,
    stop: CancelToken | None = None,
) -> list[KeyFigures]:
    """Figures of keys, ``AT_ONCE`` of them played one after the other. Raises RenderCancelled."""
    takes, stop = takes or RenderCache(), stop or CancelToken()

    def struck(keys: Sequence[int]) -> list[KeyFigures]:
        e = Evidence(keys_patch(patch, keys), takes, stop, False)
        partials = {n.note.id: n for n in note_partials(e)}
        return [_key(e, note, limits, partials) for note in e.notes]

    batches = [pitches[i : i + AT_ONCE] for i in range(0, len(pitches), AT_ONCE)]
    return [key for keys in takes.each(batches, struck, stop) for key in keys]


def playable(keys: Sequence[KeyFigures], limits: Limits) -> tuple[int, int] | None:
    """Lowest and highest key of the longest run on which all limits hold. None if there is none."""
    best: tuple[int, int] | None = None
    begun: int | None = None
    for k in keys:
        if k.fails(limits) or k.loudness is None:
            begun = None
            continue
        begun = k.pitch if begun is None else begun
        if best is None or k.pitch - begun > best[1] - best[0]:
            best = begun, k.pitch
    return best


def slope_of(keys: Sequence[KeyFigures]) -> float | None:
    """Slope of the loudness over the keys, in dB per key. None if there are too few."""
    rows = [(k.pitch, k.loudness) for k in keys if k.loudness is not None]
    if len(rows) < 5:
        return None
    pitch, level = np.array(rows).T
    return float(np.polyfit(pitch, level, 1)[0])


def level_by_key(patch: Patch, keys: Sequence[KeyFigures]) -> tuple[Edit, ...]:
    """Edits that even the loudness over the keys: the key drives every layer's level.

    An existing movement of that kind is scaled. None if the keys are even, or a fader would reach its limit within the
    measured keys.
    """
    slope = slope_of(keys)
    if slope is None or abs(slope) < 0.02:
        return ()
    low, mean, high = _positions(keys)
    movers = [m.model_dump() for m in patch.movers]
    key = _key_mover(patch)
    if key.id not in {m["id"] for m in movers}:
        movers.append(key.model_dump())
    amount = -slope * _KEYS_OVER / 2.0
    movements = [m.model_dump() for m in patch.movements]
    edits = []
    for layer in patch.layers:
        path = f"layers.{layer.id}.level"
        control = number(patch, path)
        if layer.mute or layer.level <= control.low:
            continue
        own = _key_movement(movements, key.id, path)
        before = own["amount"]
        rest = layer.level - amount * mean
        reached = (rest, *(rest + (before + amount) * place for place in (low, high)))
        if min(reached) <= control.low or max(reached) > control.high:
            return ()
        own["amount"] = round(before + amount, 2)
        edits.append(Edit(path, round(rest, 2)))
    return (Edit("movers", movers), Edit("movements", movements), *edits)


def _key_mover(patch: Patch) -> Performance:
    """The patch's mover of the key, or a new one."""
    found = next((m for m in patch.movers if isinstance(m, Performance) and m.what == "key"), None)
    return found or Performance(id=free_id("key", [m.id for m in patch.movers]), name="Key", what="key")


def _positions(keys: Sequence[KeyFigures]) -> tuple[float, float, float]:
    """The lowest, mean and highest key as key tracking has them: -1..1 around its center key."""
    heard = [k.pitch for k in keys if k.loudness is not None]
    low, mean, high = (
        2.0 * (p - _KEY_FROM) / _KEYS_OVER - 1.0 for p in (min(heard), float(np.mean(heard)), max(heard))
    )
    return low, mean, high


def _key_movement(movements: list[dict[str, Any]], key: str, path: str) -> dict[str, Any]:
    """The movement of a level by the key, both ways. It is added with an amount of 0 if there is none."""
    own = next((m for m in movements if m["mover"] == key and m["target"] == path and m["both_ways"]), None)
    if own is None:
        made = free_id(f"{ControlPath(path).layer}-by-key", [m["id"] for m in movements])
        own = Movement(id=made, mover=key, target=path, amount=0.0, both_ways=True).model_dump()
        movements.append(own)
    return own
