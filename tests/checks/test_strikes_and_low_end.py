"""Strikes of the same note, thin partials, rumble, loudness: what they say on patches made to be so."""

import numpy as np
import pytest

from kessel.checks import Evidence, Limits, check
from kessel.checks.details import low_detail
from kessel.checks.levels.level_detail import level_detail
from kessel.checks.lows.low_end import note_partials, weights_of
from kessel.checks.playback.repeatability import STRIKES, causes_of, strike
from kessel.engine import RenderCache
from kessel.patch import Edit, apply

from ..making import layer, note, oscillator, patch

TAKES = RenderCache()
LIMITS = Limits()


def of(p, slug, limits=None, seeks=True):
    return [f for f in check(Evidence(p, TAKES, seeks=seeks), limits) if f.check == slug]


def loose(**words):
    """Two sines on one pitch, the second beginning anywhere."""
    one = layer("one", sources=[oscillator("sine")], level=-6.0)
    two = layer("two", sources=[oscillator("sine", **words)], level=-6.0)
    return patch(one, two, tempo=117.0)


def test_what_restarts_is_the_same_each_time():
    found = strike(loose(), LIMITS, TAKES)
    assert len(found.levels) == STRIKES and found.causes == ()
    assert found.spread_db < 0.02 and found.spread_deg < 0.5
    (f,) = of(loose(), "repeatability")
    assert f.verdict == "holds" and f.value == 0.0


@pytest.mark.parametrize(
    ("words", "what"),
    [({"start": "free-running"}, "free-running phase"), ({"start": "random", "random_range": 180.0}, "random")],
)
def test_phases_left_free_are_named_and_cured(words, what):
    p = loose(**words)
    assert [c.what for c in causes_of(p)] == [what]
    found = strike(p, LIMITS, TAKES)
    # two equal sines at any angle: from twice to nothing
    assert found.spread_db > 3.0 and found.spread_deg > 90.0
    (f,) = of(p, "repeatability")
    assert f.verdict == "fails" and f.fixes and f.where.layers == ("two",)
    (again,) = of(apply(p, f.fixes[0].edits), "repeatability")
    assert again.verdict == "holds"


def test_the_spread_is_the_closed_form():
    """A second sine at half the level, at the angles that were measured."""
    one = layer("one", sources=[oscillator("sine")], level=-6.0)
    two = layer("two", sources=[oscillator("sine", start="free-running")], level=-12.0)
    found = strike(patch(one, two, tempo=117.0), LIMITS, TAKES)
    (angles,) = found.angles.values()
    sums = 20 * np.log10(np.abs(1 + 10 ** (-6 / 20) * np.exp(1j * np.radians(angles))))
    assert found.spread_db == pytest.approx(np.ptp(sums), abs=0.3)


def test_drift_and_free_movers_are_named():
    p = loose(drift=20.0)
    assert [c.what for c in causes_of(p)] == ["drift"]
    lfo = {"kind": "lfo", "id": "swing", "name": "Swing", "restart": "free"}
    row = {"id": "m", "mover": "swing", "target": "layers.two.level", "amount": -12.0}
    p = patch(*loose().model_dump()["layers"], movers=[lfo], movements=[row], tempo=117.0)
    (cause,) = causes_of(p)
    assert (cause.what, cause.text) == ("free-running mover", "Swing runs independently of the notes")
    (f,) = of(p, "repeatability")
    assert f.verdict == "look"
    assert of(apply(p, f.fixes[0].edits), "repeatability")[0].verdict == "holds"


def test_what_brings_no_lows_is_no_cause():
    hiss = layer("hiss", sources=[{"kind": "noise", "id": "n", "name": "N"}], level=-6.0, range={"low": 2000.0})
    p = patch(layer("one", level=-6.0), hiss)
    (f,) = of(p, "repeatability")
    assert f.verdict == "holds"


def test_partials_of_every_note_are_the_saws():
    """Partial k of a saw stands 20 log k under the first."""
    p = patch(
        layer("one", sources=[oscillator("saw")], level=-6.0), notes=[note(q, i, 0.9) for i, q in enumerate((28, 36))]
    )
    for n in note_partials(Evidence(p, TAKES)):
        for k in range(1, 9):
            assert n.sum[k - 1] == pytest.approx(n.sum[0] - 20 * np.log10(k), abs=0.2)
        assert n.under == pytest.approx(-20 * np.log10(2), abs=0.2)
        assert set(n.layers) == {"one"}


def test_a_partial_that_a_fixed_notch_takes_from_one_note_is_thin():
    notch = {"kind": "filter", "id": "f", "name": "F", "type": "notch", "cutoff": 110.0, "resonance": 12.0}
    p = patch(
        layer("one", sources=[oscillator("saw")], stages=[notch], level=-6.0),
        notes=[note(33, 0, 0.9), note(38, 1, 0.9), note(36, 2, 0.9)],
    )
    (f,) = of(p, "thin")
    assert f.verdict == "look" and f.value > 20.0
    assert "Harmonic 2" in f.text and f.where.note == "A1"
    assert of(p, "thin", Limits(thin_db=36.0))[0].verdict == ("holds" if f.value <= 36 else "look")


