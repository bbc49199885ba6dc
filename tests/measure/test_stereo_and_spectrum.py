"""Mono loss, correlation, bands and partials against closed forms."""

import itertools
import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from kessel.measure import (
    BANDS,
    Spectrum,
    correlation,
    correlation_frames,
    measure,
    mono_loss,
    partials,
    third_octaves,
    whole_periods,
)

from ..making import RATE, tone

N = 12 * RATE


@settings(max_examples=12, deadline=None)
@given(st.integers(0, 2**31), st.floats(1, 20))
def test_given_mid_and_side(seed, down):
    rng = np.random.default_rng(seed)
    m, s = rng.standard_normal((2, N)) * 0.1
    g = 10 ** (-down / 20)
    x = np.vstack([m + g * s, m - g * s])
    assert mono_loss(x) == pytest.approx(10 * math.log10(1 / (1 + g * g)), abs=0.1)
    assert correlation(x) == pytest.approx((1 - g * g) / (1 + g * g), abs=0.01)
    y = np.vstack([m, g * m])
    assert mono_loss(y) == pytest.approx(10 * math.log10((1 + g) ** 2 / 2 / (1 + g * g)), abs=0.1)
    assert correlation(y) == pytest.approx(1.0, abs=0.01)


def test_same_against_and_independent():
    rng = np.random.default_rng(5)
    m, s = rng.standard_normal((2, N)) * 0.1
    assert mono_loss(np.vstack([m, m])) == pytest.approx(0.0, abs=1e-9)
    assert mono_loss(np.vstack([m, -m])) is None
    assert correlation(np.vstack([m, -m])) == pytest.approx(-1.0)
    assert mono_loss(np.vstack([m, s])) == pytest.approx(-3.01, abs=0.1)
    frames = correlation_frames(np.vstack([m, np.where(np.arange(N) < N // 4, -m, m)]))
    assert frames.min() == pytest.approx(-1.0) and np.mean(frames < 0) == pytest.approx(0.25, abs=0.01)


@pytest.mark.parametrize("seed", range(3))
def test_bands_read_the_tones_in_them(seed):
    rng = np.random.default_rng(seed)
    left, right, want = np.zeros(8 * RATE), np.zeros(8 * RATE), {}
    for name, low, high in BANDS:
        f = rng.uniform(low * 1.12, high / 1.12)
        a, b, sign = *10 ** (rng.uniform(-30, -18, 2) / 20), rng.choice([-1, 1])
        t = tone(f, 0, 8)
        left, right = left + a * t, right + sign * b * t
        want[name] = (a * a + b * b) / 2, ((a + sign * b) / 2) ** 2, sign
    for band in measure(np.vstack([left, right])).bands:
        both, mid, sign = want[band.name]
        assert band.level_db == pytest.approx(10 * math.log10(both), abs=0.1)
        assert band.mono_loss_db == pytest.approx(10 * math.log10(mid / both), abs=0.3)
        assert band.correlation == pytest.approx(sign, abs=0.01)


def test_the_loop_is_measured_going_round():
    """A loop of whole cycles has one sharp line, wherever it is cut."""
    x = np.vstack([tone(50, -12, 2.0)] * 2)
    s = Spectrum.of(x, wrap=True)
    assert s.level(45, 55) == pytest.approx(-12.0, abs=0.01)
    assert s.level(100, 20000) is None or s.level(100, 20000) < -110
    rolled = Spectrum.of(np.roll(x, 31337, axis=1), wrap=True)
    assert rolled.level(20, 60) == pytest.approx(s.level(20, 60), abs=0.01)


def test_curve_and_third_octaves():
    x = np.vstack([tone(1000, -20, 4)] * 2)
    s = Spectrum.of(x)
    assert s.curve(np.array([1000.0]))[0] == pytest.approx(-20.0, abs=0.1)
    assert s.curve(np.array([1000.0]), hold=True)[0] == pytest.approx(-20.0, abs=0.1)
    assert s.curve(np.array([300.0]))[0] < -100
    bands = third_octaves()
    assert all(a[2] == pytest.approx(b[1]) for a, b in itertools.pairwise(bands))


@pytest.mark.parametrize("pitch", [28, 33, 36, 40, 48])
def test_partials_of_known_level(pitch):
    rng = np.random.default_rng(pitch)
    hz = 440 * 2 ** ((pitch - 69) / 12)
    levels, angles = 10 ** (rng.uniform(-36, -6, 16) / 20), rng.uniform(-np.pi, np.pi, 16)
    t = np.arange(round(0.25 * RATE)) / RATE
    x = sum(a * np.cos(2 * np.pi * (k + 1) * hz * t + p) for k, (a, p) in enumerate(zip(levels, angles, strict=True)))
    found = partials(x + 1e-4 * rng.standard_normal(t.size), hz)
    assert 20 * np.log10(np.abs(found) / levels) == pytest.approx(0, abs=0.2)
    assert np.abs(np.angle(found * np.exp(-1j * angles))).max() < 0.05


def test_partials_of_the_too_short_are_nothing():
    assert np.array_equal(partials(np.ones(500), 41.2), np.zeros(16))
    assert whole_periods(4800, 41.2) == round(4 * RATE / 41.2)
    assert whole_periods(100, 41.2) == 0
