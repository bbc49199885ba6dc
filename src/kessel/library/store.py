"""The library: every change is one transaction that is on disk when the call returns."""

from __future__ import annotations

import logging
from collections.abc import Iterable
from pathlib import Path
from typing import Any

from sqlalchemy import Text, delete, select, type_coerce, update
from sqlalchemy.exc import DBAPIError
from sqlalchemy.orm import Session

from ..formats import document_of, patch_from
from ..patch import VERSION, Patch, free_id
from .audio_store import AudioStore
from .check_store import CheckStore
from .database import FolderLock, LibraryProblem, NotKept, Sessions, engine_of, why
from .history import Damaged, History, NoSuchPatch, Standing, body_of, row_of
from .migrate import migrate
from .part_store import PartStore
from .records import PatchCard, SetCard
from .tables import PatchTable, SetTable, SittingTable, StepTable, VerdictTable, now
from .upgrade import upgrade

_log = logging.getLogger(__name__)


def _unusable(folder: Path, problem: Exception) -> LibraryProblem:
    """Why a folder can't be opened, as text."""
    if isinstance(problem, LibraryProblem):
        return problem
    if isinstance(problem, DBAPIError) and problem.orig is not None:
        return LibraryProblem(f"the database in {folder} can't be used: {why(problem.orig)}")
    if isinstance(problem, NotKept | OSError):
        return LibraryProblem(f"the database in {folder} can't be used: {problem}")
    _log.error("the database can't be brought up to date", exc_info=problem)
    return LibraryProblem(
        f"the database in {folder} can't be brought up to date ({type(problem).__name__}) and is left as it was: "
        "give another folder with --data"
    )


