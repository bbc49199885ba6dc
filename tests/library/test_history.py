"""The history: exact there and back, whatever was lost of it, in the same work however long it is."""

import sqlite3
from datetime import timedelta

import pytest

from kessel.formats import document_of, patch_from
from kessel.library import Library, NoSuchPatch, Stale
from kessel.library import history as module

from ..making import edited, patch


@pytest.fixture
def library(tmp_path):
    made = Library(tmp_path)
    yield made
    made.close()


def at(gain, **more):
    return document_of(edited(patch(), output__gain=float(gain), **more))


def made(library, steps):
    """A patch whose step n set the gain to n / 10."""
    slug = library.add(library.add_set("Mine"), patch())
    for n in range(steps):
        library.history.record(slug, n, at((n + 1) / 10), f"gain {n + 1}")
    return slug


def spoil(library, words):
    with sqlite3.connect(library.folder / "kessel.db") as connection:
        connection.execute(words)


def test_back_and_forth_and_a_new_step_drops_what_was_undone(library):
    slug, history = made(library, 3), library.history
    taken = history.take(slug, 3, redo=False)
    assert (taken.label, taken.standing.document, taken.standing.revision) == ("gain 3", at(0.2), 4)
    assert [s.undone for s in history.steps(slug)] == [False, False, True]
    assert history.take(slug, 4, redo=True).standing.document == at(0.3)
    assert history.take(slug, 5, redo=True) is None
    history.take(slug, 5, redo=False)
    history.record(slug, 6, at(0.9), "gain 9")
    assert [s.label for s in history.steps(slug)] == ["gain 1", "gain 2", "gain 9"]
    assert library.load(slug) == patch_from(at(0.9))


def test_a_write_from_another_revision_or_of_a_deleted_patch_is_refused(library):
    slug, history = made(library, 2), library.history
    first = history.steps(slug)[0].id
    for write in (
        lambda r: history.record(slug, r, at(1), "late"),
        lambda r: history.amend(slug, r, at(1)),
        lambda r: history.take(slug, r, redo=False),
        lambda r: history.go_to(slug, r, first),
    ):
        for revision in (1, 3):
            with pytest.raises(Stale):
                write(revision)
        assert library.card(slug).revision == 2 and library.load(slug) == patch_from(at(0.2))
    library.delete(slug)
    with pytest.raises(NoSuchPatch):
        history.record(slug, 3, at(1), "late")


def test_what_belongs_to_a_step_goes_with_it_and_the_step_after_it_leads_on_from_there(library):
    slug, history = made(library, 3), library.history
    history.take(slug, 3, redo=False)
    history.amend(slug, 4, at(0.2, tempo=99.0))
    assert history.take(slug, 5, redo=False).standing.document == at(0.1)
    assert history.take(slug, 6, redo=True).standing.document == at(0.2, tempo=99.0)
    assert history.take(slug, 7, redo=True).standing.document == at(0.3)
    assert history.take(slug, 8, redo=False).standing.document == at(0.2, tempo=99.0)


def test_any_step_can_be_gone_to_at_once(library):
    slug, history = made(library, 100), library.history
    steps = [s.id for s in history.steps(slug)]
    revision = 100
    for n in (3, 99, 0, 50, 31, 32, 33, 98):
        standing, _ = history.go_to(slug, revision, steps[n])
        assert standing.document == at((n + 1) / 10), n
        revision = standing.revision
    standing, between = history.go_to(slug, revision, 0)
    assert (standing.document, between) == (document_of(patch()), 99)
    assert history.go_to(slug, standing.revision, 10**9) is None
    other = library.add(library.add_set("Other"), patch())
    assert history.go_to(other, 0, steps[3]) is None


@pytest.mark.parametrize("column", ["back", "there", "before"])
def test_a_step_that_was_lost_is_led_around(library, column):
    slug, history = made(library, 80), library.history
    ids = [s.id for s in history.steps(slug)]
    spoil(library, f"UPDATE steps SET \"{column}\" = '[broken' WHERE id = {ids[70]}")
    revision = 80
    for n in range(79, -1, -1):
        taken = history.take(slug, revision, redo=False)
        revision = taken.standing.revision
        if column == "back" or n != 70:
            assert taken.standing.document == (at(n / 10) if n else document_of(patch())), n
    assert history.take(slug, revision, redo=False) is None


def test_a_step_that_can_not_be_taken_back_does_not_block_those_before_it(library):
    slug, history = made(library, 80), library.history
    ids = [s.id for s in history.steps(slug)]
    spoil(library, f"UPDATE steps SET there = 'x', back = 'x' WHERE id = {ids[70]}")
    spoil(library, "UPDATE states SET body = 'x'")
    revision, passed = 80, []
    while (taken := history.take(slug, revision, redo=False)) is not None:
        revision = taken.standing.revision
        if not taken.fits:
            passed.append(taken.label)
        patch_from(taken.standing.document)
    assert passed[0] == "gain 71"
    assert library.history.steps(slug)[0].undone


def test_whole_states_are_kept_by_content_now_and_then(library):
    slug, history = made(library, 3 * module.STATE_EVERY), library.history
    states = history.states(slug)
    assert [s.label for s, _ in states] == [f"gain {n}" for n in (65, 33, 1)]
    assert [d for _, d in states] == [at(6.5), at(3.3), at(0.1)]
    again = made(library, 1)
    with sqlite3.connect(library.folder / "kessel.db") as connection:
        (kept,) = connection.execute("SELECT COUNT(*) FROM states").fetchone()
    assert (again != slug, kept) == (True, 4)


def test_a_sitting_ends_with_a_long_break(library, monkeypatch):
    slug, clock = library.add(library.add_set("Mine"), patch()), [module.now()]
    monkeypatch.setattr(module, "now", lambda: clock[0])
    for n, minutes in enumerate((0, 10, 44, 46, 5)):
        clock[0] += timedelta(minutes=minutes)
        library.history.record(slug, n, at(n + 1), f"gain {n}")
    sittings = [s.sitting for s in library.history.steps(slug)]
    assert sittings == [sittings[0]] * 3 + [sittings[3]] * 2 and sittings[0] != sittings[3]


def work_of(library, slug, act):
    """Instructions that the database's machine takes for an act."""
    counted = [0]

    def count():
        counted[0] += 1

    engine = library._engine
    with engine.connect() as connection:
        connection.connection.driver_connection.set_progress_handler(count, 1)
    try:
        act()
    finally:
        with engine.connect() as connection:
            connection.connection.driver_connection.set_progress_handler(None, 0)
    return counted[0]


def test_a_step_takes_the_same_work_however_long_the_history_is(library):
    slug, history = made(library, 40), library.history

    def both():
        revision = library.card(slug).revision
        history.record(slug, revision, at(5), "one more")
        history.take(slug, revision + 1, redo=False)
        history.take(slug, revision + 2, redo=True)

    short = work_of(library, slug, both)
    assert short > 100
    with sqlite3.connect(library.folder / "kessel.db") as connection:
        columns = "patch_id, sitting_id, label, there, back, before, after, state, since, made"
        # ten thousand undone before they are dropped would be another matter: these all stand
        connection.execute(
            f"WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < 20000) "
            f"INSERT INTO steps ({columns}) SELECT {columns} FROM steps, n WHERE steps.id = (SELECT MAX(id) FROM steps)"
        )
        connection.execute("UPDATE patches SET head = (SELECT MAX(id) FROM steps)")
    assert work_of(library, slug, both) < 1.3 * short
