"""What moves, held against what can be heard: each fault is found, cured by its fix, and not seen where it is not."""

import pytest

from kessel.checks import Evidence, Limits, check
from kessel.engine import RenderCache
from kessel.patch import apply

from ...making import edited, layer, note, oscillator, patch

TAKES = RenderCache()
SLOW = {"kind": "envelope", "id": "e", "name": "Bloom", "attack": 400.0, "attack_curve": 0.0}
SNAP = {"kind": "envelope", "id": "e", "name": "Snap", "attack": 1.0, "decay": 80.0}
SHORT = [note(33, 0, 0.25), note(33, 1, 2)]


def filtered(**words):
    stage = {"kind": "filter", "id": "f", "name": "Lid", "slope": "12", "cutoff": 400.0}
    return layer(sources=[oscillator("saw", level=-12.0)], stages=[stage | words])


def moved(mover, amount, *layers, target="layers.one.stages.f.cutoff", **words):
    moves = [{"id": "m", "mover": mover["id"], "target": target, "amount": amount}]
    return patch(*(layers or (filtered(),)), movers=[mover], movements=moves, **words)


def of(p, slug):
    return [f for f in check(Evidence(p, TAKES)) if f.check == slug]


def cured(p, slug):
    """The one finding of a kind, whose first fix cures it and harms no other."""
    (found,) = of(p, slug)
    assert found.verdict != "holds" and found.fixes
    better = apply(p, found.fixes[0].edits)
    assert of(better, slug) == []
    # how loud it is changes with what is heard
    worse = {f.check for f in check(Evidence(better, TAKES)) if f.verdict != "holds"} - {"loudness"}
    assert worse <= {f.check for f in check(Evidence(p, TAKES)) if f.verdict != "holds"}
    return found


def test_a_travel_where_nothing_sounds():
    sine = layer(
        sources=[oscillator("sine", level=-12.0)],
        stages=[{"kind": "filter", "id": "f", "name": "Lid", "slope": "12", "cutoff": 9000.0}],
    )
    p = moved(SNAP, 0.9, sine)
    found = cured(p, "idle-movement")
    assert found.title == "The movement of One Lid cutoff can't be heard" and found.value < -40
    assert found.where.path == "layers.one.stages.f.cutoff" and found.fixes[0].after > -40
    assert of(moved(SNAP, 2.0), "idle-movement") == []


def test_a_movement_that_goes_nowhere():
    (found,) = of(moved(SNAP, 0.01), "idle-movement")
    assert "Snap moves it only between 400 Hz" in found.text
    # a wheel that nobody turns is no fault
    wheel = {"kind": "performance", "id": "e", "name": "Wheel", "what": "wheel"}
    assert of(moved(wheel, 2.0), "idle-movement") == []


def test_a_note_that_ends_before_its_level_opens():
    slow = layer(envelope={"attack": 500.0, "attack_curve": 0.0, "release": 5.0}, sources=[oscillator(level=-12.0)])
    p = patch(slow, notes=SHORT)
    found = cured(p, "short-notes")
    # 125 ms of 500
    assert found.value == pytest.approx(-12.04, abs=0.1) and found.where.note == "A1"
    assert of(patch(slow, notes=[note(33, 0, 3)]), "short-notes") == []
    assert (
        check(Evidence(p, TAKES), Limits(opening_db=13.0))
        and [f for f in check(Evidence(p, TAKES), Limits(opening_db=13.0)) if f.check == "short-notes"] == []
    )


def test_a_note_that_ends_before_its_filter_opens():
    found = cured(moved(SLOW, 2.0, notes=SHORT), "short-notes")
    assert found.value == pytest.approx(31.25, abs=0.5) and "Bloom is too slow" in found.title
    assert of(moved(SNAP, 2.0, notes=SHORT), "short-notes") == []


@pytest.mark.parametrize(("mode", "glide", "better"), [("mono", 80.0, "legato"), ("legato", 0.0, "mono")])
def test_movements_that_restart_against_the_play_style(mode, glide, better):
    notes = [note(33, 0, 1.5), note(36, 1, 1)]
    one = filtered() | {"play": {"velocity": 0.0, "mode": mode, "glide": glide}}
    p = moved(SNAP, 2.0, one, notes=notes)
    found = cured(p, "restarts")
    assert found.fixes[0].label == f"Play One {better}" and found.value == 1
    apart = edited(p, phrase__notes=[note(33, 0, 1), note(36, 1, 1)])
    assert of(apart, "restarts") == []


@pytest.mark.parametrize(
    "mover",
    [
        {"kind": "lfo", "id": "e", "name": "L", "shape": "saw up", "length": 3.0, "restart": "phrase"},
        {"kind": "lfo", "id": "e", "name": "L", "clock": "Hz", "rate": 0.7, "shape": "saw down", "restart": "phrase"},
        {"kind": "lfo", "id": "e", "name": "L", "length": 3.0, "restart": "free"},
        {"kind": "curve", "id": "e", "name": "L", "length": 3.0, "restart": "phrase", "play": "loop"},
        {"kind": "macro", "id": "e", "name": "L", "drawn": True, "bars": 3,
         "points": [{"at": 0, "value": 0}, {"at": 1, "value": 1}]},
    ],
    ids=lambda m: f"{m['kind']}-{m.get('clock', '')}{m.get('restart', '')}",
)  # fmt: skip
def test_a_swing_that_does_not_come_round(mover):
    found = cured(moved(mover, 1.0), "loop-jump")
    assert found.title == "L is not in sync with the loop" and "times per loop" in found.text
    steady = {"kind": "lfo", "id": "e", "name": "L", "length": 2.0, "restart": "phrase"}
    assert of(moved(steady, 1.0), "loop-jump") == []
    # one that begins with every note has nothing to come round with
    assert of(moved(steady | {"length": 3.0, "restart": "note"}, 1.0), "loop-jump") == []


def test_a_stage_that_shuts_the_fundamental_away():
    vowel = {"kind": "vowel", "id": "v", "name": "Vowel", "opening": 0.0, "tongue": 0.0, "mix": 100.0}
    p = patch(layer(sources=[oscillator("saw", level=-6.0)], stages=[vowel]))
    found = cured(p, "fundamental-shut")
    assert found.verdict == "fails" and "55 Hz" in found.text and found.where.layers == ("one",)
    # a sub that carries it makes it no fault
    both = patch(
        layer("sub", sources=[oscillator("sine")]), layer(sources=[oscillator("saw", level=-12.0)], stages=[vowel])
    )
    assert of(both, "fundamental-shut") == []


def test_a_resonance_over_the_clip_point():
    loud = filtered(resonance=24.0, cutoff=220.0) | {"sources": [oscillator("saw", level=0.0)]}
    p = patch(loud)
    found = cured(p, "stage-clips")
    assert "resonates" in found.title and "of which resonance adds" in found.text
    assert found.value > 3 and found.fixes[0].after <= 0
    assert of(p, "resonance-clips") == []
    assert of(patch(filtered(resonance=6.0)), "resonance-clips") == []
    # a loud source, of whose peak the resonance adds little: it does not ring
    hot = filtered(resonance=4.0, cutoff=6000.0) | {"sources": [oscillator("saw", level=9.0)]}
    (plain,) = of(patch(hot), "stage-clips")
    assert "first stage" in plain.title and of(patch(hot), "resonance-clips") == []
