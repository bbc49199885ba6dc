"""The keys, the rooms and what mono costs: against closed forms."""

import numpy as np
import pytest

from kessel.checks import Evidence, Limits
from kessel.checks.lows.mono_detail import mono_detail
from kessel.checks.playback.keys import KeyFigures, level_by_key, playable, slope_of, strike_keys
from kessel.checks.playback.rooms import carries, in_room, in_rooms
from kessel.engine import QUANTUM, RenderCache, RoomProcessor, room_response, through_room
from kessel.patch import Room, apply, stock_rooms

from ...making import RATE, layer, note, oscillator, patch, tone

TAKES = RenderCache()
LIMITS = Limits()
AXIS = 20.0 * 1000.0 ** (np.arange(480) / 479)


def db(x):
    return 20 * np.log10(np.sqrt(np.mean(np.square(x))) + 1e-12)


# keys


def test_figures_of_a_sine_are_the_same_on_every_key():
    p = patch(layer("one", level=-12.0))
    found = strike_keys(p, range(28, 33), LIMITS, TAKES)
    assert [k.pitch for k in found] == list(range(28, 33))
    for k in found:
        assert k.first == pytest.approx(-12.0, abs=0.1)
        assert k.mono_loss == pytest.approx(0.0, abs=0.02)
        assert k.sum_loss is None and k.fails(LIMITS) == ()


def test_a_layer_that_is_cut_low_makes_low_keys_hollow():
    """A fixed 24 dB high-pass at 90 Hz takes the fundamental from the low keys only."""
    cut = {"kind": "filter", "id": "f", "name": "F", "type": "high-pass", "slope": "24", "cutoff": 90.0}
    p = patch(layer("one", sources=[oscillator("saw")], stages=[cut], level=-9.0))
    found = strike_keys(p, (24, 48), LIMITS, TAKES)
    assert "hollow" in found[0].fails(LIMITS) and found[1].fails(LIMITS) == ()
    assert playable(found, LIMITS) == (48, 48)


def made(pitch, bad=False, loud=-14.0):
    return KeyFigures(pitch, loud, -12.0, -6.0 if bad else 0.0, None, -6.0)


def test_the_playable_range_is_the_longest_stretch_that_holds():
    keys = [made(p, p in (26, 33)) for p in range(24, 40)]
    assert playable(keys, LIMITS) == (27, 32)
    assert playable([made(30, True)], LIMITS) is None
    assert playable([], LIMITS) is None


def test_the_correction_by_key_evens_the_level():
    """A high-pass among the keys: the correction takes most of the slope out, for all layers."""
    cut = {"kind": "filter", "id": "f", "name": "F", "type": "high-pass", "slope": "12", "cutoff": 110.0}
    p = patch(layer("one", stages=[cut], level=-18.0), layer("two", stages=[cut], level=-24.0))
    keys = list(range(36, 60, 3))
    before = strike_keys(p, keys, LIMITS, TAKES)
    edits = level_by_key(p, before)
    after = strike_keys(apply(p, edits), keys, LIMITS, TAKES)
    assert abs(slope_of(before)) > 0.2
    assert abs(slope_of(after)) < 0.2 * abs(slope_of(before))
    # doing it again changes the movements that are there, it does not add others
    again = apply(apply(p, edits), level_by_key(apply(p, edits), after))
    assert len(again.movements) == 2 and len(again.movers) == 1


def test_even_keys_need_no_correction():
    assert level_by_key(patch(layer("one")), [made(p) for p in range(24, 40)]) == ()
    assert slope_of([made(24), made(25)]) is None


# rooms


