"""Edits on the desk: kept before they are answered, undone and done again, measured in the background."""

import os
import signal

import pytest

from kessel.checks import Limits
from kessel.desk import ControlChange, add_part, apply_change, move_part, remove_part, value_shown
from kessel.desk.editing.parts import modulate, move_octave
from kessel.desk.open_patch import ChangedElsewhere, OpenPatch
from kessel.formats import document_of
from kessel.library import NoSuchPatch
from kessel.patch import Edit, NoSuchPath, ValueProblem, apply, get

CUTOFF = "layers.body.stages.pluck.cutoff"
WAIT = 60.0


def test_every_way_of_turning(opened):
    for turn, value in (
        (ControlChange(CUTOFF, text="1.2k"), 1200.0),
        (ControlChange(CUTOFF, at=0.5), 632.5),
        (ControlChange(CUTOFF, axis=0.5), 632.5),
        (ControlChange(CUTOFF, steps=12), 1265.0),
        (ControlChange(CUTOFF, default=True), 800.0),
    ):
        opened.turn(turn)
        assert get(opened.patch, CUTOFF) == pytest.approx(value, rel=1e-3), turn
    opened.turn(ControlChange("layers.body.stages.pluck.type", text="notch"))
    opened.turn(ControlChange("output.fold", text="off"))
    opened.turn(ControlChange("layers.body.name", text="Belly"))
    assert (opened.patch.layer("body").stages[0].type, opened.patch.output.fold) == ("notch", False)
    assert opened.patch.layer("body").name == "Belly"


@pytest.mark.parametrize(
    "turn",
    [
        ControlChange(CUTOFF, text="loud"),
        ControlChange(CUTOFF, text="5 Hz"),
        ControlChange("output.gain", axis=0.5),
        ControlChange("layers.body.stages.pluck.type", text="brick"),
        ControlChange("layers.body.stages.pluck.type", at=0.5),
        ControlChange("output.fold", text="maybe"),
        ControlChange("layers.body.name", text="  "),
        ControlChange("layers.nobody.level", text="3"),
        ControlChange("layers.body.range.low", text="20 kHz"),
    ],
)
def test_a_bad_turn_changes_nothing(opened, turn):
    before, version = opened.patch, opened.version
    with pytest.raises((ValueProblem, NoSuchPath)):
        opened.turn(turn)
    assert (opened.patch, opened.version) == (before, version)


def test_a_movements_far_end_is_turned_in_the_controls_own_unit(opened):
    movement = next(m for m in opened.patch.movements if m.target == CUTOFF)
    path = f"movements.{movement.id}.amount"
    opened.turn(ControlChange(path, text="920 Hz"))
    assert get(opened.patch, path) == pytest.approx(2.0, abs=1e-4)
    assert value_shown(opened.patch, path).text == "920 Hz"
    opened.turn(ControlChange(CUTOFF, text="460 Hz"))
    assert value_shown(opened.patch, path).text == "1.84 kHz"


def test_undo_and_redo_lead_back_and_forth_across_a_reload(desk, opened):
    first = opened.patch
    opened.turn(ControlChange(CUTOFF, text="500"))
    opened.edit([Edit("output.gain", -2.0), Edit("tempo", 100.0)], "two at once")
    last = opened.patch
    again = OpenPatch(desk.library, opened.slug, desk.render_worker)
    assert again.patch == last
    assert again.undo().label == "two at once"
    assert again.undo().label == "Body Pluck cutoff 230 Hz → 500 Hz"
    assert again.patch == first
    assert again.undo() is None
    again.redo()
    again.redo()
    assert again.patch == last and again.redo() is None


def test_a_turn_to_the_same_value_is_no_step(opened):
    version = opened.version
    opened.turn(ControlChange(CUTOFF, text="230"))
    assert opened.version == version and opened.undo() is None


def test_parts_come_and_go_and_come_back(opened):
    p = opened.patch
    edits, new, label = add_part(p, "layers.body.stages", "distortion")
    assert label == "Add Distortion"
    more = apply(p, edits)
    assert [s.id for s in more.layer("body").stages] == ["pluck", new]
    moved = apply(more, move_part(more, f"layers.body.stages.{new}", -1)[0])
    assert [s.id for s in moved.layer("body").stages] == [new, "pluck"]
    bare = apply(p, remove_part(p, "layers.body.stages.pluck")[0])
    lost = [m for m in bare.movements if m.target.startswith("layers.body.stages")]
    assert [m.lost for m in lost] == ["Body Pluck cutoff"]
    bare = apply(p, remove_part(p, "movers.snap")[0])
    assert not [m for m in bare.movements if m.mover == "snap"]
    bare = apply(p, remove_part(p, "layers.sub")[0])
    assert bare.splits == [] and len(bare.layers) == 3
    bare = apply(p, remove_part(p, "layers.edge.sources.bell")[0])
    assert bare.layer("edge").sources[0].modulators == []
    back = apply(bare, add_part(bare, "layers.edge.sources", "oscillator")[0])
    fm = apply(back, modulate(back, "layers.edge.sources.saw", "oscillator")[0])
    assert fm.layer("edge").sources[0].modulators[0].source == "oscillator"
    layer = apply(p, add_part(p, "layers", "layer")[0]).layers[-1]
    assert layer.hatch not in {x.hatch for x in p.layers}


