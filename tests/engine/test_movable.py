"""Controls that became movable: what a movement does is what the resting value at its end does."""

import numpy as np
import pytest

from kessel.engine import Engine, RenderCache, render_loop, render_sum, span_of
from kessel.patch import Control, ValueProblem, movable, walk
from kessel.patch.fixed import why_fixed

from ..making import edited, layer, note, oscillator, patch
from ..plausible import everything

WIDE = {"sources": [oscillator("saw")], "unison": {"copies": 5, "detune": 20.0, "width": 80.0}}
ENDS = {
    "layers.one.pan": (0.0, -70.0),
    "layers.one.width": (100.0, 20.0),
    "layers.one.play.interval_level": (-72.0, -6.0),
    "layers.one.unison.detune": (20.0, 45.0),
}


def moved(path, macro, rest, end, **words):
    """A patch whose control is moved from its rest to its end by a macro."""
    p = patch(
        layer(**WIDE),
        movers=[{"kind": "macro", "id": "x", "name": "X", "value": macro}],
        movements=[{"id": "m", "mover": "x", "target": path, "amount": end - rest, "from_off": "decibels"}],
        notes=[note(33, 0, 1.5), note(40, 2, 1.5)],
        **words,
    )
    return edited(p, **{path.replace(".", "__"): rest})


@pytest.mark.parametrize("path", sorted(ENDS))
def test_a_macro_at_its_end_is_the_control_at_its_end(path):
    rest, end = ENDS[path]
    still = patch(layer(**WIDE), notes=[note(33, 0, 1.5), note(40, 2, 1.5)])
    there = render_loop(edited(still, **{path.replace(".", "__"): end})).sum
    here = render_loop(edited(still, **{path.replace(".", "__"): rest})).sum
    assert np.abs(render_loop(moved(path, 100.0, rest, end)).sum - there).max() < 2e-6
    assert np.abs(render_loop(moved(path, 0.0, rest, end)).sum - here).max() < 2e-6
    assert np.abs(there - here).max() > 0.01


@pytest.mark.parametrize("path", sorted(ENDS))
def test_live_and_offline_are_the_same_while_it_moves(path):
    rest, end = ENDS[path]
    p = moved(path, 50.0, rest, end)
    p = p.model_copy(
        update={
            "movers": [type(p.movers[0]).model_validate(p.movers[0].model_dump() | {"drawn": True, "points": [
                {"at": 0.0, "value": 0.0}, {"at": 1.0, "value": 1.0}]})]
        }
    )  # fmt: skip
    offline = render_sum(p, RenderCache())[0]
    live = Engine(p, start=-span_of(p).pre)
    x = np.concatenate([live.read(n) for n in (777, 4096, 1, offline.shape[1] - 4874)], axis=1)
    assert np.array_equal(x, offline)
    assert path in render_loop(p).travel


def test_a_moved_layer_pans_as_loud_anywhere():
    """The power of both sides stays, as the law of the pan at rest."""
    p = moved("layers.one.pan", 100.0, 0.0, -100.0)
    mono = edited(p, layers__one__unison__width=0.0)
    x = render_loop(mono).sum
    middle = render_loop(edited(mono, movers__x__value=0.0)).sum
    assert np.abs(x[1]).max() < 1e-6
    assert np.sum(x**2) == pytest.approx(np.sum(middle**2), rel=1e-6)


def test_what_cannot_be_moved_says_why():
    p = everything()
    said = {}
    for path, control, _ in walk(p):
        if isinstance(control, Control) and not path.startswith(("movements", "blend", "backing", "phrase")):
            try:
                movable(p, path)
            except ValueProblem as problem:
                said[path] = str(problem)
                assert str(problem) == f"{control.name} can't be moved: {why_fixed(path, control)}"
                assert len(str(problem)) < 130
    assert len(said) > 50
    assert said["layers.body.sources.saw.octave" if "layers.body.sources.saw.octave" in said else next(
        p for p in said if p.endswith(".octave"))].endswith("move the semitones of a source or the pitch of the layer instead")  # fmt: skip
    assert "read once, when a note begins" in said["layers.body.play.glide"]
    assert "the output stage stays as it is measured" in said["output.gain"]
