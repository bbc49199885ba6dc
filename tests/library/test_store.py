"""What is kept: one transaction a change, a way back, and nothing lost to a kill."""

import os
import signal
import subprocess
import sys
from pathlib import Path

import numpy as np
import pytest
from alembic.autogenerate import compare_metadata
from alembic.migration import MigrationContext
from sqlalchemy import create_engine, text
from sqlalchemy.exc import IntegrityError

from kessel.demo import SET_NAME, demo_patches
from kessel.formats import document_of
from kessel.library import Library, LibraryProblem, NoSuchPatch, NotKept
from kessel.library.database import Sessions, engine_of
from kessel.library.tables import Base

from ..making import edited, patch


@pytest.fixture
def library(tmp_path):
    made = Library(tmp_path)
    yield made
    made.close()


def test_migrations_lead_to_the_tables(library, tmp_path):
    with create_engine(f"sqlite:///{tmp_path / 'kessel.db'}").connect() as connection:
        assert compare_metadata(MigrationContext.configure(connection), Base.metadata) == []
        assert connection.exec_driver_sql("PRAGMA journal_mode").scalar() == "wal"
        assert connection.exec_driver_sql("SELECT version_num FROM alembic_version").scalar() == "0004"


def test_add_load_delete_and_put_back(library):
    home = library.add_set("Mine")
    slugs = [library.add(home, patch()) for _ in range(3)]
    assert slugs == ["test", "test-2", "test-3"]
    assert library.load("test-2") == patch()
    library.delete("test-2")
    assert [c.slug for c in library.patches(home)] == ["test", "test-3"]
    with pytest.raises(NoSuchPatch, match="may have been deleted"):
        library.load("test-2")
    library.put_back("test-2")
    assert library.load("test-2") == patch()
    with pytest.raises(NoSuchPatch):
        library.card("never")


def test_the_demo_set_is_seeded_once_and_restored_on_demand(library):
    assert library.seed_demo(SET_NAME, demo_patches())
    assert not library.seed_demo(SET_NAME, demo_patches())
    own = library.add(library.add_set("Mine"), patch())
    library.history.record("undertow", 0, document_of(edited(library.load("undertow"), output__gain=5.0)), "gain")
    for n in range(3):
        library.history.record(own, n, document_of(edited(patch(), output__gain=float(n + 1))), f"gain {n + 1}")
    library.delete("salt-press")
    library.restore_demo(SET_NAME, demo_patches())
    assert library.load("undertow") == demo_patches()["undertow"]
    assert library.history.steps("undertow") == []
    assert library.standing("undertow")[1].head == 0
    assert library.load("salt-press") == demo_patches()["salt-press"]
    # a user's own patch keeps its history, to its first step
    assert [s.label for s in library.history.steps(own)] == ["gain 1", "gain 2", "gain 3"]
    assert library.load(own) == edited(patch(), output__gain=3.0)
    while library.history.take(own, library.card(own).revision, redo=False) is not None:
        pass
    assert library.load(own) == patch()
    assert len(library.patches()) == len(demo_patches()) + 1


def test_what_the_disk_does_not_take_is_told_and_a_fault_of_ours_is_not_called_so(library, tmp_path):
    home = library.add_set("Mine")
    sessions = Sessions(engine_of(tmp_path))
    with pytest.raises(IntegrityError), sessions.write() as s:
        s.execute(text("INSERT INTO sets SELECT * FROM sets"))
    with sessions.write() as s:
        pages = s.execute(text("PRAGMA page_count")).scalar()
        s.execute(text(f"PRAGMA max_page_count = {pages}"))
        with pytest.raises(NotKept, match="the disk is full: free some space"), sessions._told():
            for _n in range(2000):
                s.execute(text("INSERT INTO sets (name, limits, demo) VALUES (:name, '{}', 0)"), {"name": "x" * 60})
        s.rollback()
    assert library.add(home, patch()) == "test"


def test_a_folder_that_cannot_be_used(tmp_path):
    blocked = tmp_path / "file"
    blocked.write_text("x")
    with pytest.raises(LibraryProblem, match="can't be made"):
        Library(blocked / "below")
    (tmp_path / "bad").mkdir()
    (tmp_path / "bad" / "kessel.db").write_bytes(b"this is no database, not at all" * 100)
    with pytest.raises(LibraryProblem, match="can't be used"):
        Library(tmp_path / "bad")


KILLED = """
import os, signal, sys
from pathlib import Path
from kessel.desk import Desk
from kessel.patch import Edit
desk = Desk(Path(sys.argv[1]))
desk.render_worker.ask = lambda *a: 0
desk.seed_demo()
patch = desk.open("sluice-gate")
for i in range(20):
    patch.edit([Edit("output.gain", -float(i) / 10)])
    print(i, flush=True)
os.kill(os.getpid(), signal.SIGKILL)
"""


def test_acknowledged_edits_survive_a_kill(tmp_path):
    source = str(Path(__file__).parents[2] / "src")
    run = subprocess.run(
        [sys.executable, "-c", KILLED, str(tmp_path)],
        env=os.environ | {"PYTHONPATH": source},
        capture_output=True,
        text=True,
    )
    assert run.returncode == -signal.SIGKILL, run.stderr[-500:]
    assert run.stdout.split()[-1] == "19"
    library = Library(tmp_path)
    assert library.load("sluice-gate").output.gain == -1.9
    assert len(library.history.steps("sluice-gate")) == 20
    library.close()


def test_audio_is_kept_once_listed_newest_first_and_found(library):
    tone = np.vstack([np.linspace(-1.0, 1.0, 4800)] * 2)
    first = library.audio.keep(tone[:1], "One", 55.0)
    second = library.audio.keep(tone, "A" * 80, None)
    assert (first.name, first.seconds, first.channels, first.root) == ("One", 0.1, 1, 55.0)
    assert (second.name, second.channels, second.root) == ("A" * 60, 2, None)
    assert library.audio.keep(tone[:1], "Again", None) == first
    assert library.audio.all() == [second, first]
    assert library.audio.card(first.word) == first and library.audio.card("0" * 24) is None


def test_a_folder_in_use_says_by_whom(library, tmp_path):
    with pytest.raises(LibraryProblem, match=rf"in use by another Kessel \(process {os.getpid()}\)"):
        Library(tmp_path)