def test_an_octave_moves_the_whole_layer_with_its_modulators(opened):
    edits, label = move_octave(opened.patch, "edge", -1)
    assert label == "Edge an octave down"
    assert [s.octave for s in apply(opened.patch, edits).layer("edge").sources] == [0, 1]
    far = apply(opened.patch, [Edit("layers.edge.sources.bell.octave", 4)])
    with pytest.raises(ValueProblem, match="further up"):
        move_octave(far, "edge", 1)
    with pytest.raises(ValueProblem, match="no oscillator"):
        move_octave(opened.patch, "click", 1)


def test_parts_that_do_not_fit(opened):
    p = opened.patch
    for bad in (
        lambda: add_part(p, "layers.body.stages", "noise"),
        lambda: add_part(p, "output", "filter"),
        lambda: add_part(p, "layers.none.stages", "filter"),
        lambda: remove_part(p, "output.gain"),
        lambda: remove_part(p, "layers.body"[:6]),
        lambda: modulate(p, "layers.click.sources.strike", "x"),
    ):
        with pytest.raises((ValueProblem, NoSuchPath)):
            bad()
    alone = apply(p, [Edit("movements", []), Edit("splits", []), Edit("layers", [p.layers[0].model_dump()])])
    with pytest.raises(ValueProblem, match="at least one layer"):
        remove_part(alone, "layers.sub")


def test_the_newest_version_is_measured_and_a_stale_one_never_overtakes_it(opened):
    for gain in (-1.0, -2.0, -3.0, -12.0):
        opened.edit([Edit("output.gain", gain)])
    measured = opened.measuring.wait_findings(opened.version, WAIT)
    assert measured.version == opened.version
    assert measured.picture.patch == opened.patch
    assert opened.measuring.picture.version == opened.version
    quiet = measured.picture.loudness
    opened.edit([Edit("output.gain", -6.0)])
    assert opened.measuring.wait_picture(opened.version, WAIT).loudness == pytest.approx(quiet + 6.0, abs=0.05)


def test_a_fix_is_one_step_and_only_of_the_findings_that_were_seen(desk):
    p = desk.open(desk.duplicate("undertow"))
    p.measure()
    found = p.measuring.wait_findings(0, WAIT)
    bad = found.findings[0]
    assert bad.verdict == "fails"
    with pytest.raises(ValueProblem, match="changed since"):
        p.fix(bad.key, bad.fixes[0].label, 7)
    with pytest.raises(ValueProblem, match="no longer offered"):
        p.fix(bad.key, "another", 0)
    p.fix(bad.key, bad.fixes[0].label, 0)
    after = p.measuring.wait_findings(p.version, WAIT)
    assert next(f for f in after.findings if f.key == bad.key).verdict == "holds"
    assert bad.key in p.before
    p.undo()
    again = p.measuring.wait_findings(p.version, WAIT)
    assert next(f for f in again.findings if f.key == bad.key).verdict == "fails"


def test_the_workbench_starts_again_after_it_died(desk, opened):
    opened.measure()
    opened.measuring.wait_findings(opened.version, WAIT)
    os.kill(desk.render_worker.pid, signal.SIGKILL)
    opened.edit([Edit("output.gain", -4.0)])
    opened.measuring.wait_picture(opened.version, 5.0)
    opened.measure()
    assert opened.measuring.wait_picture(opened.version, WAIT).version == opened.version


def test_there_is_one_open_patch_however_often_it_is_asked_for(desk, monkeypatch):
    slug = desk.duplicate("salt-press")
    first = desk.open(slug)
    first.edit([Edit("tempo", 99.0)])
    real = desk.library.card
    # a look at the library between a write and what follows it
    monkeypatch.setattr(desk.library, "card", lambda s: real(s))
    for other in ("undertow", "sluice-gate", "ebb-motor", "reed-weir", "slack-water", "mud-lantern", "salt-press"):
        desk.open(other)
    for n in range(12):
        desk.open(desk.duplicate("undertow"))
        assert desk.open(slug) is first, n
    assert first.patch.tempo == 99.0


def test_a_write_elsewhere_is_never_written_over(desk):
    slug = desk.duplicate("salt-press")
    first = desk.open(slug)
    elsewhere = apply(first.patch, [Edit("tempo", 99.0)])
    desk.library.history.record(slug, first.version, document_of(elsewhere), "elsewhere")
    for act in (lambda: first.edit([Edit("output.gain", -9.0)]), first.undo, lambda: first.go_to(0)):
        version = first.version
        desk.library.history.amend(slug, desk.library.card(slug).revision, document_of(elsewhere))
        with pytest.raises(ChangedElsewhere, match="look at its present state"):
            act()
        assert first.version > version and first.patch == elsewhere == desk.library.load(slug)
    first.edit([Edit("output.gain", -9.0)])
    assert desk.library.load(slug).output.gain == -9.0 and desk.library.load(slug).tempo == 99.0


def test_an_edit_of_a_deleted_patch_is_refused_and_it_comes_back_as_it_was(desk):
    slug = desk.duplicate("salt-press")
    held = desk.open(slug)
    held.edit([Edit("tempo", 99.0)])
    desk.delete(slug)
    for act in (lambda: held.edit([Edit("tempo", 88.0)]), held.undo, lambda: desk.open(slug)):
        with pytest.raises(NoSuchPatch, match="deleted"):
            act()
    desk.put_back(slug)
    assert desk.open(slug) is held and held.patch.tempo == 99.0
    held.edit([Edit("tempo", 77.0)])
    assert desk.library.load(slug).tempo == 77.0


def test_limits_of_the_set(desk, opened):
    assert opened.limits == Limits()
    (turn,) = apply_change(opened.patch, ControlChange("output.gain", steps=1))
    assert turn.value > opened.patch.output.gain
