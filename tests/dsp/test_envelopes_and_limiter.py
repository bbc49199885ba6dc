"""Breakpoints to the sample; a ceiling that is never passed."""

import itertools

import numpy as np
import pytest
import soxr
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.signal import chirp, hilbert, resample, resample_poly

from kessel.dsp.dynamics.limiter import LATENCY, limit, rest
from kessel.dsp.envelopes import close_gate, envelope, open_gate
from kessel.dsp.lfo import Drawn, roll_sine, swing

from ..making import band_noise

RATE = 48000


def run(times, tension, held, n, cuts=()):
    state, out = np.zeros(4), np.zeros(n)
    open_gate(state, again=False)
    marks = sorted({0, *cuts, held, n})
    for a, b in itertools.pairwise(marks):
        if a == held:
            close_gate(state)
        envelope(out, a, b, np.array(times, dtype=float), np.array(tension, dtype=float), state)
    return out


@settings(max_examples=60, deadline=None)
@given(
    st.integers(1, 900), st.integers(0, 500), st.integers(1, 900), st.floats(0, 1), st.integers(1, 900),
    st.floats(-8, 8), st.floats(-8, 8), st.floats(-8, 8), st.lists(st.integers(1, 5000), max_size=4),
)  # fmt: skip
def test_breakpoints_fall_on_the_sample(attack, hold, decay, sustain, release, t1, t2, t3, cuts):
    held = attack + hold + decay + 300
    n = held + release + 50
    times, tension = [attack, hold, decay, sustain, release], [t1, t2, t3]
    out = run(times, tension, held, n)
    top = attack
    assert out[0] == pytest.approx(0.0, abs=1e-12)
    assert out[top : top + max(hold, 1)] == pytest.approx(1.0, abs=1e-9)
    assert out[top + hold + decay : held] == pytest.approx(sustain, abs=1e-9)
    assert out[held + release :] == pytest.approx(0.0, abs=1e-9)
    assert (np.diff(out[: top + 1]) >= -1e-12).all()
    again = run(times, tension, held, n, tuple(c for c in cuts if c < n))
    assert again == pytest.approx(out, abs=1e-9)


def test_a_straight_line_and_a_bend():
    straight = run([1000, 0, 1, 1.0, 10], [0, 0, 0], 1100, 1200)
    assert straight[500] == pytest.approx(0.5, abs=1e-9)
    early = run([1000, 0, 1, 1.0, 10], [4, 0, 0], 1100, 1200)
    late = run([1000, 0, 1, 1.0, 10], [-4, 0, 0], 1100, 1200)
    assert early[500] > 0.8 and late[500] < 0.2
    assert early[500] == pytest.approx((1 - np.exp(-2)) / (1 - np.exp(-4)), abs=1e-9)


@pytest.mark.parametrize("shape", ["sine", "triangle", "saw up", "saw down", "square", "stepped random"])
def test_swings_stay_within_one_and_repeat(shape):
    t = np.linspace(0, 3, 3001)
    y = swing(shape, t, "seed")
    assert np.abs(y).max() <= 1.0
    assert np.array_equal(y, swing(shape, t, "seed"))
    if shape != "stepped random":
        assert swing(shape, t[:900] + 64.0, "seed") == pytest.approx(y[:900], abs=1e-9)
    else:
        assert len(set(y)) == 4


@settings(max_examples=60, deadline=None)
@given(
    st.lists(st.tuples(st.integers(1, 4999), st.floats(0, 1), st.floats(-100, 100)), min_size=1, max_size=5,
             unique_by=lambda p: p[0]),
    st.integers(0, 20000), st.integers(1500, 30000),
)  # fmt: skip
def test_a_curve_that_goes_round_is_where_its_bends_lead_at_every_sample(inner, begun, again):
    length = 5000
    points = [(0, 0.2, 40.0), *sorted(inner), (length, 0.2, 0.0)]
    drawn = Drawn.of([(at / length, value, bend) for at, value, bend in points], float(length))
    out = np.concatenate([rolled(drawn, begun + 1024 * k, length, again) for k in range(3)])
    for n in range(0, out.size, 7):
        at = (begun % again + n) % again % length
        (a, low, bend), (b, high, _) = next((p, q) for p, q in itertools.pairwise(points) if p[0] <= at < q[0])
        share, t = (at - a) / (b - a), bend * 0.08
        mode = share if abs(t) < 1e-3 else (1 - np.exp(-t * share)) / (1 - np.exp(-t))
        assert out[n] == pytest.approx(low + (high - low) * mode, abs=1e-9)


