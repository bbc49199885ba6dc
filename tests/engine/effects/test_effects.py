"""Effects as items of a chain: neutral, off, bounded, and each what its formula says."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.signal import butter, fftconvolve, resample, sosfilt

from kessel.dsp.delays.cabinets import BOXES, box_response
from kessel.dsp.delays.room_responses import ROOMS, room_response
from kessel.engine import QUANTUM
from kessel.engine.effects.base import VoiceContext
from kessel.engine.effects.chain import Chain, ChainRecorder
from kessel.engine.effects.registry import latency_of
from kessel.engine.mixer.modulated_chain import traced
from kessel.patch import CHAIN_KINDS, Choice, Control, walk

from ...making import RATE, tone
from .through import ITEM, KINDS, item, through, transport

RNG = np.random.default_rng(7)
NOISE = 0.3 * RNG.standard_normal((2, 12 * QUANTUM))
N = NOISE.shape[1]


def late(x, samples):
    return np.pad(x, ((0, 0), (samples, 0)))[:, : x.shape[1]]


def test_all_kinds_are_here():
    assert set(KINDS) == {kind.word for kind in CHAIN_KINDS}


@pytest.mark.parametrize("kind", KINDS)
def test_off_is_the_same_as_not_there(kind):
    part = item(kind, on=False, mix=70.0, trim=-6.0)
    assert np.array_equal(through(NOISE, part), late(NOISE, latency_of(part)))


@pytest.mark.parametrize("kind", sorted(set(KINDS) - {"multiband", "branch"}))
def test_a_mix_of_nothing_is_the_sound_itself(kind):
    part = item(kind, mix=0.0)
    assert np.array_equal(through(NOISE, part), late(NOISE, latency_of(part)))


@pytest.mark.parametrize(
    ("kind", "words"),
    [
        ("eq", {"bands": [{"id": f"b{i}", "type": t} for i, t in enumerate(("bell", "low-shelf", "high-shelf"))]}),
        ("compressor", {"ratio": 1.0, "look_ahead": 2.0}),
        ("compressor", {"ratio": 1.0, "mode": "upward"}),
        ("expander", {"ratio": 1.0}),
        ("width", {"width": 100.0}),
        ("auto-pan", {"depth": 0.0}),
        ("beat-shape", {"depth": 0.0}),
        ("branch", {"into": "copies", "paths": [{"id": "a", "name": "A"}, {"id": "b", "name": "B", "level": -72.0}]}),
    ],
)
def test_neutral_settings_are_the_sound_itself(kind, words):
    part = item(kind, **words)
    assert np.array_equal(through(NOISE, part), late(NOISE, latency_of(part)))


def test_a_neutral_multiband_and_branch_turn_the_phase_only():
    for part in (
        item("multiband", bands=[{"id": i, "name": i, "down_ratio": 1.0} for i in "abcd"]),
        item("branch", paths=[{"id": i, "name": i} for i in "abc"]),
    ):
        x = np.zeros(48 * QUANTUM)
        x[0] = 1.0
        hz = np.fft.rfftfreq(x.size, 1 / RATE)
        h = 20 * np.log10(np.abs(np.fft.rfft(through(x, part)[0])))
        assert np.ptp(h[(hz > 20) & (hz < 20000)]) < 0.01


HOSTILE = {
    "dc": np.ones((2, 3 * QUANTUM)),
    "square": np.sign(np.sin(2 * np.pi * 55 * (np.arange(3 * QUANTUM) + 0.5) / RATE)) * np.ones((2, 1)),
    "impulses": np.where(np.arange(3 * QUANTUM) % 777 == 0, 1.0, 0.0) * np.ones((2, 1)),
    "silence": np.zeros((2, 3 * QUANTUM)),
}


def shaken(part, rng):
    """An item with all of its controls anywhere in their range."""
    data = part.model_dump()
    for path, found, _ in walk(part):
        here = data
        *steps, last = path.split(".")
        for step in steps:
            here = here[step] if isinstance(here, dict) else next(i for i in here if i["id"] == step)
        if isinstance(found, Control) and last != "match":
            value = found.at(rng.random())
            here[last] = int(value) if found.whole else value
        elif isinstance(found, Choice):
            here[last] = str(rng.choice(found.options))
    return ITEM.validate_python(data | {"on": True})


FULL = {
    "eq": {"bands": [{"id": "a"}, {"id": "b", "type": "low-cut"}]},
    "branch": {
        "paths": [
            {"id": "a", "name": "A", "items": [{"kind": "distortion", "id": "d", "name": "D"}]},
            {"id": "b", "name": "B", "items": [{"kind": "echo", "id": "e", "name": "E"}]},
        ]
    },
}


@pytest.mark.parametrize("kind", KINDS)
def test_nothing_explodes_and_silence_stays_silent(kind):
    rng = np.random.default_rng(sum(kind.encode()))
    for _ in range(14):
        part = shaken(item(kind, **FULL.get(kind, {})), rng)
        name = str(rng.choice(sorted(HOSTILE)))
        y = through(HOSTILE[name], part)
        assert np.isfinite(y).all(), part
        # 24 dB of trim and of gain, and what a band of an EQ can lift
        assert np.abs(y).max() < (1e4 if kind in ("eq", "compressor") else 400.0), part
        if name == "silence":
            assert not y.any(), part


@pytest.mark.parametrize("kind", KINDS)
def test_several_quanta_at_once_are_bit_by_bit_as_one_by_one(kind):
    """Into silence, too, where what rings away ends in nothing at the same sample."""
    x = np.concatenate([NOISE, np.zeros((2, 18 * QUANTUM))], axis=1)
    rng = np.random.default_rng(1 + sum(kind.encode()))
    base = item(kind, **FULL.get(kind, {}))
    for part in (base, *(shaken(base, rng) for _ in range(3)), base.model_copy(update={"on": False})):
        one, more = ChainRecorder(), ChainRecorder()
        assert np.array_equal(through(x, part, record=one), through(x, part, record=more, batch_size=5)), part
        for path, db in traced(one).items():
            assert np.array_equal(db, traced(more)[path]), path


@settings(max_examples=20, deadline=None)
@given(st.sampled_from(KINDS), st.integers(0, 10_000))
def test_turning_anything_from_quantum_to_quantum_stays_bounded(kind, seed):
    rng = np.random.default_rng(seed)
    base = item(kind, **FULL.get(kind, {}))
    chain = Chain([base], "worked")
    for n in range(12):
        chain.update([shaken(base, rng)])
        x = np.ascontiguousarray(HOSTILE["square"][:, :QUANTUM])
        chain.process(x, VoiceContext({}, 0.0, False, 440.0, transport(n * QUANTUM)))
        assert np.isfinite(x).all()
        assert np.abs(x).max() < 1e5


@pytest.mark.parametrize("mode", ["downward", "upward"])
def test_a_compressor_leaves_a_constant_level_where_the_formula_says(mode):
    x = np.repeat(tone(220, -8.0 if mode == "downward" else -40.0, 1.5)[None], 2, axis=0)
    part = item("compressor", mode=mode, threshold=-20.0, ratio=4.0, knee=0.0, attack=2.0, release=60.0, hold=20.0)
    y = through(x, part)[:, -RATE // 2 :]
    got = 20 * np.log10(np.abs(y).max())
    assert got == pytest.approx(-17.0 if mode == "downward" else -25.0, abs=0.1)


def test_look_ahead_is_there_before_the_peak():
    x = np.zeros((2, 16 * QUANTUM))
    x[:, 4 * QUANTUM :] = 0.9
    peaks = [
        np.abs(through(x, item("compressor", threshold=-20.0, ratio=20.0, attack=0.5, look_ahead=a))).max()
        for a in (0.0, 5.0)
    ]
    assert peaks[0] > 0.8
    assert peaks[1] < 0.2


def test_what_a_compressor_does_not_hear_does_not_move_it():
    low, high = np.repeat(tone(40, -6.0)[None], 2, axis=0), np.repeat(tone(2000, -30.0)[None], 2, axis=0)
    part = item("compressor", threshold=-24.0, ratio=10.0, detector_low_cut=1000.0)
    y = through(low + high, part)[:, RATE // 2 :]
    assert np.sqrt(np.mean(y**2)) == pytest.approx(np.sqrt(np.mean((low + high)[:, RATE // 2 :] ** 2)), rel=0.02)


@pytest.mark.parametrize("mode", ["limiter", "soft clip", "hard clip"])
def test_a_ceiling_holds(mode):
    # noise up to 20 kHz: of what stands at half the rate nobody can tell the true peak
    x = sosfilt(butter(10, 20000, fs=RATE, output="sos"), 2.0 * RNG.standard_normal((2, 24 * QUANTUM)), axis=1)
    y = through(x, item("ceiling", mode=mode, limit=-6.0, drive=6.0))
    top = 10 ** (-6.0 / 20)
    if mode == "limiter":
        eight = resample(y, 8 * y.shape[1], axis=1)[:, 4096:-4096]
        assert 20 * np.log10(np.abs(eight).max()) <= -6.0 + 0.1
    else:
        assert np.abs(y).max() <= top * (1 + 1e-9)
    quiet = 0.05 * NOISE
    calm = through(quiet, item("ceiling", mode=mode, limit=0.0))
    lag = latency_of(item("ceiling", mode=mode))
    if mode == "limiter":
        assert np.array_equal(calm, late(quiet, lag))


@pytest.mark.parametrize("box", sorted(BOXES))
def test_a_cabinet_is_a_convolution(box):
    y = through(NOISE, item("cabinet", box=box, air=40.0))
    h = box_response(box, 1.0, 0.0, 0.0, 0.4)
    wanted = np.stack([fftconvolve(NOISE[c], h[c])[:N] for c in range(2)])
    assert np.abs(y - wanted).max() < 1e-9


def test_a_larger_speaker_goes_lower():
    def low(size):
        h = np.abs(np.fft.rfft(box_response("closed", size, 0.0, 0.0, 0.0)[0], 8192))
        return 20 * np.log10(h[round(40 * 8192 / RATE)] / h.max())

    assert low(2.0) > low(1.0) + 6.0 > low(0.5) + 12.0


@pytest.mark.parametrize("seconds", [0.4, 1.5, 4.0])
def test_a_space_falls_by_60_db_in_its_decay(seconds):
    x = np.zeros((2, round((seconds * 0.9 + 0.5) * RATE)))
    x[:, 0] = 1.0
    part = item("space", decay=1000 * seconds, damping=20000.0, high_cut=20000.0, low_cut=20.0, mix=100.0, early=0.0)
    assert decay_of(through(x, part)) == pytest.approx(seconds, rel=0.1)


def decay_of(y):
    """By the energy that is left (Schroeder 1965), from 5 to 25 dB down."""
    left = np.cumsum(np.sum(y**2, axis=0)[::-1])[::-1]
    db = 10 * np.log10(left / left[0] + 1e-12)
    a, b = np.argmax(db < -5), np.argmax(db < -25)
    return 3.0 * (b - a) / RATE


@pytest.mark.parametrize("room", sorted(ROOMS))
def test_our_own_spaces_die_away_and_are_as_loud_as_each_other(room):
    h = room_response(room, 1.0, 1.0)
    assert np.sum(h**2) / 2 == pytest.approx(1.0)
    assert decay_of(h) == pytest.approx(max(ROOMS[room][0][:3]), rel=0.35)


def test_an_echo_comes_when_and_as_loud_as_it_is_told():
    x = np.zeros((2, RATE))
    x[:, 100] = 1.0
    part = item("echo", clock="ms", time=100.0, feedback=50.0, feedback_high_cut=20000.0, low_cut=20.0, mix=50.0)
    y = through(x, part)
    for n, level in ((0, 1.0), (1, 1.0), (2, 0.5), (3, 0.25)):
        assert y[0, 100 + 4800 * n] == pytest.approx(level, abs=1e-9)
    assert np.count_nonzero(np.abs(y[0]) > 1e-6) == 10
    # a quarter of a beat at 120 BPM is 125 ms
    beats = through(x, item("echo", length=0.25, feedback=0.0, feedback_high_cut=20000.0, low_cut=20.0, mix=50.0))
    assert beats[0, 100 + 6000] == pytest.approx(1.0, abs=1e-9)


def test_an_echo_has_a_time_for_each_side_or_is_mono():
    x = np.zeros((2, RATE))
    x[:, 100] = 1.0, 0.5
    plain = {"feedback": 50.0, "feedback_high_cut": 20000.0, "low_cut": 20.0, "mix": 50.0}
    y = through(x, item("echo", clock="ms", time=100.0, time_right=150.0, sides="own times", **plain))
    assert [y[0, 100 + 4800 * n] for n in (1, 2)] == pytest.approx([1.0, 0.5], abs=1e-9)
    assert [y[1, 100 + 7200 * n] for n in (1, 2)] == pytest.approx([0.5, 0.25], abs=1e-9)
    assert np.abs(y[1, 101:7200]).max() < 1e-9
    # half a beat and a quarter at 120 BPM
    beats = through(x, item("echo", length=0.5, length_right=0.25, sides="own times", **plain | {"feedback": 0.0}))
    assert (beats[0, 100 + 12000], beats[1, 100 + 6000]) == pytest.approx((1.0, 0.5), abs=1e-9)
    mono = through(x, item("echo", clock="ms", time=100.0, stereo_offset=30.0, detune=20.0, sides="mono", **plain)) - x
    assert np.abs(mono[0]).max() > 0.1
    assert np.array_equal(mono[0], mono[1])


def test_repeats_go_from_side_to_side_and_are_held_back_by_what_plays():
    x = np.zeros((2, RATE))
    x[:, 100] = 1.0
    open_echo = {"clock": "ms", "time": 100.0, "feedback_high_cut": 20000.0, "low_cut": 20.0, "mix": 50.0}
    y = through(x, item("echo", feedback=80.0, cross=100.0, **open_echo))
    assert abs(y[0, 4900]) > 0.9 > 0.1 > abs(y[1, 4900])
    assert abs(y[1, 9700]) > 0.7 > 0.1 > abs(y[0, 9700])
    loud = np.repeat(tone(300, -3.0, 1.0)[None], 2, axis=0)
    free, held = (through(loud, item("echo", feedback=0.0, duck=d, **open_echo)) - loud for d in (0.0, 24.0))
    fall = 20 * np.log10(np.std(held[:, RATE // 2 :]) / np.std(free[:, RATE // 2 :]))
    assert fall == pytest.approx(-24.0, abs=1.0)


@pytest.mark.parametrize("kind", ["chorus", "thicken", "flanger", "echo", "space", "phaser", "shift"])
def test_the_low_cut_keeps_the_lows_as_they_were(kind):
    """A 40 Hz tone stays within half a dB of itself; without the cut something happens to it."""
    x = np.repeat(tone(40, -12.0, 2.0)[None], 2, axis=0)
    found = []
    for cut in (400.0, 20.0):
        y = through(x, item(kind, low_cut=cut, mix=50.0))[:, RATE:]
        found.append(np.abs(y - x[:, RATE:]).max() / np.abs(x).max())
    assert found[0] < 0.06
    assert found[1] > 2.0 * found[0]


def test_a_shift_moves_every_partial_by_the_same_hz():
    x = np.repeat((tone(100, -12.0, 2.0) + tone(1000, -12.0, 2.0))[None], 2, axis=0)
    y = through(x, item("shift", shift=37.0, low_cut=20.0))[0, RATE:]
    spectrum = 20 * np.log10(np.abs(np.fft.rfft(y * np.hanning(RATE))) / (RATE / 4) + 1e-12)
    assert spectrum[137] == pytest.approx(-12.0, abs=0.1)
    assert spectrum[1037] == pytest.approx(-12.0, abs=0.1)
    assert max(spectrum[f] for f in (63, 100, 963, 1000)) < -72.0


def test_width_is_of_the_side_above_its_frequency():
    low, high = tone(30, -12.0), tone(12000, -12.0)
    side = np.stack([low + high, -(low + high)])
    y = through(side, item("width", width=0.0, low=500.0))[:, RATE // 2 :]
    assert np.abs(y - np.stack([low, -low])[:, RATE // 2 :]).max() < 0.02
    y = through(side, item("width", width=200.0, low=500.0, below="mono"))[:, RATE // 2 :]
    assert np.abs(y - 2 * np.stack([high, -high])[:, RATE // 2 :]).max() < 0.03
    middle = np.stack([low, low])
    assert np.array_equal(through(middle, item("width", width=200.0, low=500.0, below="mono")), middle)


def test_a_beat_shape_follows_its_curve_and_the_kick():
    x = np.ones((2, 4 * 24000))
    points = [{"at": 0.0, "value": 0.0}, {"at": 1.0, "value": 1.0}]
    record = ChainRecorder()
    y = through(x, item("beat-shape", points=points, depth=20.0, length=1.0, soften=1.0), record=record)
    for share in (0.25, 0.5, 0.75):
        assert 20 * np.log10(y[0, round(share * 24000)]) == pytest.approx(-20.0 * (1 - share), abs=0.01)
    kick = {"depth": 12.0, "attack": 1.0, "hold": 50.0, "release": 100.0}
    z = through(x, item("beat-shape", by="kick", kick=kick), record=record)
    assert 20 * np.log10(z[0, 24000 + 1200]) == pytest.approx(-12.0, abs=1e-6)
    assert z[0, 24000 + round(0.2 * RATE)] == 1.0
    assert z[0, 23999] == 1.0
    assert np.abs(np.diff(z[0])).max() < 0.04
    assert traced(record)["worked.it"].min() == pytest.approx(-20.0, abs=0.2)


@pytest.mark.parametrize("slope", ["6", "12", "18", "24", "30", "36", "42", "48"])
def test_cuts_fall_as_steeply_as_they_say_and_stand_3_db_down_at_their_corner(slope):
    x = np.zeros(16 * QUANTUM)
    x[0] = 1.0
    for kind, far in (("high-cut", 4.0), ("low-cut", 0.25)):
        y = through(x, item("eq", bands=[{"id": "a", "type": kind, "slope": slope, "frequency": 1000.0}]))[0]
        h = 20 * np.log10(np.abs(np.fft.rfft(y, RATE)) + 1e-9)
        assert h[1000] == pytest.approx(-3.0, abs=0.1)
        # the bilinear transform bends what lies near half the rate
        assert h[round(1000 * far)] == pytest.approx(-2.0 * int(slope), abs=2.5)


def switched(one, two):
    """24 quanta of a sine of 100 Hz through one setting for four quanta, another for four, and so on; and the sine."""
    chain = Chain([one], "worked")
    sine = 0.5 * np.sin(2 * np.pi * 100 * np.arange(24 * QUANTUM) / RATE) * np.ones((2, 1))
    blocks = []
    for n in range(24):
        chain.update([two if n % 8 >= 4 else one])
        block = np.ascontiguousarray(sine[:, n * QUANTUM : (n + 1) * QUANTUM])
        chain.process(block, VoiceContext({}, 0.0, False, 440.0, transport(n * QUANTUM)))
        blocks.append(block)
    return blocks, sine


def test_one_band_of_an_eq_is_heard_alone():
    """A band-pass around the bell, and with the switch back everything, without a jump."""
    bands = [{"id": "a", "frequency": 1000.0, "q": 2.0, "solo": True}, {"id": "b", "frequency": 200.0}]
    x = np.zeros((2, 48 * QUANTUM))
    # a note that begins is heard so at once
    x[:, 0] = 1.0
    y = through(x, item("eq", bands=bands))[0]
    hz = np.fft.rfftfreq(y.size, 1 / RATE)
    h = np.abs(np.fft.rfft(y))
    g = 1j * np.tan(np.pi * hz / RATE) / np.tan(np.pi * 1000 / RATE)
    assert h == pytest.approx(np.abs((g / 2.0) / (g * g + g / 2.0 + 1.0)) ** 2, abs=1e-6)

    part = item("eq", bands=bands)
    whole = part.model_copy(update={"bands": [b.model_copy(update={"solo": False}) for b in part.bands]})
    blocks, sine = switched(whole, part)
    out = np.concatenate(blocks, axis=1)[0]
    # hardly steeper than the sine itself: no step
    assert np.abs(np.diff(out)).max() < 1.5 * np.abs(np.diff(sine[0])).max()
    assert np.array_equal(blocks[10][0], sine[0, 10 * QUANTUM : 11 * QUANTUM])


@pytest.mark.parametrize(
    ("kind", "one", "two"),
    [
        ("eq", {"bands": [{"id": "a", "frequency": 100.0, "gain": 12.0}]}, {"bands.a.on": False}),
        ("multiband", {"bands": [{"id": "a", "name": "A", "down_threshold": -40.0}, {"id": "b", "name": "B"}]},
         {"bands.a.on": False}),
        ("multiband", {"split_1": 400.0}, {"bands.low.solo": True}),
        ("branch", {}, {"paths.low.mute": True}),
        ("distortion", {"drive": 12.0, "bias": -40.0}, {"bias": 50.0}),
        ("distortion", {"drive": 12.0, "curve": "fold", "bias": -40.0}, {"bias": 50.0}),
        ("distortion", {"drive": 12.0, "curve": "tube", "bias": 30.0}, {"bias": 0.0}),
        ("ceiling", {"limit": -18.0}, {"mode": "soft clip"}),
        ("ceiling", {"limit": -18.0, "mode": "soft clip"}, {"mode": "limiter"}),
        ("beat-shape", {"by": "kick"}, {"kick": {"depth": 12.0, "release": 900.0}}),
        ("beat-shape", {}, {"soften": 60.0}),
    ],
)  # fmt: skip
def test_switches_of_bands_and_ways_do_not_click(kind, one, two):
    part = item(kind, **one)
    data = part.model_dump()
    for path, value in two.items():
        first, *rest = path.split(".")
        if rest:
            next(b for b in data[first] if b["id"] == rest[0])[rest[1]] = value
        else:
            data[first] = value
    blocks, sine = switched(part, ITEM.validate_python(data))
    out = np.concatenate(blocks[2:], axis=1)[0]
    # four times as loud at most, and a quantum long on the way: no step
    assert np.abs(np.diff(out)).max() < 4.5 * np.abs(np.diff(sine[0])).max()
    changed = [np.std(b[0]) for b in blocks[10:]]
    assert max(changed) > 1.01 * min(changed)


def test_an_eq_band_is_tied_to_the_note():
    x = np.zeros(16 * QUANTUM)
    x[0] = 1.0
    for octaves in (0.0, 1.0):
        y = through(x, item("eq", bands=[{"id": "a", "tied": True, "times": 4.0, "gain": -12.0, "q": 4.0}]),
                    octaves=octaves)[0]  # fmt: skip
        h = np.abs(np.fft.rfft(y, RATE))
        assert np.argmin(h[:2000]) == pytest.approx(4 * 65.406 * 2**octaves, abs=2)


def test_a_span_is_distorted_and_the_rest_passes():
    x = np.repeat((tone(60, -12.0, 1.0) + tone(1500, -12.0, 1.0))[None], 2, axis=0)
    part = item("distortion", curve="hard", drive=24.0, focus_low=600.0, focus_high=5000.0, level_match=False)
    y = through(x, part)[0, RATE // 2 :]
    h = 20 * np.log10(np.abs(np.fft.rfft(y * np.hanning(y.size))) / (y.size / 4) + 1e-9)
    at = lambda hz: h[round(hz * y.size / RATE)]  # noqa: E731
    assert at(60) == pytest.approx(-12.0, abs=0.3)
    # nothing of the low tone stands between the partials of the high one
    assert max(at(120), at(180), at(1500 - 60), at(1500 + 60)) < -50.0
    assert at(4500) > -30.0


def test_a_lift_before_the_curve_is_taken_back_after_it():
    """In a curve that is as good as straight nothing is left of it."""
    x = 1e-4 * NOISE
    y = through(x, item("distortion", curve="hard", drive=0.0, lift=18.0, lift_at=900.0, level_match=False))
    z = through(x, item("distortion", curve="hard", drive=0.0, level_match=False))
    assert np.abs(y - z)[:, QUANTUM:].max() < 2e-9 + 1e-3 * np.abs(x).max()


def test_branches_are_equally_late():
    """One way through a limiter that does nothing, the other plain and upside down: nothing is left."""
    paths = [
        {"id": "a", "name": "A", "items": [{"kind": "ceiling", "id": "c", "name": "C", "limit": 0.0}]},
        {"id": "b", "name": "B", "polarity": "inverted", "items": []},
    ]
    part = item("branch", into="copies", paths=paths)
    assert latency_of(part) > 0
    assert not through(0.2 * NOISE, part).any()


def test_bands_can_be_heard_alone():
    paths = [{"id": i, "name": i, "solo": i == "b"} for i in "abc"]
    x = np.repeat((tone(50) + tone(600) + tone(9000))[None], 2, axis=0)
    y = through(x, item("branch", split_1=200.0, split_2=3000.0, paths=paths))[0, RATE // 2 :]
    h = np.abs(np.fft.rfft(y * np.hanning(y.size))) / (y.size / 4)
    assert h[600 * y.size // RATE] > 0.9
    assert max(h[50 * y.size // RATE], h[9000 * y.size // RATE]) < 0.02


def test_a_vocoder_speaks_and_keeps_the_lows():
    x = np.repeat((2.0 * ((110 * np.arange(2 * RATE) / RATE) % 1.0) - 1.0)[None], 2, axis=0) * 0.3
    y = through(x, item("vocoder", words="ta-ka", step=0.5, low=300.0, release=5.0))
    parts = y[0, : 8 * 12000].reshape(8, -1)

    def bright(x):
        h = np.abs(np.fft.rfft(x * np.hanning(x.shape[1]), RATE, axis=1))
        return np.sqrt(np.mean(h[:, 700:4000] ** 2, axis=1))

    assert (bright(parts[:, 4000:5200]) > 3.0 * bright(parts[:, :1200])).all()
    low = (
        np.abs(np.fft.rfft(y[0, RATE:] * np.hanning(RATE)))[110]
        / np.abs(np.fft.rfft(x[0, RATE:] * np.hanning(RATE)))[110]
    )
    assert 20 * np.log10(low) == pytest.approx(0.0, abs=3.0)