class Library:
    """Sets and patches of one folder, which is locked while it is open. Thread-safe."""

    def __init__(self, folder: Path, beside: bool = False) -> None:
        """Open the folder; create what is missing and upgrade what is older. Raises LibraryProblem.

        ``beside``: read only, also if another process has locked the folder.
        """
        try:
            folder.mkdir(parents=True, exist_ok=True)
        except OSError as problem:
            raise LibraryProblem(f"the data folder {folder} can't be made: {problem.strerror}") from None
        self.folder = folder
        self.lock: FolderLock | None = None
        try:
            self.lock = FolderLock(folder)
        except LibraryProblem:
            if not beside:
                raise
        try:
            if self.lock is not None:
                migrate(folder)
            self._engine = engine_of(folder)
            self._sessions = Sessions(self._engine)
            if self.lock is not None:
                upgrade(self._sessions, folder)
        except Exception as problem:
            if self.lock is not None:
                self.lock.release()
            raise _unusable(folder, problem) from problem
        self.audio = AudioStore(self._sessions, folder)
        self.parts = PartStore(self._sessions)
        self.checks = CheckStore(self._sessions)
        self.history = History(self._sessions)

    def close(self) -> None:
        """Close the database and unlock the folder."""
        self._engine.dispose()
        if self.lock is not None:
            self.lock.release()

    # sets

    def sets(self) -> list[SetCard]:
        """All sets in the order of creation."""
        with self._sessions.read() as s:
            return [SetCard(r.id, r.name, r.limits, r.demo) for r in s.scalars(select(SetTable).order_by(SetTable.id))]

    def set_of(self, slug: str) -> SetCard:
        """The set of a patch. Raises NoSuchPatch."""
        with self._sessions.read() as s:
            r = s.get_one(SetTable, row_of(s, slug).set_id)
            return SetCard(r.id, r.name, r.limits, r.demo)

    def add_set(self, name: str, demo: bool = False) -> int:
        """Create a set. Returns its id."""
        with self._sessions.write() as s:
            row = SetTable(name=name, limits={}, demo=demo)
            s.add(row)
            s.flush()
            return row.id

    def put_limits(self, set_id: int, limits: Any) -> None:
        """Store a set's limits, plain JSON data."""
        with self._sessions.write() as s:
            s.get_one(SetTable, set_id).limits = limits

    # patches

    @staticmethod
    def _card(r: PatchTable) -> PatchCard:
        return PatchCard(r.slug, r.set_id, r.name, r.demo, r.edited, r.deleted is not None, r.revision)

    def patches(self, set_id: int | None = None) -> list[PatchCard]:
        """Patches that are not deleted, of one set or of all, in the order of creation."""
        with self._sessions.read() as s:
            ask = select(PatchTable).where(PatchTable.deleted.is_(None)).order_by(PatchTable.id)
            if set_id is not None:
                ask = ask.where(PatchTable.set_id == set_id)
            try:
                return [self._card(r) for r in s.scalars(ask)]
            except (ValueError, TypeError):
                ids = list(s.scalars(ask.with_only_columns(PatchTable.id)))
                return [self._card_of(s, i) for i in ids]

    def _card_of(self, s: Session, patch_id: int) -> PatchCard:
        """The record of one row, if not all rows can be read at once."""
        try:
            return self._card(s.get_one(PatchTable, patch_id))
        except (ValueError, TypeError):
            gone = PatchTable.deleted.is_not(None)
            ask = select(PatchTable.slug, PatchTable.set_id, PatchTable.revision, gone).where(PatchTable.id == patch_id)
            slug, set_id, revision, deleted = s.execute(ask).one()
            return PatchCard(str(slug), set_id, str(slug), None, now(), bool(deleted), revision, True)

    def card(self, slug: str) -> PatchCard:
        """The record of a patch, even of a deleted one. Raises NoSuchPatch."""
        with self._sessions.read() as s:
            found = s.scalar(select(PatchTable.id).where(PatchTable.slug == slug))
            if found is None:
                raise NoSuchPatch(slug)
            return self._card_of(s, found)

    def load(self, slug: str) -> Patch:
        """A patch that is not deleted. Raises NoSuchPatch or Damaged."""
        return self.standing(slug)[0]

    def standing(self, slug: str) -> tuple[Patch, Standing]:
        """A patch that is not deleted, and its present state. Raises NoSuchPatch or Damaged."""
        with self._sessions.read() as s:
            found = s.execute(
                select(PatchTable.id, PatchTable.revision, PatchTable.head)
                .where(PatchTable.slug == slug, PatchTable.deleted.is_(None))
            ).first()  # fmt: skip
            if found is None:
                raise NoSuchPatch(slug)
            try:
                document = body_of(s, found.id, slug)
                return patch_from(document), Standing(document, found.revision, found.head)
            except (ValueError, TypeError) as problem:
                raise Damaged(slug, str(problem)[:200]) from None

    def raw(self, slug: str) -> bytes:
        """The row of a patch, as it is. Raises NoSuchPatch."""
        with self._sessions.read() as s:
            found = s.scalar(select(type_coerce(PatchTable.body, Text)).where(PatchTable.slug == slug))
            if found is None:
                raise NoSuchPatch(slug)
            return found if isinstance(found, bytes) else str(found).encode("utf-8", "replace")

    def good_states(self, slug: str) -> list[tuple[str, Patch]]:
        """Readable whole states of a patch's history, described, newest first."""
        found = []
        for step, document in self.history.states(slug):
            try:
                found.append((f"after “{step.label}”, {step.made:%Y-%m-%d %H:%M} UTC", patch_from(document)))
            except ValueError:
                continue
        return found

    def mend(self, slug: str, patch: Patch, label: str) -> None:
        """Replace a damaged patch. Its history continues from there. Raises NoSuchPatch."""
        with self._sessions.write() as s:
            row = row_of(s, slug)
            s.execute(delete(StepTable).where(StepTable.patch_id == row.id, StepTable.id > row.head))
            self._put(s, row, patch, head=row.head)

    def _add(self, s: Session, set_id: int, patch: Patch, demo: str | None) -> str:
        slug = free_id(patch.name, list(s.scalars(select(PatchTable.slug))))
        row = PatchTable(
            set_id=set_id, slug=slug, name=patch.name, body=document_of(patch), format=VERSION, revision=0, head=0,
            demo=demo, created=now(), edited=now(),
        )  # fmt: skip
        s.add(row)
        s.flush()
        return slug

    @staticmethod
    def _put(s: Session, row: PatchTable, patch: Patch, head: int) -> None:
        values = {"body": document_of(patch), "name": patch.name, "format": VERSION, "head": head, "edited": now()}
        s.execute(update(PatchTable).where(PatchTable.id == row.id).values(revision=row.revision + 1, **values))

    def add(self, set_id: int, patch: Patch) -> str:
        """Store a new patch. Returns its slug."""
        with self._sessions.write() as s:
            return self._add(s, set_id, patch, None)

    def delete(self, slug: str) -> None:
        """Delete a patch; it can be restored. Raises NoSuchPatch."""
        self._mark_deleted(slug, True)

    def put_back(self, slug: str) -> None:
        """Undo a deletion. Raises NoSuchPatch."""
        self._mark_deleted(slug, False)

    def _mark_deleted(self, slug: str, deleted: bool) -> None:
        with self._sessions.write() as s:
            done = s.execute(
                update(PatchTable)
                .where(PatchTable.slug == slug)
                .values(deleted=now() if deleted else None, revision=PatchTable.revision + 1)
            )
            if done.rowcount != 1:  # type: ignore[attr-defined]
                raise NoSuchPatch(slug)

    # the demo set

    def seed_demo(self, name: str, patches: dict[str, Patch]) -> bool:
        """Add the demo set once. Returns False if it was added before."""
        with self._sessions.write() as s:
            if s.scalar(select(SetTable).where(SetTable.demo.is_(True))) is not None:
                return False
            row = SetTable(name=name, limits={}, demo=True)
            s.add(row)
            s.flush()
            for slug, patch in patches.items():
                self._add(s, row.id, patch, slug)
            return True

    def restore_demo(self, name: str, patches: dict[str, Patch]) -> None:
        """Restore every demo patch as shipped, even deleted ones. Nothing else changes."""
        self.seed_demo(name, patches)
        with self._sessions.write() as s:
            shelf = s.scalars(select(SetTable).where(SetTable.demo.is_(True))).one()
            kept: Iterable[PatchTable] = s.scalars(select(PatchTable).where(PatchTable.demo.is_not(None)))
            rows = {r.demo: r for r in kept}
            for slug, patch in patches.items():
                row = rows.get(slug)
                if row is None:
                    self._add(s, shelf.id, patch, slug)
                    continue
                for table in (StepTable, SittingTable, VerdictTable):
                    s.execute(delete(table).where(table.patch_id == row.id))
                s.execute(update(PatchTable).where(PatchTable.id == row.id).values(deleted=None))
                self._put(s, row, patch, head=0)
