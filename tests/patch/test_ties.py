"""Two frequencies tied at an interval: they go together, with all that moves them, and come apart again."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from kessel.demo import demo_patches
from kessel.desk import tie, untie
from kessel.desk.editing.movements import add_movement
from kessel.engine import render_loop
from kessel.patch import Edit, Patch, ValueProblem, apply, get, title

SLUICE = demo_patches()["sluice-gate"]
BODY, EDGE = "layers.body.stages.pluck.cutoff", "layers.edge.stages.thin.cutoff"

FOLLOW = "layers.edge.stages.thin.key_follow"


def do(patch, step):
    return apply(patch, step[0])


def moves(patch, path):
    return {(m.mover, m.amount, m.curve, m.both_ways) for m in patch.movements if m.target == path}


@pytest.fixture
def tied():
    return apply(do(SLUICE, tie(SLUICE, EDGE, BODY)), [Edit("ties.tie.interval", 12.0)])


def test_a_tie_keeps_where_both_stand_and_shares_what_moves_them():
    made = do(SLUICE, tie(SLUICE, EDGE, BODY))
    assert get(made, BODY) == get(SLUICE, BODY) and get(made, EDGE) == pytest.approx(get(SLUICE, EDGE), rel=1e-3)
    assert moves(made, BODY) == moves(made, EDGE) == moves(SLUICE, BODY) | moves(SLUICE, EDGE)
    assert title(made, "ties.tie.interval") == "Edge Thin cutoff above Body Pluck cutoff"
    back = do(made, untie(made, "tie"))
    assert back.ties == [] and get(apply(back, [Edit(BODY, 99.0)]), EDGE) == get(back, EDGE)


def test_either_end_takes_the_other_along_and_the_interval_is_turned_by_itself(tied):
    assert get(apply(tied, [Edit(BODY, 300.0)]), EDGE) == pytest.approx(600)
    assert get(apply(tied, [Edit(EDGE, 300.0)]), BODY) == pytest.approx(150)
    fifth = apply(tied, [Edit("ties.tie.interval", 7.0)])
    assert get(fifth, BODY) == get(tied, BODY) and get(fifth, EDGE) == pytest.approx(get(tied, BODY) * 2 ** (7 / 12))


def test_at_the_end_of_the_one_rule_the_other_stops_too(tied):
    high = apply(tied, [Edit(BODY, 19000.0)])
    assert (get(high, BODY), get(high, EDGE)) == (pytest.approx(10000), pytest.approx(20000))
    assert get(apply(high, [Edit(BODY, 300.0)]), EDGE) == pytest.approx(600)


def test_movements_made_changed_and_taken_away_at_one_end_are_so_at_the_other(tied):
    more = do(tied, add_movement(tied, "new:lfo", EDGE))
    assert moves(more, BODY) == moves(more, EDGE) and "lfo" in {m for m, *_ in moves(more, BODY)}
    lfo = next(m for m in more.movements if m.target == BODY and m.mover == "lfo")
    wider = apply(more, [Edit(f"movements.{lfo.id}.amount", 1.25)])
    assert ("lfo", 1.25, 0.0, False) in moves(wider, EDGE)
    less = apply(wider, [Edit("movements", [m.model_dump() for m in wider.movements if m.id != lfo.id])])
    assert moves(less, EDGE) == moves(less, BODY) == moves(tied, BODY)


def test_both_cutoffs_run_at_their_interval_at_every_moment(tied):
    travel = render_loop(tied).travel
    both = [(a, b) for a, b in zip(travel[BODY], travel[EDGE], strict=True) if a == a and b == b]
    # the layers' notes are the same, and nothing comes to an end of the rule
    assert len(both) > 100 and max(abs(b - a - 1.0) for a, b in both) < 1e-6
    assert max(a for a, _ in both) - min(a for a, _ in both) > 0.5


def test_an_end_that_goes_lets_the_other_be_and_follows_it_when_it_is_back(tied):
    stages = [s.model_dump() for s in tied.layer("edge").stages]
    gone = [Edit("layers.edge.stages", [s for s in stages if s["id"] != "thin"])]
    without = apply(tied, gone)
    assert len(without.ties) == 1
    turned = apply(without, [Edit(BODY, 400.0)])
    back = apply(turned, [Edit("layers.edge.stages", stages)])
    assert get(back, EDGE) == pytest.approx(800) and get(back, BODY) == 400
    assert Patch.model_validate_json(back.model_dump_json()) == back


def test_a_tie_without_ends_makes_room_for_the_next(tied):
    bare = apply(tied, [Edit(f"layers.{i}.stages", []) for i in ("body", "edge")])
    assert len(bare.ties) == 1
    stage = next(s.model_dump() for s in tied.layer("edge").stages if s.id == "thin")
    twins = [stage | {"id": "low", "name": "Low"}, stage | {"id": "high", "name": "High"}]
    edits, _ = tie(
        apply(bare, [Edit("layers.edge.stages", twins)]), *(f"layers.edge.stages.{i}.cutoff" for i in ("high", "low"))
    )
    assert [t["first"] for t in edits[0].value] == ["layers.edge.stages.low.cutoff"]


@pytest.mark.parametrize(
    ("path", "other", "words"),
    [
        (BODY, BODY, "is tied to .* already"),
        (EDGE, BODY, "is tied to .* already"),
        (BODY, "layers.body.stages.pluck.resonance", "no frequency"),
        (BODY, "layers.body.stages.gone.cutoff", "no control"),
        (BODY, "output.mono_below", "can't be moved"),
    ],
)
def test_what_can_not_be_tied_is_refused_in_plain_words(tied, path, other, words):
    with pytest.raises(ValueProblem, match=words):
        tie(tied, path, other)
    with pytest.raises(ValueProblem, match="no longer exists"):
        untie(SLUICE, "tie")


@pytest.mark.parametrize(
    ("path", "value"),
    [
        (BODY, "loud"),
        (BODY, float("nan")),
        (EDGE, 0.0),
        (FOLLOW, 900.0),
        ("ties.tie.interval", 99.0),
        ("ties", [{"id": "tie"}]),
        ("layers.edge.stages", [{"id": "thin"}]),
        ("layers", []),
    ],
)
def test_a_bad_value_of_what_is_tied_is_refused_in_one_line(tied, path, value):
    with pytest.raises(ValueProblem) as problem:
        apply(tied, [Edit(path, value)])
    assert "\n" not in str(problem.value)


@settings(max_examples=60, deadline=None)
@given(
    st.lists(
        st.one_of(
            st.tuples(st.sampled_from([BODY, EDGE]), st.floats(20, 20000)),
            st.tuples(st.just("ties.tie.interval"), st.floats(-84, 84)),
            st.tuples(st.just(FOLLOW), st.floats(0, 150)),
        ),
        min_size=1,
        max_size=3,
    )
)
def test_tied_frequencies_hold_their_interval_under_any_edits(edits):
    start = do(SLUICE, tie(SLUICE, EDGE, BODY))
    edits = [Edit(path, value) for path, value in edits]
    changed = apply(start, edits)
    ratio = get(changed, EDGE) / get(changed, BODY)
    assert ratio == pytest.approx(2 ** (changed.ties[0].interval / 12), rel=1e-6)
    assert get(changed, FOLLOW) == get(changed, FOLLOW.replace("edge.stages.thin", "body.stages.pluck"))
