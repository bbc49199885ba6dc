"""Movements, drawn curves, stances and pins as steps on the desk; each can be undone."""

from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from kessel.demo import demo_patches
from kessel.desk import (
    ControlChange,
    KeptPatch,
    LiveStream,
    add_movement,
    aim,
    clear_lost,
    duplicate_layer,
    keep_stance,
    mirror,
    new_movers,
    pin,
    put_in,
    split_off,
    take_out,
    take_stance,
    turn_into,
    turn_round,
    unused,
    value_shown,
)
from kessel.desk.editing import curves as curve_edits
from kessel.desk.editing.controls import apply_change
from kessel.desk.editing.movements import movable_controls
from kessel.desk.editing.parts import add_part, remove_part
from kessel.engine import Engine, drawn_curve
from kessel.formats import dump_patch, load_patch
from kessel.patch import Edit, ValueProblem, amount_text, apply, ends, get, said

from ...engine.modulation.test_movers import everything
from ...making import layer, oscillator, patch
from ...making import patch as making_patch

CUTOFF = "layers.body.stages.pluck.cutoff"


def movement(p, target=CUTOFF):
    return next(m for m in p.movements if m.target == target)


def test_a_gesture_makes_a_mover_and_its_movement_in_one_step(opened):
    edited = opened.edit(*add_movement(opened.patch, "new:lfo", "layers.body.level"))
    assert edited.label == "Body level moves by Body level LFO"
    made = edited.patch.movers[-1]
    reached = opened.edit([Edit(f"movements.{movement(edited.patch, 'layers.body.level').id}.amount", -9.0)])
    assert reached.label.startswith("Body level now falls from ") and reached.label.endswith(" with Body level LFO")
    opened.undo()
    assert made.kind == "lfo" and movement(edited.patch, "layers.body.level").mover == made.id
    opened.undo()
    assert all(m.id != made.id for m in opened.patch.movers) and len(opened.patch.movements) == 3
    for bad, why in (("new:nothing", "no mover of the kind"), ("nobody", "no such mover")):
        with pytest.raises(ValueProblem, match=why):
            add_movement(opened.patch, bad, CUTOFF)
    with pytest.raises(ValueProblem, match="can't be moved"):
        add_movement(opened.patch, "snap", "output.gain")
    with pytest.raises(ValueProblem, match="no source yet"):
        fed = apply(opened.patch, add_part(opened.patch, "movers", "audio-rate")[0])
        add_movement(fed, fed.movers[-1].id, CUTOFF)


def test_every_kind_of_mover_is_made_at_a_control_and_says_what_it_does(opened):
    words = dict(new_movers(opened.patch, CUTOFF))
    assert {"Envelope", "Looped curve", "LFO", "Velocity", "Key", "Pressure", "Level of Sub"} <= set(words.values())
    assert "Level of Body" not in words.values()
    called = {}
    for word, name in words.items():
        p = apply(opened.patch, add_movement(opened.patch, word, CUTOFF)[0])
        called[name] = p.movers[-1].name
        assert p.movements[-1].mover == p.movers[-1].id and p.movements[-1].amount == pytest.approx(2.0)
        assert (p.movers[-1].kind, getattr(p.movers[-1], "restart", "phrase")) in (
            ("curve", "note") if name == "Curve once per note" else (p.movers[-1].kind, "phrase"),
        )
    assert (called["LFO"], called["Macro"]) == ("Pluck cutoff LFO", "Pluck cutoff")
    assert (called["Velocity"], called["Level of Sub"]) == ("Velocity", "Level of Sub")
    source = f"layers.body.sources.{opened.patch.layer('body').sources[0].id}"
    by_sound = apply(opened.patch, add_movement(opened.patch, f"new:audio-rate:{source}", CUTOFF)[0])
    assert by_sound.movers[-1].source == source
    twice = apply(by_sound, add_movement(by_sound, "new:performance:key", CUTOFF)[0])
    twice = apply(twice, add_movement(twice, "new:performance:key", "layers.body.level")[0])
    assert [m.name for m in twice.movers[-2:]] == ["Key", "Key 2"]


