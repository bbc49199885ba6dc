"""Checks on the desk: keys and sets in the background, limits, verdicts over the history, rooms and the reference."""

import numpy as np
import pytest

from kessel.checks import Limits
from kessel.checks.playback.keys import AT_ONCE
from kessel.demo import demo_cards
from kessel.desk import Desk, KeptPatch, changed_room, copied_room, limit_words, worst_by_check
from kessel.desk.editing.limits import changed_limit
from kessel.desk.live.listening import Monitor
from kessel.desk.measuring.key_sweep import content_of
from kessel.engine import QUANTUM
from kessel.library import Reference
from kessel.patch import Edit, ValueProblem, apply, stock_rooms

from ...making import tone

_LONG = 60.0


def settle(opened, stage=2):
    opened.measure()
    return opened.measuring.wait_findings(opened.version, _LONG, stage)


def finished(sweep, patch):
    while sweep.running(patch):
        sweep.wait(patch, len(sweep.keys_of(patch)), _LONG)
    return sweep.keys_of(patch)


# keys


def test_keys_are_struck_a_few_at_a_time_and_kept_until_the_patch_changes(opened):
    sweep = opened.checking.sweep
    sweep.start(opened.patch, opened.limits, 28, 34)
    assert sweep.progress[1] == 7
    found = finished(sweep, opened.patch)
    assert [k.pitch for k in found] == list(range(28, 35))
    assert sweep.problem is None and sweep.progress == (7, 7)
    # a name, a note or the backing change no key; a level does
    before = opened.patch
    for edit in (Edit("name", "Other"), Edit("backing.beat.on", True), Edit("phrase.notes", [])):
        assert content_of(apply(before, [edit])) == content_of(before)
    opened.edit([Edit("layers.body.level", -20.0)])
    assert sweep.keys_of(opened.patch) == []
    opened.undo()
    assert len(sweep.keys_of(opened.patch)) == 7
    # only what is missing is struck when the range grows
    sweep.start(opened.patch, opened.limits, 28, 36)
    assert sweep.progress[1] == 2
    assert len(finished(sweep, opened.patch)) == 9


def test_a_sweep_can_be_stopped(opened):
    sweep = opened.checking.sweep
    sweep.start(opened.patch, opened.limits, 24, 48)
    sweep.cancel()
    known = sweep.keys_of(opened.patch)
    assert not sweep.running(opened.patch) and len(known) <= AT_ONCE
    # an answer that is under way when it is stopped changes nothing
    settle(opened)
    assert sweep.keys_of(opened.patch) == known


# findings


def test_findings_come_before_their_fixes_and_what_fixes_harm_comes_last(desk):
    opened = desk.open(desk.duplicate("undertow"))
    opened.measure()
    first = opened.measuring.wait_findings(opened.version, _LONG, 0)
    assert [f.check for f in first.findings if f.verdict == "fails"] == ["layers-add-up"]
    last = settle(opened)
    (bad,) = (f for f in last.findings if f.verdict == "fails")
    assert last.stage == 2 and bad.fixes and all(x.harms == () for x in bad.fixes)


def test_verdicts_are_kept_for_every_step(desk):
    slug = desk.duplicate("undertow")
    opened = desk.open(slug)
    found = settle(opened)
    bad = next(f for f in found.findings if f.verdict == "fails")
    opened.fix(bad.key, bad.fixes[0].label, found.version)
    settle(opened)
    kept = desk.library.checks.verdicts(slug)
    (step,) = (s.id for s in opened.steps())
    assert kept[0]["layers-add-up"] == "fails" and kept[step]["layers-add-up"] == "holds"
    opened.undo()
    assert worst_by_check(settle(opened).findings)["layers-add-up"] == "fails"


def test_who_sees_findings_finds_their_verdicts_kept(desk, monkeypatch):
    slug = desk.duplicate("undertow")
    opened = desk.open(slug)
    seen = []
    keep = type(desk.library.checks).put_verdicts

    def put(store, *words):
        # nobody is told before
        seen.append(opened.measuring.measured)
        keep(store, *words)

    monkeypatch.setattr(type(desk.library.checks), "put_verdicts", put)
    opened.measure()
    assert opened.measuring.wait_findings(opened.version, _LONG, 0) is not None
    assert seen == [None] and desk.library.checks.verdicts(slug)[0]["layers-add-up"] == "fails"


def test_aligning_everything_is_one_step(desk):
    opened = desk.open(desk.duplicate("undertow"))
    settle(opened)
    plan = opened.find("align", key=None)
    assert plan.edits and not plan.missed
    with pytest.raises(ValueProblem, match="changed since"):
        opened.align(None, opened.version + 1)
    edited = opened.align(None, opened.version)
    assert edited.label.startswith("Align: ") and len(opened.steps()) == 1
    assert worst_by_check(settle(opened).findings)["layers-add-up"] == "holds"
    with pytest.raises(ValueProblem, match="nothing to align"):
        opened.align(None, opened.version)


