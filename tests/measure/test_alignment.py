"""Lag, polarity, sum loss, phase, coherence against signals made with known answers."""

import math

import numpy as np
import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as st

from kessel.measure import align, pair_sums

from ..making import RATE, band_noise, delayed, tone

N = 4 * RATE


@settings(max_examples=25, deadline=None)
@given(st.integers(0, 2**31), st.floats(-8.0, 8.0), st.sampled_from([-1, 1]), st.floats(-6, 6))
def test_lag_and_polarity_of_delayed_noise(seed, ms, polarity, gain):
    rng = np.random.default_rng(seed)
    a = band_noise(rng, N, 60, 300)
    b = polarity * delayed(a, ms) * 10 ** (gain / 20)
    a, b = (x + 0.002 * rng.standard_normal(N) for x in (a, b))
    found = align(a, b, 60, 300)
    assert found.polarity == polarity
    assert found.lag_ms == pytest.approx(ms, abs=0.05)
    assert not found.ambiguous
    assert found.coherence > 0.9


@settings(max_examples=20, deadline=None)
@given(st.integers(0, 2**31), st.booleans())
@example(131072, False)
def test_sum_loss_of_two_harmonic_sounds(seed, given_pitch):
    rng = np.random.default_rng(seed)
    f0, ks = rng.uniform(42, 60), np.arange(1, 4)
    a, b = (rng.uniform(0.05, 0.2, 3) * np.exp(1j * rng.uniform(-np.pi, np.pi, 3)) for _ in range(2))
    t = np.arange(N) / RATE
    xa, xb = (np.real(z @ np.exp(2j * np.pi * ks[:, None] * f0 * t)) for z in (a, b))
    found = align(xa, xb, f0 * 0.8, f0 * 3.5, f0 if given_pitch else None)
    low = 20 * math.log10(abs(a[0] + b[0]) / (abs(a[0]) + abs(b[0])))
    over = 10 * math.log10(np.square(np.abs(a + b)).sum() / np.square(np.abs(a) + np.abs(b)).sum())
    assert found.sum_loss_db == pytest.approx(low, abs=max(0.1, 0.02 * abs(low)))
    assert found.sum_loss_overlap_db == pytest.approx(over, abs=0.1)
    angle = math.degrees(np.angle(b[0] * np.conj(a[0])))
    assert abs((found.phase_deg - angle + 180) % 360 - 180) < 1.5
    assert found.coherence == pytest.approx(1.0, abs=0.01)


@pytest.mark.parametrize("ms", [-6.0, -0.7, 0.0, 2.5, 7.0])
def test_lag_of_a_delayed_harmonic_sound_is_whitened(ms):
    saw = sum(tone(55 * k, -6 - 6 * k, 4.0, 40 * k) for k in range(1, 9))
    found = align(saw, delayed(saw, ms), 40, 500, 55.0)
    assert found.lag_ms == pytest.approx(ms, abs=0.05)
    assert found.polarity == 1


@pytest.mark.parametrize("degrees", [0, 45, 90, 135, 170])
def test_two_sines(degrees):
    found = align(tone(60, -9, 4), tone(60, -9, 4, degrees), 30, 150)
    assert found.sum_loss_db == pytest.approx(20 * math.log10(math.cos(math.radians(degrees) / 2)), abs=0.1)
    assert found.ambiguous
    assert abs(found.lag_ms) <= 1000 / 60 / 2


def test_unrelated_and_detuned_sounds_are_said_to_be_so():
    rng = np.random.default_rng(1)
    assert align(band_noise(rng, N, 50, 400), band_noise(rng, N, 50, 400), 60, 300).coherence < 0.5
    beating = align(tone(55, -6, 4), tone(56, -6, 4), 40, 90, 55.0)
    assert beating.coherence < 0.5


def test_what_has_no_value_has_none():
    silent = align(np.zeros(N), tone(60, -6, 4), 30, 150)
    assert (silent.lag_ms, silent.sum_loss_db, silent.coherence) == (None, None, None)
    short = align(tone(60, -6, 0.02), tone(60, -6, 0.02), 30, 150)
    assert short.lag_ms is None
    noise = band_noise(np.random.default_rng(2), N, 50, 400)
    assert align(noise, noise, 60, 300).sum_loss_db is None


@pytest.mark.parametrize(("low", "high"), [(300, 60), (0, 100), (100, 100), (100, 30000)])
def test_edges_have_to_be_a_band(low, high):
    with pytest.raises(ValueError, match="low edge"):
        align(np.ones(N), np.ones(N), low, high)


def test_only_common_partials_count():
    a, b = np.array([1.0, 0.5, 1e-6], dtype=complex), np.array([1e-7, 0.5, 0.5], dtype=complex)
    sums = pair_sums(a, -b)
    assert sums.sum_loss == pytest.approx(-120.0)
    assert pair_sums(np.zeros(3, dtype=complex), b).sum_loss is None


def test_without_anything_in_common_there_is_no_lag_and_without_step_it_means_little():
    rng = np.random.default_rng(3)
    one, two = band_noise(rng, 4 * RATE, 40, 400), band_noise(rng, 4 * RATE, 40, 400)
    unrelated = align(one, two, 40.0, 400.0)
    assert unrelated.lag_ms is None and unrelated.polarity is None
    apart = align(tone(55.0, seconds=2.0), tone(171.0, seconds=2.0), 40.0, 100.0, 55.0)
    assert apart.lag_ms is None and apart.sum_loss_db is None
    detuned = align(tone(55.0, seconds=4.0), tone(55.9, seconds=4.0), 40.0, 100.0, 55.0)
    assert detuned.coherence < 0.5 and detuned.ambiguous
