"""The soft curve, its half-bands and what it leaves folded back."""

import numpy as np
import pytest

from kessel.dsp.delays.in_place import delay_in_place
from kessel.dsp.nonlinear.halfband import COEFFICIENTS, DELAY, DELAY_4, DELAY_8, response
from kessel.dsp.nonlinear.soft_clip import SOFT_LATENCY, STATE, DriveCurves, distort, makeup, rate_for, soft

from ...making import RATE, alias_db, two_tone_alias_db

N = 1 << 16


def run(x, drive=0.0, bias=0.0, mix=1.0, cuts=(), rate=None):
    y = np.atleast_2d(x).copy()
    n = y.shape[1]
    state, dry = np.zeros(STATE), np.zeros((y.shape[0], SOFT_LATENCY))
    gain = np.full(n, 10 ** (drive / 20))
    for a, b in zip([0, *cuts], [*cuts, n], strict=True):
        curves = DriveCurves(gain, np.ones(n), bias, bias, np.full(n, mix))
        distort(y, a, b, curves, rate or rate_for(drive), state, dry, np.empty((n, 4)))
    return y


@pytest.mark.parametrize("hz", [220.0, 880.0])
@pytest.mark.parametrize("bias", [0.0, 0.5])
@pytest.mark.parametrize("drive", [18.0, 24.9, 25.1, 32.9, 33.1, 36.0, 40.0])
def test_alias_up_to_40_db_of_drive(hz, bias, drive):
    # exactly periodic, so that nothing but folding stands between the partials
    hz = round(hz * N / RATE) * RATE / N
    x = np.sin(2 * np.pi * hz * np.arange(2 * N) / RATE)
    assert alias_db(run(x, drive, bias)[0, N:], hz) >= 80.0


@pytest.mark.parametrize("drive", [24.9, 32.9, 36.0])
def test_two_tones_fold_nothing_back(drive):
    """440 and 616 Hz: all that the curve makes of them stands at multiples of 88 Hz."""
    base = round(88 * N / RATE) * RATE / N
    t = 2 * np.pi * base * np.arange(2 * N) / RATE
    x = 0.5 * np.sin(5 * t) + 0.5 * np.sin(7 * t)
    # partial 1 is weaker than the tones, so the bar is the harder one
    assert two_tone_alias_db(run(x, drive)[0, N:], base) >= 80.0


def test_the_curve_is_odd_rises_and_is_held():
    x = np.linspace(-8, 8, 4001)
    y = soft(x)
    assert y == pytest.approx(-y[::-1])
    assert (np.diff(y) >= -1e-12).all()
    assert np.abs(y - np.tanh(x)).max() < 2e-4
    assert np.abs(y).max() <= 1.0 + 1e-4


def test_half_band_passes_and_stops():
    f = np.array([20.0, 1000.0, 15000.0, 18000.0])
    assert np.abs(response(f)) == pytest.approx(1.0, abs=1e-4)
    assert np.abs(response(np.linspace(30500, 48000, 200))).max() < 10 ** (-90 / 20)
    assert ((COEFFICIENTS > 0) & (COEFFICIENTS < 1)).all()


@pytest.mark.parametrize(("rate", "delay"), [(2, DELAY + 1.0), (4, DELAY_4), (8, DELAY_8)])
def test_quiet_sounds_pass_unchanged_after_the_declared_delay(rate, delay):
    hz = 100.0
    x = 1e-4 * np.sin(2 * np.pi * hz * np.arange(9600) / RATE)
    y = run(x, rate=rate)[0]
    want = 1e-4 * np.sin(2 * np.pi * hz * (np.arange(9600) - delay) / RATE)
    assert y[4800:] == pytest.approx(want[4800:], abs=2e-8)
    assert abs(delay - SOFT_LATENCY) < 0.3


def test_mix_nothing_is_the_input_late_by_the_latency():
    x = np.random.default_rng(2).uniform(-1, 1, 3000)
    y = run(x, 18.0, 0.2, mix=0.0)[0]
    assert np.array_equal(y[SOFT_LATENCY:], x[:-SOFT_LATENCY])
    line = np.zeros((1, SOFT_LATENCY))
    held = x[None, :].copy()
    delay_in_place(held, 0, 1700, line)
    delay_in_place(held, 1700, 3000, line)
    assert np.array_equal(held[0], y)


@pytest.mark.parametrize("rate", [2, 4, 8])
def test_any_cut_gives_the_same_samples(rate):
    x = np.random.default_rng(5).uniform(-1, 1, (2, 2048))
    assert np.array_equal(run(x, 20.0, 0.3, rate=rate), run(x, 20.0, 0.3, cuts=(1, 700, 1999), rate=rate))
    assert np.array_equal(run(x[1], 20.0, 0.3, rate=rate)[0], run(x, 20.0, 0.3, rate=rate)[1])


def test_bias_leaves_no_dc():
    x = 0.5 * np.sin(2 * np.pi * 110 * np.arange(4 * RATE) / RATE)
    assert abs(run(x, 12.0, 0.8)[0, 2 * RATE :].mean()) < 1e-4


@pytest.mark.parametrize("drive", [0.0, 12.0, 36.0])
def test_level_match_gives_a_sine_its_level_back(drive):
    x = 0.35 * np.sin(2 * np.pi * 300 * np.arange(RATE) / RATE)
    y = run(x, drive)[0, 4800:] * makeup(np.array([drive]))[0]
    assert 10 * np.log10(np.mean(y**2) / np.mean(x**2)) == pytest.approx(0.0, abs=0.05)


@pytest.mark.parametrize("what", ["square", "impulses", "silence", "dc"])
def test_hostile_input_stays_bounded(what):
    x = {
        "square": np.sign(np.sin(np.arange(8000) * 0.37)),
        "impulses": (np.arange(8000) % 500 == 0) * 4.0,
        "silence": np.zeros(8000),
        "dc": np.ones(8000),
    }[what].astype(float)
    y = run(x, 48.0, 1.0)
    assert np.isfinite(y).all() and np.abs(y).max() < 4.0
