"""Every control of every effect, turned far while a sine is held: nothing above 3 kHz that the sound has not before or
after. The law of the sound: the peak above 3 kHz (eighth-order high-pass) from the edit to 500 ms after it is at most
-60 dBFS or 3 dB over that of the steady sound.
"""

import copy

import numpy as np
import pytest
from scipy.signal import butter, sosfilt

from kessel.engine import QUANTUM, Engine
from kessel.patch import CHAIN_KINDS, Edit, apply, walk

from ..making import RATE, layer, note, oscillator, patch
from .test_no_click import changed

HIGH = butter(8, 3000.0, "highpass", fs=RATE, output="sos")
WAIT = 150 * QUANTUM
AFTER = 24 * QUANTUM


def held(kind):
    item = kind.make("it", "It")
    if kind.word == "branch":
        item = item.model_copy(update={"paths": [p.model_copy(update={"items": []}) for p in item.paths]})
    return patch(
        layer("one", path="worked", sources=[oscillator("sine", level=0.0)], chain=[item.model_dump()]),
        phrase={"bars": 4, "notes": [note(45, 0, 15.9)]},
    )


def peak_high(x):
    """The largest sample above 3 kHz; the filter's own start is left out."""
    return np.abs(sosfilt(HIGH, x, axis=1)[:, 2 * QUANTUM :]).max()


def clicking(kind):
    p = held(kind)
    running = Engine(p)
    running.read(WAIT)
    before = running.read(10 * QUANTUM)
    found = []
    for path, after in changed(p):
        if not path.startswith("layers.one.chain.it."):
            continue
        engine = copy.deepcopy(running)
        engine.update(after)
        seen = engine.read(AFTER)
        steady = max(peak_high(before), peak_high(engine.read(12 * QUANTUM)))
        loudest = peak_high(np.concatenate([before, seen], axis=1))
        if loudest > max(1e-3, 1.413 * steady):
            found.append((path, round(20 * np.log10(loudest), 1), round(20 * np.log10(max(steady, 1e-9)), 1)))
    return found


@pytest.mark.parametrize("kind", CHAIN_KINDS, ids=lambda kind: kind.word)
def test_no_control_of_an_effect_clicks(kind):
    assert clicking(kind) == []


def test_there_is_something_to_turn_in_all_of_them():
    for kind in CHAIN_KINDS:
        assert sum(path.startswith("layers.one.chain.it.") for path, _, _ in walk(held(kind))) >= 2
    assert apply(held(CHAIN_KINDS[0]), [Edit("layers.one.chain", [])]).layers[0].chain == []
