"""Whatever is edited while a note is held, nothing clicks: every control, choice and switch, and edits of structure."""

import copy

import numpy as np
import pytest

from kessel.engine import QUANTUM, Engine
from kessel.patch import Choice, Control, Edit, ValueProblem, apply, walk

from ..making import layer, note, oscillator, patch

STAGES = [
    {"kind": "filter", "id": "f", "name": "F", "cutoff": 900.0, "resonance": 30.0},
    {"kind": "distortion", "id": "d", "name": "D", "drive": 12.0},
    {"kind": "allpass", "id": "row", "name": "Row"},
    {"kind": "comb", "id": "comb", "name": "Comb"},
    {"kind": "vowel", "id": "v", "name": "V"},
    {"kind": "ladder", "id": "l", "name": "L"},
]
CHAIN = [
    {"kind": "eq", "id": "eq", "name": "EQ", "bands": [{"id": "b", "frequency": 300.0, "gain": 6.0}]},
    {"kind": "compressor", "id": "c", "name": "C"},
    {"kind": "chorus", "id": "ch", "name": "Ch"},
    {"kind": "echo", "id": "ec", "name": "Ec"},
    {"kind": "multiband", "id": "m", "name": "M"},
]
STRUCTURE = {
    "no stages": [Edit("layers.one.stages", [])],
    "stages the other way round": [Edit("layers.one.stages", STAGES[::-1])],
    "a filter feeds back": [
        Edit("layers.one.sources.a.modulators", [{"id": "m", "source": "stages.f", "mode": "phase", "depth": 40.0}])
    ],
    "stages in two branches": [
        Edit("layers.one.branches.routing", "parallel"),
        Edit("layers.one.stages.f.branch", "before"),
        Edit("layers.one.stages.comb.branch", "B"),
        Edit("layers.one.stages.l.branch", "after"),
    ],
    "no chain": [Edit("layers.one.chain", [])],
    "chain the other way round": [Edit("layers.one.chain", CHAIN[::-1])],
    "one source": [Edit("layers.one.sources", [oscillator("saw")])],
    "another layer": [Edit("layers", [layer("other", sources=[oscillator("sine")], level=-12.0)])],
    "distortion behind all": [Edit("worked", [{"kind": "distortion", "id": "w", "name": "W"}])],
}


def held(shape):
    return patch(
        layer(
            "one",
            path="worked",
            sources=[oscillator(shape), oscillator(shape, id="b", name="B", level=-12.0)],
            stages=STAGES,
            chain=CHAIN,
            level=-12.0,
            unison={"copies": 3},
        ),
        phrase={"bars": 4, "notes": [note(45, 0, 15.9)]},
    )


def changed(p):
    """Every control, choice and switch of the layer and the output, far from where it is."""
    for path, declared, value in walk(p):
        if not path.startswith(("layers.one", "output")):
            continue
        if isinstance(declared, Control):
            new = declared.tidy(declared.at(0.8 if declared.position(float(value)) < 0.5 else 0.2))
            new = int(new) if declared.whole else new
        elif isinstance(declared, Choice):
            new = (not value) if isinstance(value, bool) else next(o for o in reversed(declared.options) if o != value)
        else:
            continue
        try:
            yield path, apply(p, [Edit(path, new)])
        except ValueProblem:
            continue


def steps(x):
    """The largest first and second difference: of level, and of slope."""
    return np.array([np.abs(np.diff(x, n, axis=1)).max() for n in (1, 2)])


def clicks(running, after):
    """Whether an edit makes both larger than the sound before and long after it does."""
    engine = copy.deepcopy(running)
    before = engine.read(3 * QUANTUM)
    engine.update(after)
    while_ = engine.read(4 * QUANTUM)
    engine.read(3 * QUANTUM)
    own = np.maximum(steps(before), steps(engine.read(3 * QUANTUM)))
    seen = steps(np.concatenate([before[:, -QUANTUM:], while_], axis=1))
    return bool(np.all(seen > np.array([1.3, 1.5]) * own + 0.003))


@pytest.mark.parametrize("shape", ["sine", "saw"])
def test_nothing_that_is_edited_clicks(shape):
    p = held(shape)
    running = Engine(p)
    running.read(24 * QUANTUM)
    edits = dict(changed(p)) | {name: apply(p, edits) for name, edits in STRUCTURE.items()}
    assert len(edits) > 200
    assert [name for name, after in edits.items() if clicks(running, after)] == []


def test_edits_faster_than_the_crossfade_end_where_the_last_one_says():
    p = held("sine")
    engine = Engine(p)
    engine.read(24 * QUANTUM)
    own = steps(engine.read(3 * QUANTUM))
    kinds = ("high-pass", "notch", "band-pass", "low-pass")
    parts = []
    for kind in kinds * 3:
        engine.update(apply(p, [Edit("layers.one.stages.f.type", kind)]))
        parts.append(engine.quantum())
    assert np.all(steps(np.concatenate(parts, axis=1)) < 4.0 * own + 0.01)
    assert engine.patch.layer("one").stages[0].type == "low-pass"
