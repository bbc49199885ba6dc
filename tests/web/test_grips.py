"""Grips stand on what is drawn: where a control's value is in the picture, by formulas of its own."""

import re

import numpy as np
import pytest

from kessel.desk.editing.parts import NEW_SOURCE, modulate
from kessel.engine import RATE, render_loop
from kessel.patch import Edit, ValueProblem, apply
from kessel.web.views.editor.grips import envelope_drawing, grips_of

from ..making import layer, note, oscillator, patch


def points_of(line):
    """The points of a drawn line, in per cent of the picture."""
    found = np.array([[float(v) for v in pair] for pair in re.findall(r"([-\d.e]+),([-\d.e]+)", line)])
    return found / [1.8, 0.6]


@pytest.mark.parametrize("decay", [5.0, 300.0, 9000.0])
@pytest.mark.parametrize("sustain", [-1.0, -12.0, -40.0])
def test_the_corners_of_an_envelope_stand_on_its_line(decay, sustain):
    given = patch(layer(envelope={"attack": 20.0, "hold": 30.0, "decay": decay, "sustain": sustain, "release": 200.0}))
    line, _, grips = envelope_drawing(given, "layers.one.envelope", given.layers[0].envelope)
    drawn = points_of(line)
    for grip in grips:
        if grip.name in ("Attack", "Decay and sustain", "Release"):
            assert np.hypot(*(drawn - [grip.x, grip.y]).T).min() < 3.0, grip.name
    corner = next(g for g in grips if g.name == "Decay and sustain")
    assert corner.text == f"decay {decay:g} ms, sustain {sustain:.1f} dB".replace("-", "−").replace("9000 ms", "9 s")


def test_the_grip_of_a_filter_stands_at_its_cutoff():
    stage = {"kind": "filter", "id": "f", "name": "F", "cutoff": 632.4555, "resonance": 18.0}
    given = patch(layer(stages=[stage]))
    (grip,) = grips_of(given, "layers.one.stages.f", given.layers[0].stages[0], (-48.0, 24.0))
    # half of three decades; half of the way from 0 dB to the top
    assert grip.x == pytest.approx(50.0, abs=0.01)
    assert grip.y == pytest.approx((5 + 90 * 24 / 72 + 5) / 2, abs=0.01)


def test_a_compressor_is_gripped_where_its_curve_bends():
    given = patch(layer(chain=[{"kind": "compressor", "id": "c", "name": "C", "threshold": -24.0, "ratio": 1.0}]))
    threshold, ratio = grips_of(given, "layers.one.chain.c", given.layers[0].chain[0], (-48.0, 24.0))
    assert (threshold.x, threshold.y) == pytest.approx((100 * 48 / 72, 5 + 90 * 30 / 78))
    # with a ratio of 1 the end of the curve is at 0 dB
    assert ratio.y == pytest.approx(5 + 90 * 6 / 78)


def test_a_sine_is_added_to_modulate_and_is_not_heard_itself():
    given = patch(layer(sources=[oscillator("sine")]), notes=[note(33, 0, 2)])
    edits, words = modulate(given, "layers.one.sources.a", NEW_SOURCE)
    after = apply(given, edits)
    carrier, added = after.layers[0].sources
    assert words == "FM of A by a new sine" and (added.to, added.shape) == ("modulates only", "sine")
    assert [m.source for m in carrier.modulators] == [added.id]
    loop = render_loop(apply(after, [Edit(f"layers.one.sources.a.modulators.{carrier.modulators[0].id}.depth", 0.0)]))
    assert np.abs(loop.sum - render_loop(given).sum).max() < 0.01
    y = render_loop(after).sum[0]
    x, hz = np.abs(np.fft.rfft(y * np.hanning(y.size))), np.fft.rfftfreq(y.size, 1 / RATE)
    low, second = (x[np.abs(hz - k * 55.0) < 5].max() for k in (1, 2))
    # Bessel: J1 over J0 at 45 degrees of depth is 0.43
    assert second / low == pytest.approx(0.37, abs=0.15)
    full = patch(layer(sources=[oscillator("sine", id=n, name=n) for n in "abcdef"]))
    with pytest.raises(ValueProblem, match=r"6|most"):
        apply(full, modulate(full, "layers.one.sources.a", NEW_SOURCE)[0])
