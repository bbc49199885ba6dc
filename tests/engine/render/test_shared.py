"""What a copy of this process renders too: the same samples, and a rendering that ends when it is told to."""

import numpy as np
import pytest

from kessel.checks import Limits, check, with_harms
from kessel.checks.evidence import Evidence
from kessel.checks.playback import strike_keys
from kessel.demo import demo_patches
from kessel.engine import CancelToken, RenderCache, RenderCancelled, render_loop
from kessel.engine.render import layers
from kessel.patch import Edit, apply
from kessel.processes import can_share

from ...making import layer, note, oscillator, patch

pytestmark = pytest.mark.skipif(not can_share(), reason="one processor, or a system without copies")
KEYS = [26, 29, 33, 36, 41, 45, 48]


@pytest.fixture(autouse=True)
def always_worth_it(monkeypatch):
    monkeypatch.setattr(layers, "_WORTH", 0)


def same(one, two):
    assert np.array_equal(one.sum, two.sum) and np.array_equal(one.worked, two.worked)
    assert one.layers.keys() == two.layers.keys() and one.meters.keys() == two.meters.keys()
    assert all(np.array_equal(one.layers[i], two.layers[i]) for i in one.layers)
    for a, b in ((one.meters, two.meters), (one.travel, two.travel), (one.traces, two.traces)):
        assert a.keys() == b.keys() and all(np.array_equal(a[k], b[k], equal_nan=True) for k in a)


@pytest.mark.parametrize("slug", ["sluice-gate", "mud-lantern", "undertow"])
def test_a_patch_sounds_the_same_and_so_do_edits_of_it(slug):
    made = demo_patches()[slug]
    cache = RenderCache(shares=True)
    same(render_loop(made), render_loop(made, cache))
    edited = apply(made, [Edit(f"layers.{made.layers[0].id}.envelope.release", 77.0), Edit("tempo", 121.0)])
    same(render_loop(edited), render_loop(edited, cache))


def test_a_layer_that_follows_another_one_waits_for_it():
    follower = {"id": "f", "name": "F", "kind": "follower", "layer": "two"}
    movement = {"id": "m", "mover": "f", "target": "layers.one.sources.a.level", "amount": 0.3}
    made = patch(
        layer("one", sources=[oscillator("saw")]),
        layer("two", sources=[oscillator("saw", octave=1)]),
        layer("three", sources=[oscillator("sine")]),
        notes=[note(33, 0, 1), note(40, 2, 1)],
        movers=[follower],
        movements=[movement],
    )
    same(render_loop(made), render_loop(made, RenderCache(shares=True)))


def test_keys_and_fixes_are_found_alike():
    made = demo_patches()["undertow"]
    one, two = Evidence(made, RenderCache()), Evidence(made, RenderCache(shares=True))
    found = check(one)
    assert any(f.fixes for f in found if f.verdict != "holds")
    assert with_harms(found, one) == with_harms(found, two)
    assert strike_keys(made, KEYS, Limits()) == strike_keys(made, KEYS, Limits(), RenderCache(shares=True))


def test_it_ends_when_it_is_told_to():
    class Stop(CancelToken):
        ticks = 0

        def tick(self, samples):
            self.ticks += 1
            self.asked = self.ticks > 40

    with pytest.raises(RenderCancelled):
        render_loop(demo_patches()["sluice-gate"], RenderCache(shares=True), Stop())
