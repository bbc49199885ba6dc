"""The patch in every room, side by side, and one of them in full."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from ....checks.playback import InRoom
from ....patch import Choice, Control, Room, declarations, write
from ..svg import level_line
from .look import CheckContext, db, signed


@dataclass(frozen=True)
class RoomRow:
    """A room in the table: loudness against flat, peak, shares of the layers, and the pitch."""

    id: str
    name: str
    note: str
    drop: str
    peak: str
    shares: tuple[tuple[str, float, float, str], ...]
    pitch: str
    verdict: str
    on: bool


@dataclass(frozen=True)
class Field:
    """A number or a word of a room, as editable text or a choice."""

    name: str
    title: str
    text: str
    help: str
    options: tuple[tuple[str, bool], ...]


@dataclass(frozen=True)
class RoomsView:
    """The table, and the selected room."""

    rows: tuple[RoomRow, ...]
    id: str
    name: str
    note: str
    line: str
    flat: str
    left: tuple[tuple[str, str, str], ...]
    fields: tuple[Field, ...]


def fields_of(room: Room) -> tuple[Field, ...]:
    """All fields of a room, from their declarations."""
    found = []
    for name, c in declarations(Room).items():
        value = getattr(room, name)
        if isinstance(c, Control):
            found.append(Field(name, c.name, c.write(float(value)), c.help, ()))
        elif isinstance(c, Choice):
            found.append(Field(name, c.name, str(value), c.help, tuple((o, o == value) for o in c.options)))
    return tuple(found)


def _pitch(r: InRoom) -> tuple[str, str]:
    if r.carried is None:
        return "no pitch", ""
    strongest = ""
    if r.strongest is not None:
        note, k, hz = r.strongest
        strongest = f"{note}: harmonic {k} is loudest, {write(hz, 'Hz')}"
    if r.carried >= 0.999:
        return f"pitch is clear; {strongest}", "holds"
    lost = f"{100.0 * (1.0 - r.carried):.0f} % of the notes lose their pitch, {r.lost} first"
    return lost, "fails" if r.carried < 0.5 else "look"


def words_of(rooms: Sequence[Room]) -> dict[str, Any]:
    """The arguments of the query about rooms."""
    return {"rooms": [r.model_dump() for r in rooms]}


def rooms_view(look: CheckContext) -> RoomsView:
    """All rooms."""
    rooms = look.desk.library.checks.rooms()
    found: list[InRoom] = look.find("rooms", **words_of(rooms)) or []
    by_id = {r.room.id: r for r in found}
    chosen = next((r for r in rooms if r.id == look.asked.pick), rooms[0] if rooms else None)
    layers = {x.id: (x.name, x.hatch) for x in look.patch.layers}
    rows = tuple(_room_row(room, by_id.get(room.id), layers, room is chosen) for room in rooms)
    picture = look.open_patch.measuring.picture
    flat = level_line(picture.sum) if picture is not None else ""
    if chosen is None:
        return RoomsView(rows=rows, id="", name="", note="", line="", flat=flat, left=(), fields=())
    own = by_id.get(chosen.id)
    return RoomsView(
        rows=rows,
        id=chosen.id,
        name=chosen.name,
        note=chosen.note,
        line=level_line(own.curve) if own is not None else "",
        flat=flat,
        left=tuple((*layers[i], signed(x)) for i, x in (own.left if own is not None else {}).items() if i in layers),
        fields=fields_of(chosen),
    )


def _room_row(room: Room, r: InRoom | None, layers: Mapping[str, tuple[str, str]], on: bool) -> RoomRow:
    """layers: name and hatch by id."""
    if r is None:
        return RoomRow(room.id, room.name, room.note, "…", "…", (), "…", "", on)
    shares, x = [], 0.0
    for i, s in r.shares.items():
        if i in layers and s > 0.002:
            text = f"{layers[i][0]}: {100 * s:.0f} % of the sound, {signed(r.left[i])} dB in this room"
            shares.append((layers[i][1], round(x, 2), round(100.0 * s, 2), text))
            x += 100.0 * s
    pitch, verdict = _pitch(r)
    return RoomRow(room.id, room.name, room.note, signed(r.drop), db(r.true_peak), tuple(shares), pitch, verdict, on)
