"""Play styles, added voices, lanes and recordings, as they sound."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from kessel.demo import demo_patches
from kessel.desk.editing.stock_parts import STARTS, start_patch, stock_parts
from kessel.engine import (
    QUANTUM,
    Engine,
    add_audio_resolver,
    kick_beats,
    remove_audio_resolver,
    render_loop,
    source_picture,
)
from kessel.engine.clock import Schedule
from kessel.engine.render.backing import BackingPlayer, beat_track, loop_track
from kessel.measure import fit_tones
from kessel.patch import Beat, apply, get

from ...making import RATE, edited, layer, note, oscillator, patch
from ..test_laws import shaken

BEAT = RATE // 2


def level_at(x, hz):
    return float(np.abs(fit_tones(x[None, :], np.array([hz]))[0][0, 0]))


def hz(pitch):
    return 440 * 2 ** ((pitch - 69) / 12)


def test_voices_sound_together_up_to_their_number():
    chord = [note(p, 0, 4) for p in (45, 52, 57, 61)]
    for most in (1, 2, 4):
        x = render_loop(patch(layer(play={"mode": "voices", "voices": most, "velocity": 0}), notes=chord)).sum[0]
        heard = [level_at(x[BEAT : 2 * BEAT], hz(p)) > 0.5 for p in (45, 52, 57, 61)]
        assert sum(heard) == most


def test_a_voice_ends_with_its_own_note():
    notes = [note(45, 0, 2), note(57, 0.5, 0.5)]
    x = render_loop(patch(layer(play={"mode": "voices", "velocity": 0}), notes=notes)).sum[0]
    part = x[round(1.2 * BEAT) : round(1.9 * BEAT)]
    assert level_at(part, hz(45)) > 0.9 and level_at(part, hz(57)) < 0.01


def test_a_drone_never_stops_while_the_phrase_runs():
    p = patch(layer(play={"mode": "drone", "velocity": 0}), notes=[note(45, 0, 0.5), note(52, 2, 0.5)])
    x = render_loop(p).sum[0]
    for start in (0.6, 1.5, 2.0, 3.4):
        assert level_at(x[round(start * BEAT) : round((start + 0.5) * BEAT)], hz(45)) > 0.9
    engine = Engine(p, loop=False)
    assert np.abs(engine.read(8 * QUANTUM)).max() == 0.0
    engine.loop = True
    assert np.abs(engine.read(8 * QUANTUM)).max() > 0.9
    engine.loop = False
    engine.read(16 * QUANTUM)
    assert np.abs(engine.read(4 * QUANTUM)).max() < 1e-6


@pytest.mark.parametrize(("interval", "level"), [(7.0, -6.0), (12.0, 0.0), (-5.0, -12.0)])
def test_the_added_voice_stands_at_its_interval_and_level(interval, level):
    play = {"interval": interval, "interval_level": level, "velocity": 0}
    x = render_loop(patch(layer(play=play), notes=[note(45, 0, 4)])).sum[0]
    found = np.abs(fit_tones(x[None, BEAT : 3 * BEAT], np.array(sorted([hz(45), hz(45 + interval)])))[0][0])
    added = found[int(interval > 0)]
    assert 20 * np.log10(added) == pytest.approx(level, abs=0.05)
    assert found.max() == pytest.approx(1.0, abs=0.01)


@pytest.mark.parametrize(("play", "want"), [({"transpose": -12}, 110.0), ({"fine": 50.0}, 220 * 2 ** (50 / 1200))])
def test_the_whole_layer_is_transposed(play, want):
    x = render_loop(patch(layer(play=play | {"velocity": 0}), notes=[note(57, 0, 4)])).sum[0]
    assert level_at(x[BEAT : 3 * BEAT], want) == pytest.approx(1.0, abs=0.01)


@pytest.mark.parametrize("span", [0.0, 2.0, 12.0])
def test_the_bend_lane_bends_each_layer_by_its_own_range(span):
    bend = [{"beat": 0, "value": 1.0}, {"beat": 4, "value": 1.0}]
    phrase = {"bars": 1, "notes": [note(45, 0, 4)], "bend": bend}
    x = render_loop(patch(layer(play={"bend_range": span, "velocity": 0}), phrase=phrase)).sum[0]
    assert level_at(x[BEAT : 3 * BEAT], hz(45 + span)) == pytest.approx(1.0, abs=0.01)


def test_lanes_move_what_hands_move():
    wheel = [{"beat": 0, "value": 0.0}, {"beat": 4, "value": 1.0}]
    p = patch(
        layer(),
        phrase={"bars": 1, "notes": [note(45, 0, 4)], "wheel": wheel},
        movers=[{"kind": "performance", "id": "w", "name": "W", "what": "wheel"}],
        movements=[{"id": "m", "mover": "w", "target": "layers.one.sources.a.level", "amount": -40.0}],
    )
    path = render_loop(p).travel["layers.one.sources.a.level"]
    t = np.arange(path.size) * 256 / (4 * BEAT)
    assert path[4:-4] == pytest.approx(-40.0 * t[4:-4], abs=0.3)


def test_a_macro_and_the_velocity_move_by_their_value():
    movers = [
        {"kind": "macro", "id": "q", "name": "Q", "value": 50.0},
        {"kind": "performance", "id": "v", "name": "V", "what": "velocity"},
    ]
    moves = [("q", -12.0), ("v", -6.0)]
    p = patch(
        layer(play={"velocity": 0}),
        notes=[note(45, 0, 4, 127)],
        movers=movers,
        movements=[{"id": m, "mover": m, "target": "layers.one.sources.a.level", "amount": a} for m, a in moves],
    )
    x = render_loop(p).sum[0]
    assert 20 * np.log10(level_at(x[BEAT : 3 * BEAT], hz(45))) == pytest.approx(-12.0, abs=0.05)
    engine = Engine(p)
    engine.read(8192)
    engine.update(edited(p, movers__q__value=0.0))
    engine.read(8192)
    assert 20 * np.log10(np.abs(engine.read(8192)).max()) == pytest.approx(-6.0, abs=0.1)


def test_a_live_controller_bends_without_a_click():
    engine = Engine(patch(layer(play={"bend_range": 12, "velocity": 0}), notes=[note(45, 0, 4)]))
    own = np.abs(np.diff(engine.read(20 * QUANTUM))).max()
    engine.controller.goal["bend"] = 1.0
    x = engine.read(12 * QUANTUM)
    assert np.abs(np.diff(x)).max() < 2.2 * own
    assert level_at(x[0, 4 * QUANTUM :], hz(57)) == pytest.approx(1.0, abs=0.02)


@pytest.mark.parametrize("curve", [-80.0, 0.0, 80.0])
def test_a_glide_keeps_its_time_and_takes_its_curve(curve):
    notes = [note(45, 0, 1.2), note(57, 1, 2)]
    play = {"mode": "legato", "glide": 200.0, "glide_curve": curve, "velocity": 0}
    x = render_loop(patch(layer(play=play), notes=notes)).sum[0][BEAT:]
    up = np.flatnonzero((x[:-1] < 0) & (x[1:] >= 0))
    place = up - x[up] / (x[up + 1] - x[up])
    middle = 12 * np.log2(RATE / np.diff(place) / hz(45))
    at = 0.5 * (place[1:] + place[:-1]) / RATE
    half = np.interp(0.1, at, middle)
    k = curve * 0.06
    want = 6.0 if curve == 0 else 12 * (1 - np.exp(-k / 2)) / (1 - np.exp(-k))
    assert half == pytest.approx(want, abs=0.25)
    assert level_at(x[round(0.22 * RATE) : round(0.9 * RATE)], hz(57)) > 0.99


# recordings


@pytest.fixture
def recording():
    t = np.arange(2 * RATE) / RATE
    x = np.stack([np.sin(2 * np.pi * 110 * t), 0.5 * np.sin(2 * np.pi * 330 * t)])

    def find(word):
        return x if word == "tape" else None

    add_audio_resolver(find)
    yield x
    remove_audio_resolver(find)


def sample(**words):
    return {"kind": "sample", "id": "s", "name": "S", "audio": "tape", "level": 0.0} | words


def test_a_recording_follows_the_note_from_its_root(recording):
    p = patch(
        layer(sources=[sample(follows="note", root=110.0, width=0.0)], play={"velocity": 0}), notes=[note(52, 0, 2)]
    )
    x = render_loop(p).sum[0]
    assert level_at(x[BEAT // 4 : BEAT], hz(52)) == pytest.approx(0.5, abs=0.01)


def test_a_recording_plays_once_or_round_from_start_to_end(recording):
    part = {"start": 0.0, "end": 500.0}
    notes = [note(45, 0, 3.9)]
    once = render_loop(patch(layer(sources=[sample(**part)]), notes=notes)).sum[0]
    round_ = render_loop(patch(layer(sources=[sample(play="loop", **part)]), notes=notes)).sum[0]
    assert np.abs(once[round(0.55 * RATE) : RATE]).max() < 1e-6
    assert level_at(round_[RATE : round(1.5 * RATE)], 110.0) == pytest.approx(1.0, abs=0.02)


def test_a_recording_in_step_with_the_phrase_is_where_the_phrase_is(recording):
    """Opened by a note in the middle, it is heard from the middle; a missing recording is silence."""
    source = sample(begins="phrase", play="loop")
    p = patch(
        layer(sources=[source], envelope={"attack": 0.5, "release": 2.0}, play={"velocity": 0}), notes=[note(45, 1, 1)]
    )
    x = render_loop(p).sum
    a, b = BEAT + 480, 2 * BEAT - 480
    assert x[:, a:b] == pytest.approx(recording[:, a:b], abs=1e-4)
    gone = patch(layer(sources=[source | {"audio": "nothing"}]), notes=[note(45, 0, 4)])
    assert np.abs(render_loop(gone).sum).max() == 0.0


# every part, shaken


@settings(max_examples=20, deadline=None)
@given(st.data())
def test_the_law_of_one_engine_holds_for_every_part(data):
    """Any request size gives the same samples, with all kinds of layers and controls anywhere in their range."""
    kinds = [k.part for k in stock_parts() if k.kind == "layer"]
    chosen = data.draw(st.lists(st.sampled_from(range(len(kinds))), min_size=1, max_size=3, unique=True))
    play = {
        "mode": data.draw(st.sampled_from(["mono", "legato", "voices", "drone"])),
        "interval_level": -9.0,
        "glide": 40.0,
    }
    layers = [kinds[i] | {"id": f"l{i}", "play": play, "range": {}} for i in chosen]
    notes = [note(29, 0, 0.6), note(36, 0.4, 0.5), note(41, 1, 0.4)]
    phrase = {"bars": 1, "notes": notes, "bend": [{"beat": 0.2, "value": -0.5}, {"beat": 0.9, "value": 1.0}]}
    p = shaken(patch(*layers, phrase=phrase, tempo=160.0), data, 8)
    sizes = data.draw(st.lists(st.integers(1, 4000), min_size=2, max_size=8))
    whole = Engine(p).read(sum(sizes))
    engine = Engine(p)
    assert np.array_equal(whole, np.concatenate([engine.read(n) for n in sizes], axis=1))
    assert np.isfinite(whole).all()


@settings(max_examples=25, deadline=None)
@given(st.data())
def test_the_law_of_one_engine_holds_whatever_works_on_what(data):
    """Any source swings or rings any other, noise and recordings too, in circles too: bit the same in any portions."""
    kinds = [
        oscillator("saw"),
        oscillator("pulse", feedback=30.0) | {"id": "b"},
        {"kind": "noise", "id": "n", "name": "N", "colour": "pink", "width": 60.0},
        {"kind": "sample", "id": "s", "name": "S", "audio": "click:ping", "play": "loop", "end": 40.0},
        {"kind": "sample", "id": "t", "name": "T", "audio": "click:thud", "follows": "note", "begins": "phrase"},
    ]
    for target in kinds:
        paths = ["ring"] if target["kind"] == "noise" else ["phase", "ring"]
        pairs = st.tuples(st.sampled_from("abnst"), st.sampled_from(paths))
        drawn = [p for p in data.draw(st.lists(pairs, max_size=2, unique=True)) if p[0] != target["id"]]
        target["modulators"] = [
            {"id": f"m{i}", "source": o, "mode": w, "depth": 400.0, "share": 70.0} for i, (o, w) in enumerate(drawn)
        ]
        target["to"] = data.draw(st.sampled_from(["stages", "past the stages", "modulates only"]))
    one = layer(
        sources=kinds,
        unison={"copies": data.draw(st.integers(1, 3))},
        stages=[{"kind": "distortion", "id": "d", "name": "D"}],
        play={"mode": data.draw(st.sampled_from(["mono", "voices"]))},
    )
    p = shaken(patch(one, notes=[note(33, 0, 0.7), note(40, 0.5, 0.4)], tempo=160.0), data, 6)
    sizes = data.draw(st.lists(st.integers(1, 4000), min_size=2, max_size=6))
    whole = Engine(p).read(sum(sizes))
    engine = Engine(p)
    assert np.array_equal(whole, np.concatenate([engine.read(n) for n in sizes], axis=1))
    assert np.isfinite(whole).all() and np.abs(whole).max() < 1000.0


def test_sources_that_ring_each_other_in_a_circle_stay_bounded():
    def rung(*by):
        return [{"id": f"m{i}", "source": o, "mode": "ring", "share": 70.0} for i, o in enumerate(by)]

    kinds = [
        oscillator("saw", modulators=rung("n")),
        oscillator("pulse", modulators=rung("n")) | {"id": "b"},
        {"kind": "noise", "id": "n", "name": "N", "colour": "pink", "modulators": rung("a", "b")},
    ]
    x = Engine(patch(layer(sources=kinds, unison={"copies": 2}))).read(RATE)
    assert np.abs(x).max() < 100.0


def test_soloing_a_source_leaves_what_works_on_it():
    p = demo_patches()["sluice-gate"]
    engine = Engine(p)
    engine.solo_source = ("edge", get(p, "layers.edge").sources[0].id)
    x = engine.read(30 * QUANTUM)
    assert np.abs(x).max() > 0.01
    engine.solo_source = ("edge", "nothing-of-that-name")
    assert np.isfinite(engine.read(8 * QUANTUM)).all()


def test_the_drawing_of_a_source_is_the_source():
    p = patch(
        layer(
            sources=[oscillator("saw", partial_high=3.0, partial_edge=0.0, octave=-2, level=-20.0, polarity="inverted")]
        )
    )
    found = source_picture(p, "one", "a")
    assert found.partials[:3] == pytest.approx(20 * np.log10(2 / np.pi / np.arange(1, 4)), abs=0.1)
    assert found.partials[3:].max() < -80
    assert found.cycle.size == 2 * QUANTUM
    assert found.cycle[:QUANTUM] == pytest.approx(found.cycle[QUANTUM:], abs=1e-6)


# backing


def test_the_beat_falls_where_its_pattern_says_and_runs_on_over_short_phrases():
    track = beat_track(Beat(on=True, pattern="four", snare=-72.0, hats=-72.0), 120.0)
    assert track.x.shape == (2, 8 * BEAT) and kick_beats("four") == [float(b) for b in range(8)]
    loud = [np.abs(track.x[0, b * BEAT : b * BEAT + 2000]).max() for b in range(8)]
    assert min(loud) > 0.5
    one = patch(notes=[note(45, 0, 1)])
    processor = BackingPlayer((track,), {"beat": 1.0})
    schedule = Schedule(one.phrase, 120.0)
    heard = np.concatenate([processor.quantum(i * QUANTUM, schedule, 4.0) for i in range(400)], axis=1)
    assert heard[:, : 8 * BEAT] == pytest.approx(track.x, abs=1e-6)
    processor.gains = {"beat": 0.0}
    processor.quantum(0, schedule, 4.0)
    assert processor.quantum(QUANTUM, schedule, 4.0) is None


def test_a_loop_is_fitted_to_the_tempo_in_whole_beats():
    t = np.arange(4 * RATE) / RATE
    track = loop_track("l", np.sin(2 * np.pi * 100 * t)[None, :], 60.0, 120.0, 0.0)
    assert track.beats == 4.0 and track.x.shape == (2, 2 * RATE)
    assert level_at(track.x[0].astype(float)[RATE // 2 : RATE], 200.0) == pytest.approx(1.0, abs=0.01)
    late = BackingPlayer((loop_track("l", np.eye(1, RATE)[:1], 60.0, 60.0, 0.5),), {"l": 1.0})
    schedule = Schedule(patch(tempo=60.0).phrase, 60.0)
    heard = np.concatenate([late.quantum(i * QUANTUM, schedule, 4.0) for i in range(40)], axis=1)
    assert int(np.argmax(np.abs(heard[0]))) == pytest.approx(RATE // 2, abs=4)


@pytest.mark.parametrize("start", sorted(STARTS))
def test_starting_points_hold(start):
    from kessel.checks import Evidence, check

    findings = check(Evidence(start_patch(start, "New")))
    assert not [f.title for f in findings if f.verdict == "fails"]


def test_every_stock_part_sounds_and_fits():
    from kessel.desk.editing.kept_parts import put_in

    base = start_patch("sub-body", "New")
    for kept in stock_parts():
        new = apply(base, put_in(base, kept, "body", "saw")[0])
        assert new != base
        if kept.kind in ("layer", "stages", "chain", "wave"):
            x = Engine(new).read(40 * QUANTUM)
            assert np.isfinite(x).all() and 0.01 < np.abs(x).max() < 1.2, kept.name
