"""The tables of the database."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Any

from sqlalchemy import JSON, DateTime, Float, ForeignKey, Index, String, text
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column
from sqlalchemy.types import TypeDecorator


class UtcDateTime(TypeDecorator[datetime]):
    """A time that is stored as UTC and returned with its zone."""

    impl = DateTime
    cache_ok = True

    def process_bind_param(self, value: datetime | None, dialect: Any) -> datetime | None:
        """To the database."""
        return None if value is None else value.astimezone(UTC).replace(tzinfo=None)

    def process_result_value(self, value: datetime | None, dialect: Any) -> datetime | None:
        """From the database."""
        return None if value is None else value.replace(tzinfo=UTC)


def now() -> datetime:
    """The present time."""
    return datetime.now(UTC)


class Base(DeclarativeBase):
    """Base of all tables."""


class SetTable(Base):
    """A set of patches, with the limits of its checks."""

    __tablename__ = "sets"

    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(String(60))
    limits: Mapped[Any] = mapped_column(JSON, default=dict)
    demo: Mapped[bool] = mapped_column(default=False)


class PatchTable(Base):
    """The present state of a patch.

    ``format`` is the version of the patch file of its document and its history (0: steps that still hold edits). Every
    write increments ``revision``. ``head`` is the present step (0: the beginning).
    """

    __tablename__ = "patches"

    id: Mapped[int] = mapped_column(primary_key=True)
    set_id: Mapped[int] = mapped_column(ForeignKey("sets.id", ondelete="CASCADE"))
    slug: Mapped[str] = mapped_column(String(80), unique=True)
    name: Mapped[str] = mapped_column(String(60))
    body: Mapped[Any] = mapped_column(JSON, deferred=True)
    format: Mapped[int] = mapped_column(index=True)
    revision: Mapped[int] = mapped_column(default=0)
    head: Mapped[int] = mapped_column(default=0)
    demo: Mapped[str | None] = mapped_column(String(80), default=None)
    created: Mapped[datetime] = mapped_column(UtcDateTime, default=now)
    edited: Mapped[datetime] = mapped_column(UtcDateTime, default=now)
    deleted: Mapped[datetime | None] = mapped_column(UtcDateTime, default=None)


class SittingTable(Base):
    """A period of work on a patch without a long break. ``state``: the patch at its beginning."""

    __tablename__ = "sittings"
    __table_args__ = (Index("sittings_by_patch", "patch_id", "id"),)

    id: Mapped[int] = mapped_column(primary_key=True)
    patch_id: Mapped[int] = mapped_column(ForeignKey("patches.id", ondelete="CASCADE"))
    began: Mapped[datetime] = mapped_column(UtcDateTime)
    ended: Mapped[datetime] = mapped_column(UtcDateTime)
    state: Mapped[str | None] = mapped_column(ForeignKey("states.word"))


class StateTable(Base):
    """A whole patch document, stored once under its digest."""

    __tablename__ = "states"

    word: Mapped[str] = mapped_column(String(32), primary_key=True)
    body: Mapped[Any] = mapped_column(JSON, deferred=True)


class StepTable(Base):
    """One step of a patch's history: the differences in both directions between the documents ``before`` and ``after``
    it, which are named by their digests.

    ``state`` names the whole document after it, if it is stored. ``since`` counts the steps since one was.
    """

    __tablename__ = "steps"
    __table_args__ = (
        Index("steps_by_patch", "patch_id", "id"),
        Index("steps_with_state", "patch_id", "id", sqlite_where=text("state IS NOT NULL")),
        Index("steps_by_state", "state"),
    )

    id: Mapped[int] = mapped_column(primary_key=True)
    patch_id: Mapped[int] = mapped_column(ForeignKey("patches.id", ondelete="CASCADE"))
    sitting_id: Mapped[int | None] = mapped_column(ForeignKey("sittings.id"))
    label: Mapped[str] = mapped_column(String(400))
    there: Mapped[Any] = mapped_column(JSON, deferred=True)
    back: Mapped[Any] = mapped_column(JSON, deferred=True)
    before: Mapped[str] = mapped_column(String(32))
    after: Mapped[str] = mapped_column(String(32))
    state: Mapped[str | None] = mapped_column(ForeignKey("states.word"))
    since: Mapped[int] = mapped_column(default=0)
    made: Mapped[datetime] = mapped_column(UtcDateTime, default=now)


class PartTable(Base):
    """A part on the part shelf."""

    __tablename__ = "parts"

    id: Mapped[int] = mapped_column(primary_key=True)
    kind: Mapped[str] = mapped_column(String(20))
    name: Mapped[str] = mapped_column(String(60))
    body: Mapped[Any] = mapped_column(JSON, deferred=True)
    made: Mapped[datetime] = mapped_column(UtcDateTime, default=now)


class AudioTable(Base):
    """Audio stored as a file of the data folder, named by its digest. root is its pitch in Hz, if it has one."""

    __tablename__ = "audio"

    word: Mapped[str] = mapped_column(String(80), primary_key=True)
    name: Mapped[str] = mapped_column(String(60))
    seconds: Mapped[float] = mapped_column(Float)
    channels: Mapped[int]
    root: Mapped[float | None] = mapped_column(Float, default=None)
    made: Mapped[datetime] = mapped_column(UtcDateTime, default=now)


class RoomTable(Base):
    """A room that was changed, added or removed. The body of a removed one is null."""

    __tablename__ = "rooms"

    id: Mapped[str] = mapped_column(String(32), primary_key=True)
    body: Mapped[Any] = mapped_column(JSON)
    made: Mapped[datetime] = mapped_column(UtcDateTime, default=now)


class ReferenceTable(Base):
    """The reference recording of a patch: seconds of it from a start on, and its tempo."""

    __tablename__ = "reference_stretches"

    patch_id: Mapped[int] = mapped_column(ForeignKey("patches.id", ondelete="CASCADE"), primary_key=True)
    audio: Mapped[str] = mapped_column(String(80))
    start: Mapped[float] = mapped_column(Float)
    seconds: Mapped[float] = mapped_column(Float)
    tempo: Mapped[float] = mapped_column(Float)


class VerdictTable(Base):
    """Verdicts of the checks after a step of a patch's history (0: the beginning), by check."""

    __tablename__ = "verdicts"

    patch_id: Mapped[int] = mapped_column(ForeignKey("patches.id", ondelete="CASCADE"), primary_key=True)
    step: Mapped[int] = mapped_column(primary_key=True)
    body: Mapped[Any] = mapped_column(JSON)
