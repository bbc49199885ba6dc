"""Pairs of layers and of sources: sums by closed form, onsets, beats, words, and aligning."""

import numpy as np
import pytest

from kessel.checks import Evidence, Limits, check, in_words, pairs_of
from kessel.checks.details import COHERENCE_HZ, pair_details
from kessel.checks.pairs.align import plan_align
from kessel.checks.pairs.pairs import onset_loss, turned_by
from kessel.engine import RenderCache
from kessel.patch import Edit, apply

from ...making import RATE, layer, note, oscillator, patch

TAKES = RenderCache()
LIMITS = Limits()


def seen(p):
    return Evidence(p, TAKES, seeks=False)


def two_sines(degrees, second=-6.0, **words):
    """Two equal sines, the first turned by an angle."""
    one = layer("one", sources=[oscillator("sine", phase=degrees)], level=-6.0)
    two = layer("two", sources=[oscillator("sine")], level=second, **words)
    return patch(one, two, notes=[note(33, 0, 1.9), note(38, 2, 1.9)])


@pytest.mark.parametrize("degrees", [0.0, 40.0, 90.0, 150.0, 179.0])
def test_vectors_of_a_note_are_the_closed_form(degrees):
    pair = pairs_of(seen(two_sines(degrees, -12.0)))[0]
    for n in pair.notes:
        ratio = n.b / n.a
        assert ratio == pytest.approx(10 ** (6 / 20), rel=0.01)
        want = 20 * np.log10(abs(1 + ratio * np.exp(1j * np.radians(degrees))) / (1 + ratio))
        assert n.sum_loss == pytest.approx(want, abs=0.1)
        assert onset_loss(seen(two_sines(degrees, -12.0)), pair, n) == pytest.approx(want, abs=0.25)
        assert abs(n.phase) == pytest.approx(degrees, abs=1.0)
        assert n.common == 1


def test_one_common_partial_is_said_as_an_angle_and_more_as_a_time():
    pair = pairs_of(seen(two_sines(60.0)))[0]
    assert in_words(pair, pair.notes[0]) == "One leads Two by 60° at 55 Hz"
    late = layer("one", sources=[oscillator("saw")], level=-6.0, delay=2.0)
    pair = pairs_of(seen(patch(late, layer("two", sources=[oscillator("saw")], level=-6.0))))[0]
    assert in_words(pair, pair.notes[0]) == "One is 2.00 ms late"
    assert pair.notes[0].lag_ms == pytest.approx(2.0, abs=0.05)
    over = layer("one", sources=[oscillator("saw")], level=-6.0, polarity="inverted")
    pair = pairs_of(seen(patch(over, layer("two", sources=[oscillator("saw")], level=-6.0))))[0]
    assert in_words(pair, pair.notes[0]) == "One is inverted in polarity"


def test_sources_inside_a_layer_are_a_pair_and_can_be_aligned():
    sources = [oscillator("sine"), {**oscillator("sine", phase=170.0), "id": "b", "name": "B"}]
    p = patch(layer("one", sources=sources, level=-6.0))
    (pair,) = pairs_of(seen(p))
    assert pair.kind == "sources" and pair.title == "B and A of One"
    assert pair.worst.sum_loss == pytest.approx(20 * np.log10(abs(np.cos(np.radians(85)))), abs=0.1)
    found = next(f for f in check(Evidence(p, TAKES)) if f.check == "layers-add-up")
    assert found.verdict == "fails" and found.fixes
    cured = apply(p, found.fixes[0].edits)
    assert pairs_of(seen(cured))[0].worst.sum_loss > -1.5


def test_what_is_shared_far_under_the_rest_is_no_pair():
    """A sine layer that carries nearly all, and two that cancel far under it."""
    strong = layer("sub", sources=[oscillator("sine")])
    weak = [
        layer(f"w{i}", sources=[oscillator("sine", octave=1, phase=180.0 * i)], level=-40.0, path="worked")
        for i in (0, 1)
    ]
    assert all({"w0", "w1"} != set(p.layers) for p in pairs_of(seen(patch(strong, *weak))))


