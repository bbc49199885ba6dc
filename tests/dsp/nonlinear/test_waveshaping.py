"""Curves with edges: what they fold back, their delay, their antiderivatives, and crush."""

import numpy as np
import pytest

from kessel.dsp.nonlinear.soft_clip import DriveCurves
from kessel.dsp.nonlinear.waveshaping import (
    CRUSH_STATE,
    CURVES,
    DRAWN_POINTS,
    SHAPED_DELAY,
    SHAPED_LATENCY,
    SHAPED_STATE,
    WRAP_DELAY,
    CrushCurves,
    crush,
    drawn_table,
    shape,
    shaped,
    shaped_makeup,
)

from ...making import RATE, alias_db, two_tone_alias_db

N = 1 << 16
KINDS = sorted(set(CURVES) - {"drawn"})
LINE = drawn_table(np.linspace(-1.0, 1.0, DRAWN_POINTS))
"""A drawn curve that is a straight line."""


def run(x, kind, drive=0.0, bias=0.0, mix=1.0, cuts=()):
    y = np.atleast_2d(x).copy()
    n = y.shape[1]
    state, dry = np.zeros(SHAPED_STATE), np.zeros((y.shape[0], SHAPED_LATENCY))
    gain = np.full(n, 10 ** (drive / 20))
    for a, b in zip([0, *cuts], [*cuts, n], strict=True):
        shape(
            y,
            a,
            b,
            CURVES[kind],
            DriveCurves(gain, np.ones(n), bias, bias, np.full(n, mix)),
            state,
            dry,
            np.empty((n, 4)),
            LINE,
        )
    return y


def delay_of(kind):
    return WRAP_DELAY if kind == "wrap" else SHAPED_DELAY


def crushed(x, bits=16.0, rate=48000.0, drive=0.0, mix=1.0, cuts=()):
    y = np.atleast_2d(x).copy()
    n = y.shape[1]
    state = np.zeros((y.shape[0], CRUSH_STATE))
    dry, wet = (np.zeros((y.shape[0], SHAPED_LATENCY)) for _ in range(2))
    full = lambda v: np.full(n, float(v))  # noqa: E731
    for a, b in zip([0, *cuts], [*cuts, n], strict=True):
        crush(
            y, a, b, CrushCurves(full(10 ** (drive / 20)), full(1), full(2 ** (bits - 1)), full(rate / RATE), full(mix)), state, dry, wet
        )  # fmt: skip
    return y


@pytest.mark.parametrize("hz", [220.0, 880.0])
@pytest.mark.parametrize(("kind", "bar"), [("tube", 80), ("one-sided", 80), ("hard", 80), ("fold", 40), ("wrap", 40)])
def test_alias_at_24_db(kind, bar, hz):
    hz = round(hz * N / RATE) * RATE / N
    x = np.sin(2 * np.pi * hz * np.arange(2 * N) / RATE)
    assert alias_db(run(x, kind, 24.0)[0, N:], hz) >= bar


@pytest.mark.parametrize("kind", ["tube", "one-sided", "hard"])
def test_alias_at_36_db_of_one_and_two_tones(kind):
    hz, base = (round(f * N / RATE) * RATE / N for f in (880, 88))
    t = 2 * np.pi * np.arange(2 * N) / RATE
    assert alias_db(run(np.sin(hz * t), kind, 36.0)[0, N:], hz) >= 80.0
    two = 0.5 * np.sin(5 * base * t) + 0.5 * np.sin(7 * base * t)
    assert two_tone_alias_db(run(two, kind, 36.0)[0, N:], base) >= 80.0