def test_a_partial_that_carries_nothing_is_not_missed():
    """The second partial of a sine with a little of its octave far under it, which a notch takes away on one note."""
    notch = {"kind": "filter", "id": "f", "name": "F", "type": "notch", "cutoff": 110.0}
    sources = [oscillator("sine"), {**oscillator("sine", octave=1, level=-20.0), "id": "b", "name": "B"}]
    p = patch(
        layer("one", sources=sources, stages=[notch], level=-6.0),
        notes=[note(33, 0, 0.9), note(38, 1, 0.9), note(36, 2, 0.9)],
    )
    assert of(p, "thin")[0].verdict == "holds"
    louder = apply(p, [Edit("layers.one.sources.b.level", 0.0)])
    assert of(louder, "thin")[0].verdict == "look"
    weights = weights_of(Evidence(louder, TAKES))
    # the notch stands on the second partial of A1, and is told of that key alone
    assert [list(w.missed(LIMITS)) for w in weights if w.partial == 2] == [[33]]
    detail = low_detail(Evidence(louder, TAKES), LIMITS)
    assert list(detail.thin) == [33] and detail.thin[33][0][0] == 2


def test_the_level_is_brought_into_what_fits():
    p = patch(layer("one", sources=[oscillator("saw")], level=-6.0))
    value = of(p, "loudness", Limits(soft_lufs=-60, loud_lufs=0))[0].value
    for limits, path in (
        (Limits(soft_lufs=-60, loud_lufs=value - 3), "output.trim"),
        (Limits(soft_lufs=value + 3, loud_lufs=0), "output.gain"),
    ):
        (f,) = of(p, "loudness", limits)
        (fix,) = f.fixes
        assert [e.path for e in fix.edits] == [path]
        (after,) = of(apply(p, fix.edits), "loudness", limits)
        assert after.verdict == "holds" and after.value == pytest.approx(fix.after, abs=0.01)
        assert abs(after.value - value) == pytest.approx(3.5, abs=0.2)


def test_level_over_the_loop_is_that_of_each_layer_and_of_all():
    """Two layers far enough apart: without one of equal loudness all is 3 LU softer; a still note is as loud
    everywhere, also where the window reaches back into the pass before."""
    env = {"attack": 1.0, "sustain": 0.0, "release": 5.0}
    low = layer("one", sources=[oscillator("sine", octave=4)], level=-20.0, envelope=env)
    high = layer("two", sources=[oscillator("sine", octave=4, ratio=1.1)], level=-20.0, envelope=env)
    p = apply(patch(low, high, notes=[note(36, 0, 4.0)]), [Edit("phrase.bars", 1)])
    d = level_detail(Evidence(p, TAKES))
    first, second = d.layers
    assert first.loudness - second.loudness == pytest.approx(0.0, abs=0.5)
    assert first.without == pytest.approx(3.0, abs=0.5) and second.without == pytest.approx(3.0, abs=0.5)
    assert second.peak == pytest.approx(-20.0, abs=0.3)
    assert np.isfinite(d.momentary).all() and np.ptp(d.momentary) < 0.6
    assert d.loudest_short == pytest.approx(d.integrated, abs=0.3)
    assert np.nanmax(d.peaks) == pytest.approx(d.true_peak, abs=0.05)
    alone = level_detail(Evidence(patch(low), TAKES))
    assert [x.without for x in alone.layers] == [None]
    # the ceiling is off in the plainest patch, and says how much it has to take when it is on
    assert alone.over is None
    pressed = apply(p, [Edit("output.ceiling.on", True), Edit("output.ceiling.limit", -20.0)])
    assert level_detail(Evidence(pressed, TAKES)).over == pytest.approx(6.0, abs=0.5)


def test_rumble_and_notes_below_the_floor():
    deep = patch(layer("one", sources=[oscillator("sine", octave=-1)], level=-6.0), notes=[note(28, 0, 4)])
    (f,) = of(deep, "rumble")
    assert f.verdict == "look" and "E1 has its fundamental there" in f.text
    (f,) = of(patch(layer("one", level=-6.0), notes=[note(45, 0, 4)]), "rumble")
    assert f.verdict == "holds"


def test_loudness_between_two_limits():
    p = patch(layer("one", sources=[oscillator("saw")], level=-6.0))
    (f,) = of(p, "loudness", Limits(soft_lufs=-40, loud_lufs=-1))
    assert f.verdict == "holds"
    (soft,) = of(p, "loudness", Limits(soft_lufs=f.value + 1, loud_lufs=0))
    assert soft.verdict == "look" and soft.title == "Softer than the set's limits" and soft.limit_name == "soft_lufs"
    (loud,) = of(p, "loudness", Limits(soft_lufs=-60, loud_lufs=f.value - 1))
    assert loud.title == "Louder than the set's limits" and loud.limit_name == "loud_lufs"


def test_every_limit_that_a_finding_names_is_one():
    for p in (loose(start="free-running"), patch(layer("one"))):
        for f in check(Evidence(p, TAKES, seeks=False)):
            assert f.limit_name == "" or f.limit_name in Limits.model_fields
            if f.limit_name:
                assert abs(f.limit) == pytest.approx(abs(getattr(Limits(), f.limit_name)))