@pytest.mark.parametrize(
    ("path", "rest", "end"),
    [
        ("layers.one.level", -72.0, -6.0),
        ("layers.one.level", -3.0, -15.0),
        ("layers.one.stages.f.cutoff", 400.0, 1600.0),
        ("layers.one.stages.f.cutoff", 9000.0, 2250.0),
        ("layers.one.stages.f.resonance", 3.0, 15.0),
        ("layers.one.play.pitch", 0.0, 12.0),
        ("layers.one.play.pitch", 40.0, 28.0),
        ("layers.one.sources.a.feedback", 80.0, 40.0),
    ],
)
def test_a_new_movement_goes_as_far_as_is_useful(path, rest, end):
    p = making_patch(layer(stages=[{"kind": "filter", "id": "f", "name": "F"}]))
    p = apply(p, [Edit(path, rest)])
    p = apply(p, add_movement(p, "new:envelope", path)[0])
    assert ends(p, p.movements[-1]) == (pytest.approx(rest), pytest.approx(end))


def test_both_ends_are_carried_and_either_can_be_typed(opened):
    m = movement(opened.patch)
    far, by = f"movements.{m.id}.amount", f"movements.{m.id}.distance"
    assert ends(opened.patch, m) == (pytest.approx(230.0), pytest.approx(1716.7, abs=1))
    p = opened.turn(ControlChange(CUTOFF, text="460")).patch
    assert ends(p, movement(p)) == (pytest.approx(460.0), pytest.approx(3433.5, abs=1))
    p = opened.turn(ControlChange(far, text="920 Hz")).patch
    assert movement(p).amount == pytest.approx(1.0) and amount_text(p, movement(p)) == "+1 oct"
    assert opened.turn(ControlChange(by, text="-2 oct")).patch.movements[0].amount == -2.0
    assert value_shown(opened.patch, by).text == "−2 oct" and value_shown(opened.patch, far).text == "115 Hz"
    with pytest.raises(ValueProblem, match="can't be read"):
        opened.turn(ControlChange(by, text="much"))
    both = opened.edit([Edit(f"movements.{m.id}.both_ways", True)]).patch
    assert ends(both, movement(both)) == (pytest.approx(1840), pytest.approx(115))
    assert amount_text(both, movement(both)) == "±2 oct"


def test_opposite_turned_round_and_aimed_anew(opened):
    m = movement(opened.patch)
    p = opened.edit(*mirror(opened.patch, m.id, "layers.edge.stages.thin.cutoff")).patch
    assert movement(p, "layers.edge.stages.thin.cutoff").amount == -m.amount
    p = opened.edit(*turn_round(p, m.id)).patch
    start, end = ends(p, movement(p))
    assert start == pytest.approx(1716.7, rel=0.001) and end == pytest.approx(230, rel=0.001)
    p = opened.edit(*aim(p, m.id, "layers.body.stages.pluck.resonance")).patch
    assert movement(p, "layers.body.stages.pluck.resonance").amount > 1
    for _ in range(3):
        opened.undo()
    assert movement(opened.patch) == m and len(opened.patch.movements) == 3


def test_a_target_that_goes_leaves_a_note_and_is_taken_up_when_it_is_back(opened):
    before = opened.patch
    p = opened.edit(*remove_part(before, "layers.body.stages.pluck")).patch
    words = said(p, movement(p))
    assert words.lost and words.sentence.startswith("Body Pluck cutoff is gone, so Snap moves nothing")
    assert load_patch(dump_patch(p)) == p
    with pytest.raises(ValueProblem, match="choose another"):
        mirror(p, movement(p).id, "layers.edge.stages.thin.cutoff")
    cleared = apply(p, clear_lost(p)[0])
    assert len(cleared.movements) == 2
    with pytest.raises(ValueProblem, match="no movement has lost"):
        clear_lost(cleared)
    assert apply(p, aim(p, movement(p).id, "layers.edge.stages.thin.cutoff")[0]).movements[0].lost == ""
    opened.undo()
    assert opened.patch == before
    # a mover that goes takes its movements along, and comes back with them
    opened.edit(*remove_part(before, "movers.snap"))
    assert all(m.mover != "snap" for m in opened.patch.movements)
    opened.undo()
    assert opened.patch == before and unused(before) == []


