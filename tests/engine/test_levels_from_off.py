"""A level at off that a movement opens: heard, and even in loudness from off to the end of the movement."""

import numpy as np
import pytest

from kessel.engine import render_loop

from ..making import layer, note, oscillator, patch


def level(target, rest, amount, value, **words):
    """Level in dB of a held sine whose level at ``target`` a macro at ``value`` per cent moves."""
    own = layer("one", level=rest) if target.endswith("one.level") else layer("one", sources=[oscillator(level=rest)])
    p = patch(
        layer("other", mute=True),
        own,
        notes=[note(45, 0, 4)],
        movers=[{"kind": "macro", "id": "m", "name": "M", "value": value}],
        movements=[{"id": "v", "mover": "m", "target": target, "amount": amount} | words],
    )
    x = render_loop(p).sum[0, 24000:72000]
    return 10 * np.log10(max(2 * np.mean(x**2), 1e-20))


@pytest.mark.parametrize("target", ["layers.one.level", "layers.one.sources.a.level"])
@pytest.mark.parametrize("value, under", [(10.0, -33.2), (25.0, -20.0), (50.0, -10.0), (100.0, 0.0)])
def test_a_level_opens_from_off_evenly_in_loudness(target, value, under):
    assert level(target, -72.0, 66.0, value) == pytest.approx(-6.0 + under, abs=0.1)


@pytest.mark.parametrize("target", ["layers.one.level", "layers.one.sources.a.level"])
def test_a_level_shuts_to_off_the_same_way_back(target):
    for value, under in ((0.0, 0.0), (50.0, -10.0), (90.0, -33.2)):
        assert level(target, -6.0, -66.0, value) == pytest.approx(-6.0 + under, abs=0.1)
    assert level(target, -6.0, -66.0, 100.0) < -140.0


def test_between_two_levels_it_goes_evenly_in_dB_and_old_movements_do_from_off_too():
    assert level("layers.one.level", -30.0, 24.0, 50.0) == pytest.approx(-18.0, abs=0.1)
    assert level("layers.one.level", -72.0, 66.0, 50.0, from_off="decibels") == pytest.approx(-39.0, abs=0.1)
