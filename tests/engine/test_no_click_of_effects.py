"""Every control of every effect, turned far while a sine or a saw is held: nothing above 3 kHz that the sound has not before or
after. The law of the sound: the peak above 3 kHz (eighth-order high-pass) from the edit to 500 ms after it is at most
-60 dBFS or 3 dB over that of the steady sound.
"""

import copy
from functools import partial

import numpy as np
import pytest
from scipy.signal import butter, sosfilt

from kessel.engine import QUANTUM, Engine
from kessel.patch import CHAIN_KINDS, Edit, apply, walk
from kessel.patch import STAGES as STAGE_KINDS

from ..making import RATE, layer, note, oscillator, patch
from .test_no_click import changed

HIGH = butter(8, 3000.0, "highpass", fs=RATE, output="sos")
WAIT = 150 * QUANTUM
AFTER = 24 * QUANTUM


def held(kind, shape="sine", **words):
    chain = []
    if kind is not None:
        item = kind.make("it", "It")
        if kind.word == "branch":
            item = item.model_copy(update={"paths": [p.model_copy(update={"items": []}) for p in item.paths]})
        chain = [item.model_dump()]
    return patch(
        layer(
            "one",
            sources=[oscillator(shape, level=0.0 if shape == "sine" else -6.0)],
            chain=chain,
            **{"path": "worked"} | words,
        ),
        phrase={"bars": 4, "notes": [note(45, 0, 15.9)]},
    )


def peak_high(x):
    """The largest sample above 3 kHz; the filter's own start is left out."""
    return np.abs(sosfilt(HIGH, x, axis=1)[:, 2 * QUANTUM :]).max()


def clicking(p, edits):
    """The edits of a patch that click, with the peak above 3 kHz and that of the steady sound in dB.

    edits: what to do to the running engine, by name.
    """
    running = Engine(p)
    running.read(WAIT)
    before = running.read(10 * QUANTUM)
    found = []
    for name, edit in edits:
        engine = copy.deepcopy(running)
        edit(engine)
        seen = engine.read(AFTER)
        steady = max(peak_high(before), peak_high(engine.read(12 * QUANTUM)))
        loudest = peak_high(np.concatenate([before, seen], axis=1))
        if loudest > max(1e-3, 1.413 * steady):
            # a slow swing may just have been at its softest
            steady = max(steady, peak_high(engine.read(140 * QUANTUM)))
        if loudest > max(1e-3, 1.413 * steady):
            found.append((name, round(20 * np.log10(loudest), 1), round(20 * np.log10(max(steady, 1e-9)), 1)))
    return found


def turned(p, below):
    """Every control below a path, turned far."""
    return [(path, partial(Engine.update, patch=after)) for path, after in changed(p) if path.startswith(below)]


@pytest.mark.parametrize("shape", ["sine", "saw"])
@pytest.mark.parametrize("kind", CHAIN_KINDS, ids=lambda kind: kind.word)
def test_no_control_of_an_effect_clicks(kind, shape):
    p = held(kind, shape)
    assert clicking(p, turned(p, "layers.one.chain.it.")) == []


@pytest.mark.parametrize("shape", ["sine", "saw"])
@pytest.mark.parametrize("kind", STAGE_KINDS, ids=lambda kind: kind.word)
def test_no_control_of_a_voice_stage_clicks(kind, shape):
    p = held(None, shape, stages=[kind.make("it", "It").model_dump()])
    assert clicking(p, turned(p, "layers.one.stages.it.")) == []


@pytest.mark.parametrize("path", ["clean", "worked"])
def test_nothing_else_of_a_layer_and_the_output_clicks(path):
    p = held(None, path=path)
    edits = [*turned(p, "layers.one."), *turned(p, "output.")]
    sends = [(f"sends.{s.id}", apply(p, [Edit(f"sends.{s.id}.level", -3.0)])) for s in p.sends]
    assert len(edits) > 60 and len(sends) == 2
    assert clicking(p, edits + [(name, partial(Engine.update, patch=after)) for name, after in sends]) == []


def test_hearing_one_layer_or_source_alone_does_not_click():
    p = patch(
        *(layer(name, sources=[oscillator("sine", level=-6.0)]) for name in ("one", "two")),
        phrase={"bars": 4, "notes": [note(45, 0, 15.9)]},
    )

    def alone(engine):
        engine.solo = frozenset({"one"})

    def source(engine):
        engine.solo_source = ("one", "a")

    assert clicking(p, [("solo", alone), ("solo source", source)]) == []


@pytest.mark.parametrize("name", ["rate", "delay", "detune"])
def test_drifting_copies_that_an_lfo_moves_do_not_step(name):
    """The law again, while a slow sine moves the control."""
    kind = next(k for k in CHAIN_KINDS if k.word == "thicken")
    mover = {"kind": "lfo", "id": "w", "name": "W", "length": 16.0}
    move = {"id": "m", "mover": "w", "target": f"layers.one.chain.it.{name}", "amount": 1.0, "both_ways": True}
    p = held(kind).model_dump()
    moved = type(held(kind)).model_validate(p | {"movers": [mover], "movements": [move]})
    x = Engine(moved).read(WAIT)[:, WAIT // 2 :]
    assert peak_high(x) < 1e-3


def test_there_is_something_to_turn_in_all_of_them():
    for kind in CHAIN_KINDS:
        assert sum(path.startswith("layers.one.chain.it.") for path, _, _ in walk(held(kind))) >= 2
    assert apply(held(CHAIN_KINDS[0]), [Edit("layers.one.chain", [])]).layers[0].chain == []
