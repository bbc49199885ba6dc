"""One declaration per control: rule, parsing, limits, schema."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kessel.demo import demo_patches
from kessel.patch import Choice, Control, Filter, Patch, Toggle, ValueProblem, declared, walk

EVERY = [(path, c) for path, c, _ in walk(demo_patches()["sluice-gate"])]
NUMBERS = [(path, c) for path, c in EVERY if isinstance(c, Control)]


def test_every_control_says_its_name_and_help():
    assert len(EVERY) > 100
    for path, found in EVERY:
        assert found.name and len(found.help) > 10 and found.help.endswith("."), path


@pytest.mark.parametrize(("path", "control"), NUMBERS[:70:3], ids=lambda v: v if isinstance(v, str) else "")
def test_a_place_on_the_rule_and_back(path, control):
    for place in (0.0, 0.1, 0.37, 0.5, 0.93, 1.0):
        value = control.at(place)
        assert control.low <= value <= control.high
        assert control.at(control.position(value)) == pytest.approx(value, rel=1e-3, abs=control.step)
    assert control.at(0) == pytest.approx(control.low)
    assert control.at(1) == pytest.approx(control.high)


@given(st.floats(-2, 3), st.floats(20, 20000), st.floats(-200, 200))
def test_no_hand_leaves_the_limits(place, value, steps):
    control = declared(Filter, "cutoff")
    assert isinstance(control, Control)
    assert 20 <= control.at(place) <= 20000
    assert 20 <= control.nudged(value, steps) <= 20000


def test_an_arrow_always_moves_a_value_that_can_move():
    for path, control in NUMBERS:
        middle = control.at(0.5)
        assert control.nudged(middle, 1) > middle, path
        assert control.nudged(middle, -1) < middle, path


def test_typed_values_are_held_against_the_limits():
    control = declared(Filter, "cutoff")
    assert isinstance(control, Control)
    assert control.read("1.2k") == 1200.0
    with pytest.raises(ValueProblem, match="Cutoff goes from 20 Hz to 20 kHz"):
        control.read("5 Hz")


def test_kinds_of_declarations():
    assert isinstance(declared(Filter, "type"), Choice)
    assert isinstance(declared(Filter, "on"), Toggle)
    assert declared(Filter, "id") is None


def test_schema_carries_limits_units_and_help():
    cutoff = Patch.model_json_schema()["$defs"]["Filter"]["properties"]["cutoff"]
    assert (cutoff["minimum"], cutoff["maximum"], cutoff["default"]) == (20, 20000, 800)
    assert cutoff["control"]["unit"] == "Hz"
    assert cutoff["description"]
