"""Voice stages that modulate: filters back to the sources, any stage to those after it, and common rows."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import ValidationError

from kessel.desk.editing.parts import modulate, remove_part
from kessel.dsp.nonlinear.halfband import DELAY, DOWN_LATENCY
from kessel.engine import Engine, RenderCache, render_sum
from kessel.formats import dump_patch, load_patch
from kessel.patch import STAGES, ValueProblem, apply, describe, feeding
from kessel.web.views.editor import Selection, editor_view

from ...making import RATE, edited, layer, note, oscillator, patch

CLOSED = {"id": "f", "name": "F", "cutoff": 300.0}
FILTERS = {
    "filter": {"kind": "filter", "type": "low-pass", "slope": "12", "resonance": 6.0},
    "steep": {"kind": "filter", "type": "high-pass", "slope": "24", "resonance": 9.0},
    "one pole": {"kind": "filter", "type": "low-pass", "slope": "6"},
    "driven morph": {"kind": "filter", "type": "morph", "morph": 30.0, "drive": 12.0},
    "ladder": {"kind": "ladder", "resonance": 12.0, "drive": 9.0},
    "comb": {"kind": "comb", "feedback": 70.0, "damping": 3000.0},
    "vowel": {"kind": "vowel", "opening": 70.0, "tongue": 20.0},
    "allpass": {"kind": "allpass", "feedback": 50.0, "mix": 80.0, "trim": -3.0},
}
HARD = {"kind": "distortion", "id": "d", "name": "D", "drive": 12.0}


def stage(name, stage_id="f", **words):
    made = FILTERS[name] | {"id": stage_id, "name": stage_id.upper()} | words
    return made if made["kind"] == "vowel" else {"cutoff": 300.0} | made


def by(source, depth, mode="phase"):
    return {"id": "m", "source": source, "mode": mode, "depth": depth}


def looped(stages, modulators, shape="saw", notes=None, **words):
    copies = words.pop("copies", 1)
    own = {"stages": stages, "unison": {"copies": copies}} | words
    sources = [oscillator(shape, modulators=modulators)]
    return patch(layer(sources=sources, **own), notes=notes or [note(33, 0, 4)])


def sounded(p, seconds=0.3):
    engine = Engine(p)
    return engine.read(engine.latency + round(seconds * RATE))[:, engine.latency :]


def simulated(cutoff, damping, degrees, hz, seconds, finer=16):
    """A sine, its phase swung by what a state-variable low-pass made of it, at many times the rate.

    Written from the equations of the filter, with the delay of the loop: a sample and a half, and the half-band.
    """
    rate = RATE * finer
    late = 0.5 * DELAY - 0.25
    back = round((1.5 + late) * finer)
    n = round(seconds * rate)
    g = np.tan(np.pi * cutoff / rate)
    p = 1.0 / (1.0 + g * (g + damping))
    y, s1, s2 = np.zeros(n + back), 0.0, 0.0
    for i in range(n):
        x = np.sin(2.0 * np.pi * (hz * i / rate + degrees / 360.0 * y[i - back]))
        v1 = p * (s1 + g * (x - s2))
        v2 = s2 + g * v1
        s1, s2 = 2.0 * v1 - s1, 2.0 * v2 - s2
        y[i] = v2
    at = (np.arange(round(seconds * RATE)) - (late - DOWN_LATENCY)) * finer
    return np.interp(at, np.arange(n), y[:n])


@pytest.mark.parametrize("degrees", [0.0, 60.0, 200.0])
def test_a_filter_back_into_a_sine_is_what_the_equations_give(degrees):
    damping = np.sqrt(2.0) * 10.0 ** (-6.0 / 20.0)
    p = looped([stage("filter")], [by("stages.f", degrees)], "sine")
    wanted = simulated(300.0, damping, degrees, 440.0 * 2.0 ** ((33 - 69) / 12), 0.2)
    # the amp envelope fades in over the first half millisecond
    assert np.abs(sounded(p, 0.2)[0] - wanted)[100:].max() < 3e-3


def test_the_loop_is_heard_and_depth_0_leaves_the_sound_alone():
    plain = sounded(looped([stage("filter")], [by("a", 0.0)]))
    assert np.abs(sounded(looped([stage("filter")], [by("stages.f", 0.0)])) - plain).max() < 1e-6
    assert np.abs(sounded(looped([stage("filter")], [by("stages.f", 90.0)])) - plain).max() > 0.1


ROWS = [
    ([stage(name)], "f", "series") for name in FILTERS
] + [
    ([stage("ladder", "e"), stage("comb", "f"), stage("filter", "g", cutoff=900.0)], "f", "series"),
    ([stage("filter", "e", branch="before"), stage("comb", "f"), stage("vowel", "g", branch="B")], "f", "parallel"),
    (
        [stage("filter", "e", branch="before", cutoff=2000.0), stage("comb", "g"), stage("vowel", "h", branch="B"),
         stage("allpass", "f", branch="after"), stage("ladder", "i", branch="after", cutoff=900.0)],
        "f", "parallel",
    ),
]  # fmt: skip


@pytest.mark.parametrize(("stages", "tapped", "routing"), ROWS)
@pytest.mark.parametrize("copies", [1, 3])
def test_every_stage_sounds_the_same_within_the_loop(stages, tapped, routing, copies):
    """At depth 0, the stages of the loop are what they are outside of it."""
    routed = {"branches": {"routing": routing, "mix": 40.0}, "copies": copies}
    inside = sounded(looped(stages, [by(f"stages.{tapped}", 0.0)], **routed))
    outside = sounded(looped(stages, [by("a", 0.0)], **routed))
    assert np.abs(outside).max() > 0.05
    assert np.abs(inside - outside).max() < 1e-6


def test_a_loop_is_the_same_live_and_offline_and_from_a_file():
    p = looped([stage("comb")], [by("stages.f", 300.0)], copies=2)
    offline = render_sum(p, RenderCache())[0]
    whole = Engine(p)
    parts = np.concatenate([whole.read(n) for n in (1, 700, 3000, 99, 4200)], axis=1)
    assert np.array_equal(parts, Engine(p).read(8000))
    assert np.isfinite(offline).all()
    assert load_patch(dump_patch(p)) == p


LOUD = st.sampled_from([k for k in FILTERS if k != "vowel"])


@settings(max_examples=30, deadline=None)
@given(LOUD, LOUD, st.floats(20, 20000), st.floats(0, 36), st.sampled_from(["phase", "ring"]), st.integers(1, 4))
def test_a_loop_stays_bounded(first, second, cutoff, resonance, mode, copies):
    stages = [stage(first, "e", cutoff=min(cutoff, 3800.0)), stage(second, cutoff=min(cutoff, 3800.0))]
    stages = [s | ({"resonance": resonance} if "resonance" in s else {}) for s in stages]
    modulators = [by("stages.f", 1800.0, mode), by("stages.e", 1800.0, "ring") | {"id": "n"}]
    y = sounded(looped(stages, modulators, copies=copies), 0.5)
    assert np.isfinite(y).all()
    assert np.abs(y).max() < 3000.0


def test_a_stage_moves_those_after_it_at_audio_rate():
    """A stage that is off hands on its source, so it moves what the source would. A distortion is another mover."""
    moved = {"id": "m", "mover": "w", "target": "layers.one.stages.f.cutoff", "amount": 2.0, "both_ways": True}

    def made(source, *before):
        mover = {"kind": "audio-rate", "id": "w", "name": "W", "source": f"layers.one.{source}"}
        one = layer(sources=[oscillator("saw")], stages=[*before, stage("filter")])
        return sounded(patch(one, movers=[mover], movements=[moved]))

    off = stage("allpass", "d") | {"on": False}
    by_source = made("sources.a", off)
    assert np.abs(by_source).max() > 0.1
    assert np.abs(made("stages.d", off) - by_source).max() < 1e-6
    assert np.abs(made("stages.d", stage("allpass", "d")) - made("sources.a", stage("allpass", "d"))).max() > 0.05


@pytest.mark.parametrize(
    ("stages", "source", "said"),
    [
        ([HARD], "stages.d", "D is a distortion, which can't feed back"),
        ([HARD, stage("filter")], "stages.f", "no distortion can stand before it: let D come after it"),
        ([stage("filter")], "stages.x", "no voice stage of One"),
        ([stage("filter")], "stages.", "is no id"),
    ],
)
def test_what_cannot_feed_back_says_why(stages, source, said):
    with pytest.raises(ValidationError, match=said):
        looped(stages, [by(source, 90.0)])


def test_a_stage_that_goes_lets_go_of_what_it_modulated():
    p = looped([stage("filter"), stage("comb", "g")], [by("stages.g", 90.0)])
    with pytest.raises(ValueProblem, match="distortion"):
        edited(p, layers__one__stages=[HARD, *(s.model_dump() for s in p.layers[0].stages)])
    p = apply(p, modulate(p, "layers.one.sources.a", "stages.f")[0])
    left = apply(p, remove_part(p, "layers.one.stages.g")[0])
    assert [m.source for m in left.layers[0].sources[0].modulators] == ["stages.f"]
    again = apply(left, remove_part(left, "layers.one.stages.f")[0])
    assert again.layers[0].sources[0].modulators == []


def test_only_what_comes_before_can_move_a_stage_at_audio_rate():
    p = patch(layer(stages=[stage("filter", "e"), HARD, stage("filter")]))
    assert [name for _, name in feeding(p, "layers.one.stages.f.cutoff")] == ["A", "E", "D"]
    assert [name for _, name in feeding(p, "layers.one.stages.e.cutoff")] == ["A"]
    back = apply(p, modulate(p, "layers.one.sources.a", "stages.e")[0])
    assert [name for _, name in feeding(back, "layers.one.stages.f.cutoff")] == ["E", "D"]
    assert feeding(back, "layers.one.stages.e.cutoff") == []
    assert {k.word for k in STAGES} > {s["kind"] for s in FILTERS.values()}


def test_the_editor_offers_and_tells_what_feeds_back():
    p = patch(layer(stages=[stage("filter"), HARD, stage("comb", "g")]))
    panel = editor_view(p, None, Selection(layer="one", tab="sources", group="mod")).panel
    assert [name for pick in panel.picks for _, name in pick.options] == ["the output of F", "a new sine"] * 2
    back = apply(p, modulate(p, "layers.one.sources.a", "stages.f")[0])
    views = editor_view(back, None, Selection(layer="one", tab="sources", group="mod")).panel
    assert "FM by F" in [v.name for v in views.views]
    assert views.drawing.caption == "without what F sends back"
    assert editor_view(back, None, Selection(layer="one", tab="stages", item="f")).panel.rows == [
        "F feeds back to the sources: FM of A."
    ]
    assert describe(back.layers[0]).startswith("sine, FM by F")