def test_what_is_looked_into_is_kept_by_version_and_limits(opened):
    settle(opened)
    assert opened.known("mono") is None
    found = opened.find("mono")
    assert opened.known("mono") is found and opened.find("mono") is found
    opened.edit([Edit("layers.body.width", 50.0)])
    assert opened.known("mono") is None
    with pytest.raises(ValueProblem, match="not there"):
        opened.find("reference", audio="0" * 32, start=0.0, seconds=1.0, tempo=120.0)


# limits


def test_a_limit_is_changed_by_what_a_person_types(tmp_path):
    desk = Desk(tmp_path)
    try:
        desk.seed_demo()
        opened = desk.open("undertow")
        settle(opened)
        assert opened.put_limit("sum_loss_db", "-9 dB") == "Sum loss: −9.0 dB"
        assert all(f.verdict != "fails" for f in settle(opened).findings)
        # it belongs to the set: every patch of it is held against it
        assert desk.open("sluice-gate").limits.sum_loss_db == -9.0
        with pytest.raises(ValueProblem, match="Sum loss goes from -24 to 0, not 3"):
            opened.put_limit("sum_loss_db", "3")
        with pytest.raises(ValueProblem, match="no such limit"):
            opened.put_limit("nonsense", "3")
        assert opened.limits.sum_loss_db == -9.0
    finally:
        desk.close()


@pytest.mark.parametrize("name", sorted(Limits.model_fields))
def test_every_limit_can_be_read_as_it_is_written(name):
    limits = Limits()
    assert getattr(changed_limit(limits, name, limit_words(limits, name)), name) == pytest.approx(getattr(limits, name))
    with pytest.raises(ValueProblem):
        changed_limit(limits, name, "a bit more")


# the whole set


def test_a_set_is_checked_one_patch_after_the_other(tmp_path):
    desk = Desk(tmp_path)
    try:
        desk.seed_demo()
        (card,) = desk.library.sets()
        check = desk.set_check(card.id)
        count = len(demo_cards())
        assert check.progress == (0, count)
        check.start()
        while check.running:
            check.wait(check.progress[0], _LONG)
        rows = {r.slug: worst_by_check(r.findings) for r in check.rows()}
        assert rows["undertow"]["layers-add-up"] == "fails"
        assert rows["slack-water"]["lows-in-mono"] == "fails"
        assert sum("fails" in r.values() for r in rows.values()) == 2
        # an edit makes one row unknown, another limit all of them
        desk.open("undertow").edit([Edit("layers.sub.level", -20.0)])
        assert check.progress == (count - 1, count)
        desk.open("undertow").put_limit("sum_loss_db", "-2")
        assert check.progress == (0, count)
        check.start()
        check.cancel()
        assert not check.running
        with pytest.raises(ValueProblem, match="no such set"):
            desk.set_check(99)
    finally:
        desk.close()


# rooms and the reference


def test_rooms_are_changed_added_and_restored(tmp_path):
    desk = Desk(tmp_path)
    try:
        store = desk.library.checks
        assert [r.id for r in store.rooms()] == [r.id for r in stock_rooms()]
        store.put_room(changed_room(store.room("car"), "bump", "-4 dB"))
        assert store.room("car").bump == -4.0
        copy = copied_room(store.room("car"), store.rooms())
        assert (copy.name, copy.id) == ("Car 2", "car-2")
        store.put_room(changed_room(copy, "name", "  Van "))
        assert store.rooms()[-1].name == "Van" and store.rooms()[-1].bump == -4.0
        store.drop_room("phone")
        assert "phone" not in {r.id for r in store.rooms()}
        store.restore_rooms()
        assert store.room("car").bump == 7.0 and store.room("phone") and store.room("car-2")
        store.drop_room("car-2")
        with pytest.raises(ValueProblem, match="no such room"):
            store.room("car-2")
        for name, text in (("bump", "90 dB"), ("low_slope", "48 dB"), ("colour", "red"), ("name", "  ")):
            with pytest.raises(ValueProblem):
                changed_room(store.room("car"), name, text)
    finally:
        desk.close()


