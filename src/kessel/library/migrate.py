"""Migration of a database to the newest tables, after a backup."""

from __future__ import annotations

import sqlite3
from contextlib import closing
from datetime import UTC, datetime
from pathlib import Path

from alembic import command
from alembic.config import Config
from alembic.runtime.migration import MigrationContext
from alembic.script import ScriptDirectory
from sqlalchemy import create_engine, event

from .database import DATABASE, LibraryProblem, why

KEPT_COPIES = 7


def backup(folder: Path, word: str) -> Path:
    """Copy the database of a folder to its ``backups``; the newest seven are kept. Raises OSError, sqlite3.Error."""
    beside = folder / "backups"
    beside.mkdir(exist_ok=True)
    copy = beside / f"kessel-{word}-{datetime.now(UTC):%Y%m%d-%H%M%S}.db"
    with closing(sqlite3.connect(folder / DATABASE)) as here, closing(sqlite3.connect(copy)) as there:
        here.backup(there)
    for old in sorted(beside.glob("kessel-*.db"), key=lambda p: p.stat().st_mtime)[:-KEPT_COPIES]:
        old.unlink(missing_ok=True)
    return copy


def check_whole(folder: Path) -> bool:
    """Whether the folder has a database. Raises LibraryProblem if it can't be used."""
    path = folder / DATABASE
    if not path.exists():
        return False
    try:
        with closing(sqlite3.connect(path, timeout=2.0)) as connection:
            found = connection.execute("PRAGMA quick_check(1)").fetchone()
            # a write lock of another program shows only when this connection wants to write
            connection.execute("BEGIN IMMEDIATE")
            connection.execute("ROLLBACK")
    except sqlite3.Error as problem:
        raise LibraryProblem(f"the database in {folder} can't be used: {why(problem)}") from None
    if found is None or found[0] != "ok":
        raise LibraryProblem(
            f"the database in {folder} can't be used: it is damaged; put back a copy from {folder / 'backups'}"
        )
    return True


def migrate(folder: Path) -> None:
    """Run the missing migrations, all or none. Raises LibraryProblem."""
    there = check_whole(folder)
    config = Config()
    config.set_main_option("script_location", str(Path(__file__).parent / "migrations"))
    known = ScriptDirectory.from_config(config)
    # foreign keys are off: rebuilding a table would otherwise delete the rows that refer to it
    engine = create_engine(f"sqlite:///{folder / DATABASE}")
    event.listen(engine, "connect", lambda connection, _: setattr(connection, "isolation_level", None))
    event.listen(engine, "begin", lambda connection: connection.exec_driver_sql("BEGIN IMMEDIATE"))
    try:
        with engine.begin() as connection:
            present = MigrationContext.configure(connection).get_current_revision()
            if present == known.get_current_head():
                return
            if present is not None and present not in {s.revision for s in known.walk_revisions()}:
                raise LibraryProblem(
                    f"the database in {folder} was made by a newer Kessel (tables {present[:12]}): start that one, "
                    "or give another folder with --data"
                )
        if there and present is not None:
            backup(folder, f"tables-{present}")
        with engine.begin() as connection:
            config.attributes["connection"] = connection
            command.upgrade(config, "head")
    finally:
        engine.dispose()
