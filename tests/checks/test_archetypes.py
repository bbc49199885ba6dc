"""Basses as they should be fail nothing, and faulty ones are found: measured again on the rendered sound alone."""

import numpy as np
import pytest

from kessel.checks import Evidence, check
from kessel.engine import render_loop

from ..making import layer, note, oscillator, patch
from .archetypes import ARCHETYPES, archetype

RATE = 48000
F1 = 440.0 * 2.0 ** ((29 - 69) / 12)


@pytest.mark.parametrize("long", [True, False], ids=["long", "short"])
@pytest.mark.parametrize("name", ARCHETYPES)
def test_a_good_bass_fails_nothing(name, long):
    found = check(Evidence(archetype(name, long), seeks=False))
    assert [(f.check, f.text) for f in found if f.verdict == "fails"] == []
    assert next(f for f in found if f.check == "beats").verdict == "holds"


def sub(**words):
    return layer("sub", level=-9.0, envelope={"attack": 2.0, "sustain": 0.0, "release": 10.0}, **words)


def body(source, **words):
    return sub() | {"id": "body", "name": "Body", "level": -9.0, "sources": [source]} | words


def faulty(*layers, **words):
    return patch(*layers, notes=[note(29, 0, 3.9)], **({"tempo": 60.0} | words))


