"""Folders and files of every earlier version open for ever."""

import json
import sqlite3
from pathlib import Path

import pytest

from kessel.desk import Desk
from kessel.formats import document_of, patch_from
from kessel.formats import ladder as rungs
from kessel.library import Damaged, Library, LibraryProblem, history
from kessel.library import upgrade as module
from kessel.patch import VERSION

from ..making import edited, patch

KEPT = Path(__file__).parents[1] / "kept"


def folder_of(tmp_path, name):
    with sqlite3.connect(tmp_path / "kessel.db") as connection:
        connection.executescript((KEPT / f"{name}.sql").read_text(encoding="utf-8"))
    connection.close()
    return tmp_path


def whole(document):
    """A document of any version with every field of the newest."""
    return document_of(patch_from(document))


def test_a_folder_of_edits_becomes_one_of_documents(tmp_path):
    wanted = json.loads((KEPT / "tables-0003.json").read_text(encoding="utf-8"))
    library = Library(folder_of(tmp_path, "tables-0003"))
    for slug, was in wanted.items():
        documents = [whole(d) for d in was["back"]]
        assert document_of(library.load(slug)) == documents[0]
        assert [s.label for s in library.history.steps(slug)] == was["labels"]
        revision = library.card(slug).revision
        for expected in documents[1:]:
            taken = library.history.take(slug, revision, redo=False)
            assert (whole(taken.standing.document), taken.fits) == (expected, True)
            revision = taken.standing.revision
        assert library.history.take(slug, revision, redo=False) is None
        while (taken := library.history.take(slug, revision, redo=True)) is not None:
            document, revision = taken.standing.document, taken.standing.revision
        assert whole(document) == whole(was["end"])
    assert library.load("salt-press-copy").name == "SaltPress copy"
    library.close()


def test_all_else_of_an_older_folder_is_there(tmp_path):
    desk = Desk(folder_of(tmp_path, "tables-0003"))
    cards = {c.slug: c for c in desk.library.patches()}
    assert "ebb-motor" not in cards and desk.library.card("ebb-motor").deleted
    assert (cards["sluice-gate"].demo, cards["sluice-gate"].edited.year) == ("sluice-gate", 2026)
    assert next(p.name for _, p in desk.shelf("layer")) == "My sub"
    assert desk.library.parts.all()[0].body["version"] == VERSION
    desk.close()


def test_a_copy_is_made_before_the_tables_change(tmp_path):
    Library(folder_of(tmp_path, "tables-0003")).close()
    (copy,) = (tmp_path / "backups").iterdir()
    with sqlite3.connect(copy) as connection:
        assert connection.execute("SELECT version_num FROM alembic_version").fetchone() == ("0003",)
        assert connection.execute("SELECT COUNT(*) FROM steps").fetchone() == (7,)
    Library(tmp_path).close()
    assert len(list((tmp_path / "backups").iterdir())) == 1


def test_a_migration_that_fails_changes_nothing(tmp_path, monkeypatch):
    folder = folder_of(tmp_path, "tables-0003")
    with sqlite3.connect(folder / "kessel.db") as connection:
        connection.execute("UPDATE audio SET made = 'never' WHERE 0")
        connection.execute("UPDATE parts SET made = 'never'")
    with pytest.raises(LibraryProblem, match="left as it was"):
        Library(folder)
    with sqlite3.connect(folder / "kessel.db") as connection:
        assert connection.execute("SELECT version_num FROM alembic_version").fetchone() == ("0003",)
        assert connection.execute("SELECT undone FROM steps").fetchone() is not None


def test_a_whole_history_is_led_up_the_ladder_and_stays_exact(tmp_path, monkeypatch):
    """A rung that is not there yet: a field with another name and a default that was another."""

    def louder(tree):
        for found in rungs.objects(tree):
            if "tempo" in found and "layers" in found:
                found["note"] = f"{found.get('note', '')}+"

    library = Library(tmp_path)
    slug = library.add(library.add_set("Mine"), patch())
    for n in range(40):
        library.history.record(slug, n, document_of(edited(patch(), output__gain=float(n) / 10)), f"gain {n}")
    library.history.take(slug, 40, redo=False)
    library.close()
    ladder = (*rungs.LADDER, rungs.Rung(VERSION + 1, "a note grows", louder))

    def newer(document):
        return rungs.climb(document, document["version"], ladder)

    monkeypatch.setattr(module, "VERSION", VERSION + 1)
    monkeypatch.setattr(module, "newest", newer)
    library = Library(tmp_path)
    revision, n = library.card(slug).revision, 38
    while (taken := library.history.take(slug, revision, redo=False)) is not None:
        revision, n = taken.standing.revision, n - 1
        wanted = document_of(edited(patch(), output__gain=max(float(n), 0.0) / 10))
        assert taken.standing.document == newer(wanted) and taken.fits
        assert taken.standing.document["note"] == "+"
    assert [p.name.split("-")[1] for p in (tmp_path / "backups").iterdir()] == ["format"]
    library.close()


def test_what_is_newer_than_this_kessel_is_refused_in_one_line(tmp_path):
    document = document_of(patch()) | {"version": VERSION + 1}
    with pytest.raises(ValueError, match=f"reads versions 1 to {VERSION}"):
        patch_from(document)
    for odd in (0, True, "2", None, 1.0):
        with pytest.raises(ValueError, match="format version"):
            patch_from(document | {"version": odd})
    Library(tmp_path).close()
    with sqlite3.connect(tmp_path / "kessel.db") as connection:
        connection.execute("UPDATE alembic_version SET version_num = '9999'")
    with pytest.raises(LibraryProblem, match="newer Kessel"):
        Library(tmp_path)


def test_a_default_that_changes_is_written_into_older_documents():
    tree = {"layers": [{"chain": [{"kind": "filter"}, {"kind": "filter", "slope": 24}, {"kind": "echo"}]}]}
    rungs.spell_out(tree, "filter", "slope", 12)
    assert [i.get("slope") for i in tree["layers"][0]["chain"]] == [12, 24, None]


def test_loose_states_are_forgotten(tmp_path):
    library = Library(tmp_path)
    slug = library.add(library.add_set("Mine"), patch())
    library.history.record(slug, 0, document_of(edited(patch(), tempo=99.0)), "tempo")
    library.history.take(slug, 1, redo=False)
    library.history.record(slug, 2, document_of(edited(patch(), tempo=98.0)), "tempo")
    library.close()
    library = Library(tmp_path)
    words = [history.word_of(d) for _, d in library.history.states(slug)]
    with sqlite3.connect(tmp_path / "kessel.db") as connection:
        kept = {w for (w,) in connection.execute("SELECT word FROM states")}
    assert kept == {*words, history.word_of(document_of(patch()))}
    library.close()


@pytest.mark.parametrize("version", [0, 1])
def test_a_damaged_row_of_an_older_folder_stays_damaged_and_all_else_is_led_up(tmp_path, version):
    folder = folder_of(tmp_path, "tables-0003")
    spoil = "UPDATE patches SET body = substr(body, 1, 700) WHERE slug = 'undertow'"
    if version:
        Library(folder).close()
        spoil = spoil.replace(" WHERE", ", format = 1 WHERE")
    with sqlite3.connect(folder / "kessel.db") as connection:
        connection.execute(spoil)
    library = Library(folder)
    with pytest.raises(Damaged):
        library.load("undertow")
    assert library.load("sluice-gate").version == VERSION
    library.close()
