"""A turned control that goes the short way sounds as it does when the whole patch is looked at again."""

import numpy as np
import pytest

from kessel.demo import demo_patches
from kessel.engine import QUANTUM, Engine
from kessel.engine import engine as of_engine
from kessel.patch import Control, Edit, ValueProblem, apply, walk

from ..making import layer, note, oscillator, patch

DEMO = demo_patches()
BUSY = patch(
    layer(
        "one",
        path="worked",
        sources=[oscillator("saw", stretch=4.0), oscillator("pulse", id="b", name="B", feedback=20.0),
                 oscillator("saw", id="c", name="C", sync="source", sync_to="a", semitones=7.0)],
        stages=[{"kind": "filter", "id": "f", "name": "F", "cutoff": 900.0, "key_follow": 50.0},
                {"kind": "distortion", "id": "d", "name": "D", "drive": 12.0},
                {"kind": "comb", "id": "k", "name": "K", "on": False}],
        chain=[{"kind": "multiband", "id": "m", "name": "M"}, {"kind": "echo", "id": "e", "name": "E"},
               {"kind": "branch", "id": "br", "name": "Br", "paths": [
                   {"id": "p", "name": "P", "items": [{"kind": "eq", "id": "q", "name": "Q"}]}, {"id": "o", "name": "O"}]}],
        unison={"copies": 3},
        sends=[{"id": "space", "level": -12.0}],
    ),
    layer("two", level=-9.0, play={"mode": "legato", "glide": 90.0, "velocity": 0.0}),
    notes=[note(33, 0, 1.4), note(40, 1.2, 1.0), note(29, 2.5, 1.4)],
    movers=[{"kind": "lfo", "id": "l", "name": "L"}, {"kind": "macro", "id": "x", "name": "X", "value": 30.0}],
    movements=[{"id": "v", "mover": "l", "target": "layers.one.stages.f.cutoff", "amount": 1.0},
               {"id": "w", "mover": "x", "target": "layers.one.chain.e.feedback", "amount": 20.0},
               {"id": "z", "mover": "x", "target": "layers.two.level", "amount": -6.0}],
    worked=[{"kind": "compressor", "id": "c", "name": "C"}],
)  # fmt: skip


def turned_patches(p):
    """The patch with one control anywhere else, for every control of it."""
    for path, declared, value in walk(p):
        if not isinstance(declared, Control) or path.startswith("phrase"):
            continue
        new = declared.tidy(declared.at(0.7 if declared.position(float(value)) < 0.5 else 0.3))
        try:
            yield path, apply(p, [Edit(path, int(new) if declared.whole else new)])
        except ValueProblem:
            continue


def played(p, changed):
    """Three quanta before, two while it is turned, three after it is turned back."""
    engine = Engine(p)
    parts = [engine.quantum() for _ in range(3)]
    engine.update(changed)
    parts += [engine.quantum() for _ in range(2)]
    engine.update(p)
    parts += [engine.quantum() for _ in range(3)]
    return np.concatenate(parts, axis=1)


@pytest.mark.parametrize("p", [BUSY, DEMO["sluice-gate"]], ids=["busy", "demo"])
def test_the_short_way_is_the_long_way(p, monkeypatch):
    every = dict(turned_patches(p))
    short = {path: played(p, changed) for path, changed in every.items() if of_engine.is_turn(p, changed)}
    assert len(short) > 0.4 * len(every)
    monkeypatch.setattr(of_engine, "is_turn", lambda before, after: False)
    for path, x in short.items():
        assert np.array_equal(x, played(p, every[path])), path


def test_a_synced_wave_follows_when_the_source_that_restarts_it_is_turned():
    """Pitch of the restarting source turned while a note is held: in the end it is what plays from the start."""
    sources = [oscillator("saw"), oscillator("saw", id="b", name="B", sync="source", sync_to="a", semitones=9.0)]
    p = patch(layer(sources=sources), phrase={"bars": 4, "notes": [note(33, 0, 15.9)]})
    turned = apply(p, [Edit("layers.one.sources.a.semitones", 4.0)])
    spectra = []
    for engine in (Engine(p), Engine(turned)):
        engine.read(2 * QUANTUM)
        engine.update(turned)
        x = engine.read(120 * QUANTUM)[0, 20 * QUANTUM :]
        spectra.append(np.abs(np.fft.rfft(x * np.hanning(x.size))))
    assert np.abs(spectra[0] - spectra[1]).max() < 0.01 * spectra[1].max()


def test_points_of_a_curve_that_change_alone_are_heard():
    """Points have no ids: a patch that shares all else is looked at as a whole."""
    macro = {"kind": "macro", "id": "x", "name": "X", "drawn": True, "bars": 1,
             "points": [{"at": 0.0, "value": 0.0}, {"at": 1.0, "value": 0.0}]}  # fmt: skip
    move = {"id": "m", "mover": "x", "target": "layers.one.level", "amount": -30.0}
    p = patch(layer(), movers=[macro], movements=[move])
    points = [point.model_copy(update={"value": 1.0}) for point in p.movers[0].points]
    changed = p.model_copy(update={"movers": [p.movers[0].model_copy(update={"points": points})]})
    engine = Engine(p)
    loud = np.abs(engine.read(8 * QUANTUM)).max()
    engine.update(changed)
    engine.read(4 * QUANTUM)
    assert np.abs(engine.read(8 * QUANTUM)).max() < 0.1 * loud
