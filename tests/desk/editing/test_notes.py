"""Notes, lanes and drawn waves under a hand, and what is played into them."""

from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from kessel.desk.editing import notes as note_edits
from kessel.desk.editing import waves as wave_edits
from kessel.desk.editing.stock_parts import start_patch
from kessel.desk.live.midi_in import Played, read_midi
from kessel.desk.live.recording import Recording
from kessel.dsp.sources.waves import BARS, TOUCHES, bars_of, frame_points, frame_text, from_bars, morph, partials
from kessel.patch import FRAME_POINTS, IDIOMS, Edit, ValueProblem, apply, get

from ...making import layer, note, oscillator, patch

SOURCE = "layers.one.sources.a"


def done(p, step):
    return apply(p, step[0])


def notes_of(p):
    return sorted((n.start, n.length, n.pitch, n.velocity) for n in p.phrase.notes)


@pytest.fixture
def three():
    return patch(notes=[note(33, 0, 1, name="a"), note(36, 1, 0.5, name="b"), note(40, 3, 1, name="c")])


def test_notes_are_drawn_on_the_grid(three):
    new = done(three, note_edits.draw_note(three, 45, 2.3, None, 0.25))
    assert (2.25, 0.25, 45, 100) in notes_of(new)
    long = done(three, note_edits.draw_note(three, 45, 2.3, 0.9, 0.5))
    assert (2.0, 1.0, 45, 100) in notes_of(long)
    free = done(three, note_edits.draw_note(three, 45, 2.313, 0.77, 0.0))
    assert (2.313, 0.77, 45, 100) in notes_of(free)
    third = done(three, note_edits.draw_note(three, 45, 0.7, None, 1 / 3))
    assert (pytest.approx(2 / 3, abs=1e-5), pytest.approx(1 / 3, abs=1e-5), 45, 100) in notes_of(third)


def test_notes_are_moved_stretched_and_played_harder_together(three):
    moved = done(three, note_edits.move_notes(three, ["a", "b"], 0.4, 12, 0.25))
    assert [x[:3] for x in notes_of(moved)] == [(0.5, 1.0, 45), (1.5, 0.5, 48), (3.0, 1.0, 40)]
    kept_in = done(three, note_edits.move_notes(three, ["b", "c"], -9.0, 0, 0.25))
    assert min(n.start for n in kept_in.phrase.notes) == 0.0
    assert {n.id: n.start for n in kept_in.phrase.notes} == {"a": 0.0, "b": 0.0, "c": 2.0}
    longer = done(three, note_edits.stretch_notes(three, ["a"], 0.3, 0.25))
    assert longer.phrase.notes[0].length == 1.25
    harder = done(three, note_edits.set_velocity(three, ["a", "b"], by=-200))
    assert [n.velocity for n in harder.phrase.notes] == [1, 1, 127]
    with pytest.raises(ValueProblem, match="no note is selected"):
        note_edits.move_notes(three, ["nobody"], 1, 0, 0.25)


def test_notes_are_doubled_deleted_transposed(three):
    twice = done(three, note_edits.double_notes(three, ["a", "b"], 0.25))
    assert [x[0] for x in notes_of(twice)] == [0.0, 1.0, 1.5, 2.5, 3.0]
    assert len(done(three, note_edits.delete_notes(three, ["a", "c"])).phrase.notes) == 1
    assert [x[2] for x in notes_of(done(three, note_edits.transpose(three, -12)))] == [21, 24, 28]
    with pytest.raises(ValueProblem, match="no room"):
        note_edits.double_notes(three, ["c"], 0.25)
    with pytest.raises(ValueProblem, match="can't be transposed"):
        note_edits.transpose(three, 120)


@settings(max_examples=60, deadline=None)
@given(
    st.floats(0, 40),
    st.integers(-300, 300),
    st.floats(-50, 50),
    st.floats(-50, 50),
    st.sampled_from([0.0, 0.125, 1 / 3, 1.0]),
)
def test_no_hand_makes_a_phrase_that_is_none(start, pitch, beats, length, snap):
    p = patch(notes=[note(33, 0, 1, name="a"), note(36, 3.9, 0.05, name="b")])
    for step in (
        note_edits.draw_note(p, pitch, start, abs(length) or None, snap),
        note_edits.move_notes(p, ["a", "b"], beats, pitch, snap),
        note_edits.stretch_notes(p, ["a", "b"], length, snap),
        note_edits.stroke_lane(p, "bend", [(start, beats), (start + 1, length)]),
    ):
        apply(p, step[0])


