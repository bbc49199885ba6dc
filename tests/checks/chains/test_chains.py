"""Findings on chains: each on a patch built to have the fault, and cured by its fix."""

import numpy as np
import pytest

from kessel.checks import ChainLevels, Evidence, chain_levels, check, match_of, matches_wanted
from kessel.checks.chains import stage_report
from kessel.demo import demo_patches
from kessel.engine import CancelToken, RenderCache
from kessel.patch import Edit, apply

from ...making import layer, note, oscillator, patch

DEMO = demo_patches()
PLUCK = {"attack": 0.5, "decay": 220.0, "sustain": -30.0, "release": 5.0}


def saw(*chain, **words):
    """A saw in eighths through a chain on the worked path."""
    notes = [note(33, n * 0.5, 0.5) for n in range(8)]
    own = layer(sources=[oscillator("saw", level=-9.0)], path="worked", **words)
    return patch(own, notes=notes, worked=list(chain))


def item(kind, **words):
    return {"kind": kind, "id": "it", "name": "It", **words}


FAULTS = {
    "stage-clips": saw(item("distortion", drive=3.0, trim=12.0)),
    "wet-lows": saw(item("echo", low_cut=20.0, mix=50.0, feedback_high_cut=20000.0)),
    "lows-pump": saw(
        item(
            "multiband",
            split_1=200.0,
            bands=[
                {
                    "id": "low",
                    "name": "Low",
                    "down_threshold": -50.0,
                    "down_ratio": 20.0,
                    "attack": 1.0,
                    "release": 40.0,
                },
                {"id": "high", "name": "High"},
            ],
        ),
        envelope=PLUCK,
    ),
    "folds-back": saw(
        item("distortion", curve="crush", mix=0.0), item("distortion", curve="fold", drive=48.0) | {"id": "b"}
    ),
    "stage-idles": saw(item("eq", bands=[{"id": "a"}])),
    "crest-lost": saw(item("distortion", curve="hard", drive=36.0), envelope=PLUCK),
    "movement-flattened": saw(
        item("compressor", threshold=-60.0, ratio=40.0, attack=0.5, release=10.0, max_reduction=48.0), envelope=PLUCK
    ),
}


@pytest.mark.parametrize("name", sorted(FAULTS))
def test_a_fault_is_found_and_its_fix_cures_it(name):
    given = FAULTS[name]
    takes = RenderCache()
    finding = next((f for f in check(given, takes=takes) if f.check == name), None)
    assert finding is not None and finding.verdict == "look"
    assert finding.fixes and finding.text and finding.limit_text
    cured = apply(given, finding.fixes[0].edits)
    assert not [f for f in check(cured, takes=takes) if f.check == name and f.where == finding.where]


def test_a_level_match_takes_back_what_a_stage_adds():
    given = saw(item("distortion", drive=24.0, trim=6.0, matched=True, level_match=False))
    takes = RenderCache()
    assert abs(chain_levels(given, takes).change("worked.it")) > 3.0
    matched = apply(given, [Edit("worked.it.match", match_of(given, "worked.it", takes))])
    levels = chain_levels(matched, takes)
    assert levels.change("worked.it") == pytest.approx(0.0, abs=0.1)
    assert matches_wanted(matched, levels) == []
    wanted = dict(matches_wanted(given, chain_levels(given, takes)))
    assert wanted["worked.it.match"] == pytest.approx(matched.worked[0].match, abs=0.02)
    assert ChainLevels().change("worked.it") is None


def test_a_report_shows_what_a_stage_adds():
    """A pure tone through a curve gets odd partials and no even ones; an EQ lifts where it says."""
    axis = 20.0 * 1000.0 ** (np.arange(480) / 479)
    tone = layer(sources=[oscillator("sine", level=-6.0)], path="worked")
    given = patch(tone, worked=[item("distortion", curve="hard", drive=18.0)])
    found = stage_report(given, "worked", "worked.it", axis, RenderCache(), CancelToken())
    assert found.note == 33
    before, after = ([-200.0 if v is None else v for v in side] for side in zip(*found.partials, strict=True))
    assert after[2] > after[0] - 12 and after[1] < after[2] - 30
    assert before[2] < after[2] - 30
    assert found.alias > 60
    assert found.reach[2] == pytest.approx(0.5, abs=0.02)
    lifted = saw(item("eq", bands=[{"id": "a", "frequency": 440.0, "gain": 12.0, "q": 4.0}]))
    found = stage_report(lifted, "worked", "worked.it", axis, RenderCache(), CancelToken())
    k = int(np.argmin(abs(axis - 440)))
    assert (found.after - found.before)[k - 3 : k + 4].max() == pytest.approx(12.0, abs=1.0)
    assert abs((found.after - found.before)[axis > 6000]).max() < 0.5


def test_evidence_taps_each_chain_once():
    e = Evidence(DEMO["sluice-gate"])
    assert e.taps("worked") is e.taps("worked")
    assert set(e.taps("worked").x) == {"worked", "worked.grit", "worked.mud", "worked.deck"}