def lows(p):
    """The mid signal of a rendered patch below 120 Hz, and its RMS in dB every 30 ms within the note."""
    x = render_loop(p).sum.mean(axis=0)
    f = np.fft.rfft(x)
    f[np.fft.rfftfreq(x.size, 1 / RATE) > 120.0] = 0
    low = np.fft.irfft(f, x.size)[round(0.1 * RATE) : round(3.7 * RATE)]
    rows = low[: low.size // 1440 * 1440].reshape(-1, 1440)
    return low, 10 * np.log10(np.maximum(np.square(rows).mean(axis=1), 1e-14))


def partial(x, hz):
    """Amplitude of a sine in x, by projection over whole periods."""
    n = round(int(x.size * hz / RATE) * RATE / hz)
    t = np.arange(n) / RATE
    return abs(2 * np.mean(x[:n] * np.exp(-2j * np.pi * hz * t)))


@pytest.mark.parametrize("cents", [12.0, 20.0, 35.0])
def test_lows_that_swing_within_a_note_fail_and_the_cure_steadies_them(cents):
    p = faulty(sub(), body(oscillator(cents=cents)))
    _, db = lows(p)
    assert np.percentile(db, 95) - np.percentile(db, 5) > 9.0
    bad = [f for f in check(Evidence(p)) if f.check in ("beats", "layers-add-up") and f.verdict == "fails"]
    assert len(bad) == 1 and "beat" in f"{bad[0].title} {bad[0].text}"
    cure = bad[0].fixes[0]
    assert "detune" in cure.label
    _, after = lows(Evidence(p).with_edits(cure.edits).patch)
    assert np.percentile(after, 95) - np.percentile(after, 5) < 1.0 and after.mean() > db.mean()


def test_copies_that_beat_in_the_lows_of_a_single_layer_are_found():
    p = faulty(body(oscillator("saw"), unison={"copies": 7, "detune": 20.0, "width": 0.0, "phases": "even"}))
    alone, _ = lows(faulty(body(oscillator("saw"))))
    _, db = lows(p)
    found = next(f for f in check(Evidence(p)) if f.check == "beats")
    assert found.verdict == "fails" and found.fixes and not found.fixes[0].helps
    # a tenth of the note lies as far under one copy as the check says
    one = 10 * np.log10(np.square(alone).mean())
    assert np.percentile(db, 10) - one == pytest.approx(found.value, abs=1.5)


def test_a_fundamental_that_a_stage_takes_or_a_fader_at_off_leaves_out_is_missed():
    off = faulty(sub() | {"level": -72.0}, body(oscillator("saw"), range={"low": 160, "high": 20000}))
    x = render_loop(off).sum.mean(axis=0)[round(0.2 * RATE) : round(3.5 * RATE)]
    under = 20 * np.log10(max(partial(x, k * F1) for k in (2, 3, 4)) / partial(x, F1))
    found = next(f for f in check(Evidence(off)) if f.check == "hollow")
    assert found.verdict == "fails" and found.value == pytest.approx(under, abs=0.5)
    assert found.fixes[0].label.startswith("Open Sub") and not found.fixes[0].helps


def test_a_source_that_only_a_macro_opens_is_judged():
    opened = {
        "movers": [{"kind": "macro", "id": "m", "name": "M", "value": 100.0}],
        "movements": [{"id": "v", "mover": "m", "target": "layers.body.sources.a.level", "amount": 72.0}],
    }
    p = faulty(sub(), body(oscillator(cents=35.0, level=-72.0)), **opened)
    assert {f.check for f in check(Evidence(p, seeks=False)) if f.verdict == "fails"} == {"beats"}
    shut = p.model_copy(update={"movements": []})
    assert not [f for f in check(Evidence(shut, seeks=False)) if f.verdict == "fails"]


def test_what_nobody_hears_cannot_fail():
    quiet = body(oscillator(polarity="inverted")) | {"level": -50.0}
    p = faulty(sub(), quiet)
    change = [20 * np.log10(partial(lows(faulty(*x))[0], F1)) for x in ((sub(),), (sub(), quiet))]
    assert abs(change[0] - change[1]) < 0.1
    assert not [f for f in check(Evidence(p, seeks=False)) if f.verdict == "fails"]


def test_a_fundamental_below_what_is_heard_is_said_to_be():
    found = next(f for f in check(Evidence(patch(sub(), notes=[note(14, 0, 3.9)]), seeks=False)) if f.check == "hollow")
    assert found.verdict == "look" and "18.4 Hz" in found.text


def test_dc_at_the_output_is_found_and_cured():
    # a sine that modulates a sine of its own pitch leaves a sideband at 0 Hz: the Bessel function J1 of its depth
    carrier = oscillator(phase=90.0, modulators=[{"id": "x", "source": "b", "mode": "phase", "depth": 90.0}])
    p = faulty(body(carrier, sources=[carrier, oscillator(id="b", name="B", to="modulates only")]))
    x = render_loop(p).sum[:, round(0.2 * RATE) :]
    whole = round(100 * RATE / F1)
    dc = abs(x[:, :whole].mean(axis=1)).max()
    found = next(f for f in check(Evidence(p)) if f.check == "dc-offset")
    assert found.verdict == "fails" and found.value == pytest.approx(20 * np.log10(dc), abs=0.2)
    after = render_loop(Evidence(p).with_edits(found.fixes[0].edits).patch).sum[:, round(0.6 * RATE) :]
    assert abs(after[:, :whole].mean(axis=1)).max() < 1e-3


def test_a_layer_that_the_rest_buries_is_named_and_can_be_raised():
    loud = body(oscillator("saw")) | {"level": -6.0}
    buried = body(oscillator("saw")) | {"id": "under", "name": "Under", "level": -40.0}
    found = next(f for f in check(Evidence(faulty(loud, buried))) if f.check == "masked")
    assert found.verdict == "look" and "by Body" in found.text and found.where.layers == ("under",)
    (fix,) = found.fixes
    raised = Evidence(faulty(loud, buried)).with_edits(fix.edits)
    assert next(f for f in check(raised) if f.check == "masked").verdict == "holds"
    assert -16.0 < raised.patch.layer("under").level + 10.0 < -4.0


def test_a_pair_that_is_weak_at_its_shared_pitch_is_judged_without_trouble():
    saws = [oscillator("saw", semitones=7.0), oscillator("saw", id="b", name="B", semitones=7.0, cents=15.0)]
    p = patch(
        layer("sub", level=0.0),
        layer("body", level=-14.0, sources=saws, range={"low": 110.0, "high": 20000.0}),
        notes=[note(28, 0, 3.9)],
    )
    assert next(f for f in check(Evidence(p, seeks=False)) if f.check == "beats").verdict == "holds"