def test_a_stage_becomes_another_kind_and_keeps_what_both_know(opened):
    before = opened.patch
    p = opened.edit(*turn_into(before, "layers.body.stages.pluck", "ladder")).patch
    new = get(p, "layers.body.stages.pluck")
    assert new.kind == "ladder" and (new.cutoff, new.resonance) == (230.0, 5.0) and not movement(p).lost
    p = opened.edit(*turn_into(p, "layers.body.stages.pluck", "vowel")).patch
    assert movement(p).lost == "Body Pluck cutoff"
    opened.undo()
    opened.undo()
    assert opened.patch == before
    with pytest.raises(ValueProblem, match="can be there"):
        turn_into(before, "layers.body.stages.pluck", "eq")


def test_stances_are_kept_taken_and_blended_and_undone(opened):
    with pytest.raises(ValueProblem, match="no macro yet"):
        keep_stance(opened.patch)
    for name in ("a", "b"):
        opened.edit(*add_part(opened.patch, "movers", "macro")[::2])
        del name
    opened.edit([Edit("movers.macro.value", 20.0), Edit("movers.macro-2.value", 90.0)])
    opened.edit(*keep_stance(opened.patch))
    opened.edit([Edit("movers.macro.value", 60.0), Edit("movers.macro-2.value", 10.0)])
    opened.edit(*keep_stance(opened.patch))
    values = lambda: tuple(get(opened.patch, f"movers.{m}.value") for m in ("macro", "macro-2"))  # noqa: E731
    first, second = (s.id for s in opened.patch.stances)
    opened.edit(*take_stance(opened.patch, first))
    assert values() == (20.0, 90.0)
    with pytest.raises(ValueProblem, match="pick two stances"):
        opened.turn(ControlChange("blend.share", text="50"))
    opened.edit([Edit("blend.a", first), Edit("blend.b", second)])
    opened.edit([Edit("movers.macro.value", 33.0)])
    opened.turn(ControlChange("blend.share", text="25"))
    assert values() == (30.0, 70.0)
    opened.undo()
    assert values() == (33.0, 90.0)
    # a macro that goes leaves the stances whole
    p = apply(opened.patch, remove_part(opened.patch, "movers.macro")[0])
    assert all("macro" not in s.values for s in p.stances)


def test_pins_come_and_go(opened):
    p = opened.edit(*pin(opened.patch, CUTOFF)).patch
    assert p.pins == [CUTOFF]
    assert opened.edit(*pin(p, CUTOFF)).patch.pins == []
    with pytest.raises(KeyError):
        pin(p, "layers.nowhere.level")


CURVED = patch(layer(sources=[oscillator()]), movers=[{"kind": "curve", "id": "c", "name": "C", "length": 4.0}])


def points(p, mover="c"):
    return [(q.at, q.value) for q in get(p, f"movers.{mover}").points]


def test_points_are_added_on_the_grid_moved_between_neighbours_and_taken_away():
    p = apply(CURVED, curve_edits.add_point(CURVED, "c", 0.27, 0.4)[0])
    assert points(p) == [(0, 1), (0.25, 0.4), (1, 0)]
    p = apply(p, curve_edits.move_point(p, "c", 1, 1.4, 0.9)[0])
    assert points(p) == [(0, 1), (1, 0.9), (1, 0)]
    p = apply(p, curve_edits.move_point(p, "c", 2, 0.2, 0.3)[0])
    assert points(p)[-1] == (1, 0.3)
    p = apply(p, curve_edits.remove_point(p, "c", 1)[0])
    assert points(p) == [(0, 1), (1, 0.3)]
    with pytest.raises(ValueProblem, match="first and last points"):
        curve_edits.remove_point(p, "c", 0)
    with pytest.raises(ValueProblem, match="no longer there"):
        curve_edits.move_point(p, "c", 7, 0.1, 0.1)
    free = apply(CURVED, [Edit("movers.c.snap", "off")])
    assert points(apply(free, curve_edits.add_point(free, "c", 0.27, 0.4)[0]))[1] == (0.27, 0.4)


@settings(max_examples=60, deadline=None)
@given(st.floats(0.03, 0.97), st.floats(0.0, 1.0), st.floats(0.0, 1.0))
def test_a_way_is_bent_through_what_is_pointed_at(share, here, there):
    p = apply(CURVED, [Edit("movers.c.points", [{"at": 0, "value": here}, {"at": 1, "value": there}])])
    wanted = here + share * (there - here)
    if abs(there - here) < 1e-3:
        with pytest.raises(ValueProblem, match="level segment"):
            curve_edits.bend_through(p, "c", 0, wanted)
        return
    p = apply(p, curve_edits.bend_through(p, "c", 0, wanted)[0])
    middle = drawn_curve(get(p, "movers.c").points, 3)[1]
    assert middle == pytest.approx(wanted, abs=0.01 * abs(there - here) + 1e-6)