def test_a_stroke_takes_the_place_of_what_lay_under_it(three):
    one = done(three, note_edits.stroke_lane(three, "bend", [(0, 0), (1, 0.5), (2, 1), (3, 0)]))
    two = done(one, note_edits.stroke_lane(one, "bend", [(2.5, -2.0), (0.5, -0.5)]))
    assert [(p.beat, p.value) for p in two.phrase.bend] == [(0, 0), (0.5, -0.5), (2.5, -1.0), (3, 0)]
    assert done(two, note_edits.clear_lane(two, "bend")).phrase.bend == []
    with pytest.raises(ValueProblem, match="lanes are"):
        note_edits.stroke_lane(three, "tempo", [(0, 0)])


@pytest.mark.parametrize("idiom", IDIOMS, ids=lambda i: i.slug)
def test_built_in_phrases_fit_any_key(idiom, three):
    for root, scale in (("C", "major"), ("F#", "phrygian"), ("B", "minor pentatonic")):
        keyed = apply(three, [note_edits.Edit("phrase.root", root), note_edits.Edit("phrase.scale", scale)])
        new = done(keyed, note_edits.use_idiom(keyed, idiom.slug))
        assert all(new.phrase.in_scale(n.pitch) for n in new.phrase.notes)
        assert (new.phrase.root, new.phrase.bars) == (root, idiom.bars)
        assert 20 <= min(n.pitch for n in new.phrase.notes) <= 40


def test_a_shorter_phrase_leaves_out_what_begins_after_it():
    p = patch(
        phrase={
            "bars": 2,
            "notes": [note(33, 0, 1), note(33, 5, 1)],
            "wheel": [{"beat": 1, "value": 1}, {"beat": 6, "value": 0}],
        }
    )
    new = apply(p, note_edits.resized(p, 1))
    assert (len(new.phrase.notes), len(new.phrase.wheel), new.phrase.bars) == (1, 1, 1)


def test_recording_lays_notes_over_the_phrase(three):
    r = Recording(4.0)
    for beat, pitch, velocity in ((0.98, 45, 90), (1.6, 45, 0), (6.03, 47, 80), (6.9, 48, 70), (7.4, 47, 0)):
        r.note(beat, pitch, velocity)
    r.lane(1.0, "bend", 0.5)
    r.lane(1.5, "bend", -0.5)
    r.finish(8.0)
    new = done(three, note_edits.record(three, r.notes, r.lanes, r.snap))
    added = [x[:3] for x in notes_of(new) if x not in notes_of(three)]
    assert added == [(1.0, pytest.approx(0.62), 45), (2.0, pytest.approx(1.37), 47), (3.0, pytest.approx(1.1), 48)]
    assert [(p.beat, p.value) for p in new.phrase.bend] == [(1.0, 0.5), (1.5, -0.5)]
    with pytest.raises(ValueProblem, match="nothing was played"):
        note_edits.record(three, [], {}, 0.25)


@pytest.mark.parametrize(
    ("data", "want"),
    [
        ([0x93, 40, 100], Played("note", 100, 40)),
        ([0x90, 40, 0], Played("note", 0, 40)),
        ([0x81, 40, 64], Played("note", 0, 40)),
        ([0xE0, 0, 64], Played("bend", 0.0)),
        ([0xE0, 127, 127], Played("bend", 1.0)),
        ([0xE0, 0, 0], Played("bend", -1.0)),
        ([0xB0, 1, 127], Played("wheel", 1.0)),
        ([0xB5, 18, 127], Played("slider", 1.0, 2)),
        ([0xB0, 64, 127], Played("hold", 1.0)),
        ([0xD0, 127], Played("pressure", 1.0)),
        ([0xB0, 7, 1], None),
        ([0xF8], None),
        ([0x90, 400, 1], None),
        ([0x90, 40], None),
    ],
)
def test_what_a_controller_sends(data, want):
    assert read_midi(data) == want


# drawn waves


def drawn(wave="stock:first-three"):
    return patch(layer(sources=[oscillator("drawn", wave=wave)]))


