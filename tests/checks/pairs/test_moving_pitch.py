"""Pairs whose pitch bends, glides or is moved add up as they would at an even pitch."""

import numpy as np
import pytest

from kessel.checks import Evidence, check, pairs_of

from ...making import layer, note, oscillator, patch

DROP = [{"beat": 0.0, "value": 0.0}, {"beat": 0.5, "value": 0.0}, {"beat": 3.5, "value": -1.0}]
SWAY = {"kind": "lfo", "id": "v", "name": "V", "length": 1.0}
FALL = {"kind": "envelope", "id": "f", "name": "F", "attack": 0.5, "decay": 300.0, "sustain": 0.0}


def pair(degrees, ranges=(12, 12), **words):
    play = words.pop("play", {})
    return patch(
        layer("sub", level=-12.0, play={"bend_range": ranges[0], **play}),
        layer("body", sources=[oscillator("sine", phase=degrees)], level=-12.0, play={"bend_range": ranges[1], **play}),
        **{"notes": [note(33, 0, 4)]} | words,
    )


def moved(mover, amount, name="semitones"):
    targets = [f"layers.{x}.sources.a.{name}" for x in ("sub", "body")]
    return {
        "movers": [mover],
        "movements": [
            {"id": f"m{n}", "mover": mover["id"], "target": t, "amount": amount} for n, t in enumerate(targets)
        ],
    }


WAYS = {
    "a bend of an octave": {"phrase": {"bars": 1, "notes": [note(45, 0, 4)], "bend": DROP}},
    "a glide over the whole note": {
        "notes": [note(33, 0, 2.2), note(45, 2, 2)],
        "play": {"mode": "legato", "glide": 900.0},
    },
    "vibrato of a semitone": {"notes": [note(45, 0, 4)]} | moved(SWAY, 1.0),
    "a pitch drop at the start": {"notes": [note(40, 0, 4)]} | moved(FALL, 12.0),
}


@pytest.mark.parametrize("degrees", [0.0, 60.0, 120.0, 170.0])
@pytest.mark.parametrize("way", WAYS)
def test_two_sines_lose_what_the_closed_form_says(way, degrees):
    (found,) = pairs_of(Evidence(pair(degrees, **WAYS[way]), seeks=False))
    want = 20 * np.log10(np.cos(np.radians(degrees) / 2))
    assert not found.apart
    assert found.worst.sum_loss == pytest.approx(want, abs=0.15 if degrees < 150 else 0.6)
    assert abs(found.worst.phase) == pytest.approx(degrees, abs=1.5)


def test_layers_that_bend_apart_are_beside_each_other_only_while_they_do():
    """One of two stays while the other falls by an octave: what they lose is what they lose until it leaves."""
    phrase = {"bars": 1, "notes": [note(45, 0, 4)], "bend": [{"beat": 0.0, "value": 0.0}, {"beat": 2.0, "value": 0.0},
              {"beat": 2.2, "value": -1.0}, {"beat": 4.0, "value": -1.0}]}  # fmt: skip
    beside = pairs_of(Evidence(pair(120.0, (12, 12), phrase=phrase), seeks=False))[0].worst.sum_loss
    apart = pairs_of(Evidence(pair(120.0, (12, 0), phrase=phrase), seeks=False))[0].worst.sum_loss
    assert beside == pytest.approx(-6.0, abs=0.1)
    assert apart == pytest.approx(-6.0, abs=0.15)
    # leaving at once, they are never beside each other, and there is nothing to judge
    gone = phrase | {"bend": [{"beat": 0.0, "value": -1.0}, {"beat": 4.0, "value": -1.0}]}
    assert pairs_of(Evidence(pair(120.0, (12, 0), phrase=gone), seeks=False)) == []


def test_a_pitch_drop_is_followed_in_short_notes_of_rich_waves():
    """Saws that fall by an octave in 60 ms, struck in sixteenths: the octave above is no way round it."""
    drop = {"kind": "envelope", "id": "d", "name": "D", "attack": 0.5, "decay": 60.0, "sustain": 0.0}
    moves = [
        {"id": f"m{n}", "mover": "d", "target": f"layers.{x}.play.pitch", "amount": 12.0}
        for n, x in enumerate(("sub", "body"))
    ]
    saws = [layer(x, level=-12.0, sources=[oscillator("saw")]) for x in ("sub", "body")]
    notes = [note(33, 0.5 * i, 0.45) for i in range(8)]
    (found,) = pairs_of(Evidence(patch(*saws, notes=notes, movers=[drop], movements=moves), seeks=False))
    assert found.worst.sum_loss > -0.1 and found.coherence > 0.95


def test_a_cure_of_a_bending_pair_is_one():
    p = pair(180.0, phrase={"bars": 1, "notes": [note(45, 0, 4)], "bend": DROP})
    (found,) = (f for f in check(Evidence(p)) if f.check == "layers-add-up")
    assert found.verdict == "fails" and found.fixes[0].after >= -1.5