@settings(max_examples=60, deadline=None)
@given(st.lists(st.tuples(st.floats(-0.2, 1.2), st.floats(-0.2, 1.2)), min_size=2, max_size=40))
def test_a_line_drawn_by_hand_always_leaves_a_whole_curve(line):
    p = apply(CURVED, curve_edits.stroke(CURVED, "c", line)[0])
    made = points(p)
    assert made[0][0] == 0 and made[-1][0] == 1 and len(made) <= 64
    assert all(b[0] >= a[0] for a, b in pairwise(made))


def test_a_stroke_follows_the_hand_and_leaves_the_rest():
    line = [(x, 0.8) for x in np.linspace(0.25, 0.5, 20)]
    p = apply(CURVED, curve_edits.stroke(CURVED, "c", line)[0])
    y = drawn_curve(get(p, "movers.c").points, 401)
    assert y[0] == 1.0 and y[-1] == 0.0 and np.all(np.abs(y[105:195] - 0.8) < 0.01)


def test_whole_curves_at_a_touch():
    for what in curve_edits.TOUCHES:
        p = apply(CURVED, curve_edits.touch(CURVED, "c", what)[0])
        assert points(p)[0][0] == 0 and points(p)[-1][0] == 1
    bent = apply(
        CURVED,
        [Edit("movers.c.points", [{"at": 0, "value": 0, "bend": 50}, {"at": 0.4, "value": 1}, {"at": 1, "value": 0}])],
    )
    turned = apply(bent, curve_edits.touch(bent, "c", "turn")[0])
    a, b = (drawn_curve(get(q, "movers.c").points, 501) for q in (bent, turned))
    assert np.abs(a - b[::-1]).max() < 1e-6
    flipped = apply(bent, curve_edits.touch(bent, "c", "flip")[0])
    assert np.abs(a + drawn_curve(get(flipped, "movers.c").points, 501) - 1).max() < 1e-6
    with pytest.raises(ValueProblem, match="can be"):
        curve_edits.touch(CURVED, "c", "nonsense")


def test_a_macro_is_recorded_over_its_bars():
    macro = {"kind": "macro", "id": "m", "name": "M", "value": 10.0, "bars": 4}
    p = patch(layer(), movers=[macro], phrase={"bars": 2, "notes": []})
    played = [(b, b / 8 % 1) for b in np.arange(8.5, 13.5, 0.1)]
    q = apply(p, curve_edits.record_macro(p, "m", played))
    made = get(q, "movers.m")
    # nothing was drawn before, so it takes the phrase's length: two bars, passed into the second time
    assert made.drawn and made.bars == 2
    y = drawn_curve(made.points, 801)
    assert y[200] == pytest.approx(0.25, abs=0.03) and y[450] == pytest.approx(450 / 800, abs=0.03)
    assert y[790] == pytest.approx(0.1, abs=0.02)
    assert curve_edits.record_macro(p, "m", played[:1]) == []


def test_everything_that_moves_goes_through_the_file():
    p = everything()
    stance = {"id": "s", "name": "S", "values": {"mac": 30.0}}
    p = apply(p, [Edit("stances", [stance]), Edit("blend.a", "s"), Edit("pins", ["layers.body.level"])])
    again = load_patch(dump_patch(p))
    assert again == p and {m.kind for m in again.movers} == {
        "envelope", "curve", "lfo", "macro", "performance", "follower", "audio-rate"
    }  # fmt: skip


def test_a_curve_under_a_hand_is_heard_and_not_kept(opened):
    made = opened.edit(*add_movement(opened.patch, "new:curve", CUTOFF)).patch
    told = []
    stream = LiveStream(KeptPatch(opened), told.append)
    try:
        stream.take({"do": "curve", "deed": "move", "mover": "curve", "index": 0, "at": 0.0, "value": 0.2})
        answer = next(t for t in told if isinstance(t, str) and '"curve"' in t)
        assert '"line": [0.2' in answer
        assert opened.patch == made
        stream.take({"do": "curve", "deed": "move", "mover": "nobody", "index": 0, "at": 0.0, "value": 0.2})
        assert "no drawn curve" in told[-1]
        stream.take({"do": "curve", "deed": "bend", "mover": "curve", "index": 0, "value": 0.8})
        stream.take({"do": "curve", "deed": "stroke", "mover": "curve", "line": [[0, 0], [1, 1]]})
        stream.take({"do": "glimpse", "beat": 1.0})
        stream.take({"do": "glimpse", "beat": None})
    finally:
        stream.close()