@settings(max_examples=40, deadline=None)
@given(st.lists(st.floats(-60, 0), min_size=1, max_size=BARS), st.data())
def test_bars_to_samples_and_back(levels, data):
    degrees = np.array([data.draw(st.floats(0, 359)) for _ in levels])
    y = from_bars(np.zeros(FRAME_POINTS), np.array(levels), degrees)
    db, back = bars_of(y)
    n = len(levels)
    assert db[:n] == pytest.approx(np.array(levels), abs=1e-6)
    assert np.abs(np.exp(1j * np.radians(back[:n] - degrees)) - 1).max() < 1e-6
    assert (db[n:] <= -71.9).all()
    kept = frame_points(frame_text(y))
    assert kept * max(1.0, np.abs(y).max()) == pytest.approx(y, abs=np.abs(y).max() / 30000 + 2e-5)


def test_a_stroke_changes_what_it_crosses_and_the_stock_stays():
    p = drawn()
    new = done(p, wave_edits.stroke(p, SOURCE, 0, [(0.25, 1.0, 0.5, -1.0)]))
    assert get(new, SOURCE).wave == "first-three" and len(new.waves) == 1
    before, after = frame_points("stock:first-three"), frame_points(new.waves[0].frames[0])
    assert after[260:500] == pytest.approx(np.interp(np.arange(260, 500), [256, 511], [1, -1]), abs=0.01)
    assert after[:250] == pytest.approx(before[:250], abs=1e-4)
    again = done(new, wave_edits.set_bars(new, SOURCE, 0, [(1, 0.0), (2, -72.0)], [(1, 90.0)]))
    db, degrees = bars_of(frame_points(again.waves[0].frames[0]))
    assert db[0] - db[1] > 60 and degrees[0] == pytest.approx(90, abs=0.1)
    assert len(again.waves) == 1


def test_touches_do_what_they_say():
    y = from_bars(np.zeros(FRAME_POINTS), np.array([-6.0, -12.0, -9.0] + [-30.0] * 40), np.linspace(0, 300, 43)) + 0.1
    by = {name: deed(y) for name, (_, deed) in TOUCHES.items()}
    assert np.array_equal(by["reverse"], y[::-1]) and np.array_equal(by["invert"], -y)
    assert np.abs(by["normalise"]).max() == pytest.approx(1.0)
    assert abs(by["remove-dc"].mean()) < 1e-12
    for name in ("smooth", "soften"):
        high, low = np.abs(partials(by[name]))[30:40], np.abs(partials(y))[30:40]
        assert (high < 0.7 * low).all()
        assert np.abs(partials(by[name]))[0] == pytest.approx(np.abs(partials(y))[0], rel=0.02)
    p = drawn("stock:bright-saw")
    few = done(p, wave_edits.touch(p, SOURCE, 0, "keep-first", 5))
    db, _ = bars_of(frame_points(few.waves[0].frames[0]))
    assert db[:5].min() > -40 and db[5:].max() < -60
    with pytest.raises(ValueProblem):
        wave_edits.touch(p, SOURCE, 0, "polish")


def test_frames_in_a_row():
    p = drawn("stock:first-five")
    for what, frame, to, count in (
        ("duplicate", 0, 0, 2),
        ("insert", 1, 0, 3),
        ("duplicate", 0, 0, 4),
        ("delete", 1, 0, 3),
        ("morph", 0, 2, 3),
    ):
        p = done(p, wave_edits.change_frames(p, SOURCE, what, frame, to))
        assert len(p.waves[0].frames) == count
    a, m, b = (np.abs(partials(frame_points(f)))[:5] for f in p.waves[0].frames)
    assert m == pytest.approx((a + b) / 2, abs=2e-3)
    one = drawn()
    with pytest.raises(ValueProblem, match="at least one"):
        wave_edits.change_frames(one, SOURCE, "delete", 0)
    with pytest.raises(ValueProblem, match="between its ends"):
        wave_edits.change_frames(one, SOURCE, "morph", 0, 0)


def test_a_morph_turns_phases_the_short_way():
    t = np.arange(FRAME_POINTS) / FRAME_POINTS
    one, two = np.sin(2 * np.pi * t + 3.0), 0.5 * np.sin(2 * np.pi * t - 3.0)
    half = partials(morph(one, two, 0.5))[0]
    assert abs(half) == pytest.approx(0.75) and np.angle(half * 1j) == pytest.approx(np.pi, abs=1e-6)


