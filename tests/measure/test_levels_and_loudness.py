"""Loudness and true peak: EBU Tech 3341 by synthesis, and pyloudnorm as an independent reference."""

import numpy as np
import pyloudnorm
import pytest

from kessel.measure import crest_db, dc_offset, loudness, loudness_over, measure, peaks_over, true_peak

from ..making import RATE, tone


def stereo(x):
    return np.vstack([x, x])


CASES = {
    "1": ([(-23, 20)], -23.0),
    "2": ([(-33, 20)], -33.0),
    "3": ([(-36, 10), (-23, 60), (-36, 10)], -23.0),
    "4": ([(-72, 10), (-36, 10), (-23, 60), (-36, 10), (-72, 10)], -23.0),
    "5": ([(-26, 20), (-20, 20.1), (-26, 20)], -23.0),
}


def test_loudness_over_time_follows_each_step():
    """A 1 kHz tone of L dB on both sides reads L LUFS, as soon as the window holds nothing else."""
    x = stereo(np.concatenate([tone(1000, -30, 4.0), tone(1000, -20, 4.0)]))
    for seconds, first in ((0.4, 3), (3.0, 29)):
        found = loudness_over(x, seconds)
        assert found.size == 80 and np.isnan(found[:first]).all()
        assert found[first:40] == pytest.approx(-30.0, abs=0.1)
        assert found[40 + first :] == pytest.approx(-20.0, abs=0.1)
    # half of a window over the step holds the mean of both powers
    half = 10 * np.log10((10**-3 + 10**-2) / 2)
    assert loudness_over(x, 0.4)[41] == pytest.approx(half, abs=0.1)
    assert np.isnan(loudness_over(np.zeros((2, RATE)), 0.4)).all()
    assert np.nanmax(loudness_over(x, 0.4)) == pytest.approx(loudness(x).momentary, abs=1e-9)


def test_peaks_over_time_add_up_to_the_true_peak():
    x = stereo(np.concatenate([tone(997, -12, 1.0), np.zeros(RATE), tone(11990, -3, 1.0, 45.0)]))
    found = peaks_over(x, 30)
    assert found.size == 30
    assert found[2:8] == pytest.approx(-12.0, abs=0.05) and np.isnan(found[13:17]).all()
    assert np.nanmax(found) == pytest.approx(true_peak(x), abs=1e-6)
    assert found[22:28] == pytest.approx(-3.0, abs=0.1)


@pytest.mark.parametrize("case", CASES)
def test_tech_3341_loudness(case):
    parts, want = CASES[case]
    x = stereo(np.concatenate([tone(1000, db, s) for db, s in parts]))
    assert loudness(x).integrated == pytest.approx(want, abs=0.1)


@pytest.mark.parametrize(
    ("div", "degrees", "amplitude", "want"),
    [(4, 0, 0.5, -6), (4, 45, 0.5, -6), (6, 60, 0.5, -6), (8, 67.5, 0.5, -6), (4, 45, 1.41, 3)],
)
def test_tech_3341_true_peak(div, degrees, amplitude, want):
    t = np.arange(RATE)
    x = amplitude * np.sin(2 * np.pi * t / div + np.radians(degrees)) * np.minimum(1, np.minimum(t, t[::-1]) / 2400)
    assert want - 0.4 <= true_peak(stereo(x)) <= want + 0.2


@pytest.mark.parametrize("seed", range(4))
def test_loudness_agrees_with_an_independent_meter(seed):
    rng = np.random.default_rng(seed)
    n = 12 * RATE
    x = rng.standard_normal((2, n)) * np.repeat(10 ** (rng.uniform(-40, -10, (1, 24)) / 20), n // 24, axis=1)
    x += tone(rng.uniform(40, 120), -12, 12.0)
    assert loudness(x).integrated == pytest.approx(pyloudnorm.Meter(RATE).integrated_loudness(x.T), abs=0.1)


@pytest.mark.parametrize("seed", range(4))
def test_true_peak_agrees_with_interpolation_by_fourier_series(seed):
    """Noise up to 18 kHz that comes and goes: its transform, padded to 32 times the rate, is the curve itself."""
    rng = np.random.default_rng(seed)
    n = RATE // 2
    wave = rng.standard_normal((2, n)) * np.hanning(n) ** 2
    spectrum = np.fft.rfft(wave)
    spectrum[:, 18000 * n // RATE :] = 0.0
    x = 0.1 * np.fft.irfft(spectrum, n)
    curve = 32 * 0.1 * np.fft.irfft(spectrum, 32 * n)
    want = 20 * np.log10(np.abs(curve).max())
    assert want > 20 * np.log10(np.abs(x).max()) + 0.01
    assert want - 0.4 <= true_peak(x) <= want + 0.05


def test_one_channel_counts_once():
    assert loudness(tone(1000, -20, 5)[None, :]).integrated == pytest.approx(-23.01, abs=0.1)
    assert loudness(stereo(tone(1000, -20, 5))).integrated == pytest.approx(-20.0, abs=0.1)


def test_momentary_short_term_and_range():
    x = stereo(np.concatenate([tone(1000, -30, 10), tone(1000, -20, 10)]))
    found = loudness(x)
    assert found.momentary == pytest.approx(-20, abs=0.1)
    assert found.short_term == pytest.approx(-20, abs=0.1)
    assert found.range == pytest.approx(10, abs=0.5)


def test_silence_and_the_too_short_have_no_value():
    found = measure(np.zeros((2, RATE))).plain()
    for name in ("loudness_lufs", "true_peak_dbtp", "crest_db", "correlation", "mono_loss_db"):
        assert found[name] is None, name
    assert all(b["level_db"] is None for b in found["bands"])
    assert loudness(stereo(tone(1000, -20, 0.3))).integrated is None
    assert measure(np.ones((1, 1))).plain()["seconds"] == pytest.approx(1 / RATE)


def test_offset_and_crest():
    x = np.stack([tone(100, -6), tone(100, -6) - 0.03])
    assert dc_offset(x) == pytest.approx(-0.03, abs=1e-6)
    assert crest_db(stereo(tone(100, -6))) == pytest.approx(3.01, abs=0.01)


def test_a_long_file_is_read_in_pieces_without_a_seam():
    x = stereo(tone(997, -3.0, 65.0))
    assert true_peak(x) == pytest.approx(-3.0, abs=0.05)