def test_listening_goes_into_a_room_and_back_without_a_jump(opened):
    listening = Monitor(KeptPatch(opened))
    x = np.repeat(tone(50.0, -6.0, 2.0)[None], 2, axis=0)
    out = []
    for n, at in enumerate(range(0, x.shape[1] - QUANTUM, QUANTUM)):
        if n == 10:
            listening.enter("phone")
        if n == 40:
            listening.enter("")
        out.append(listening.quantum(x[:, at : at + QUANTUM]))
    y = np.concatenate(out, axis=1)
    quiet = np.abs(y[:, 25 * QUANTUM : 39 * QUANTUM]).max()
    assert quiet < 0.02 and np.abs(y[:, : 9 * QUANTUM]).max() == pytest.approx(0.5, abs=0.01)
    # a sine of 50 Hz at -6 dBFS turns by no more than this from sample to sample
    assert np.abs(np.diff(y)).max() < 0.01
    with pytest.raises(ValueProblem):
        listening.enter("no-such-room")


def test_the_reference_is_heard_as_loud_as_the_patch(desk, opened):
    listening = Monitor(KeptPatch(opened))
    with pytest.raises(ValueProblem, match="no reference"):
        listening.play_reference(True, -14.0)
    card = desk.keep_audio(np.repeat(0.05 * tone(200.0, 0.0, 3.0)[None], 2, axis=0), "Quiet")
    desk.library.checks.put_reference(opened.slug, Reference(card.word, 0.5, 2.0, 120.0))
    listening.play_reference(True, -14.0)
    silent = np.zeros((2, QUANTUM))
    y = np.concatenate([listening.quantum(silent) for _ in range(120)], axis=1)[:, 2 * QUANTUM :]
    # a sine on both sides: its loudness is its power plus 3 dB, and next to nothing by the weighting at 200 Hz
    assert 10 * np.log10(np.mean(y**2)) + 3.0 - 0.691 == pytest.approx(-14.0, abs=0.8)
    assert np.abs(np.diff(y)).max() < 1.2 * np.abs(y).max() * 2 * np.pi * 200 / 48000
    listening.play_reference(False, None)
    listening.quantum(silent)
    assert not listening.quantum(silent).any()
    desk.library.checks.put_reference(opened.slug, None)
    assert desk.library.checks.reference(opened.slug) is None


def test_a_sweep_that_stepped_aside_goes_on_before_fixes_that_were_asked_for_earlier(desk):
    opened = desk.open(desk.duplicate("salt-press"))
    told = []
    for slug in ("undertow", "slack-water"):
        desk.render_worker.ask_for(desk.open(slug).patch, Limits(), "fixes", lambda x: told.append("fixes"))
    sweep = opened.checking.sweep
    sweep.start(opened.patch, opened.limits, 24, 38)
    # measured in between, while keys are being struck
    sweep.wait(opened.patch, 0, _LONG)
    assert settle(desk.open(desk.duplicate("reed-weir")), 0) is not None
    assert len(finished(sweep, opened.patch)) == 15
    assert told == []


def test_fixes_are_looked_for_when_somebody_looks(desk):
    """A patch that only lies on the shelf is measured, no more; who asks later gets the rest."""
    opened = desk.open(desk.duplicate("undertow"))
    assert settle(opened, 0).stage == 0
    other = desk.open(desk.duplicate("slack-water"))
    assert settle(other).stage == 2
    assert opened.measuring.measured.stage == 0
    assert settle(opened).stage == 2 and any(f.fixes for f in opened.measuring.measured.findings)


def test_who_waits_for_fixes_gets_those_of_a_newer_version(desk):
    """An edit comes in between: its own fixes are as good."""
    opened = desk.open(desk.duplicate("undertow"))
    opened.measure()
    before = opened.version
    opened.edit([Edit("layers.sub.pan", 5.0)])
    found = opened.measuring.wait_findings(before, _LONG, 2)
    assert found.version == opened.version > before and found.stage == 2


def test_nobody_waits_for_a_bench_that_is_closed(tmp_path):
    desk = Desk(tmp_path)
    desk.seed_demo()
    opened = desk.open("mud-lantern")
    opened.measure()
    desk.render_worker.close()
    opened.measuring.wait_findings(opened.version, _LONG)
    assert "shutting down" in opened.measuring.problem
    with pytest.raises(ValueProblem, match="shutting down"):
        opened.find("mono")
    desk.close()


def test_a_long_job_steps_aside_for_what_somebody_waits_for(desk):
    """A sweep of many keys is under way: measuring another patch does not wait for its end."""
    opened = desk.open(desk.duplicate("mud-lantern"))
    sweep = opened.checking.sweep
    sweep.start(opened.patch, opened.limits, 12, 48)
    other = desk.open(desk.duplicate("salt-press"))
    assert settle(other, 0) is not None
    assert sweep.running(opened.patch) and len(sweep.keys_of(opened.patch)) < 37
    sweep.cancel()
