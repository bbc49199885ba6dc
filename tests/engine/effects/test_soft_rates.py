"""The soft curve changes its rate with the drive it can reach, unheard."""

import numpy as np
import pytest

from kessel.engine import Engine

from ...making import RATE, alias_db, layer, note, oscillator, patch


def driven(drive, **more):
    stage = {"kind": "distortion", "id": "d", "name": "D", "curve": "soft", "drive": drive, "level_match": False}
    return patch(
        layer(sources=[oscillator("sine")], stages=[stage], level=-20.0),
        notes=[note(81, 0, 4)],
        tempo=60.0,
        output={"ceiling": {"on": False}},
        **more,
    )


def high(x):
    """The largest sample above 3 kHz, the first and last 20 ms left out."""
    spectrum = np.fft.rfft(x * np.hanning(x.size))
    spectrum[np.fft.rfftfreq(x.size, 1 / RATE) < 3000] = 0
    return np.abs(np.fft.irfft(spectrum)).max()


@pytest.mark.parametrize("drive", [24.0, 30.0, 40.0])
def test_a_driven_layer_folds_nothing_back(drive):
    x = Engine(driven(drive)).read(3 * RATE)[0, RATE:]
    assert alias_db(x, 880.0) >= 80.0


def test_a_movement_takes_the_rate_it_needs():
    """A macro at 0 that can drive the curve by 30 dB more: the rate is there before it is turned."""
    moves = [{"id": "m", "mover": "macro1", "target": "layers.one.stages.d.drive", "amount": 30.0}]
    macro = {"kind": "macro", "id": "macro1", "name": "Push", "value": 100.0}
    x = Engine(driven(10.0, movers=[macro], movements=moves)).read(3 * RATE)[0, RATE:]
    assert alias_db(x, 880.0) >= 80.0


@pytest.mark.parametrize(("before", "after"), [(24.8, 25.2), (32.8, 33.2), (33.2, 24.8)])
def test_a_change_of_rate_steps_nowhere(before, after):
    """The soft curve driven a little more while it sounds: nothing beyond what the sound has before and after."""
    engine = Engine(driven(before))
    steady = engine.read(RATE)[0, RATE // 2 :]
    engine.update(driven(after))
    changed = engine.read(RATE // 2)[0]
    ended = engine.read(RATE // 2)[0]
    assert high(changed) <= 1.1 * max(high(steady), high(ended))
