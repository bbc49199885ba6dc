"""When controls are shown: each condition on its own, and what parts of a patch show as they stand."""

import itertools
from types import SimpleNamespace

import pytest

from kessel.patch import Branches, Distortion, Echo, Filter, Layer, Lfo, Macro, Multiband, bands_of, shown_controls
from kessel.patch.conditions import IN_CHAINS, NEVER, above, below, counts, shown_from, unless, when

PART = SimpleNamespace(word="ms", number=3.0, many=[1, 2], inner=SimpleNamespace(on=True))


@pytest.mark.parametrize(
    ("condition", "holds"),
    [
        (when("word", "ms"), True),
        (when("word", "beats"), False),
        (when("word", "beats", "ms"), True),
        (unless("word", "ms"), False),
        (unless("word", "beats"), True),
        (above("number", 2), True),
        (above("number", 3), False),
        (below("number", 4), True),
        (below("number", 3), False),
        (counts("many", 2), True),
        (counts("many", 3), False),
        (when("inner.on", True), True),
        (when("modulates only", None), False),
        (unless("modulates only", "x"), False),
        (above("modulates only", -1), False),
        (NEVER, False),
        (NEVER | when("word", "ms"), True),
        (NEVER & when("word", "ms"), False),
        (when("word", "ms") & above("number", 2), True),
        (when("word", "ms") & above("number", 5), False),
        (when("word", "x") | above("number", 2), True),
        (when("word", "x") | above("number", 5), False),
    ],
)
def test_a_condition_holds_or_not_and_so_does_what_the_schema_says_of_it(condition, holds):
    assert condition.holds(PART) is holds
    assert shown_from(condition.plain()).holds(PART) is holds


def test_and_goes_before_or_however_they_are_joined():
    yes, no = when("word", "ms"), when("word", "x")
    for a, b, c in itertools.product((yes, no), repeat=3):
        x, y, z = (v is yes for v in (a, b, c))
        assert ((a | b) & c).holds(PART) is ((x or y) and z)
        assert (a & b | c).holds(PART) is ((x and y) or z)


def test_only_an_item_of_a_chain_has_no_owner():
    assert IN_CHAINS.holds(PART, None)
    assert not IN_CHAINS.holds(PART, SimpleNamespace())


@pytest.mark.parametrize(
    ("part", "shown", "hidden"),
    [
        (Filter(id="f", name="F"), {"resonance"}, {"morph", "match", "branch"}),
        (Filter(id="f", name="F", slope="6"), set(), {"resonance"}),
        (Filter(id="f", name="F", slope="6", type="peak"), {"resonance"}, set()),
        (Distortion(id="d", name="D", curve="crush"), {"bits", "rate"}, {"bias"}),
        (Distortion(id="d", name="D", lift=3.0), {"lift_at", "lift_q", "bias"}, {"bits"}),
        (Echo(id="e", name="E", clock="ms"), {"time"}, {"length"}),
        (Multiband(id="m", name="M", bands=bands_of(3)), {"split_1", "split_2"}, {"split_3"}),
        (Lfo(id="l", name="L", shape="square", clock="Hz"), {"width", "rate"}, {"length"}),
        (Macro(id="m", name="M"), {"value"}, {"drawn", "bars"}),
    ],
)
def test_a_part_shows_what_does_something(part, shown, hidden):
    found = shown_controls(part)
    assert shown <= set(found) and not hidden & set(found)


def test_a_voice_stage_looks_at_its_layer():
    stage = Filter(id="f", name="F")
    one, two = Layer(id="l", name="L"), Layer(id="l", name="L", branches=Branches(routing="parallel"))
    assert "branch" in shown_controls(stage, two) and "branch" not in shown_controls(stage, one)
    assert "matched" in shown_controls(stage) and "matched" not in shown_controls(stage, one)
