"""Splits that add up again; levels, static curves and times of dynamics."""

import numpy as np
import pytest

from kessel.dsp import QUANTUM
from kessel.dsp.dynamics.compression import (
    STEP,
    STEPS,
    WINDOW,
    GainCurves,
    gain_rest,
    gains,
    keeping,
    level_rest,
    levels,
    static_gain,
)
from kessel.dsp.filters.crossover import crossover, response, rest
from kessel.dsp.filters.svf import PREWARP_TABLE

from ..making import RATE

SPLITS = ([150.0], [140.0, 2200.0], [90.0, 900.0, 7000.0])


def banded(x, splits, moving=None):
    state, parts = rest(len(splits)), []
    for at in range(0, x.shape[1], QUANTUM):
        out = np.zeros((len(splits) + 1, 2, QUANTUM))
        logs = [np.full(QUANTUM, np.log2(f)) for f in splits]
        if moving is not None:
            logs = [e + moving[at : at + QUANTUM] for e in logs]
        crossover(np.ascontiguousarray(x[:, at : at + QUANTUM]), out, logs, moving is None, state, PREWARP_TABLE)
        parts.append(out)
    return np.concatenate(parts, axis=2)


@pytest.mark.parametrize("splits", SPLITS)
def test_neutral_bands_add_up_to_an_all_pass(splits):
    n = 64 * QUANTUM
    x = np.zeros((2, n))
    x[:, 0] = 1.0
    bands = banded(x, splits)
    hz = np.fft.rfftfreq(n, 1 / RATE)
    heard = (hz >= 20) & (hz <= 20000)
    whole = 20 * np.log10(np.abs(np.fft.rfft(bands.sum(axis=0)[0]))[heard])
    assert np.ptp(whole) < 0.01
    assert abs(whole).max() < 0.01
    assert np.abs(np.fft.rfft(bands[:, 0], axis=1) - response(hz, splits)).max() < 1e-5


def test_a_band_falls_by_24_db_an_octave_and_edges_stand_6_db_down():
    h = 20 * np.log10(np.abs(response(np.array([500.0, 1000.0, 2000.0, 4000.0, 8000.0]), [1000.0])))
    assert h[0, 1] == pytest.approx(-6.02, abs=0.01)
    assert h[0, 3] - h[0, 4] > 23.5
    assert h[1, 0] == pytest.approx(-24.6, abs=0.3)


def test_splits_that_move_still_add_up_to_the_same_energy():
    """An all-pass in motion keeps what goes in: nothing builds up and nothing is lost."""
    rng = np.random.default_rng(3)
    x = np.repeat(rng.standard_normal((1, 40 * QUANTUM)), 2, axis=0)
    swing = np.sin(2 * np.pi * 3 * np.arange(x.shape[1]) / RATE)
    y = banded(x, [200.0], swing).sum(axis=0)
    assert np.sqrt(np.mean(y**2)) == pytest.approx(np.sqrt(np.mean(x**2)), rel=0.03)


def heard(x, mean=False, hold=0.0):
    state, found = level_rest(), []
    for at in range(0, x.shape[1], QUANTUM):
        out = np.empty(STEPS)
        levels(np.ascontiguousarray(x[:, at : at + QUANTUM]), mean, hold, out, state)
        found.append(out)
    return np.concatenate(found)


def sine(hz, db, quanta=24):
    return np.repeat(10 ** (db / 20) * np.sin(2 * np.pi * hz * np.arange(quanta * QUANTUM) / RATE)[None], 2, axis=0)


@pytest.mark.parametrize("hz", [41.2, 110.0, 1000.0])
def test_levels_of_a_sine_are_its_own_and_stand_still(hz):
    hold = 0.5 / hz * RATE / STEP + 2
    late = heard(sine(hz, -12.0), hold=hold)[-STEPS:]
    assert late == pytest.approx(-12.0, abs=0.1)
    if hz > 500:
        assert heard(sine(hz, -12.0), mean=True)[-STEPS:] == pytest.approx(-12.0, abs=0.4)


def test_the_mean_forgets_what_is_past():
    x = np.concatenate([sine(1000.0, 0.0, 4), np.zeros((2, 8 * QUANTUM))], axis=1)
    found = heard(x, mean=True)
    assert found[4 * STEPS + WINDOW + 1 :].max() < -100


def gain_of(db, down=(-20.0, -0.75), up=(-40.0, 0.5), knee=6.0, attack=5.0, release=50.0, opens=False, most=36.0):
    state, found = gain_rest(), []
    level = np.asarray(db, dtype=float)
    flat = lambda v: np.full(STEPS, float(v))  # noqa: E731
    for at in range(0, level.size, STEPS):
        out, trace = np.empty(QUANTUM), np.empty(STEPS)
        curves = GainCurves(
            flat(down[0]), flat(down[1]), flat(up[0]), flat(up[1]), flat(knee), flat(1), flat(most), flat(most),
            flat(keeping(attack)), flat(keeping(release)),
        )  # fmt: skip
        gains(np.ascontiguousarray(level[at : at + STEPS]), curves, opens, out, trace, state)
        found.append(trace)
        assert 20 * np.log10(out[STEP - 1 :: STEP]) == pytest.approx(trace, abs=1e-6)
    return np.concatenate(found)


@pytest.mark.parametrize("level", [-90.0, -70.0, -45.0, -40.0, -38.0, -30.0, -22.0, -20.0, -18.0, -6.0, 0.0, 6.0])
def test_a_constant_level_comes_to_the_static_curve(level):
    late = gain_of(np.full(STEPS * 60, level))[-1]
    wanted = static_gain(np.array([level]), (-20.0, -0.75), (-40.0, 0.5), 6.0, 36.0)[0]
    assert late == pytest.approx(wanted, abs=0.1)


def test_the_static_curve_is_the_formula_of_a_ratio():
    """Well over the threshold 4:1 leaves a quarter; in the middle of the knee it has turned an eighth of it."""
    assert static_gain(np.array([-4.0]), (-20.0, -0.75), (-60.0, 0.0), 6.0, 99.0)[0] == pytest.approx(-12.0)
    assert static_gain(np.array([-20.0]), (-20.0, -0.75), (-60.0, 0.0), 8.0, 99.0)[0] == pytest.approx(-0.75)


@pytest.mark.parametrize(("attack", "release"), [(1.0, 20.0), (10.0, 120.0), (80.0, 600.0)])
def test_times_are_those_to_63_per_cent_of_a_step_in_db(attack, release):
    quanta = 80
    level = np.full(STEPS * quanta, -8.0)
    level[: STEPS * 4] = -60.0
    level[STEPS * 40 :] = -60.0
    found = gain_of(level, up=(-72.0, 0.0), knee=0.0, attack=attack, release=release)
    down = found[STEPS * 4 :]
    at = np.argmax(down <= (1 - np.exp(-1)) * down[STEPS * 36 - 1]) + 1
    assert at * STEP / RATE * 1000 == pytest.approx(attack, rel=0.05, abs=STEP / RATE * 1000)
    up = found[STEPS * 40 :]
    at = np.argmax(up >= found[STEPS * 40 - 1] * np.exp(-1)) + 1
    assert at * STEP / RATE * 1000 == pytest.approx(release, rel=0.05)