def test_a_beat_is_told_from_a_wander_and_judged_by_its_dip():
    beating = patch(
        layer("one", sources=[oscillator("sine")], level=-6.0),
        layer("two", sources=[oscillator("sine", offset=1.5)], level=-6.0),
    )
    pair = pairs_of(seen(beating))[0]
    assert pair.apart and pair.beat_hz == pytest.approx(1.5, abs=0.02)
    # half of the time against the other: 3 dB under the sum of both, and nothing at all in between
    assert pair.worst.sum_loss == pytest.approx(-3.0, abs=0.4)
    assert pair.worst.high > -0.2 and pair.worst.low < -12.0
    found = next(f for f in check(seen(beating)) if f.check == "layers-add-up")
    assert found.verdict == "holds" and "beat" in found.title and "1.5 times a second" in found.text
    beats = next(f for f in check(seen(beating)) if f.check == "beats")
    assert beats.verdict == "fails" and beats.evidence[0][1] == pytest.approx(1.5, abs=0.05)


def test_coherence_over_frequency():
    """A layer against itself is coherent where it sounds; against noise of its own it is not."""
    same = patch(*(layer(i, sources=[oscillator("saw")], level=-9.0) for i in ("one", "two")))
    (detail,) = pair_details(seen(same), LIMITS)
    loud = np.isfinite(detail.coherence)
    # between the lowest partials nothing sounds that could be compared
    assert loud[(COHERENCE_HZ > 500) & (COHERENCE_HZ < 4000)].all() and not loud[COHERENCE_HZ < 30].any()
    assert detail.coherence[loud].min() > 0.95
    assert len(detail.words) == len(detail.onsets) == len(detail.pair.notes)


@pytest.mark.parametrize("seed", range(4))
def test_align_on_a_hundred_random_pairs(seed):
    """Of pairs that cancel and can be aligned, at least 95 of 100 come better than -1.5 dB on their worst note."""
    rng = np.random.default_rng(200 + seed)
    cured = tried = 0
    while tried < 25:
        shapes = [str(s) for s in rng.choice(["sine", "triangle", "saw", "pulse"], 2)]
        phases = [float(x) for x in rng.integers(0, 360, 2)]
        cutoff, slope = float(rng.uniform(80, 900)), str(rng.choice(["12", "24"]))
        stage = {"kind": "filter", "id": "f", "name": "F", "cutoff": cutoff, "slope": slope}
        sub = layer("sub", sources=[oscillator(shapes[0], phase=phases[0])], level=-6.0)
        body = layer("body", sources=[oscillator(shapes[1], phase=phases[1])], stages=[stage], level=-6.0)
        p = patch(sub, body, notes=[note(int(q), i, 0.9) for i, q in enumerate(rng.integers(28, 44, 4))])
        e = Evidence(p, RenderCache(), seeks=False)
        pairs = pairs_of(e)
        if not pairs or pairs[0].worst.sum_loss >= -1.5:
            continue
        tried += 1
        plan = plan_align(e, LIMITS)
        cured += min(after for _, _, _, after in plan.rows[pairs[0].title]) >= -1.5
    assert cured >= 24


def test_all_pairs_are_aligned_in_one_step():
    layers = [
        layer(i, sources=[oscillator("sine", phase=turn)], level=-9.0)
        for i, turn in (("one", 0.0), ("two", 170.0), ("three", 90.0))
    ]
    p = patch(*layers)
    plan = plan_align(seen(p), LIMITS)
    assert not plan.missed and plan.edits
    assert all(x.worst.sum_loss >= -1.5 for x in pairs_of(seen(apply(p, plan.edits))))
    before = {row[2] for rows in plan.rows.values() for row in rows}
    assert min(before) < -10.0
    # with nothing to align nothing is planned
    assert plan_align(seen(apply(p, plan.edits)), LIMITS).edits == ()


def test_transposition_and_ratio_count():
    """Partials are looked for where they are: a layer an octave down through its play style, another at 3/2."""
    down = layer("one", sources=[oscillator("sine")], play={"velocity": 0.0, "transpose": -12})
    up = layer("two", sources=[oscillator("sine", ratio=0.5)])
    pair = pairs_of(seen(patch(down, up, notes=[note(45, 0, 4)])))[0]
    assert pair.worst.hz == pytest.approx(55.0, rel=1e-6)
    assert RATE / pair.worst.hz > 800


@pytest.mark.parametrize("delay", [0.7, 2.0, 5.5])
def test_a_delay_is_foreseen_as_it_is_then_measured(delay):
    p = two_sines(40.0, -9.0)
    pair = pairs_of(seen(p))[0]
    said = turned_by(pair, lambda n: -0.36 * n.hz * delay)
    (after,) = pairs_of(seen(apply(p, [Edit("layers.one.delay", delay)])))
    for (_, loss), n in zip(said, after.notes, strict=True):
        assert loss == pytest.approx(n.sum_loss, abs=0.15)
