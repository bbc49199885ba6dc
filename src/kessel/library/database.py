"""The database of a data folder: its lock, its connections, and its problems as text."""

from __future__ import annotations

import errno
import json
import os
import sqlite3
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from filelock import FileLock, Timeout
from sqlalchemy import Engine, create_engine, event
from sqlalchemy.exc import DBAPIError
from sqlalchemy.orm import Session

DATABASE = "kessel.db"
_PATIENCE_MS = 5000


class LibraryProblem(Exception):
    """The data folder can't be used. The text says what to do."""


class NotKept(Exception):
    """The database did not accept a change, and nothing of it is stored. The text says why and what to do."""


_DISK = {
    errno.ENOSPC: "the disk is full: free some space, then do it again",
    errno.EDQUOT: "the disk is full: free some space, then do it again",
    errno.EFBIG: "the disk does not take it (it may be full): look after it, then do it again",
    errno.EIO: "the disk does not take it (it may be gone): look after it, then do it again",
    errno.EROFS: "the data folder may not be written: allow it, then do it again",
    errno.EACCES: "the data folder may not be written: allow it, then do it again",
}


def disk_refused(problem: OSError) -> str:
    """An error of the disk, as text that says what to do."""
    said = _DISK.get(problem.errno or 0, f"{problem.strerror or problem}: look after it, then do it again")
    return f"Not kept: {said}."


@contextmanager
def keeping_file() -> Iterator[None]:
    """Turn an OSError about a stored file into NotKept."""
    try:
        yield
    except OSError as problem:
        raise NotKept(disk_refused(problem)) from problem


def _compact(value: Any) -> str:
    return json.dumps(value, ensure_ascii=False, separators=(",", ":"), allow_nan=False)


def _first_words(connection: Any, record: Any) -> None:
    # begin transactions explicitly: a writing one then holds the database from its first statement on
    connection.isolation_level = None
    for line in ("journal_mode=WAL", "synchronous=FULL", "foreign_keys=ON", f"busy_timeout={_PATIENCE_MS}"):
        connection.execute(f"PRAGMA {line}")


def _begin(connection: Any) -> None:
    writes = connection.get_execution_options().get("writes", False)
    connection.exec_driver_sql("BEGIN IMMEDIATE" if writes else "BEGIN")


def engine_of(folder: Path) -> Engine:
    """Connections to the database of a folder."""
    engine = create_engine(f"sqlite:///{folder / DATABASE}", json_serializer=_compact)
    event.listen(engine, "connect", _first_words)
    event.listen(engine, "begin", _begin)
    return engine


def why(problem: BaseException) -> str:
    """An error of the database, as text that says what to do."""
    code = getattr(problem, "sqlite_errorcode", None)
    primary = code & 0xFF if isinstance(code, int) else None
    return {
        sqlite3.SQLITE_FULL: "the disk is full: free some space, then do it again",
        sqlite3.SQLITE_IOERR: "the disk does not take it (it may be full or gone): look after it, then do it again",
        sqlite3.SQLITE_BUSY: "another program holds the database: close it, then do it again",
        sqlite3.SQLITE_LOCKED: "another program holds the database: close it, then do it again",
        sqlite3.SQLITE_READONLY: "the data folder may not be written: allow it, then do it again",
        sqlite3.SQLITE_CANTOPEN: "the database can't be opened: see that the data folder is there and may be written",
        sqlite3.SQLITE_CORRUPT: "the database is damaged: stop Kessel and put back a copy from the folder backups",
        sqlite3.SQLITE_NOTADB: "the database is damaged: stop Kessel and put back a copy from the folder backups",
    }.get(primary, str(problem)) if primary is not None else str(problem)  # fmt: skip


class Sessions:
    """Reads and writes of one database. Thread-safe."""

    def __init__(self, engine: Engine) -> None:
        self._reads = engine
        self._writes = engine.execution_options(writes=True)

    @contextmanager
    def read(self) -> Iterator[Session]:
        """A consistent read. Raises NotKept."""
        with self._told(), Session(self._reads, expire_on_commit=False) as session, session.begin():
            yield session

    @contextmanager
    def write(self) -> Iterator[Session]:
        """One transaction, which is on disk when the block ends, or has no effect. Raises NotKept."""
        with self._told(), Session(self._writes) as session, session.begin():
            yield session

    @staticmethod
    @contextmanager
    def _told() -> Iterator[None]:
        try:
            yield
        except DBAPIError as problem:
            if problem.orig is None or not isinstance(problem.orig, sqlite3.DatabaseError):
                raise
            if isinstance(problem.orig, sqlite3.IntegrityError | sqlite3.ProgrammingError):
                raise
            raise NotKept(f"Not kept: {why(problem.orig)}.") from problem


class FolderLock:
    """The lock of one process on a data folder."""

    def __init__(self, folder: Path) -> None:
        """Lock the folder. Raises LibraryProblem, which names the holder."""
        self._holder = folder / "kessel.holder"
        self._lock = FileLock(folder / "kessel.lock", thread_local=False)
        try:
            self._lock.acquire(timeout=0)
        except Timeout:
            raise LibraryProblem(
                f"the data folder {folder} is in use by {self._who()}: "
                "stop that one, or give another folder with --data"
            ) from None
        except OSError as problem:
            raise LibraryProblem(f"the data folder {folder} can't be used: {problem.strerror or problem}") from None
        self.say(f"another Kessel (process {os.getpid()})")

    def say(self, who: str) -> None:
        """Record the holder, for others to read."""
        try:
            self._holder.write_text(who, encoding="utf-8")
        except OSError:
            # used only to word a message
            return

    def _who(self) -> str:
        try:
            return self._holder.read_text(encoding="utf-8")[:120].strip() or "another Kessel"
        except (OSError, ValueError):
            return "another Kessel"

    def release(self) -> None:
        """Unlock the folder."""
        self._holder.unlink(missing_ok=True)
        self._lock.release()