@pytest.mark.parametrize("kind", KINDS)
def test_a_slow_sound_follows_the_curve(kind):
    t = np.arange(RATE) / RATE
    x = np.sin(2 * np.pi * 3.0 * t)
    y = run(x, kind, 9.0)[0]
    late = 2.82 * np.sin(2 * np.pi * 3.0 * (t - delay_of(kind) / RATE))
    want = shaped(kind, late)
    want = want if kind not in ("tube", "one-sided") else want - want.mean()
    inside = slice(RATE // 3, 2 * RATE // 3)
    if kind in ("tube", "one-sided"):
        # the block against DC bends so slow a sound: its shape is judged by its ends
        assert np.ptp(y[inside]) == pytest.approx(np.ptp(want[inside]), rel=0.2)
    else:
        assert np.median(np.abs(y[inside] - want[inside])) < 2e-3


def test_quiet_sounds_pass_unchanged_after_the_declared_delay():
    t = np.arange(9600)
    x = 1e-4 * np.sin(2 * np.pi * 100 * t / RATE)
    for kind in ("hard", "fold", "wrap"):
        want = 1e-4 * np.sin(2 * np.pi * 100 * (t - delay_of(kind)) / RATE)
        assert run(x, kind)[0, 4800:] == pytest.approx(want[4800:], abs=2e-8)
        assert abs(delay_of(kind) - SHAPED_LATENCY) < 0.51


@pytest.mark.parametrize("kind", [*KINDS, "crush"])
def test_mix_nothing_is_the_input_late_and_any_cut_gives_the_same(kind):
    x = np.random.default_rng(2).uniform(-1, 1, (2, 3000))
    made = crushed if kind == "crush" else lambda x, **w: run(x, kind, 18.0, 0.2, **w)
    assert np.array_equal(made(x, mix=0.0)[:, SHAPED_LATENCY:], x[:, :-SHAPED_LATENCY])
    assert np.array_equal(made(x), made(x, cuts=(1, 700, 1999)))


@pytest.mark.parametrize("kind", ["tube", "one-sided"])
def test_what_leans_leaves_even_partials_and_no_dc(kind):
    x = 0.5 * np.sin(2 * np.pi * 110 * np.arange(4 * RATE) / RATE)
    y = run(x, kind, 18.0)[0, 2 * RATE :]
    f = np.abs(np.fft.rfft(y))
    assert abs(y.mean()) < 1e-4 and f[220 * 2] > 0.03 * f[110 * 2]


@pytest.mark.parametrize("kind", ["tube", "one-sided", "hard"])
@pytest.mark.parametrize("drive", [0.0, 12.0, 36.0])
def test_level_match_gives_a_sine_its_level_back(kind, drive):
    x = 0.35 * np.sin(2 * np.pi * 300 * np.arange(RATE) / RATE)
    y = run(x, kind, drive)[0, 9600:] * shaped_makeup(kind, np.array([drive]))[0]
    assert 10 * np.log10(np.mean(y**2) / np.mean(x**2)) == pytest.approx(0.0, abs=0.15)


def test_crush_rounds_to_its_bits_and_holds_at_its_rate():
    x = np.random.default_rng(4).uniform(-1, 1, 4000)
    y = crushed(x, bits=3.0)[0, SHAPED_LATENCY:]
    assert np.allclose(y * 4, np.round(y * 4)) and np.abs(y - x[: y.size]).max() <= 0.125 + 1e-9
    held = crushed(x, rate=4800.0)[0, SHAPED_LATENCY:]
    assert np.count_nonzero(np.diff(held)) == pytest.approx(400, abs=3)


@pytest.mark.parametrize("kind", KINDS)
@pytest.mark.parametrize("what", ["square", "impulses", "silence", "dc"])
def test_hostile_input_stays_bounded(kind, what):
    n = np.arange(8000)
    x = {"square": np.sign(np.sin(n * 0.37)), "impulses": (n % 500 == 0) * 4.0, "silence": n * 0.0, "dc": n * 0.0 + 1}[
        what
    ]
    y = run(x.astype(float), kind, 48.0, 1.0)
    assert np.isfinite(y).all() and np.abs(y).max() < 40.0


def test_a_drawn_straight_line_is_the_hard_curve():
    """Beyond full scale a drawn curve stays where it was, so that a line from corner to corner cuts the peaks."""
    x = 0.9 * np.sin(2 * np.pi * 220 * np.arange(8192) / RATE)
    for drive in (0.0, 6.0, 24.0):
        drawn, hard = run(x, "drawn", drive), run(x, "hard", drive)
        # the drawn one takes away what is left at 0 Hz
        assert np.abs(drawn[0, 4096:] - hard[0, 4096:]).max() < 0.05
