"""Parts kept under a name."""

from __future__ import annotations

from datetime import UTC, datetime

from sqlalchemy import Engine, select
from sqlalchemy.orm import Session

from .records import PartCard
from .tables import PartTable


class PartStore:
    """The part shelf of one library."""

    def __init__(self, engine: Engine) -> None:
        self._engine = engine

    def keep(self, kind: str, name: str, body: str) -> PartCard:
        """Keep a part, JSON text, under a name."""
        with Session(self._engine) as s, s.begin():
            row = PartTable(
                kind=kind, name=name[:60], body=body, made=datetime.now(UTC).isoformat(timespec="milliseconds")
            )
            s.add(row)
            s.flush()
            return PartCard(row.id, row.kind, row.name, row.body)

    def get(self, part: int) -> PartCard | None:
        """One part."""
        with Session(self._engine) as s:
            r = s.get(PartTable, part)
            return PartCard(r.id, r.kind, r.name, r.body) if r is not None else None

    def all(self) -> list[PartCard]:
        """All parts, the newest first."""
        with Session(self._engine) as s:
            rows = s.scalars(select(PartTable).order_by(PartTable.id.desc()))
            return [PartCard(r.id, r.kind, r.name, r.body) for r in rows]

    def remove(self, part: int) -> None:
        """Take a part off the shelf."""
        with Session(self._engine) as s, s.begin():
            row = s.get(PartTable, part)
            if row is not None:
                s.delete(row)

    def rename(self, part: int, name: str) -> None:
        """Call a part by another name."""
        with Session(self._engine) as s, s.begin():
            row = s.get(PartTable, part)
            if row is not None and name:
                row.name = name[:60]
