"""The history of a patch: exact differences between documents, whole states now and then, sittings.

Every write names the revision it was made from. It is refused if the database has another one, or if the patch was
deleted. The work of a step does not depend on the length of the history.
"""

from __future__ import annotations

import hashlib
import json
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import timedelta
from typing import Any

from sqlalchemy import Text, delete, func, insert, select, text, type_coerce, update
from sqlalchemy.orm import Session

from ..patch import difference, patched
from .database import Sessions
from .records import HistoryStep
from .tables import PatchTable, SittingTable, StateTable, StepTable, now

BREAK = timedelta(minutes=45)
"""A sitting ends when nothing is done for this long."""

STATE_EVERY = 32
"""Most steps between two whole states."""


class NoSuchPatch(KeyError):
    """No patch has this slug."""

    def __str__(self) -> str:
        return f"there is no patch “{str(self.args[0])[:60]}”: it may have been deleted"


class Damaged(Exception):
    """A patch whose row can't be read."""

    def __init__(self, slug: str, reason: str) -> None:
        super().__init__(f"the patch is damaged: {reason}")
        self.slug = slug


class Stale(Exception):
    """The patch was changed elsewhere since the revision that a write was made from."""


@dataclass(frozen=True)
class Standing:
    """The present state of a patch: its document, its revision, and its step (0: the beginning)."""

    document: Any
    revision: int
    head: int


@dataclass(frozen=True)
class Taken:
    """A step that was undone or redone, and the present state of the patch.

    ``fits`` is False for a step whose difference can't be used: it was skipped, and the patch is unchanged.
    """

    standing: Standing
    label: str
    fits: bool = True


def row_of(s: Session, slug: str) -> PatchTable:
    """The row of a patch that is not deleted. Raises NoSuchPatch."""
    row = s.scalar(select(PatchTable).where(PatchTable.slug == slug, PatchTable.deleted.is_(None)))
    if row is None:
        raise NoSuchPatch(slug)
    return row


def body_of(s: Session, patch_id: int, slug: str = "") -> Any:
    """A patch's document. Raises Damaged if it is no JSON."""
    found = s.scalar(select(type_coerce(PatchTable.body, Text)).where(PatchTable.id == patch_id))
    try:
        return json.loads(found or "")
    except ValueError as problem:
        raise Damaged(slug, str(problem)[:200]) from None


def word_of(document: Any) -> str:
    """A digest of a document."""
    return hashlib.sha256(json.dumps(document, sort_keys=True).encode()).hexdigest()[:32]


def keep_state(s: Session, document: Any) -> str:
    """Store a whole document, once per content."""
    word = word_of(document)
    s.execute(insert(StateTable).prefix_with("OR IGNORE").values(word=word, body=document))
    return word


