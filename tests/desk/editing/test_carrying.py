"""Parts carried to another layer sound there as they sounded, and are gone where they were."""

import numpy as np
import pytest

from kessel.desk.editing import carry
from kessel.engine import render_loop
from kessel.patch import ValueProblem, apply

from ...making import layer, note, oscillator, patch

FILTER = {"kind": "filter", "id": "f", "name": "F", "cutoff": 300.0}
ECHO = {"kind": "echo", "id": "e", "name": "E"}
LFO = {"kind": "lfo", "id": "l", "name": "Slow", "clock": "beats", "length": 2.0, "restart": "phrase"}


def moving(target, amount=1.0):
    return {"id": "m", "mover": "l", "target": target, "amount": amount}


@pytest.fixture
def two():
    return patch(
        layer(sources=[oscillator("saw"), oscillator("sine", id="b", name="B")], stages=[FILTER], chain=[ECHO]),
        layer("two", sources=[oscillator("saw", id="c", name="C")]),
        notes=[note(33, 0, 2)],
        movers=[LFO],
        movements=[moving("layers.one.stages.f.cutoff", 2.0)],
    )


def test_a_stage_moves_with_its_movement_and_sounds_the_same(two):
    edits, words, new = carry(two, "layers.one.stages.f", "two")
    after = apply(two, edits)
    assert words == "Move F to Two" and after.layers[0].stages == []
    assert [s.cutoff for s in after.layers[1].stages] == [300.0]
    assert [m.target for m in after.movements if not m.lost] == [f"layers.two.stages.{new}.cutoff"]
    # a saw through it is the same saw through it, wherever it stands; the echo stayed with the first
    alone = patch(layer(sources=[oscillator("saw")], stages=[FILTER]), notes=[note(33, 0, 2)],
                  movers=[LFO], movements=[moving("layers.one.stages.f.cutoff", 2.0)])  # fmt: skip
    assert np.abs(render_loop(after).layers["two"] - render_loop(alone).layers["one"]).max() < 1e-9


def test_a_copy_stays_where_it_was(two):
    edits, words, _ = carry(two, "layers.one.chain.e", "two", copy=True)
    after = apply(two, edits)
    assert words == "Copy E to Two"
    assert [[i.kind for i in x.chain] for x in after.layers] == [["echo"], ["echo"]]
    edits, _, new = carry(two, "layers.one.sources.b", "two")
    after = apply(two, edits)
    assert [[s.name for s in x.sources] for x in after.layers] == [["A"], ["C", "B"]] and after.layers[1].sources[
        1
    ].id == new


@pytest.mark.parametrize(
    ("path", "goal", "why"),
    [
        ("layers.one.stages.f", "one", "already"),
        ("layers.one.stages.f", "gone", "to another layer"),
        ("layers.one.play", "two", "can be dragged"),
        ("movers.l", "two", "can be dragged"),
    ],
)
def test_what_cannot_be_carried_says_why(two, path, goal, why):
    with pytest.raises(ValueProblem, match=why):
        carry(two, path, goal)
