"""Measures that the checks stand on: coherence over frequency, the scope, quick partials, stretches, spectra of loops."""

import numpy as np
import pytest

from kessel.measure import (
    Spectrum,
    coherence_over,
    correlation_frames,
    fit_tones,
    fitted_to,
    lag_of_cross,
    scope_density,
    tones_of,
)

from ..making import RATE, tone

BANDS = 20.0 * 2.0 ** (np.arange(60) / 6.0)


def noise(n, seed):
    return np.random.default_rng(seed).standard_normal(n)


def test_coherence_is_one_for_a_copy_and_falls_with_what_is_added():
    """b = a + g n: coherence is 1 / sqrt(1 + g^2) at every frequency."""
    a, other = noise(8 * RATE, 1), noise(8 * RATE, 2)
    high = BANDS > 200.0
    assert coherence_over(a, 0.3 * a, BANDS)[high].min() > 0.999
    for g in (0.5, 1.0, 2.0):
        found = coherence_over(a, a + g * other, BANDS)[high]
        assert float(np.mean(found)) == pytest.approx(1.0 / np.sqrt(1.0 + g * g), abs=0.06)


def test_coherence_says_nothing_where_a_side_is_silent():
    a = tone(100.0, -6.0, 4.0)
    found = coherence_over(a, tone(3000.0, -6.0, 4.0), BANDS)
    assert not np.isfinite(found[(BANDS > 300) & (BANDS < 1500)]).any()


@pytest.mark.parametrize("ms", [-2.0, -0.4, 0.0, 1.3, 3.0])
@pytest.mark.parametrize("sign", [1, -1])
def test_lag_of_partials_by_closed_form(ms, sign):
    hz = 55.0 * np.arange(1, 9)
    cross = sign * np.exp(-2j * np.pi * hz * ms / 1000.0)
    lag, ambiguous, polarity = lag_of_cross(cross, hz)
    assert 1000.0 * lag == pytest.approx(ms, abs=0.01) and polarity == sign and not ambiguous


def test_quick_partials_are_the_slow_ones():
    n = 5000
    hz = 55.0 * np.arange(1, 13)
    x = np.stack([noise(n, 3), sum(np.cos(2 * np.pi * f * np.arange(n) / RATE + f) / f for f in hz)])
    np.testing.assert_allclose(tones_of(x, hz), fit_tones(x, hz)[0], atol=1e-9)


def test_the_scope_counts_where_the_sound_stands():
    left = np.stack([tone(100.0, 0.0, 1.0), np.zeros(RATE)])
    found = scope_density(left)
    rows, columns = np.nonzero(found)
    # only the left: middle and side move together, to the left when up
    assert np.all(np.abs((30 - rows) - (30 - columns)) <= 1)
    assert not scope_density(np.zeros((2, 100))).any()


def test_frames_that_are_silent_keep_their_place():
    x = np.stack([tone(100.0, -6.0, 1.0)] * 2)
    x[:, RATE // 2 :] = 0.0
    kept = correlation_frames(x, keep=True)
    assert kept.size == 20 and np.isfinite(kept[:10]).all() and not np.isfinite(kept[11:]).any()
    assert correlation_frames(x).size <= 11


def test_a_stretch_is_two_channels_within_the_recording():
    x = np.arange(2 * RATE, dtype=float)[None]
    found = fitted_to(x, 0.5, 1.0)
    assert found.shape == (2, RATE) and found[0, 0] == RATE // 2 and np.array_equal(found[0], found[1])
    assert fitted_to(x, 99.0, 5.0).shape[1] >= RATE // 10
    assert fitted_to(x, -3.0, 0.0).shape[1] == RATE // 10


@pytest.mark.parametrize("seconds", [2.0, 3.7, 9.1])
def test_a_loop_of_any_length_has_its_own_level(seconds):
    """Every moment counts as much: a burst that is a tenth of the loop, wherever it stands, measures 10 dB under."""
    n = round(seconds * RATE)
    wide = noise(n, 4)
    for start in (0.0, 0.31, 0.77):
        x = np.zeros(n)
        at = (round(start * n) + np.arange(n // 10)) % n
        x[at] = wide[: at.size]
        found = Spectrum.of(np.stack([x, x]), wrap=True)
        want = 10.0 * np.log10(2.0 * np.mean(x**2))
        assert found.level(20.0, 23999.0) == pytest.approx(want, abs=0.15)


def test_opposite_sides_leave_nothing_and_equal_ones_all():
    x = noise(3 * RATE, 5)
    assert Spectrum.of(np.stack([x, -x]), wrap=True).mono_loss(20, 20000) is None
    assert Spectrum.of(np.stack([x, x]), wrap=True).mono_loss(20, 20000) == 0.0
    both = Spectrum.of(np.stack([x, noise(3 * RATE, 6)]), wrap=True)
    assert both.mono_loss(20, 20000) == pytest.approx(-3.0, abs=0.1)
    assert both.correlation(20, 20000) == pytest.approx(0.0, abs=0.01)
