"""Findings on the demo set and on patches made to fail; fixes that cure what they are offered for."""

import json

import numpy as np
import pytest

from kessel.checks import Evidence, Limits, check, pairs_of
from kessel.demo import demo_patches
from kessel.engine import CancelToken, RenderCache, RenderCancelled
from kessel.patch import Edit, apply

from ..making import edited, layer, note, oscillator, patch

DEMO = demo_patches()
TAKES = RenderCache()


def findings(p, limits=None):
    return {f.check: f for f in reversed(check(Evidence(p, TAKES), limits))}


def failing(p):
    return [f for f in check(Evidence(p, TAKES)) if f.verdict == "fails"]


@pytest.mark.parametrize("slug", sorted(DEMO))
def test_the_demo_set_fails_where_it_is_meant_to_and_its_fixes_cure_it(slug):
    wanted = {"undertow": ["layers-add-up"], "slack-water": ["lows-in-mono"]}.get(slug, [])
    bad = failing(DEMO[slug])
    assert [f.check for f in bad] == wanted
    for f in bad:
        assert f.fixes
        for fix in f.fixes:
            cured = apply(DEMO[slug], fix.edits)
            assert failing(cured) == [], fix.label
            again = next(g for g in check(Evidence(cured, TAKES)) if g.check == f.check)
            assert again.value == pytest.approx(fix.after, abs=0.05)


@pytest.mark.parametrize("slug", sorted(DEMO))
def test_the_demo_set_sounds_as_it_should(slug):
    """Level, pitch, and no jump that is not the sound's own."""
    p = DEMO[slug]
    e = Evidence(p, TAKES)
    assert -18 <= e.sum.loudness.integrated <= -10
    assert e.sum.true_peak_dbtp <= -1.0
    assert abs(e.sum.dc_offset) < 0.01
    low = [e.note_hz(n, e.base_ratio(n)) for n in e.notes]
    assert np.mean([(40 <= hz <= 110) for hz in low]) > 0.9
    levels = {b.name: b.level_db for b in e.sum.bands}
    assert max(levels["sub"], levels["low"]) > max(levels["mud"], levels["body"], levels["bite"]) + 3
    around = np.concatenate([e.loop.sum[:, -2:], e.loop.sum[:, :2]], axis=1)
    assert np.abs(np.diff(around)).max() < 0.05


def sub_and_body(degrees, **words):
    sub = layer("sub", sources=[oscillator("sine")], level=-6.0)
    body = layer("body", sources=[oscillator("saw", phase=degrees, **words)], level=-6.0)
    return patch(sub, body, notes=[note(31, 0, 1.9), note(36, 2, 1.9)])


@pytest.mark.parametrize("degrees", [0.0, 60.0, 120.0, 180.0, 250.0])
def test_sum_loss_of_a_pair_is_the_closed_form(degrees):
    e = Evidence(sub_and_body(degrees), TAKES)
    pair = pairs_of(e)[0]
    a, b = 1.0, 2 / np.pi
    want = 20 * np.log10(abs(a + b * np.exp(1j * np.radians(degrees))) / (a + b))
    for n in pair.notes:
        assert n.sum_loss == pytest.approx(want, abs=0.1)
        assert n.coherence == pytest.approx(1.0, abs=0.01)


def test_oscillators_that_do_not_restart_are_restarted_by_the_fix():
    p = sub_and_body(180.0, start="free-running")
    f = findings(p)["layers-add-up"]
    assert f.verdict == "fails"
    assert any(e.path.endswith(".start") for e in f.fixes[0].edits)
    assert failing(apply(p, f.fixes[0].edits)) == []


def test_detuned_layers_are_not_blamed():
    p = sub_and_body(0.0, cents=40.0)
    e = Evidence(p, TAKES)
    f = next(f for f in check(e) if f.check == "layers-add-up")
    assert f.verdict in ("holds", "look")
    assert "beat" in f.title
    for n in pairs_of(e)[0].notes:
        hz = 440.0 * 2 ** ((n.note.pitch - 69) / 12)
        assert n.beat_hz == pytest.approx(hz * (2 ** (40 / 1200) - 1), abs=0.1)


def test_hollow_and_its_fix():
    sub = layer("sub", sources=[oscillator("sine")], level=-18.0)
    body = layer("body", sources=[oscillator("sine", octave=1)], level=-7.0)
    f = findings(patch(sub, body))["hollow"]
    assert f.verdict == "fails"
    assert f.value == pytest.approx(11.0, abs=0.1)
    assert failing(apply(patch(sub, body), f.fixes[0].edits)) == []


def test_output_peak_and_both_fixes():
    loud = patch(layer(level=3.0))
    f = findings(loud)["output-peak"]
    assert (f.verdict, f.unit) == ("fails", "dBTP")
    assert f.value == pytest.approx(3.0, abs=0.1)
    assert len(f.fixes) == 2
    for fix in f.fixes:
        assert findings(apply(loud, fix.edits))["output-peak"].verdict == "holds"


def test_limits_decide():
    p = sub_and_body(60.0)
    assert findings(p)["layers-add-up"].verdict == "holds"
    assert findings(p, Limits(sum_loss_db=-0.5))["layers-add-up"].verdict == "fails"


def test_silence_and_empty_patches_have_findings_without_trouble():
    for p in (
        patch(notes=[]),
        patch(layer(sources=[])),
        edited(patch(), layers__one__mute=True),
        patch(layer(level=-72.0)),
    ):
        assert all(f.verdict != "fails" for f in check(p))


def test_a_finding_is_plain_data():
    for f in check(Evidence(DEMO["undertow"], TAKES)):
        text = json.dumps(f.plain())
        assert {"check", "verdict", "title", "value", "unit", "limit", "where", "fixes", "evidence"} <= json.loads(
            text
        ).keys()
    fix = findings(DEMO["undertow"])["layers-add-up"].fixes[0]
    assert all(isinstance(e, Edit) for e in fix.edits)


def test_stage_peaks_are_known_after_every_stage():
    """A sine of full scale stays at 0 dBFS behind an open filter, and a filter far under it takes it down."""
    filters = [
        {"kind": "filter", "id": i, "name": i, "type": "low-pass", "slope": "12", "cutoff": c}
        for i, c in (("a", 20000.0), ("b", 55.0))
    ]
    stages = Evidence(patch(layer(stages=filters))).stages
    assert stages["layers.one.stages.a"] == (pytest.approx(0.0, abs=0.05), pytest.approx(-3.01, abs=0.1))
    assert stages["layers.one.stages.b"][0] == pytest.approx(-3.01, abs=0.6)
    silent = Evidence(patch(layer(stages=filters, sources=[]))).stages
    assert silent.get("layers.one.stages.a", (None, None)) == (None, None)


def test_a_check_that_is_no_longer_wanted_gives_up_in_the_middle():
    class After(CancelToken):
        """Asked to stop after so many looks."""

        def __init__(self):
            self.left = 10_000

        @property
        def asked(self):
            self.left -= 1
            return self.left < 0

    stop = After()
    e = Evidence(DEMO["undertow"], RenderCache(), stop)
    stop.left = 3
    with pytest.raises(RenderCancelled):
        check(e)
    assert stop.left == -1
