"""The store: every change is one transaction that is on disk when the call returns."""

from __future__ import annotations

import json
from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from sqlalchemy import create_engine, delete, event, select
from sqlalchemy.exc import DatabaseError
from sqlalchemy.orm import Session

from ..formats import dump_patch, load_patch
from ..patch import Patch, free_id
from .audio_store import AudioStore
from .check_store import CheckStore
from .migrate import migrate
from .part_store import PartStore
from .records import HistoryStep, PatchCard, SetCard
from .tables import PatchTable, SetTable, StepTable, VerdictTable


class LibraryProblem(Exception):
    """The data folder can't be used; the text says what to do."""


class NoSuchPatch(KeyError):
    """No patch has this slug."""

    def __str__(self) -> str:
        return f"there is no patch “{str(self.args[0])[:60]}”: it may have been deleted"


def _now() -> str:
    return datetime.now(UTC).isoformat(timespec="milliseconds")


def _pragmas(connection: Any, record: Any) -> None:
    for line in ("journal_mode=WAL", "synchronous=FULL", "foreign_keys=ON", "busy_timeout=5000"):
        connection.execute(f"PRAGMA {line}")


class Library:
    """Sets and patches in one folder. Safe between threads."""

    def __init__(self, folder: Path) -> None:
        """Open the folder, making what is missing. Raises LibraryProblem."""
        try:
            folder.mkdir(parents=True, exist_ok=True)
        except OSError as problem:
            raise LibraryProblem(f"the data folder {folder} can't be made: {problem.strerror}") from None
        self.folder = folder
        self._engine = create_engine(f"sqlite:///{folder / 'kessel.db'}")
        event.listen(self._engine, "connect", _pragmas)
        try:
            migrate(self._engine)
        except DatabaseError as problem:
            raise LibraryProblem(f"the database in {folder} can't be used: {problem.orig}") from None

        self.audio = AudioStore(self._engine, folder)
        self.parts = PartStore(self._engine)
        self.checks = CheckStore(self._engine)

    def close(self) -> None:
        """Let go of the database."""
        self._engine.dispose()

    @contextmanager
    def _work(self) -> Iterator[Session]:
        with Session(self._engine) as session, session.begin():
            yield session

    # sets

    def sets(self) -> list[SetCard]:
        """All sets in the order they were made."""
        with self._work() as s:
            return [SetCard(r.id, r.name, r.limits, r.demo) for r in s.scalars(select(SetTable).order_by(SetTable.id))]

    def set_of(self, slug: str) -> SetCard:
        """The set a patch stands in. Raises NoSuchPatch."""
        with self._work() as s:
            r = s.get_one(SetTable, self._row(s, slug).set_id)
            return SetCard(r.id, r.name, r.limits, r.demo)

    def add_set(self, name: str, demo: bool = False) -> int:
        """Make a set; returns its id."""
        with self._work() as s:
            row = SetTable(name=name, limits="{}", demo=demo)
            s.add(row)
            s.flush()
            return row.id

    def put_limits(self, set_id: int, limits: str) -> None:
        """Keep a set's limits, JSON text."""
        with self._work() as s:
            s.get_one(SetTable, set_id).limits = limits

    # patches

    @staticmethod
    def _row(s: Session, slug: str) -> PatchTable:
        row = s.scalar(select(PatchTable).where(PatchTable.slug == slug))
        if row is None:
            raise NoSuchPatch(slug)
        return row

    @staticmethod
    def _card(r: PatchTable) -> PatchCard:
        return PatchCard(r.slug, r.set_id, r.name, r.demo, r.edited, r.deleted is not None)

    def patches(self, set_id: int | None = None) -> list[PatchCard]:
        """Patches that are not deleted, of one set or of all, in the order they were made."""
        with self._work() as s:
            ask = select(PatchTable).where(PatchTable.deleted.is_(None)).order_by(PatchTable.id)
            if set_id is not None:
                ask = ask.where(PatchTable.set_id == set_id)
            return [self._card(r) for r in s.scalars(ask)]

    def card(self, slug: str) -> PatchCard:
        """One patch's record. Raises NoSuchPatch."""
        with self._work() as s:
            return self._card(self._row(s, slug))

    def load(self, slug: str) -> Patch:
        """A patch that is not deleted. Raises NoSuchPatch."""
        with self._work() as s:
            row = self._row(s, slug)
            if row.deleted is not None:
                raise NoSuchPatch(slug)
            return load_patch(row.body)

    def _add(self, s: Session, set_id: int, patch: Patch, demo: str | None) -> str:
        slug = free_id(patch.name, list(s.scalars(select(PatchTable.slug))))
        now = _now()
        row = PatchTable(
            set_id=set_id, slug=slug, name=patch.name, body=dump_patch(patch), demo=demo, created=now, edited=now
        )
        s.add(row)
        s.flush()
        return slug

    def add(self, set_id: int, patch: Patch) -> str:
        """Keep a new patch; returns its slug."""
        with self._work() as s:
            return self._add(s, set_id, patch, None)

    def delete(self, slug: str) -> None:
        """Take a patch off the shelf; it can be put back. Raises NoSuchPatch."""
        with self._work() as s:
            self._row(s, slug).deleted = _now()

    def put_back(self, slug: str) -> None:
        """Undo a deletion. Raises NoSuchPatch."""
        with self._work() as s:
            self._row(s, slug).deleted = None

    # history

    def record(self, slug: str, patch: Patch, label: str, there: str, back: str) -> str:
        """Keep a patch as edited, with the step that led to it; steps that were undone are dropped.

        Returns the time of the edit.
        """
        with self._work() as s:
            row = self._row(s, slug)
            s.execute(delete(StepTable).where(StepTable.patch_id == row.id, StepTable.undone.is_(True)))
            s.add(StepTable(patch_id=row.id, label=label, there=there, back=back, undone=False, made=_now()))
            return self._write(row, patch)

    def amend(self, slug: str, patch: Patch) -> str:
        """Keep a patch with what belongs to the newest step but was known only later. Returns the time of the edit."""
        with self._work() as s:
            return self._write(self._row(s, slug), patch)

    @staticmethod
    def _write(row: PatchTable, patch: Patch) -> str:
        row.body, row.name, row.edited = dump_patch(patch), patch.name, _now()
        return row.edited

    def mark(self, slug: str, patch: Patch, step: int, undone: bool) -> str:
        """Keep a patch after a step was undone or done again; returns the time of the edit."""
        with self._work() as s:
            s.get_one(StepTable, step).undone = undone
            return self._write(self._row(s, slug), patch)

    def steps(self, slug: str, most: int = 200) -> list[HistoryStep]:
        """The newest steps of a patch's history, oldest first."""
        with self._work() as s:
            row = self._row(s, slug)
            ask = select(StepTable).where(StepTable.patch_id == row.id).order_by(StepTable.id.desc()).limit(most)
            found = [HistoryStep(r.id, r.label, r.there, r.back, r.undone) for r in s.scalars(ask)]
            return found[::-1]

    def next_step(self, slug: str, undone: bool) -> HistoryStep | None:
        """The step that redo (``undone``) or undo would take."""
        with self._work() as s:
            row = self._row(s, slug)
            order = StepTable.id.asc() if undone else StepTable.id.desc()
            ask = select(StepTable).where(StepTable.patch_id == row.id, StepTable.undone.is_(undone)).order_by(order)
            r = s.scalars(ask.limit(1)).first()
            return HistoryStep(r.id, r.label, r.there, r.back, r.undone) if r else None

    # the demo set

    def seed_demo(self, name: str, patches: dict[str, Patch]) -> bool:
        """Make the demo set once; False when it was made before."""
        with self._work() as s:
            if s.scalar(select(SetTable).where(SetTable.demo.is_(True))) is not None:
                return False
            row = SetTable(name=name, limits=json.dumps({}), demo=True)
            s.add(row)
            s.flush()
            for slug, patch in patches.items():
                self._add(s, row.id, patch, slug)
            return True

    def restore_demo(self, name: str, patches: dict[str, Patch]) -> None:
        """Put every demo patch back as shipped, also deleted ones; nothing else changes."""
        self.seed_demo(name, patches)
        with self._work() as s:
            shelf = s.scalars(select(SetTable).where(SetTable.demo.is_(True))).one()
            kept: Iterable[PatchTable] = s.scalars(select(PatchTable).where(PatchTable.demo.is_not(None)))
            rows = {r.demo: r for r in kept}
            for slug, patch in patches.items():
                row = rows.get(slug)
                if row is None:
                    self._add(s, shelf.id, patch, slug)
                    continue
                row.deleted = None
                for table in (StepTable, VerdictTable):
                    s.execute(delete(table).where(table.patch_id == row.id))
                self._write(row, patch)
