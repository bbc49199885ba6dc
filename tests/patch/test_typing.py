"""Every unit that means something at a control is understood where it is typed."""

import pytest

from kessel.desk.editing.controls import ControlChange, apply_change
from kessel.patch import Edit, ValueProblem, apply, typed

from ..making import layer, oscillator, patch

PATCH = patch(
    layer(
        sources=[
            oscillator(modulators=[{"id": "m", "source": "b", "mode": "phase"}]),
            oscillator() | {"id": "b", "name": "B"},
        ],
        stages=[{"kind": "filter", "id": "f", "name": "F", "cutoff": 400.0}],
        chain=[{"kind": "echo", "id": "e", "name": "E"}, {"kind": "echo", "id": "t", "name": "T", "clock": "ms"}],
    ),
    movers=[{"kind": "envelope", "id": "v", "name": "V"}, {"kind": "lfo", "id": "l", "name": "L", "clock": "Hz"}],
    tempo=120.0,
)


@pytest.mark.parametrize(
    ("path", "text", "value"),
    [
        ("layers.one.level", "50 %", -6.0206),
        ("layers.one.level", "x0.5", -6.0206),
        ("layers.one.level", "×2", 6.0206),
        ("layers.one.level", "0 %", -72.0),
        ("layers.one.level", "0", 0.0),
        ("layers.one.envelope.sustain", "25%", -12.0412),
        ("movers.v.sustain", "-6 dB", 50.1187),
        ("movers.v.sustain", "x0.25", 25.0),
        ("layers.one.sources.a.modulators.m.depth", "90", 90.0),
        ("layers.one.sources.a.modulators.m.depth", "1.5707963 rad", 90.0),
        ("layers.one.sources.a.modulators.m.depth", "25 %", 45.0),
        ("layers.one.stages.f.cutoff", "F1", 43.6535),
        ("layers.one.stages.f.cutoff", "x3", 1200.0),
        ("layers.one.range.low", "0", 20.0),
        # a beat is half a second
        ("layers.one.chain.e.length", "375 ms", 0.75),
        ("layers.one.chain.e.length", "0.25 s", 0.5),
        ("layers.one.chain.e.length", "1/8.", 0.75),
        ("layers.one.chain.t.time", "1/8.", 375.0),
        ("layers.one.chain.t.time", "1/4t", 1000.0 / 3.0),
        ("layers.one.chain.t.time", "0.2 s", 200.0),
        ("layers.one.envelope.attack", "0", 0.5),
        ("layers.one.envelope.attack", "1/16", 125.0),
        ("movers.v.attack_beats", "0", 1 / 128),
        ("movers.l.rate", "1/4", 2.0),
        ("movers.l.length", "500 ms", 1.0),
        ("movers.l.length", "2 Hz", 1.0),
    ],
)
def test_a_typed_value_is_read_in_the_unit_it_is_typed_in(path, text, value):
    assert typed(PATCH, path, text).value == pytest.approx(value, rel=1e-5)
    (edit,) = apply_change(PATCH, ControlChange(path, text=text))
    assert edit.value == pytest.approx(value, rel=1e-5)
    apply(PATCH, [edit])


@pytest.mark.parametrize(
    ("path", "text"),
    [
        ("layers.one.level", "1/4"),
        ("layers.one.pan", "3 Hz"),
        ("layers.one.stages.f.cutoff", "x"),
        ("layers.one.stages.f.cutoff", "1/8"),
        ("layers.one.chain.e.length", "0 ms"),
        ("layers.one.chain.e.length", "0"),
        ("layers.one.sources.a.phase", "25 %"),
        ("layers.one.envelope.attack", "1/0"),
        ("movers.l.rate", "-1/4"),
    ],
)
def test_what_means_nothing_there_is_refused_in_one_line(path, text):
    with pytest.raises(ValueProblem) as refused:
        typed(PATCH, path, text)
    assert "\n" not in str(refused.value) and len(str(refused.value)) < 120


def test_the_end_of_a_movement_is_typed_in_every_unit_too():
    p = apply(PATCH, [Edit("movements", [{"id": "x", "mover": "v", "target": "layers.one.level", "amount": -12.0}])])
    (edit,) = apply_change(p, ControlChange("movements.x.amount", text="50 %"))
    assert edit.value == pytest.approx(-6.0206, abs=1e-3)
