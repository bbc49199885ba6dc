"""Chains on the desk: what comes in as loud, starting settings, branches, two settings side by side."""

from itertools import pairwise

import pytest

from kessel.checks import chain_levels
from kessel.demo import demo_patches
from kessel.desk import (
    ControlChange,
    SettingsPair,
    add_part,
    apply_change,
    branch_around,
    movable_controls,
    put_in,
    remove_part,
    same_bands,
    start_from,
    stored_part_from,
    take_out,
    value_shown,
    without,
)
from kessel.engine import RenderCache, render_loop
from kessel.measure import loudness
from kessel.patch import CHAIN_KINDS, PARTS, Edit, NoSuchPath, ValueProblem, apply, get

DEMO = demo_patches()
TAKES = RenderCache()


def loud(patch):
    return loudness(render_loop(patch, TAKES).sum).integrated


@pytest.mark.parametrize("kind", [k.word for k in CHAIN_KINDS])
def test_every_kind_has_its_starting_settings(kind):
    assert 4 <= len(PARTS[kind].starting) <= 8
    edits, new, _ = add_part(DEMO["undertow"], "worked", kind)
    patch = apply(DEMO["undertow"], edits)
    assert patch.worked[-1].matched != PARTS[kind].limits_level
    for name, _ in PARTS[kind].starting:
        edits, label = start_from(patch, f"worked.{new}", name)
        made = apply(patch, edits)
        assert name in label and made.worked[-1].id == new
    with pytest.raises(ValueProblem):
        start_from(patch, f"worked.{new}", "nothing of ours")


def test_an_effect_is_added_into_a_way_but_no_branch_into_a_branch():
    edits, new, _ = branch_around(DEMO["undertow"], "worked.warm")
    patch = apply(DEMO["undertow"], edits)
    assert [i.id for i in get(patch, f"worked.{new}.paths.high.items")] == ["warm"]
    patch = apply(patch, add_part(patch, f"worked.{new}.paths.low.items", "echo")[0])
    assert get(patch, f"worked.{new}.paths.low.items")[0].kind == "echo"
    with pytest.raises(ValueProblem):
        add_part(patch, f"worked.{new}.paths.low.items", "branch")
    with pytest.raises(ValueProblem):
        branch_around(patch, f"worked.{new}.paths.high.items.warm")


def test_a_return_comes_with_its_sends_and_goes_with_them():
    patch = DEMO["sluice-gate"]
    edits, new, _ = add_part(patch, "returns", "return")
    made = apply(patch, edits)
    assert all(any(s.id == new for s in x.sends) for x in (*made.layers, made))
    gone = apply(made, remove_part(made, f"returns.{new}")[0])
    assert not any(s.id == new for x in (*gone.layers, gone) for s in x.sends)
    # a return that layers are sent to by id alone does no harm when it is gone
    apply(gone, remove_part(gone, "returns.echo")[0])


def test_all_bands_take_what_one_has_but_not_its_gain():
    patch = apply(DEMO["sluice-gate"], [Edit("worked.deck.bands.mid.gain", 3.0)])
    made = apply(patch, same_bands(patch, "worked.deck.bands.mid")[0])
    for band in get(made, "worked.deck.bands"):
        assert (band.down_threshold, band.up_ratio) == (-22.0, 1.3)
    assert [b.gain for b in get(made, "worked.deck.bands")] == [0.0, 3.0, 0.0]


@pytest.mark.parametrize("what", ["worked.grit", "worked.deck", "worked"])
def test_without_it_the_loop_is_as_loud_as_with_it(what):
    patch = apply(DEMO["sluice-gate"], [Edit("worked.grit.trim", 8.0), Edit("worked.grit.mix", 100.0)])
    levels = chain_levels(patch, TAKES)
    bare = without(patch, what, levels)
    after = chain_levels(bare, TAKES)
    place = "worked"
    last = f"{place}.{bare.worked[-1].id}" if what == "worked" else f"{what}"
    loud_with = levels.at[f"worked.{patch.worked[-1].id}" if what == "worked" else what].loudness
    gain = last if what == "worked" else "worked.compare-gain"
    assert after.at[gain].loudness == pytest.approx(loud_with, abs=0.1)


