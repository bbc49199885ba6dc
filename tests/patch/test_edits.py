"""Paths and edits: all or none."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from kessel.demo import demo_patches
from kessel.patch import (
    Control,
    Edit,
    NoSuchPath,
    Patch,
    ValueProblem,
    apply,
    describe,
    get,
    lookup,
    said,
    sentence,
    title,
    typed,
    walk,
)

from ..making import layer, note, oscillator, patch

SLUICE = demo_patches()["sluice-gate"]
# a range is kept in order, the phrase holds its notes and a blend needs two stances: those refuse some values
BOUND = ("phrase.bars", "blend.share")
NUMBERS = [(p, c) for p, c, _ in walk(SLUICE) if isinstance(c, Control) and ".range." not in p and p not in BOUND]


@settings(max_examples=60, deadline=None)
@given(st.lists(st.tuples(st.integers(0, len(NUMBERS) - 1), st.floats(0, 1)), min_size=1, max_size=4))
def test_any_edits_lead_to_a_patch_that_holds_them(choices):
    edits = []
    for index, place in choices:
        path, control = NUMBERS[index]
        value = control.at(place)
        edits.append(Edit(path, int(value) if control.whole else value))
    changed = apply(SLUICE, edits)
    assert Patch.model_validate(changed.model_dump()) == changed
    # each path holds what its last edit says, and the patch that was is not touched
    for path, value in {e.path: e.value for e in edits}.items():
        assert get(changed, path) == value
    assert demo_patches()["sluice-gate"] == SLUICE


def test_one_edit_and_the_same_in_a_list_give_the_same_patch():
    one = apply(SLUICE, [Edit("layers.body.stages.pluck.cutoff", 900.0)])
    two = apply(SLUICE, [Edit("layers.body.stages.pluck.cutoff", 900.0), Edit("output.gain", SLUICE.output.gain)])
    assert one == two
    assert get(SLUICE, "layers.body.stages.pluck.cutoff") == 230.0


@pytest.mark.parametrize(
    ("path", "value"),
    [
        ("layers.body.stages.pluck.cutoff", 1.0),
        ("layers.body.stages.pluck.cutoff", float("nan")),
        ("layers.body.stages.pluck.cutoff", "loud"),
        ("layers.body.stages.pluck.type", "brick"),
        ("layers.body.unison.copies", 99),
        ("layers.body.range.low", 20000.0),
        ("layers", []),
        ("movers", []),
        ("phrase.bars", 1),
        ("name", ""),
    ],
)
def test_a_bad_value_changes_nothing_and_says_one_line(path, value):
    with pytest.raises(ValueProblem) as problem:
        apply(SLUICE, [Edit("output.gain", 3.0), Edit(path, value)])
    assert "\n" not in str(problem.value)
    with pytest.raises(ValueProblem):
        apply(SLUICE, [Edit(path, value)])


@pytest.mark.parametrize(
    "path", ["", "layers", "layers.none.level", "layers.body.level.more", "output.volume", "a" * 300]
)
def test_a_path_to_nowhere(path):
    with pytest.raises((NoSuchPath, ValueProblem)):
        typed(SLUICE, path, "3")


def test_a_split_moves_both_edges():
    moved = apply(SLUICE, [Edit("layers.sub.range.high", 140.0)])
    assert moved.layer("body").range.low == 140.0
    moved = apply(SLUICE, [Edit("layers.body.range.low", 70.0)])
    assert moved.layer("sub").range.high == 70.0


def test_a_title_names_one_control():
    for made in demo_patches().values():
        shown = [
            path for path, spec, _ in walk(made) if spec.shown_if is None or spec.shown_if.holds(lookup(made, path)[0])
        ]
        titles = [title(made, path) for path in shown]
        assert sorted(t for t in set(titles) if titles.count(t) > 1) == []


def test_a_title_keeps_the_names_that_parts_have():
    assert title(SLUICE, "layers.edge.sources.saw.octave") == "Edge Edge saw octave"
    assert title(SLUICE, "layers.body.range.where") == "Body range cuts"
    assert title(SLUICE, "layers.sub.sends.echo.level") == "Sub Echo send"
    assert title(SLUICE, "sends.echo.level") == "Worked path Echo send"
    assert title(SLUICE, "worked.mud.bands.b2.frequency") == "Mud cut band 2 frequency"


def test_edits_are_said_in_words():
    edit = typed(SLUICE, "layers.body.stages.pluck.cutoff", "1.2k")
    assert sentence(SLUICE, [edit]) == "Body Pluck cutoff 230 Hz → 1.2 kHz"
    assert title(SLUICE, "output.gain") == "Output gain"
    movement = next(m for m in SLUICE.movements if m.target.endswith("pluck.cutoff"))
    assert said(SLUICE, movement).sentence == (
        "Body Pluck cutoff moves between 230 Hz and 1.72 kHz, moved by Snap, once per note"
    )


def test_a_layer_is_said_in_words():
    saw = layer(sources=[oscillator("saw", octave=-1)], unison={"copies": 7, "detune": 14})
    assert describe(patch(saw).layers[0]).startswith("saw ×7 ±14 ct, an octave down")
    assert describe(patch(layer(sources=[])).layers[0]) == "no audible source"


def test_a_patch_hangs_together():
    ringed = {"kind": "noise", "id": "a", "name": "N", "modulators": [{"id": "m", "source": "a", "depth": 90}]}
    synced = oscillator(sync="source", sync_to="a")
    late = {"kind": "sample", "id": "a", "name": "S", "start": 200.0, "end": 100.0}
    for bad, words in (
        (lambda: patch(layer(sources=[ringed])), "no phase"),
        (lambda: patch(layer(sources=[synced])), "another oscillator"),
        (lambda: patch(layer(sources=[late])), "before its end"),
        (lambda: patch(layer(sources=[oscillator() | {"id": f"s{i}"} for i in range(7)])), "6 oscillators at most"),
        (lambda: patch(layer(sources=[oscillator(wave="stock:nothing")])), "drawn wave that is not there"),
        (lambda: patch(waves=[{"id": "w", "name": "W", "frames": ["AAAA"]}]), "1024 points"),
        (lambda: patch(layer(), layer()), "share the id"),
        (lambda: patch(notes=[note(33, 5, 1)]), "after the end"),
        (lambda: patch(splits=[{"id": "s", "lower": "one", "upper": "two"}]), "two layers"),
        (lambda: patch(movements=[{"id": "m", "mover": "x", "target": "layers.one.level", "amount": 1}]), "no mover"),
        (lambda: patch(surprise=1), "Extra inputs"),
    ):
        with pytest.raises(ValueError, match=words):
            bad()


def test_a_full_list_says_what_to_do():
    spare = [SLUICE.layers[0].model_dump() | {"id": f"spare-{i}"} for i in range(9)]
    with pytest.raises(ValueProblem, match=r"^range of Body: the low edge has to stay below the high edge$"):
        apply(SLUICE, [Edit("splits", []), Edit("layers.body.range", {"low": 900.0, "high": 300.0})])
    with pytest.raises(ValueProblem, match=r"^layers: 8 at most: remove one first$"):
        apply(SLUICE, [Edit("splits", []), Edit("movements", []), Edit("layers", spare)])
