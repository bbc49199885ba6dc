"""What a room leaves of a patch."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import partial

import numpy as np
from numpy.typing import NDArray

from ...engine import room_response, through_room
from ...measure import Spectrum, decibels, loudness, true_peak
from ...patch import Room, note_name
from ..evidence import Evidence
from ..notes import HeardNote

_Real = NDArray[np.floating]

PARTIALS = 16
_FIRST_DB = 20.0
"""The first partial may be this many dB below the strongest and still be heard as the pitch."""
_ROW_DB = 15.0
"""The same limit for adjacent partials, which give the pitch without the first (Terhardt 1974)."""
_ROW_UP_TO = 8


@dataclass(frozen=True)
class InRoom:
    """A patch in a room.

    loudness in LUFS; drop against flat in LU; left: by layer, dB of its power that is left; shares: by layer, of what
    is left; curve: levels along the shared axis; strongest: harmonic and Hz of the lowest note; carried: share of the
    notes whose pitch survives; lost: the first note whose pitch does not.
    """

    room: Room
    loudness: float | None
    drop: float | None
    true_peak: float | None
    left: dict[str, float | None]
    shares: dict[str, float]
    curve: _Real
    strongest: tuple[str, int, float] | None
    carried: float | None
    lost: str | None


def _layer_power(s: Spectrum, room: Room) -> tuple[float, float]:
    """Power of a layer before and behind a room."""
    middle, side = room_response(room, s.hz)
    both = 0.5 * (s.left + s.right)
    return float(both.sum()), float((s.mid * middle + (both - s.mid) * side).sum())


def carries(levels: _Real) -> bool:
    """Whether harmonics 1.., in linear amplitude, convey the pitch: the first itself, or a row of neighbours."""
    top = float(levels.max(initial=0.0))
    if top <= 1e-6:
        return False
    db = 20.0 * np.log10(np.maximum(levels / top, 1e-9))
    row = db[1:_ROW_UP_TO] > -_ROW_DB
    return bool(db[0] > -_FIRST_DB or (row[1:] & row[:-1]).any())


def in_room(e: Evidence, room: Room, hz: NDArray[np.float64]) -> InRoom:
    """The loop in a room. hz: the shared axis."""
    y = through_room(room, e.loop.sum)
    own = loudness(y).integrated
    flat = e.sum.loudness.integrated
    powers = {x.id: _layer_power(e.spectrum(x.id), room) for x in e.patch.layers}
    whole = sum(after for _, after in powers.values())
    told, strongest = _pitches(e, 0.5 * (y[0] + y[1]))
    return InRoom(
        room=room,
        loudness=own,
        drop=own - flat if own is not None and flat is not None else None,
        true_peak=true_peak(y),
        left={i: decibels(after / before) if before > 1e-12 else None for i, (before, after) in powers.items()},
        shares={i: after / whole if whole > 0 else 0.0 for i, (_, after) in powers.items()},
        curve=Spectrum.of(y, wrap=True).curve(hz),
        strongest=strongest,
        carried=sum(t for _, t in told) / len(told) if told else None,
        lost=next((note_name(n.pitch) for n, t in told if not t), None),
    )


def _pitches(
    e: Evidence, middle: NDArray[np.float64]
) -> tuple[list[tuple[HeardNote, bool]], tuple[str, int, float] | None]:
    """Whether every note's pitch is conveyed in the mid signal of a room, (n,).

    Second: the lowest note's strongest harmonic as note, number and frequency in Hz.
    """
    told: list[tuple[HeardNote, bool]] = []
    strongest: tuple[str, int, float] | None = None
    lowest = min((n.pitch for n in e.notes), default=0)
    for note in e.notes:
        ratio = e.base_ratio(note)
        if ratio is None:
            continue
        base = e.note_hz(note, ratio)
        frames = e.frames([middle], note, base, PARTIALS)[:, 0]
        if not frames.shape[0]:
            continue
        levels = np.sqrt(np.square(np.abs(frames)).mean(axis=0))
        told.append((note, carries(levels)))
        if strongest is None and note.pitch == lowest and levels.max() > 1e-6:
            k = int(levels.argmax()) + 1
            strongest = note_name(note.pitch), k, base * k
    return told, strongest


def in_rooms(e: Evidence, rooms: Sequence[Room], hz: NDArray[np.float64]) -> list[InRoom]:
    """The loop in every room, in order. An unchanged room is not measured again."""
    return [e.once(f"room {room.model_dump_json()}", partial(in_room, e, room, hz)) for room in rooms]
