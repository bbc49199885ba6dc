"""Several quanta of a voice in one go give the same samples as one by one, whatever plays and moves."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from kessel.engine import QUANTUM, Engine, RenderCache, render_loop, render_sum, span_of
from kessel.patch import Control, Edit, ValueProblem, apply, walk

from ...making import layer, note, oscillator, patch

STAGES = [
    {"kind": "filter", "type": "low-pass", "slope": "24", "cutoff": 700.0, "resonance": 9.0, "key_follow": 70.0},
    {"kind": "filter", "type": "band-pass", "slope": "12", "cutoff": 400.0, "drive": 12.0},
    {"kind": "distortion", "curve": "soft", "drive": 14.0},
    {"kind": "distortion", "curve": "fold", "drive": 20.0, "bias": 5.0},
    {"kind": "distortion", "curve": "crush", "drive": 6.0},
    {"kind": "distortion", "curve": "soft", "drive": 10.0, "focus_low": 300.0},
    {"kind": "allpass", "cutoff": 300.0},
    {"kind": "comb", "cutoff": 200.0, "feedback": 70.0, "damping": 3000.0},
    {"kind": "vowel", "opening": 30.0, "key_follow": 50.0},
    {"kind": "ladder", "cutoff": 900.0, "resonance": 20.0},
]
SOURCES = [
    oscillator("saw"),
    oscillator("pulse", pulse_width=31.0),
    oscillator("saw", stretch=9.0),
    oscillator("sine", feedback=30.0),
    oscillator("saw", sync="own", sync_interval=17.0),
    oscillator("triangle", start="free-running"),
    oscillator("saw", drift=12.0),
    oscillator("saw", unison=False, to="past the stages"),
    {"kind": "noise", "name": "N", "colour": "pink"},
]
MOVERS = [
    {"kind": "envelope", "attack": 3.0, "decay": 90.0, "sustain": 20.0},
    {"kind": "envelope", "clock": "beats", "attack_beats": 0.25, "accent": 40.0},
    {"kind": "lfo", "shape": "sine", "length": 0.5, "restart": "phrase"},
    {"kind": "lfo", "shape": "square", "clock": "Hz", "rate": 7.3, "restart": "note", "fade": 200.0},
    {"kind": "lfo", "shape": "smooth random", "clock": "Hz", "rate": 9.0},
    {"kind": "curve", "length": 1.0, "points": [{"at": 0.0, "value": 0.0}, {"at": 0.4, "value": 1.0, "bend": 40.0},
     {"at": 1.0, "value": 0.2}]},
    {"kind": "curve", "play": "hold", "length": 0.5, "hold_at": 60.0, "points": [{"at": 0.0, "value": 1.0},
     {"at": 1.0, "value": 0.0}]},
    {"kind": "performance", "what": "velocity"},
    {"kind": "performance", "what": "key"},
    {"kind": "macro", "value": 70.0},
]  # fmt: skip
NOTES = st.lists(
    st.tuples(st.integers(24, 52), st.floats(0.0, 1.9), st.floats(0.02, 1.4), st.integers(30, 127)),
    min_size=1,
    max_size=5,
)


def named(parts, at):
    return [{"id": f"{at}{i}", "name": f"{at.title()} {i}", **{k: v for k, v in p.items() if k not in ("id", "name")}}
            for i, p in enumerate(parts)]  # fmt: skip


@st.composite
def patches(draw):
    """A layer with anything in it, which is moved by anything, over a bar of irregular notes."""
    play = {
        "mode": draw(st.sampled_from(["mono", "legato", "voices", "drone"])),
        "glide": draw(st.sampled_from([0.0, 60.0])),
        "interval_level": draw(st.sampled_from([-72.0, -6.0])),
        "velocity": 6.0,
    }
    sources = named(draw(st.lists(st.sampled_from(SOURCES), min_size=1, max_size=2)), "s")
    if len(sources) == 2 and draw(st.booleans()) and sources[1]["kind"] == "oscillator":
        sources[1]["modulators"] = [{"id": "m", "source": "s0", "depth": 70.0}]
    given_patch = patch(
        layer(
            sources=sources,
            stages=named(draw(st.lists(st.sampled_from(STAGES), max_size=3)), "f"),
            envelope={
                "attack": draw(st.sampled_from([0.5, 30.0])),
                "decay": 80.0,
                "sustain": draw(st.sampled_from([0.0, -9.0, -72.0])),
                "release": draw(st.sampled_from([5.0, 150.0])),
                "accent": draw(st.sampled_from([0.0, 6.0])),
            },
            play=play,
            unison={"copies": draw(st.sampled_from([1, 3])), "width": 80.0},
            branches={"routing": draw(st.sampled_from(["series", "parallel"]))},
        ),
        notes=[note(p, s, n, v, f"n{i}") for i, (p, s, n, v) in enumerate(draw(NOTES))],
        movers=named(draw(st.lists(st.sampled_from(MOVERS), max_size=3)), "m"),
    )
    moves = [
        p for p, c, _ in walk(given_patch) if isinstance(c, Control) and c.moves and p.startswith(("layers", "movers"))
    ]
    for mover in given_patch.movers:
        for target in draw(st.lists(st.sampled_from(moves), max_size=3, unique=True)):
            move = {
                "id": f"{mover.id}-{len(given_patch.movements)}",
                "mover": mover.id,
                "target": target,
                "amount": 0.4,
            }
            try:
                given_patch = apply(
                    given_patch, [Edit("movements", [*(m.model_dump() for m in given_patch.movements), move])]
                )
            except ValueProblem:
                continue
    return given_patch


def one(streamed):
    """The rendering of a patch, which is what is streamed."""
    offline = render_sum(streamed, RenderCache())[0]
    live = Engine(streamed, start=-span_of(streamed).pre).read(offline.shape[1])
    assert np.array_equal(live, offline)
    return offline


@settings(max_examples=60, deadline=None)
@given(patches())
def test_what_is_rendered_in_one_go_is_what_is_streamed(p):
    one(p)


@pytest.mark.parametrize("early", [0, 1, 3, 20, 60])
def test_the_last_samples_of_a_late_voice_come_out_after_a_quantum(early):
    """The level ends a few samples before a quantum does; the stage is later than that."""
    release = 480
    length = (12 * QUANTUM - early - release) / 24000
    p = patch(
        layer(
            sources=[oscillator("saw")],
            stages=[{"kind": "distortion", "id": "d", "name": "D", "curve": "fold", "drive": 12.0}],
            envelope={"attack": 0.5, "sustain": 0.0, "release": release / 48.0},
        ),
        notes=[note(33, 0.0, length)],
    )
    heard = one(p)
    assert np.abs(heard).max() > 0.1


@pytest.mark.parametrize("source", [oscillator("saw", stretch=9.0), oscillator("sine", feedback=40.0)])
def test_another_table_is_faded_in_over_one_quantum(source):
    """A note falls by two octaves without a glide while it is held: other tables, and no step."""
    p = patch(
        layer(sources=[source], play={"mode": "legato", "velocity": 0.0}),
        notes=[note(64, 0.0, 1.5), note(40, 0.6, 0.8), note(21, 1.1, 1.0)],
    )
    one(p)


def test_a_free_running_source_goes_on_from_the_pitch_it_had_last():
    """An envelope moves the pitch: what runs on between two notes runs on as fast as in the last quantum."""
    p = patch(
        layer(
            sources=[oscillator("triangle", start="free-running")],
            envelope={"attack": 0.5, "sustain": 0.0, "release": 120.0},
        ),
        notes=[note(24, 0.0, 0.5), note(31, 2.0, 0.7)],
        movers=[{"kind": "envelope", "id": "e", "name": "E", "decay": 300.0, "sustain": 0.0}],
        movements=[{"id": "x", "mover": "e", "target": "layers.one.play.pitch", "amount": 7.0}],
    )
    one(p)


def test_the_travel_covers_the_loop_and_is_silent_where_nothing_plays():
    """A cutoff moved by an envelope: one value every 256 samples, none before the note begins and after it has ended."""
    p = patch(
        layer(stages=[{"kind": "filter", "id": "f", "name": "F", "cutoff": 400.0}]),
        notes=[note(33, 1.0, 1.0)],
        movers=[{"kind": "envelope", "id": "e", "name": "E", "attack": 400.0}],
        movements=[{"id": "x", "mover": "e", "target": "layers.one.stages.f.cutoff", "amount": 2.0}],
    )
    loop = render_loop(p, RenderCache())
    travel = loop.travel["layers.one.stages.f.cutoff"]
    assert travel.size == -(-loop.sum.shape[1] // loop.step)
    per_beat = 24000 // loop.step
    assert np.isnan(travel[: per_beat - 1]).all() and np.isnan(travel[2 * per_beat + 9 :]).all()
    rising = travel[per_beat + 1 : per_beat + 70]
    assert np.all(np.diff(rising) > 0) and 8.6 < rising[0] < 8.8 and 10.2 < rising[-1] < 10.7