@pytest.mark.parametrize("bars", [1, 2, 8])
def test_the_whole_phrase_goes_twice_and_half_as_fast(bars):
    bend = [{"beat": 0.5, "value": -0.5}, {"beat": 3.0, "value": 1.0}]
    p = patch(notes=[note(33, 0, 0.5), note(36, 2.5, 1.5)])
    p = apply(p, [Edit("phrase.bars", bars), Edit("phrase.bend", bend)])
    fast = done(p, note_edits.in_time(p, 0.5)).phrase
    turns = 2 if bars == 1 else 1
    assert fast.bars == max(1, bars // 2)
    assert [(n.pitch, n.start, n.length) for n in fast.notes] == [
        (pitch, start + 2.0 * turn, length)
        for turn in range(turns)
        for pitch, start, length in ((33, 0.0, 0.25), (36, 1.25, 0.75))
    ]
    assert [b.beat for b in fast.bend] == [b + 2.0 * turn for turn in range(turns) for b in (0.25, 1.5)]
    slow = done(p, note_edits.in_time(p, 2.0)).phrase
    assert slow.bars == 2 * bars
    assert [(n.start, n.length) for n in slow.notes] == [(0.0, 1.0), (5.0, 3.0)]
    if bars > 1:
        twice = done(p, note_edits.in_time(p, 2.0))
        assert done(twice, note_edits.in_time(twice, 0.5)).phrase == p.phrase
    with pytest.raises(ValueProblem, match="16 bars at most"):
        note_edits.in_time(apply(p, [Edit("phrase.bars", 9)]), 2.0)
    with pytest.raises(ValueProblem, match="twice its length, or to half"):
        note_edits.in_time(p, 1.5)


def test_notes_and_points_are_set_to_typed_values(three):
    new = three
    for what, text in (("pitch", "F#2"), ("start", "2.75"), ("length", "1/8"), ("velocity", "64")):
        new = done(new, note_edits.set_exactly(new, [three.phrase.notes[1].id], what, text))
    assert (1.75, 0.5, 42, 64) in notes_of(new)
    every = [n.id for n in three.phrase.notes]
    assert {n[2] for n in notes_of(done(three, note_edits.set_exactly(three, every, "pitch", "40")))} == {40}
    for what, text, why in (
        ("pitch", "128", "goes from 0 to 127"), ("start", "0.5", "goes from 1"), ("length", "0", "the length goes from"),
        ("velocity", "64.5", "whole numbers"), ("velocity", "loud", "can.t be read"), ("colour", "1", "a note has"),
    ):  # fmt: skip
        with pytest.raises(ValueProblem, match=why):
            note_edits.set_exactly(three, [three.phrase.notes[0].id], what, text)
    swell = done(three, note_edits.shape_lane(three, "wheel", "swell"))
    beats = three.phrase.beats
    assert [(p.beat, p.value) for p in swell.phrase.wheel] == [(0, 0), (beats / 2, 1), (beats, 0)]
    point = done(swell, note_edits.set_point(swell, "wheel", "2", "20 %"))
    assert [(p.beat, p.value) for p in point.phrase.wheel][:2] == [(0, 0), (1, 0.2)]
    bent = done(three, note_edits.set_point(three, "bend", "1.5", "-100"))
    assert [(p.beat, p.value) for p in bent.phrase.bend] == [(0.5, -1)]
    for lane, beat, value, why in (
        ("wheel", "1", "-5", "from 0 %"), ("bend", "99", "0", "beats go from 1"), ("tilt", "1", "1", "lanes are"),
    ):  # fmt: skip
        with pytest.raises(ValueProblem, match=why):
            note_edits.set_point(three, lane, beat, value)
    with pytest.raises(ValueProblem, match="shapes are"):
        note_edits.shape_lane(three, "wheel", "zigzag")


def test_the_phrase_of_a_starting_point_tries_a_bass():
    phrase = start_patch("sine", "New").phrase
    ordered = sorted(phrase.notes, key=lambda n: n.start)
    assert any(b.start < a.start + a.length for a, b in pairwise(ordered))
    assert len({n.velocity for n in ordered}) == 3
    assert max(n.pitch for n in ordered) - min(n.pitch for n in ordered) >= 12
