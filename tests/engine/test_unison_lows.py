"""Unison keeps the bass: the copies together are as loud at the fundamental as one copy, however close they are."""

import numpy as np
import pytest

from kessel.engine import render_loop

from ..making import layer, note, oscillator, patch

HZ = 440.0 * 2.0 ** ((28 - 69) / 12)


def fundamental_db(**unison):
    """Mean power of the fundamental over the first second of a held E1, by a window of two periods."""
    p = patch(layer("one", sources=[oscillator("saw")], unison={"width": 0.0} | unison), notes=[note(28, 0, 2.1)])
    x = render_loop(p).sum[0]
    size = round(2 * 48000 / HZ)
    window = np.hanning(size) * np.exp(-2j * np.pi * HZ * np.arange(size) / 48000)
    return 10 * np.log10(np.mean([abs(np.sum(x[a : a + size] * window)) ** 2 for a in range(0, 48000 - size, 480)]))


@pytest.mark.parametrize("detune", [1.0, 8.0, 25.0])
@pytest.mark.parametrize("copies", [2, 3, 5, 7, 11, 16])
def test_close_copies_keep_the_fundamental(copies, detune):
    assert fundamental_db(copies=copies, detune=detune) - fundamental_db(copies=1) == pytest.approx(0.0, abs=3.0)


def test_even_phases_take_it_and_equal_phases_jump():
    one = fundamental_db(copies=1)
    assert fundamental_db(copies=8, detune=2.0, phases="even") - one < -15.0
    assert fundamental_db(copies=8, detune=2.0, spread=0.0) - one > 7.0


@pytest.mark.parametrize("width", [0.0, 100.0])
@pytest.mark.parametrize("copies", [2, 5, 9, 16])
def test_copies_are_as_loud_as_one(copies, width):
    """The mean power of a held saw over ten seconds."""

    def power(**unison):
        phrase = {"bars": 2, "notes": [note(45, 0, 8)]}
        p = patch(layer("one", sources=[oscillator("saw")], unison=unison), tempo=45.0, phrase=phrase)
        return 10 * np.log10(np.mean(render_loop(p).sum[:, 4800:485000] ** 2))

    assert power(copies=copies, detune=12.0, width=width) - power(copies=1) == pytest.approx(0.0, abs=0.5)
