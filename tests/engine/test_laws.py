"""The laws of the engine: one engine, same in same out, cached by content, nothing explodes."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from kessel.demo import demo_patches
from kessel.engine import (
    QUANTUM,
    CancelToken,
    Engine,
    NoteEvent,
    RenderCache,
    RenderCancelled,
    render_bars,
    render_loop,
    render_sum,
    span_of,
)
from kessel.patch import Control, Edit, Patch, ValueProblem, apply, walk

from ..making import edited, layer, note, oscillator, patch

DEMO = demo_patches()


def shaken(given_patch: Patch, data: st.DataObject, most: int = 12) -> Patch:
    """The patch with some of its controls anywhere in their range."""
    numbers = [
        (p, c) for p, c, _ in walk(given_patch) if isinstance(c, Control) and not p.startswith(("phrase", "tempo"))
    ]
    for index in data.draw(st.lists(st.integers(0, len(numbers) - 1), max_size=most, unique=True)):
        path, control = numbers[index]
        value = control.at(data.draw(st.floats(0, 1)))
        try:
            given_patch = apply(given_patch, [Edit(path, int(value) if control.whole else value)])
        except ValueProblem:
            continue
    return given_patch


@settings(max_examples=25, deadline=None)
@given(st.data())
def test_any_request_size_gives_the_same_samples_and_nothing_explodes(data):
    p = shaken(DEMO[data.draw(st.sampled_from(sorted(DEMO)))], data)
    sizes = data.draw(st.lists(st.integers(1, 4000), min_size=2, max_size=12))
    whole = Engine(p).read(sum(sizes))
    engine = Engine(p)
    parts = np.concatenate([engine.read(n) for n in sizes], axis=1)
    assert np.array_equal(whole, parts)
    assert np.isfinite(whole).all()


@pytest.mark.parametrize("slug", sorted(DEMO))
def test_two_renders_are_the_same_and_the_ceiling_holds(slug):
    a, b = render_loop(DEMO[slug]).sum, render_loop(DEMO[slug]).sum
    assert np.array_equal(a, b)
    assert np.abs(a).max() < 1.0


@pytest.mark.parametrize("slug", ["undertow", "sluice-gate", "mud-lantern", "reed-weir"])
def test_live_and_offline_are_one_engine(slug):
    """What is streamed from the same start is what is rendered and measured, sample for sample."""
    p = DEMO[slug]
    offline = render_sum(p, RenderCache())[0]
    live = Engine(p, start=-span_of(p).pre).read(offline.shape[1])
    assert np.array_equal(live, offline)


def test_work_is_kept_by_content():
    cache = RenderCache()
    p = DEMO["sluice-gate"]
    for x in p.layers:
        p = apply(p, [Edit(f"layers.{x.id}.sends", [{"id": "echo", "level": -72.0}, {"id": "space", "level": -72.0}])])
    render_loop(p, cache)
    layers = {"sub", "body", "edge", "click"}
    assert set(cache.rendered) == layers | {f"{i} voices" for i in layers} | {"clean", "worked"}
    for edits, made in (
        ({"output__gain": -3.0}, []),
        ({"output__ceiling__limit": -4.0}, []),
        ({"output__duck__on": True}, []),
        ({"layers__body__level": -9.0}, ["worked"]),
        ({"layers__body__name": "Other"}, []),
        ({"worked__grit__drive": 3.0}, ["worked"]),
        ({"layers__sub__sources__sine__phase": 45.0}, ["sub voices", "sub", "clean"]),
        ({"layers__click__range__low": 300.0}, ["click", "clean"]),
    ):
        cache.rendered.clear()
        render_loop(edited(p, **edits), cache)
        assert cache.rendered == made, edits
    wet = edited(p, sends__space__level=-20.0)
    render_loop(wet, cache)
    for edits, made in (
        ({"returns__space__chain__space__size": 60.0}, ["space"]),
        ({"layers__body__sends__space__level": -12.0}, ["space"]),
        ({"worked__grit__drive": 3.0}, ["worked", "space"]),
    ):
        cache.rendered.clear()
        render_loop(edited(wet, **edits), cache)
        assert cache.rendered == made, edits
    cache.rendered.clear()
    render_loop(edited(p, movers__snap__decay=100.0), cache)
    assert {"body voices", "edge voices", "body", "edge", "worked"} == set(cache.rendered)


def test_a_stopped_rendering_gives_up():
    stop = CancelToken()
    stop.asked = True
    with pytest.raises(RenderCancelled):
        render_loop(DEMO["undertow"], RenderCache(), stop)


def test_a_turned_control_makes_no_click():
    """Level, cutoff and pan turned at once, from quantum to quantum: no jump beyond the sound's own."""
    p = patch(
        layer(sources=[oscillator("sine")], stages=[{"kind": "filter", "id": "f", "name": "F", "cutoff": 2000.0}])
    )
    engine = Engine(p)
    own = np.abs(np.diff(engine.read(20 * QUANTUM))).max()
    parts = []
    for i in range(24):
        engine.update(
            edited(
                p,
                layers__one__level=-12.0 if i % 2 else 0.0,
                layers__one__stages__f__cutoff=300.0 if i % 3 else 9000.0,
                layers__one__pan=-60.0 if i % 2 else 60.0,
                layers__one__sources__a__level=-6.0 if i % 2 else 0.0,
                output__gain=-6.0 if i % 2 else 0.0,
            )
        )
        parts.append(engine.quantum())
    assert np.abs(np.diff(np.concatenate(parts, axis=1))).max() < 2.5 * own


