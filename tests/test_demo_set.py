"""The demo set: alike in loudness, and heard on small speakers. What holds in it is tested beside the checks."""

from functools import cache

import numpy as np
import pyloudnorm
import pytest
from scipy.signal import welch

from kessel.demo import demo_cards, demo_patches
from kessel.engine import render_loop

RATE = 48000
DEMO = demo_patches()


@cache
def loop(slug):
    return render_loop(DEMO[slug]).sum.astype(float)


def loudness(slug):
    return pyloudnorm.Meter(RATE).integrated_loudness(loop(slug).T)


def test_all_are_within_two_lu_of_each_other():
    found = {slug: loudness(slug) for slug in DEMO}
    assert max(found.values()) - min(found.values()) < 2.0, found


@pytest.mark.parametrize("slug", sorted(DEMO))
def test_each_has_something_for_a_small_speaker(slug):
    hz, power = welch(loop(slug).mean(axis=0), RATE, nperseg=16384)
    high, low = (power[(hz >= a) & (hz < b)].sum() for a, b in ((2000.0, 4000.0), (30.0, 120.0)))
    assert 10.0 * np.log10(high / low) > -40.0


def test_the_cards_are_the_patches():
    assert [c.slug for c in demo_cards()] == list(DEMO)
    assert len(DEMO) == 10 and all(c.note.endswith(".") for c in demo_cards())
