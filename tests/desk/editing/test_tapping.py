"""The tempo of taps, against the tempo they were made with."""

import numpy as np
import pytest

from kessel.desk.editing.tapping import tap, tapped_tempo
from kessel.patch import ValueProblem


@pytest.mark.parametrize("bpm", [40.0, 87.3, 128.0, 174.5, 240.0])
@pytest.mark.parametrize("count", [4, 9])
def test_even_taps_give_their_tempo(bpm, count):
    assert tapped_tempo(1e6 + 60000.0 / bpm * np.arange(count)) == pytest.approx(bpm, abs=0.051)


@pytest.mark.parametrize("bpm, folded", [(20.0, 40.0), (31.0, 62.0), (300.0, 150.0)])
def test_a_tempo_outside_the_limits_is_folded_into_them(bpm, folded):
    assert tapped_tempo(60000.0 / bpm * np.arange(6)) == pytest.approx(folded, abs=0.051)


def test_a_hand_that_trembles_is_averaged():
    rng = np.random.default_rng(4)
    errors = [tapped_tempo(60000.0 / 132.0 * np.arange(16) + rng.normal(0.0, 12.0, 16)) - 132.0 for _ in range(50)]
    assert np.abs(errors).max() < 2.5 and abs(np.mean(errors)) < 0.3


@pytest.mark.parametrize("times", [[], [0.0], [0.0, 500.0, 1000.0], [0.0, 500.0, 700.0, 1500.0], [0.0, 0.0, 0.0, 0.0]])
def test_too_few_or_uneven_taps_are_one_line(times):
    with pytest.raises(ValueProblem, match=r"^(tap at least 4 beats|the taps were uneven: tap again)$"):
        tapped_tempo(times)


def test_it_is_one_step_with_a_name():
    edits, label = tap([0.0, 500.0, 1000.0, 1500.0])
    assert [(e.path, e.value) for e in edits] == [("tempo", 120.0)] and label == "Tap the tempo: 120.0 BPM"
