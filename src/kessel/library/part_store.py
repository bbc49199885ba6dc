"""The part shelf: parts stored under a name."""

from __future__ import annotations

from typing import Any

from sqlalchemy import select

from .database import Sessions
from .records import PartCard
from .tables import PartTable, now


class PartStore:
    """The part shelf of one library."""

    def __init__(self, sessions: Sessions) -> None:
        self._sessions = sessions

    def keep(self, kind: str, name: str, body: Any) -> PartCard:
        """Store a part, plain JSON data, under a name."""
        with self._sessions.write() as s:
            row = PartTable(kind=kind, name=name[:60], body=body, made=now())
            s.add(row)
            s.flush()
            return PartCard(row.id, row.kind, row.name, row.body)

    def get(self, part: int) -> PartCard | None:
        """One part."""
        with self._sessions.read() as s:
            r = s.get(PartTable, part)
            return PartCard(r.id, r.kind, r.name, r.body) if r is not None else None

    def all(self) -> list[PartCard]:
        """All parts, newest first."""
        with self._sessions.read() as s:
            rows = s.scalars(select(PartTable).order_by(PartTable.id.desc()))
            return [PartCard(r.id, r.kind, r.name, r.body) for r in rows]

    def remove(self, part: int) -> None:
        """Remove a part."""
        with self._sessions.write() as s:
            row = s.get(PartTable, part)
            if row is not None:
                s.delete(row)

    def rename(self, part: int, name: str) -> None:
        """Rename a part."""
        with self._sessions.write() as s:
            row = s.get(PartTable, part)
            if row is not None and name:
                row.name = name[:60]