def test_parts_added_and_taken_away_while_it_sounds():
    p = apply(DEMO["sluice-gate"], [Edit("movements", [])])
    engine = Engine(p)
    engine.read(5000)
    for paths in ("layers.edge.stages", "layers.body.sources", "worked", "layers.edge.chain"):
        engine.update(apply(p, [Edit(paths, [])]))
        assert np.isfinite(engine.read(4 * QUANTUM)).all()
        engine.update(p)
        assert np.isfinite(engine.read(4 * QUANTUM)).all()
    engine.update(apply(p, [Edit("layers", [p.layer("sub").model_dump()]), Edit("splits", []), Edit("movements", [])]))
    assert np.isfinite(engine.read(4 * QUANTUM)).all()


def test_a_hand_played_note_sounds_from_the_next_quantum():
    engine = Engine(patch(notes=[]), loop=False)
    assert np.abs(engine.read(4 * QUANTUM)).max() == 0.0
    engine.play(NoteEvent(engine.time, True, "hand-45", 45, 127))
    x = engine.read(8 * QUANTUM)
    assert np.abs(x).max() > 0.5
    engine.play(NoteEvent(engine.time, False, "hand-45", 45, 127))
    engine.read(8 * QUANTUM)
    assert np.abs(engine.read(4 * QUANTUM)).max() < 1e-6


def test_the_loop_joins_itself():
    """The same pass after pass: the rendered loop repeats what a long run plays, and its seam does not click."""
    # tables are chosen by the quantum, so that a fast drop in pitch is not the same to the last partial
    p = apply(DEMO["salt-press"], [Edit("movements", [m.model_dump() for m in DEMO["salt-press"].movements[:1]])])
    loop = render_loop(p).sum
    late = Engine(p).latency
    n = loop.shape[1]
    can_batch_when_steady = Engine(p).read(3 * n + late)[:, late:]
    assert can_batch_when_steady[:, 2 * n + 480 : 3 * n] == pytest.approx(loop[:, 480:], abs=5e-3)
    twice = np.concatenate([loop, loop], axis=1)
    step = np.abs(np.diff(twice))
    assert step[:, n - 1].max() <= step.max() * 0.5


def test_bars_repeat_or_cut_the_loop():
    p = patch(notes=[note(33, 0, 1)])
    one = render_bars(p, 1)
    assert one.shape == (2, 96000)
    assert np.array_equal(render_bars(p, 3), np.tile(one, (1, 3)))