@pytest.mark.parametrize("room", stock_rooms(), ids=lambda r: r.id)
def test_a_tone_through_a_room_is_what_its_response_says(room):
    """Without walls and ceiling, middle and side of a tone come out as the response has them."""
    plain = room.model_copy(update={"reflections": -36.0, "ceiling_way": "off"})
    for hz in (40.0, 60.0, 100.0, 500.0, 2000.0, 10000.0):
        x = tone(hz, -20.0, 2.0)
        middle, side = room_response(plain, np.array([hz]))
        for sides, want in (((1, 1), middle[0]), ((1, -1), side[0])):
            y = through_room(plain, np.stack([sides[0] * x, sides[1] * x]))
            change = db(y[:, RATE // 2 : -RATE // 4]) - db(x[RATE // 2 : -RATE // 4])
            if want > 1e-6:
                assert change == pytest.approx(10 * np.log10(want), abs=0.1)
            else:
                assert change < -50.0


def test_the_stand_ins_do_what_their_numbers_say():
    rooms = {r.id: r for r in stock_rooms()}
    at = lambda r, hz: 10 * np.log10(room_response(rooms[r], np.array([hz]))[0][0])  # noqa: E731
    assert at("main-floor", 16.0) < at("main-floor", 32.0) - 18.0
    assert at("main-floor", 55.0) > 4.0
    assert at("side-bar", 55.0) == pytest.approx(-3.0, abs=0.1)
    assert at("car", 60.0) == pytest.approx(7.0, abs=0.4)
    assert at("phone", 190.0) == pytest.approx(at("phone", 380.0) - 21.0, abs=1.5)
    assert at("headphones", 30.0) == 0.0
    assert room_response(rooms["phone"], np.array([1000.0]))[1][0] == 0.0


def test_a_room_quantum_by_quantum_is_the_room_at_once():
    rng = np.random.default_rng(3)
    x = 0.3 * rng.standard_normal((2, 8 * QUANTUM))
    for room in stock_rooms():
        whole = RoomProcessor(room).process(x.copy())
        run = RoomProcessor(room)
        parts = [run.process(x[:, i : i + QUANTUM].copy()) for i in range(0, x.shape[1], QUANTUM)]
        np.testing.assert_allclose(np.concatenate(parts, axis=1), whole, atol=1e-12)


def test_ceilings_and_walls():
    loud = np.repeat(tone(100.0, 3.0, 1.0)[None], 2, axis=0)
    for mode in ("limiter", "hard"):
        y = through_room(Room(id="r", name="R", ceiling=-6.0, ceiling_mode=mode), loud)
        assert np.abs(y).max() <= 10 ** (-6.0 / 20) + 1e-6
    click = np.zeros((2, RATE))
    click[:, 100] = 1.0
    y = through_room(Room(id="r", name="R", reflections=-6.0, spread=10.0), click)
    first = np.flatnonzero(np.abs(y[0, 101:]) > 1e-3)[0] + 1
    assert first == pytest.approx(10.0 * RATE / 1000, abs=2)


def test_what_a_phone_leaves_of_a_sub_and_a_body():
    sub = layer("sub", sources=[oscillator("sine")], level=-6.0)
    body = layer("body", sources=[oscillator("saw")], level=-12.0)
    e = Evidence(patch(sub, body), TAKES, seeks=False)
    rooms = {r.room.id: r for r in in_rooms(e, stock_rooms(), AXIS)}
    phone, flat = rooms["phone"], rooms["headphones"]
    assert phone.left["sub"] < -50.0 < phone.left["body"]
    assert phone.shares["body"] > 0.999 and flat.shares["sub"] > 0.5
    assert flat.drop == pytest.approx(0.0, abs=0.05) and phone.drop < -8.0
    assert flat.strongest[1:] == (1, pytest.approx(55.0)) and phone.strongest[1] > 5
    assert phone.carried == 1.0
    # of the rooms only the one that is changed is measured again
    other = [r.model_copy(update={"low_cut": 90.0}) if r.id == "phone" else r for r in stock_rooms()]
    again = {r.room.id: r for r in in_rooms(e, other, AXIS)}
    assert [i for i in rooms if again[i] is not rooms[i]] == ["phone"]
    assert again["phone"].left["sub"] > phone.left["sub"] + 10.0


def test_a_pitch_needs_its_first_partial_or_a_row():
    assert carries(np.array([0.2, 1.0, 0.0, 0.0]))
    assert not carries(np.array([0.001, 1.0, 0.0, 0.05]))
    assert carries(np.array([0.0, 0.0, 0.5, 1.0]))
    assert not carries(np.zeros(8))
    lost = in_room(
        Evidence(patch(layer("one", level=-6.0)), TAKES, seeks=False),
        next(r for r in stock_rooms() if r.id == "phone"),
        AXIS,
    )
    # a sine has nothing to tell its pitch by once it is gone; what little is left of it is all there is
    assert lost.left["one"] < -50.0


# mono


def test_what_mono_costs_by_layer():
    """A layer of two opposite sides is lost whole; one in the middle is not."""
    flat = layer("mid", sources=[oscillator("sine")], level=-6.0)
    wide = layer("wide", sources=[{"kind": "noise", "id": "n", "name": "N", "width": 100.0}], level=-20.0)
    d = mono_detail(Evidence(patch(flat, wide), TAKES, seeks=False), LIMITS)
    by = {b.name: b for b in d.layers}
    assert by["Mid"].whole == pytest.approx(0.0, abs=0.01)
    # two noises of their own: half the power is side
    assert by["Wide"].whole == pytest.approx(-3.0, abs=0.2)
    assert by["Wide"].share == pytest.approx(1.0)
    thirds = {round(t.hz): t for t in d.thirds if t.level is not None}
    high = [t for t in d.thirds if t.hz > 1000 and t.level is not None]
    assert all(t.loss == pytest.approx(-3.0, abs=0.6) for t in high)
    assert all(abs(t.correlation) < 0.15 for t in high)
    assert len(thirds) > 15
    assert d.scope.shape == (61, 61) and d.scope.min() >= 0 and d.scope.max() == 1.0


def test_the_scope_of_mono_is_a_line_upright():
    d = mono_detail(Evidence(patch(layer("one", level=-6.0)), TAKES, seeks=False), LIMITS)
    columns = np.flatnonzero(d.scope.sum(axis=0))
    assert list(columns) == [30]
    assert np.nanmin(d.correlation) > 0.999


def test_a_stage_that_widens_is_named():
    chain = [{"kind": "width", "id": "w", "name": "Wider", "width": 200.0, "low": 20.0}]
    source = {"kind": "noise", "id": "n", "name": "N", "width": 30.0}
    p = patch(layer("one", sources=[source], level=-12.0, chain=chain), notes=[note(33, 0, 4)])
    d = mono_detail(Evidence(p, TAKES, seeks=False), LIMITS)
    ((path, name, _, whole),) = d.changes
    assert (path, name) == ("layers.one.chain.w", "Wider") and whole < -0.2


def test_bands_60_dB_below_the_loudest_are_not_reported():
    quiet = layer("quiet", sources=[oscillator("sine", ratio=32.0, level=-24.0)], level=-40.0)
    d = mono_detail(Evidence(patch(layer("one", level=3.0), quiet), TAKES, seeks=False), LIMITS)
    assert next(t.level for t in d.thirds if t.low < 55.0 < t.high) > -3.0
    assert [t.level for t in d.thirds if t.low < 1760.0 < t.high] == [None]
