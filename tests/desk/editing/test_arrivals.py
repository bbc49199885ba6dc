"""What comes in is safe: a layer stands with those as low as it, and a sine in the lows stays out of a unison."""

import numpy as np
import pytest

from kessel.desk.editing import put_in, take_out
from kessel.desk.editing.arrivals import with_single_lows
from kessel.desk.editing.stock_parts import stock_parts
from kessel.engine import Engine
from kessel.patch import Edit, apply

from ...making import RATE, layer, note, oscillator, patch

LOW, HIGH = oscillator(), oscillator("saw", octave=2) | {"id": "b", "name": "B"}


def test_the_first_unison_leaves_a_sine_in_the_lows_single():
    p = patch(layer(sources=[LOW, HIGH, oscillator(octave=3) | {"id": "c", "name": "C"}]))
    wider = apply(p, with_single_lows(p, Edit("layers.one.unison.copies", 7)))
    assert [s.unison for s in wider.layers[0].sources] == [False, True, True]
    again = with_single_lows(wider, Edit("layers.one.unison.copies", 3))
    assert again == [Edit("layers.one.unison.copies", 3)]
    only = patch(layer(sources=[LOW]))
    assert len(with_single_lows(only, Edit("layers.one.unison.copies", 7))) == 1

    def lows(given):
        """Level of the fundamental, half a second at a time, in dB."""
        engine = Engine(given)
        x = engine.read(engine.latency + 4 * RATE)[0, engine.latency :]
        t = np.arange(RATE // 2) / RATE
        turned = np.exp(-2j * np.pi * 55.0 * t)
        return [20 * np.log10(abs((x[i : i + t.size] * turned).mean())) for i in range(0, x.size, t.size)]

    assert np.ptp(lows(wider)) < 0.5 < 3.0 < np.ptp(lows(apply(p, [Edit("layers.one.unison.copies", 7)])))


@pytest.mark.parametrize(("octave", "single"), [(0, True), (2, False)])
def test_a_sine_that_comes_into_a_unison_stays_single_in_the_lows(octave, single):
    here = patch(layer(sources=[HIGH], unison={"copies": 5}))
    kept = take_out(patch(layer(sources=[oscillator(octave=octave)])), "source", "layers.one.sources.a")
    edits, _, new = put_in(here, kept, "one")
    came = next(s for s in apply(here, edits).layers[0].sources if s.id == new)
    assert came.unison is not single


def test_a_new_layer_stands_where_it_sounds():
    p = patch(
        layer("body", sources=[oscillator("saw", octave=1)]), layer("air", sources=[HIGH]), notes=[note(33, 0, 4)]
    )
    order = {}
    for part in stock_parts():
        if part.kind == "layer":
            edits, _, new = put_in(p, part, "body")
            order[part.part["name"]] = [x.id for x in apply(p, edits).layers].index(new)
    assert order["Sub"] == 0
    assert order["Click"] == order["Air"] == 2