def test_what_moves_a_layer_goes_with_it_and_a_feed_is_its_own(desk, opened):
    p = everything()
    # doubled: fed by its own source; what a follower follows stays
    q = apply(p, duplicate_layer(p, "body")[0])
    new = q.layers[-1].id
    count = lambda x, i: sum(m.target.startswith(f"layers.{i}.") for m in x.movements)  # noqa: E731
    assert count(q, new) == count(p, "body") == count(q, "body")
    fed = next(m for m in q.movements if m.target == f"layers.{new}.stages.g.cutoff" and m.mover.startswith("fee-"))
    assert get(q, f"movers.{fed.mover}").source == f"layers.{new}.sources.mod"
    # taken out and put into another patch: movers that move movers come along, a layer that is not there is not followed
    kept = take_out(p, "layer", "layers.body")
    edits, _, there = put_in(opened.patch, kept, "body")
    r = apply(opened.patch, edits)
    assert count(r, there) == count(p, "body")
    kinds = {m.kind for m in r.movers}
    assert {"follower", "audio-rate", "curve", "lfo", "macro"} <= kinds
    assert next(m for m in r.movers if m.kind == "follower").layer == ""
    assert next(m for m in r.movers if m.kind == "audio-rate").source == f"layers.{there}.sources.mod"
    assert any(m.target.startswith("movers.") for m in r.movements)
    # put in twice: movers are shared, with what moves them
    twice = apply(r, put_in(r, kept, "body")[0])
    assert sum(m.target.startswith("movers.") for m in twice.movements) == sum(
        m.target.startswith("movers.") for m in r.movements
    )
    # a source that feeds goes its own way: what it moved is let go, and the layers stay in step
    off = apply(p, split_off(p, "layers.body.sources.mod")[0])
    assert next(m for m in off.movers if m.kind == "audio-rate").source == ""
    assert not [m for m in off.movements if m.mover == "fee"]
    assert Engine(off).read(4096).shape == (2, 4096)


def test_only_controls_that_have_an_effect_are_offered_and_each_by_one_name():
    for made in demo_patches().values():
        for where in ("", *(x.id for x in made.layers)):
            names = [name for _, name in movable_controls(made, where, movers=True)]
            assert len(names) == len(set(names))
    # what is called alike is told apart
    bands = [{"id": i, "frequency": 300.0} for i in ("a", "b")]
    alike = making_patch(
        layer("one", name="Same", chain=[{"kind": "eq", "id": n, "name": "EQ", "bands": bands} for n in ("q", "r")]),
        layer("two", name="Same"),
    )
    names = [name for _, name in movable_controls(alike, movers=True)]
    assert len(names) == len(set(names)) and any(name.endswith("(2)") for name in names)
    patch = demo_patches()["sluice-gate"]
    timed = apply(patch, [Edit("layers.body.envelope.attack", 5.0)])
    paths = dict(movable_controls(timed, "body"))
    assert "layers.body.envelope.attack" in paths and "layers.body.envelope.attack_beats" not in paths
    assert "layers.body.envelope.attack_beats" in dict(movable_controls(timed, "body", hidden=True))


def test_the_copies_of_a_branch_are_named_for_what_they_hold():
    grit = {"kind": "distortion", "id": "d", "name": "Grit"}
    paths = [
        {"id": "low", "name": "Low"},
        {"id": "high", "name": "High", "items": [grit]},
        {"id": "own", "name": "Mine"},
    ]
    branch = {"kind": "branch", "id": "b", "name": "B", "paths": [*paths, {"id": "four", "name": "Mid"}]}
    p = making_patch(layer(chain=[branch]))
    edits = apply_change(p, ControlChange("layers.one.chain.b.into", text="copies"))
    assert [x.name for x in apply(p, edits).layers[0].chain[0].paths] == ["Dry", "Grit", "Mine", "Dry 2"]
    assert len(apply_change(p, ControlChange("layers.one.chain.b.into", text="bands"))) == 1