def test_two_settings_are_equally_loud_and_three_rounds_are_counted():
    patch = DEMO["salt-press"]
    loudly = apply(patch, [Edit("worked.punch.makeup", 9.0), Edit("worked.punch.matched", False)])
    pair = SettingsPair()
    with pytest.raises(ValueProblem):
        pair.begin()
    pair.hold("A", patch, "worked", chain_levels(patch, TAKES))
    pair.hold("B", loudly, "worked", chain_levels(loudly, TAKES))
    behind = []
    for which in "AB":
        heard = pair.heard(patch, "worked", which)
        behind.append(chain_levels(heard, TAKES).at["worked.compare-gain"].loudness)
    assert behind[0] == pytest.approx(behind[1], abs=0.1)
    pair.begin()
    for _ in range(3):
        one, two = pair.blind.setting("1"), pair.blind.setting("2")
        assert {one, two} == {"A", "B"}
        pair.pick("1" if one == "A" else "2")
    assert pair.blind.over and pair.tally == "A was better each time"
    with pytest.raises(ValueProblem):
        pair.pick("1")
    assert apply(loudly, pair.edits("worked", "A")[0]).worked == patch.worked


def test_an_effect_goes_to_another_chain_with_what_moves_it():
    patch = apply(
        DEMO["sluice-gate"],
        [
            Edit(
                "movers",
                [*(m.model_dump() for m in DEMO["sluice-gate"].movers), {"kind": "lfo", "id": "sway", "name": "Sway"}],
            ),
            Edit(
                "movements",
                [
                    *(m.model_dump() for m in DEMO["sluice-gate"].movements),
                    {"id": "v", "mover": "sway", "target": "worked.grit.drive", "amount": 6.0},
                ],
            ),
        ],
    )
    kept = stored_part_from(take_out(patch, "item", "worked.grit").plain())
    for place in ("layers.edge.chain", "returns.echo.chain", "worked"):
        edits, _, new = put_in(patch, kept, "edge", place)
        made = apply(patch, edits)
        assert get(made, f"{place}.{new}").drive == 9.0
        assert any(m.target == f"{place}.{new}.drive" and m.mover == "sway" for m in made.movements)
    # a whole chain takes the place of the one that is shown
    edits, _, _ = put_in(patch, take_out(patch, "chain", "worked"), "edge", "returns.echo.chain")
    assert [i.id for i in get(apply(patch, edits), "returns.echo.chain")] == ["grit", "mud", "deck"]


def test_all_that_can_be_moved_is_offered():
    paths = [p for p, _ in movable_controls(DEMO["sluice-gate"])]
    for path in ("worked.deck.bands.low.gain", "returns.space.chain.space.decay", "sends.echo.level"):
        assert path in paths


def test_one_turn_turns_every_band():
    deck = {"kind": "multiband", "id": "deck", "name": "Deck"}
    p = apply(DEMO["undertow"], [Edit("worked", [deck])])
    p = apply(p, [Edit("worked.deck.bands.mid.down_threshold", -30.0)])
    each = "worked.deck.bands.*.down_threshold"
    before = [b.down_threshold for b in p.worked[0].bands]
    stepped = apply(p, apply_change(p, ControlChange(each, at=0.5)))
    after = [b.down_threshold for b in stepped.worked[0].bands]
    assert after[0] == -36.0
    assert [b - a for a, b in zip(before, after, strict=True)] == pytest.approx([-18.0] * 3)
    typed = apply(p, apply_change(p, ControlChange(each, text="-20")))
    assert [b.down_threshold for b in typed.worked[0].bands] == [-20.0] * 3
    off = apply(p, apply_change(p, ControlChange("worked.deck.bands.*.on", text="off")))
    assert not any(b.on for b in off.worked[0].bands)
    assert value_shown(p, each).text == value_shown(p, "worked.deck.bands.low.down_threshold").text
    # where one is at its end, the others go on
    low = apply(p, apply_change(p, ControlChange(each, at=0.0)))
    assert [b.down_threshold for b in low.worked[0].bands] == [-72.0] * 3
    for wrong in ("worked.deck.bands.*", "worked.*.bands.*.gain", "worked.deck.*.gain", "output.*.gain"):
        with pytest.raises((NoSuchPath, ValueProblem)):
            apply_change(p, ControlChange(wrong, at=0.5))


def test_new_bands_of_an_eq_come_where_none_is():
    p = apply(DEMO["undertow"], [Edit("worked", [{"kind": "eq", "id": "it", "name": "It"}])])
    for _ in range(8):
        p = apply(p, add_part(p, "worked.it.bands", "band")[0])
    found = sorted(b.frequency for b in p.worked[0].bands)
    assert all(b / a > 1.3 for a, b in pairwise(found))
    assert found[0] > 40.0 and found[-1] < 16000.0


def test_a_ceiling_is_not_matched_when_it_is_added_and_a_distortion_is(opened):
    opened.add("worked", "ceiling")
    opened.add("worked", "distortion")
    ceiling, distortion = opened.patch.worked[-2:]
    assert not ceiling.matched and distortion.matched
