"""The tables."""

from __future__ import annotations

from sqlalchemy import Float, ForeignKey, Index, String, Text
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column


class Base(DeclarativeBase):
    """Of all tables."""


class SetTable(Base):
    """A shelf of patches, with the limits its checks hold them against."""

    __tablename__ = "sets"

    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(String(60))
    limits: Mapped[str] = mapped_column(Text, default="{}")
    demo: Mapped[bool] = mapped_column(default=False)


class PatchTable(Base):
    """A patch as it now stands; times are UTC, ISO 8601."""

    __tablename__ = "patches"

    id: Mapped[int] = mapped_column(primary_key=True)
    set_id: Mapped[int] = mapped_column(ForeignKey("sets.id", ondelete="CASCADE"))
    slug: Mapped[str] = mapped_column(String(80), unique=True)
    name: Mapped[str] = mapped_column(String(60))
    body: Mapped[str] = mapped_column(Text)
    demo: Mapped[str | None] = mapped_column(String(80), default=None)
    created: Mapped[str] = mapped_column(String(40))
    edited: Mapped[str] = mapped_column(String(40))
    deleted: Mapped[str | None] = mapped_column(String(40), default=None)


class StepTable(Base):
    """One step of a patch's history: edits there and back."""

    __tablename__ = "steps"
    __table_args__ = (Index("steps_by_patch", "patch_id", "id"),)

    id: Mapped[int] = mapped_column(primary_key=True)
    patch_id: Mapped[int] = mapped_column(ForeignKey("patches.id", ondelete="CASCADE"))
    label: Mapped[str] = mapped_column(Text)
    there: Mapped[str] = mapped_column(Text)
    back: Mapped[str] = mapped_column(Text)
    undone: Mapped[bool] = mapped_column(default=False)
    made: Mapped[str] = mapped_column(String(40))


class PartTable(Base):
    """A part kept on the part shelf; body is JSON."""

    __tablename__ = "parts"

    id: Mapped[int] = mapped_column(primary_key=True)
    kind: Mapped[str] = mapped_column(String(20))
    name: Mapped[str] = mapped_column(String(60))
    body: Mapped[str] = mapped_column(Text)
    made: Mapped[str] = mapped_column(String(40))


class AudioTable(Base):
    """Audio kept as a file of the data folder, named by its content; root is its pitch in Hz where it has one."""

    __tablename__ = "audio"

    word: Mapped[str] = mapped_column(String(80), primary_key=True)
    name: Mapped[str] = mapped_column(String(60))
    seconds: Mapped[float] = mapped_column(Float)
    channels: Mapped[int]
    root: Mapped[float | None] = mapped_column(Float, default=None)
    made: Mapped[str] = mapped_column(String(40))


class RoomTable(Base):
    """A room that was changed, added or taken away; body is JSON, empty for one that is gone."""

    __tablename__ = "rooms"

    id: Mapped[str] = mapped_column(String(32), primary_key=True)
    body: Mapped[str] = mapped_column(Text)
    made: Mapped[str] = mapped_column(String(40))


class ReferenceTable(Base):
    """The recording a patch is held against: seconds of it from a start on, and its tempo."""

    __tablename__ = "reference_stretches"

    patch_id: Mapped[int] = mapped_column(ForeignKey("patches.id", ondelete="CASCADE"), primary_key=True)
    audio: Mapped[str] = mapped_column(String(80))
    start: Mapped[float] = mapped_column(Float)
    seconds: Mapped[float] = mapped_column(Float)
    tempo: Mapped[float] = mapped_column(Float)


class VerdictTable(Base):
    """What the checks said behind a step of a patch's history (0: the beginning); body is JSON, verdicts by check."""

    __tablename__ = "verdicts"

    patch_id: Mapped[int] = mapped_column(ForeignKey("patches.id", ondelete="CASCADE"), primary_key=True)
    step: Mapped[int] = mapped_column(primary_key=True)
    body: Mapped[str] = mapped_column(Text)
