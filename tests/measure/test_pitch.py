"""The pitch of a recording."""

import numpy as np
import pytest

from kessel.measure import detect_pitch

from ..making import RATE


@pytest.mark.parametrize("hz", [27.5, 41.2, 65.4, 110.0, 440.7, 1200.0])
@pytest.mark.parametrize("partials", [[1], range(1, 20), [2, 3, 4, 5], [1, 3, 5, 7]])
def test_pitch_of_periodic_sounds(hz, partials):
    t = np.arange(RATE) / RATE
    x = sum(np.sin(2 * np.pi * hz * k * t + k * k) / k for k in partials)
    assert abs(1200 * np.log2(detect_pitch(x) / hz)) < 0.5


def test_pitch_of_a_fading_stereo_sound_with_noise():
    t = np.arange(RATE) / RATE
    x = np.sin(2 * np.pi * 55 * t) * np.exp(-2 * t) + 0.02 * np.random.default_rng(3).standard_normal(RATE)
    assert abs(1200 * np.log2(detect_pitch(np.stack([x, x])) / 55)) < 3


@pytest.mark.parametrize("x", [np.zeros(9000), np.zeros(20), np.random.default_rng(1).uniform(-1, 1, RATE)])
def test_no_pitch_where_there_is_none(x):
    assert detect_pitch(x) is None