class History:
    """Histories of all patches of one database. Thread-safe."""

    def __init__(self, sessions: Sessions) -> None:
        self._sessions = sessions

    def record(self, slug: str, revision: int, document: Any, label: str) -> Standing:
        """Store an edited patch with its step. Undone steps are dropped.

        Raises NoSuchPatch, Stale or NotKept.
        """
        with self._sessions.write() as s:
            row = _claimed(s, slug, revision)
            before = body_of(s, row.id, row.slug)
            _drop_undone(s, row)
            sitting = _sitting(s, row.id, before)
            since = s.scalar(select(StepTable.since).where(StepTable.id == row.head))
            whole = since is None or since + 1 >= STATE_EVERY
            step = StepTable(
                patch_id=row.id, sitting_id=sitting, label=label[:400],
                since=0 if whole or since is None else since + 1,
            )  # fmt: skip
            _lead(s, step, before, document, whole)
            s.add(step)
            s.flush()
            return _write(s, row, document, step.id)

    def amend(self, slug: str, revision: int, document: Any) -> Standing:
        """Store a patch with data that belongs to the last step but was known only later.

        The neighbouring steps are adapted to the new document. Raises as ``record``.
        """
        with self._sessions.write() as s:
            row = _claimed(s, slug, revision)
            present = body_of(s, row.id, row.slug)
            last, after = _neighbour(s, row, redo=False), _neighbour(s, row, redo=True)
            if last is not None and (before := _led(present, last, redo=False)) is not None:
                _lead(s, last, before, document, last.state is not None)
            if after is not None and (beyond := _led(present, after, redo=True)) is not None:
                _lead(s, after, document, beyond, after.state is not None)
            if not row.head:
                _begin_at(s, row.id, document)
            return _write(s, row, document, row.head)

    def take(self, slug: str, revision: int, redo: bool) -> Taken | None:
        """Undo the last step, or redo the one that was undone last. None if there is none."""
        with self._sessions.write() as s:
            row = _claimed(s, slug, revision)
            step = _neighbour(s, row, redo)
            if step is None:
                return None
            present = body_of(s, row.id, row.slug)
            head = step.id if redo else _before(s, row.id, step.id)
            document = _led(present, step, redo)
            if document is None:
                document = _from_state(s, row.id, head)
            fits = document is not None
            document = document if fits else present
            return Taken(_write(s, row, document, head), step.label, fits)

    def go_to(self, slug: str, revision: int, step: int) -> tuple[Standing, int] | None:
        """Go to a step (0: the beginning). Returns the number of steps in between.

        None if neither the steps nor a stored state lead there.
        """
        with self._sessions.write() as s:
            row = _claimed(s, slug, revision)
            if step and s.scalar(select(StepTable.patch_id).where(StepTable.id == step)) != row.id:
                return None
            low, high = sorted((step, row.head))
            between = select(func.count()).where(StepTable.patch_id == row.id, StepTable.id > low, StepTable.id <= high)
            count = int(s.scalar(between) or 0)
            near = (row.head, body_of(s, row.id, row.slug)) if count <= STATE_EVERY else None
            document = _from_state(s, row.id, step, near)
            if document is None:
                return None
            return _write(s, row, document, step), count

    def steps(self, slug: str, most: int = 200) -> list[HistoryStep]:
        """The newest steps of a patch's history, oldest first."""
        with self._sessions.read() as s:
            row = row_of(s, slug)
            ask = select(StepTable).where(StepTable.patch_id == row.id).order_by(StepTable.id.desc()).limit(most)
            return [_as_record(r, row.head) for r in s.scalars(ask)][::-1]

    def states(self, slug: str, most: int = 16) -> list[tuple[HistoryStep, Any]]:
        """The newest whole states of a patch with their steps, newest first."""
        with self._sessions.read() as s:
            row = s.execute(select(PatchTable.id, PatchTable.head).where(PatchTable.slug == slug)).first()
            if row is None:
                raise NoSuchPatch(slug)
            patch_id, head = row
            ask = (
                select(StepTable, type_coerce(StateTable.body, Text))
                .join(StateTable, StateTable.word == StepTable.state)
                .where(StepTable.patch_id == patch_id, StepTable.state.is_not(None))
                .order_by(StepTable.id.desc()).limit(most)
            )  # fmt: skip
            found = []
            for step, body in s.execute(ask):
                try:
                    found.append((_as_record(step, head), json.loads(body)))
                except ValueError:
                    continue
            return found


def _as_record(r: StepTable, head: int) -> HistoryStep:
    return HistoryStep(r.id, r.label, r.id > head, r.made, r.sitting_id, r.state is not None)


def _claimed(s: Session, slug: str, revision: int) -> PatchTable:
    """The row of a patch that is about to be written. Raises NoSuchPatch or Stale."""
    row = row_of(s, slug)
    if row.revision != revision:
        raise Stale(slug)
    return row


def _write(s: Session, row: PatchTable, document: Any, head: int) -> Standing:
    """Replace the document and increment the revision, in the transaction that compared it."""
    new = row.revision + 1
    done = s.execute(
        update(PatchTable)
        .where(PatchTable.id == row.id, PatchTable.revision == row.revision, PatchTable.deleted.is_(None))
        .values(
            body=document, name=str(document["name"])[:60], head=head, revision=new, edited=now(),
            format=int(document["version"]),
        )
        .execution_options(synchronize_session=False)
    )  # fmt: skip
    if done.rowcount != 1:  # type: ignore[attr-defined]
        raise Stale(row.slug)
    return Standing(document, new, head)


def _drop_undone(s: Session, row: PatchTable) -> None:
    s.execute(delete(StepTable).where(StepTable.patch_id == row.id, StepTable.id > row.head))


def _neighbour(s: Session, row: PatchTable, redo: bool) -> StepTable | None:
    """The step that redo or undo would take."""
    if not redo:
        return s.get(StepTable, row.head) if row.head else None
    ask = select(StepTable).where(StepTable.patch_id == row.id, StepTable.id > row.head).order_by(StepTable.id)
    return s.scalars(ask.limit(1)).first()


def _before(s: Session, patch_id: int, step: int) -> int:
    """The step before one (0: the beginning)."""
    ask = select(StepTable.id).where(StepTable.patch_id == patch_id, StepTable.id < step).order_by(StepTable.id.desc())
    return int(s.scalar(ask.limit(1)) or 0)


