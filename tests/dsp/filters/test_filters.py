"""Filters and EQ bands against their analytic curves, and at the edge of what may be asked."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.signal import freqz

from kessel.dsp.filters.svf import (
    PREWARP_TABLE,
    SvfCurves,
    band_coefficients,
    band_response,
    damping,
    filter_mixed,
    filter_svf,
    svf_response,
)

RATE = 48000
N = 1 << 16


def impulse(kind, double, cutoff, resonance):
    x = np.zeros((1, N))
    x[0, 0] = 1.0
    k = np.full(N, float(damping(resonance)))
    k1, k2 = (
        (np.full(N, 2 * np.cos(np.pi / 8)), k * 2 * np.cos(3 * np.pi / 8) / np.sqrt(2))
        if double and kind < 2
        else (k, k)
    )
    filter_svf(
        x,
        0,
        N,
        kind,
        double,
        SvfCurves(np.full(N, np.log2(cutoff)), k1, k2, np.ones(N)),
        True,
        np.zeros((1, 4)),
        PREWARP_TABLE,
    )
    return x[0]


@pytest.mark.parametrize("kind", [0, 1, 2, 3])
@pytest.mark.parametrize("double", [False, True])
@pytest.mark.parametrize(("cutoff", "resonance"), [(60, 0), (440, 12), (3000, 24), (12000, 3)])
def test_static_response_is_the_analytic_curve(kind, double, cutoff, resonance):
    h = impulse(kind, double, cutoff, resonance)
    f = np.fft.rfftfreq(N, 1 / RATE)[1:]
    inside = f < 0.4 * RATE
    got = np.abs(np.fft.rfft(h))[1:][inside]
    want = np.abs(svf_response(kind, double, cutoff, resonance, f[inside]))
    loud = want > 1e-4
    assert np.abs(20 * np.log10(got[loud] / want[loud])).max() < 0.1


def test_plain_slopes_are_butterworth():
    f = np.array([100.0])
    for double, fall in ((False, 12.04), (True, 24.08)):
        one, two = (20 * np.log10(abs(svf_response(1, double, 1600.0, 0.0, f / k))[0]) for k in (1, 2))
        assert one - two == pytest.approx(fall, abs=0.1)
        assert 20 * np.log10(abs(svf_response(0, double, 1000.0, 0.0, np.array([1000.0]))[0])) == pytest.approx(
            -3.01, abs=0.01
        )


def test_resonance_is_the_rise_at_the_cutoff():
    for resonance in (6.0, 18.0):
        rise = 20 * np.log10(abs(svf_response(0, False, 500.0, resonance, np.array([500.0]))[0])) + 3.01
        assert rise == pytest.approx(resonance, abs=0.02)


@settings(max_examples=80, deadline=None)
@given(
    st.integers(0, 3), st.booleans(), st.integers(0, 2**32 - 1), st.sampled_from(["noise", "square", "silence", "step"])
)
def test_stays_bounded_under_audio_rate_movement_at_full_resonance(kind, double, seed, what):
    rng = np.random.default_rng(seed)
    n = 4096
    x = {
        "noise": rng.uniform(-1, 1, (2, n)),
        "square": np.sign(np.sin(np.arange(n) * rng.uniform(0.001, 1)))[None, :].repeat(2, 0),
        "silence": np.zeros((2, n)),
        "step": np.ones((2, n)),
    }[what].copy()
    k = np.full(n, float(damping(36.0)))
    log_hz = rng.uniform(np.log2(20), np.log2(20000), n)
    state = np.zeros((2, 4))
    filter_svf(x, 0, n, kind, double, SvfCurves(log_hz, k, k, np.ones(n)), False, state, PREWARP_TABLE)
    assert np.isfinite(x).all() and np.isfinite(state).all()
    assert np.abs(x).max() < 1e5
    for _ in range(60):
        x[:] = 0.0
        filter_svf(x, 0, n, kind, double, SvfCurves(np.full(n, 10.0), k, k, np.ones(n)), True, state, PREWARP_TABLE)
    assert np.abs(x[:, -100:]).max() < 1e-3


def test_any_cut_of_the_block_gives_the_same_samples():
    rng = np.random.default_rng(3)
    x = rng.uniform(-1, 1, (2, 1024))
    log_hz = np.log2(rng.uniform(100, 5000, 1024))
    k = np.full(1024, 0.3)

    def run(cuts):
        y, state = x.copy(), np.zeros((2, 4))
        for a, b in zip([0, *cuts], [*cuts, 1024], strict=True):
            filter_svf(y, a, b, 0, True, SvfCurves(log_hz, k, k, np.ones(1024)), False, state, PREWARP_TABLE)
        return y

    assert np.array_equal(run([]), run([1, 500, 501, 1000]))


@pytest.mark.parametrize("kind", ["bell", "low-shelf", "high-shelf", "low-cut", "high-cut", "notch"])
@pytest.mark.parametrize("gain", [-12.0, 6.0])
def test_eq_bands(kind, gain):
    c = band_coefficients(kind, 700.0, gain, 1.3)
    x = np.zeros((1, N))
    x[0, 0] = 1.0
    filter_mixed(x, 0, N, c, c, np.zeros((1, 2)))
    f = np.fft.rfftfreq(N, 1 / RATE)[1:]
    assert np.abs(np.fft.rfft(x[0])[1:] - band_response(c, f)).max() < 1e-6


def test_a_bell_of_nothing_is_a_wire():
    c = band_coefficients("bell", 700.0, 0.0, 1.0)
    x = np.random.default_rng(1).uniform(-1, 1, (1, 512))
    y = x.copy()
    filter_mixed(y, 0, 512, c, c, np.zeros((1, 2)))
    assert np.array_equal(x, y)


def test_band_gains_stand_where_they_should():
    at = lambda kind, hz: 20 * np.log10(abs(band_response(band_coefficients(kind, 500.0, 9.0, 0.7), np.array([hz]))[0]))  # noqa: E731
    assert at("bell", 500.0) == pytest.approx(9.0, abs=1e-6)
    assert at("low-shelf", 5.0) == pytest.approx(9.0, abs=0.01)
    assert at("high-shelf", 23000.0) == pytest.approx(9.0, abs=0.01)


def test_freqz_agrees_with_a_high_cut():
    """An independent reference: the bilinear transform of a second-order low-pass."""
    from scipy.signal import bilinear

    q, hz = 0.8, 900.0
    w = 2 * RATE * np.tan(np.pi * hz / RATE)
    b, a = bilinear([w * w], [1, w / q, w * w], RATE)
    f = np.array([50.0, 900.0, 4000.0])
    want = np.abs(freqz(b, a, worN=f, fs=RATE)[1])
    got = np.abs(band_response(band_coefficients("high-cut", hz, 0.0, q), f))
    assert got == pytest.approx(want, rel=1e-9)
