"""Data of the checks: rooms, references, verdicts."""

from __future__ import annotations

from contextlib import suppress
from typing import Any

from sqlalchemy import delete, select
from sqlalchemy.orm import Session

from ..patch import Room, ValueProblem, stock_rooms
from .database import NotKept, Sessions
from .records import Reference
from .tables import PatchTable, ReferenceTable, RoomTable, VerdictTable, now


class CheckStore:
    """The rooms of one library, and the check data of its patches."""

    def __init__(self, sessions: Sessions) -> None:
        self._sessions = sessions

    # rooms

    def rooms(self) -> list[Room]:
        """All rooms: the built-in ones with their changes, then the user's own."""
        with self._sessions.read() as s:
            rows = list(s.scalars(select(RoomTable).order_by(RoomTable.made)))
        own = {r.id: Room.model_validate(r.body) if r.body else None for r in rows}
        found = [own.pop(room.id, room) for room in stock_rooms()]
        return [room for room in (*found, *own.values()) if room is not None]

    def room(self, room_id: str) -> Room:
        """One room. Raises ValueProblem."""
        found = next((r for r in self.rooms() if r.id == room_id), None)
        if found is None:
            raise ValueProblem("there is no such room any more: choose another")
        return found

    def put_room(self, room: Room) -> None:
        """Store a room."""
        self._put_room(room.id, room.model_dump())

    def drop_room(self, room_id: str) -> None:
        """Remove a room. A built-in one can be restored."""
        if room_id in {r.id for r in stock_rooms()}:
            self._put_room(room_id, None)
            return
        with self._sessions.write() as s:
            s.execute(delete(RoomTable).where(RoomTable.id == room_id))

    def restore_rooms(self) -> None:
        """Restore the built-in rooms."""
        with self._sessions.write() as s:
            s.execute(delete(RoomTable).where(RoomTable.id.in_([r.id for r in stock_rooms()])))

    def _put_room(self, room_id: str, body: Any) -> None:
        with self._sessions.write() as s:
            row = s.get(RoomTable, room_id)
            if row is None:
                s.add(RoomTable(id=room_id, body=body, made=now()))
            else:
                row.body = body

    # references

    def _patch_id(self, s: Session, slug: str) -> int | None:
        return s.scalar(select(PatchTable.id).where(PatchTable.slug == slug))

    def reference(self, slug: str) -> Reference | None:
        """The reference recording of a patch."""
        with self._sessions.read() as s:
            row = s.get(ReferenceTable, self._patch_id(s, slug) or -1)
            return Reference(row.audio, row.start, row.seconds, row.tempo) if row is not None else None

    def put_reference(self, slug: str, reference: Reference | None) -> None:
        """Set or clear the reference recording."""
        with self._sessions.write() as s:
            patch_id = self._patch_id(s, slug)
            if patch_id is None:
                return
            s.execute(delete(ReferenceTable).where(ReferenceTable.patch_id == patch_id))
            if reference is not None:
                s.add(ReferenceTable(patch_id=patch_id, **vars(reference)))

    # verdicts

    def put_verdicts(self, slug: str, verdicts: dict[str, str]) -> None:
        """Store the verdicts for a patch's present state. Skipped if the database can't be written now."""
        with suppress(NotKept), self._sessions.write() as s:
            row = s.execute(select(PatchTable.id, PatchTable.head).where(PatchTable.slug == slug)).first()
            if row is not None:
                s.merge(VerdictTable(patch_id=row.id, step=row.head, body=verdicts))

    def verdicts(self, slug: str) -> dict[int, dict[str, str]]:
        """Verdicts by check, by step."""
        with self._sessions.read() as s:
            patch_id = self._patch_id(s, slug)
            rows = s.scalars(select(VerdictTable).where(VerdictTable.patch_id == patch_id))
            return {r.step: r.body for r in rows}