def rolled(drawn, begun, length, again):
    out = np.empty(1024)
    drawn.rolling(out, float(begun % again), float(length), float(again))
    return out


@given(st.floats(0, 1e6), st.floats(0, 0.01))
def test_a_rolling_sine_is_a_sine(first, step):
    out = np.empty(1024)
    roll_sine(out, first, step)
    assert out == pytest.approx(np.sin(2 * np.pi * (first % 1.0 + step * np.arange(1024))), abs=1e-9)


def limited(x, ceiling, release_ms=80.0, each=1024):
    out = x.copy()
    held = rest()
    fall = np.exp(-1000.0 / (release_ms * RATE))
    for at in range(0, x.shape[1], each):
        block = np.ascontiguousarray(out[:, at : at + each])
        limit(block, ceiling, fall, held)
        out[:, at : at + each] = block
    return out


@pytest.mark.parametrize("level", [-12.0, -3.0, -0.2, 0.5, 6.0])
def test_what_is_not_looked_at_could_not_have_been_over(level):
    """In pieces so short that every sample is looked at, the same comes out, bit by bit."""
    rng = np.random.default_rng(5)
    n = 24 * 1024
    t = np.arange(n)
    swell = 0.55 + 0.45 * np.sin(2 * np.pi * 1.7 * t / RATE)
    tones = np.sin(2 * np.pi * 55 * t / RATE) + 0.1 * np.sin(2 * np.pi * 2900 * t / RATE)
    crackle = band_noise(rng, n, 2000, 18000) * (t % 7000 < 900)
    x = (tones / 1.1 * swell + 0.5 * crackle) * 10 ** (level / 20)
    both = np.stack([x, 0.8 * x[::-1]])
    whole = limited(both, 0.9)
    assert np.array_equal(whole, limited(both, 0.9, each=64))
    assert np.array_equal(whole, limited(both, 0.9, each=4096))


@pytest.mark.parametrize("kind", ["noise", "white", "signs", "square", "sine quarter", "bursts", "impulses"])
@pytest.mark.parametrize("level", [0.0, 12.0, 36.0])
def test_true_peak_never_above_the_ceiling_at_eight_times(kind, level):
    rng = np.random.default_rng(11)
    n = 48 * 1024
    t = np.arange(n)
    x = {
        "noise": 3.0 * band_noise(rng, n, 20, 20000),
        "white": rng.standard_normal(n),
        "signs": np.sign(rng.standard_normal(n)),
        "square": np.sign(np.sin(2 * np.pi * 97.3 * t / RATE)),
        "sine quarter": np.sin(np.pi / 2 * t + np.pi / 4) * np.minimum(1, t / 2000),
        "bursts": np.sin(2 * np.pi * 60 * t / RATE) * (t % 9000 < 3000),
        "impulses": (t % 977 == 0).astype(float),
    }[kind] * 10 ** (level / 20)
    ceiling = 10 ** (-1.2 / 20)
    y = limited(np.stack([x, 0.7 * x]), 10 ** (-1.25 / 20))
    # three interpolators of another make; where the sound is cut off, they ring
    inside = slice(0, 8 * (n - 200))
    for over in (
        soxr.resample(y.T, RATE, RATE * 8, "VHQ").T,
        resample_poly(y, 8, 1, axis=1),
        resample(y, 8 * n, axis=1),
    ):
        assert 20 * np.log10(np.abs(over[:, inside]).max() / ceiling) <= 0.1


def test_what_is_limited_keeps_all_that_is_heard():
    """The gain taken out again, a driven sweep up to 18 kHz is the sweep."""
    t = np.arange(4 * RATE) / RATE
    x = 2.0 * chirp(t, 30.0, t[-1], 18000.0)
    y = limited(np.stack([x, x]), 0.5)[0]
    level = np.abs(hilbert(y[LATENCY:]))[RATE : 3 * RATE]
    assert np.ptp(20 * np.log10(level)) < 0.2
    assert 20 * np.log10(np.median(level) / 0.5) == pytest.approx(0.0, abs=0.1)


def test_under_the_ceiling_nothing_changes_but_the_time():
    x = 0.2 * np.random.default_rng(4).uniform(-1, 1, (2, 8192))
    y = limited(x, 10 ** (-1 / 20))
    assert np.array_equal(y[:, LATENCY:], x[:, :-LATENCY])


def test_after_a_peak_the_limiter_lets_go_exactly():
    x = 0.1 * np.ones((2, 96 * 1024))
    x[:, 1000] = 3.0
    y = limited(x, 0.5, 20.0)
    assert np.array_equal(y[:, -1000:], x[:, -1000:])
