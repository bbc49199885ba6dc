"""Differences of documents: exact to the last bit, there and back."""

import json

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kessel.patch import DoesNotFit, difference, patched, same

LEAVES = (
    st.none()
    | st.booleans()
    | st.integers(-5, 5)
    | st.sampled_from([0.0, -0.0, 1.0, 0.1, 1e-300])
    | st.text(max_size=3)
)
TREES = st.recursive(
    LEAVES,
    lambda inner: st.lists(inner, max_size=4) | st.dictionaries(st.sampled_from("abcd"), inner, max_size=4),
    max_leaves=24,
)


@given(TREES, TREES)
def test_a_difference_leads_there_and_its_opposite_back(a, b):
    before = json.dumps(a)
    for x, y in ((a, b), (b, a)):
        change = json.loads(json.dumps(difference(x, y)))
        assert json.dumps(patched(x, change), sort_keys=True) == json.dumps(y, sort_keys=True)
    assert json.dumps(a) == before


@given(TREES)
def test_what_is_the_same_has_no_difference(a):
    assert difference(a, json.loads(json.dumps(a))) is None
    assert patched(a, None) == a


def test_signs_of_zero_and_kinds_of_numbers_count():
    assert not same(0.0, -0.0) and not same(1, 1.0) and not same(True, 1)
    assert str(patched({"a": 0.0}, difference({"a": 0.0}, {"a": -0.0}))["a"]) == "-0.0"


def test_a_difference_is_as_small_as_what_changed():
    notes = [{"id": f"n{i}", "pitch": i} for i in range(500)]
    assert difference(notes, notes[1:]) == {"cut": [0, 1], "put": []}
    assert difference(notes, [*notes[:250], {"id": "x"}, *notes[250:]]) == {"cut": [250, 0], "put": [{"id": "x"}]}


@pytest.mark.parametrize(
    ("document", "change"),
    [
        ({}, {"in": {"a": {"drop": True}}}),
        ([], {"at": {"3": {"=": 1}}}),
        ([1], {"cut": [0, 4], "put": []}),
        (3, {"in": {"a": {"at": {"0": {"=": 1}}}}}),
        ("text", {"cut": [0, 1], "put": []}),
        ({}, {}),
    ],
)
def test_what_was_made_from_another_document_is_refused(document, change):
    with pytest.raises(DoesNotFit):
        patched(document, change)