def _lead(s: Session, step: StepTable, before: Any, after: Any, whole: bool) -> None:
    """Set the difference of a step between two documents. whole: store the one after it too."""
    step.there, step.back = difference(before, after), difference(after, before)
    step.before, step.after = word_of(before), word_of(after)
    step.state = keep_state(s, after) if whole else None


def _led(document: Any, step: StepTable, redo: bool) -> Any | None:
    """The document that a step leads to from this one. None if the step was made between others."""
    try:
        found = patched(document, step.there if redo else step.back)
    except ValueError:
        return None
    return found if word_of(found) == (step.after if redo else step.before) else None


def _begin_at(s: Session, patch_id: int, document: Any) -> None:
    """Start the history of a patch with a document."""
    first = select(SittingTable).where(SittingTable.patch_id == patch_id).order_by(SittingTable.id).limit(1)
    sitting = s.scalars(first).first()
    if sitting is not None:
        sitting.state = keep_state(s, document)


def _sitting(s: Session, patch_id: int, document: Any) -> int:
    """The sitting that a step made now belongs to."""
    ask = select(SittingTable).where(SittingTable.patch_id == patch_id).order_by(SittingTable.id.desc())
    last, at = s.scalars(ask.limit(1)).first(), now()
    if last is None or at - last.ended > BREAK:
        last = SittingTable(patch_id=patch_id, began=at, ended=at, state=keep_state(s, document))
        s.add(last)
    last.ended = at
    s.flush()
    return last.id


def _state(s: Session, word: str | None) -> Any | None:
    if word is None:
        return None
    body = s.scalar(select(type_coerce(StateTable.body, Text)).where(StateTable.word == word))
    try:
        document = json.loads(body or "")
    except ValueError:
        return None
    return document if word_of(document) == word else None


def _from_state(s: Session, patch_id: int, step: int, near: tuple[int, Any] | None = None) -> Any | None:
    """The document after a step, from ``near`` (a step and its document) or from the nearest stored states."""
    with_state = select(StepTable.id, StepTable.state).where(
        StepTable.patch_id == patch_id, StepTable.state.is_not(None)
    )
    after = with_state.where(StepTable.id >= step).order_by(StepTable.id).limit(1)
    before = with_state.where(StepTable.id <= step).order_by(StepTable.id.desc()).limit(1)
    found = [(i, w) for ask in (before, after) for i, w in s.execute(ask)]
    first = select(SittingTable.state).where(SittingTable.patch_id == patch_id).order_by(SittingTable.id).limit(1)
    found.append((0, s.scalar(first)))
    options = [near] if near is not None else []
    wanted = _word_behind(s, patch_id, step)
    for at, word in sorted(found, key=lambda f: abs(f[0] - step)):
        options.append((at, _state(s, word)))
    for at, document in options:
        walked = _walked(s, patch_id, document, at, step) if document is not None else None
        if walked is not None and word_of(walked) == wanted:
            return walked
    return None


def _word_behind(s: Session, patch_id: int, step: int) -> str | None:
    """The digest of the document after a step."""
    if step:
        return s.scalar(select(StepTable.after).where(StepTable.id == step))
    ask = select(StepTable.before).where(StepTable.patch_id == patch_id).order_by(StepTable.id)
    return s.scalar(ask.limit(1))


def _walked(s: Session, patch_id: int, document: Any, at: int, step: int) -> Any | None:
    """The document after ``step``, from the one after ``at``. None if a step in between does not fit."""
    redo = step > at
    low, high = sorted((step, at))
    ask = select(StepTable.there if redo else StepTable.back).where(
        StepTable.patch_id == patch_id, StepTable.id > low, StepTable.id <= high
    )
    try:
        for change in s.scalars(ask.order_by(StepTable.id.asc() if redo else StepTable.id.desc())):
            document = patched(document, change)
    except ValueError:
        return None
    return document


def rewrite(s: Session, patch_id: int, documents: Sequence[Any], steps: Sequence[StepTable]) -> None:
    """Recompute the steps of a patch between documents, one more than there are steps."""
    for n, step in enumerate(steps):
        step.since = n % STATE_EVERY
        _lead(s, step, documents[n], documents[n + 1], step.since == 0)
    _begin_at(s, patch_id, documents[0])


def drop_loose_states(s: Session) -> None:
    """Delete whole states that nothing refers to."""
    s.execute(
        text(
            "DELETE FROM states WHERE NOT EXISTS (SELECT 1 FROM steps WHERE steps.state = states.word)"
            " AND NOT EXISTS (SELECT 1 FROM sittings WHERE sittings.state = states.word)"
        )
    )
