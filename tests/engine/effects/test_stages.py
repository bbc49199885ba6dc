"""Voice stages as they run: against their analytic curves, and at the edge of what may be asked."""

import numpy as np
import pytest

from kessel.engine.effects.base import VoiceContext
from kessel.engine.effects.registry import latency_of, processor_of
from kessel.engine.effects.responses import complex_response
from kessel.engine.modulation.parameters import ModulationInput
from kessel.patch import AllpassRow, Comb, Distortion, Filter, Ladder, Vowel, declarations
from kessel.patch.controls import Choice, Control

from ...making import RATE

QUANTUM = 1024
FLAT = {"id": "it", "name": "It"}

PARTS = [
    *(
        Filter(**FLAT, type=kind, slope=slope, cutoff=cutoff, resonance=resonance, morph=30.0)
        for kind in ("low-pass", "high-pass", "band-pass", "notch", "peak", "morph")
        for slope in ("6", "12", "24")
        for cutoff, resonance in ((70.0, 0.0), (900.0, 15.0), (9000.0, 30.0))
    ),
    *(Filter(**FLAT, type="morph", morph=m, cutoff=500.0, resonance=6.0) for m in (0.0, 50.0, 80.0, 100.0)),
    Filter(**FLAT, cutoff=400.0, resonance=9.0, mix=40.0),
    *(Ladder(**FLAT, cutoff=c, resonance=r, lows=k) for c, r, k in ((80, 0, 0), (700, 24, 50), (6000, 12, 100))),
    *(
        Comb(**FLAT, tuned="Hz", cutoff=c, feedback=f, damping=d, mix=100.0)
        for c, f, d in ((55.3, 90, 20000), (261.7, -95, 6000), (1777.0, 70, 20000), (3800.0, -60, 900))
    ),
    Comb(**FLAT, tuned="note", interval=7.0, feedback=80.0),
    *(Vowel(**FLAT, opening=o, tongue=t, speaker=s, sharpness=200.0) for o, t, s in ((0, 0, "deep"), (100, 86, "bright"))),
    Vowel(**FLAT, opening=35.0, tongue=60.0, size=140.0, spread=60.0, trim=-3.0, mix=60.0),
    *(AllpassRow(**FLAT, stages=n, cutoff=c, feedback=f) for n, c, f in ((2, 200, 0), (6, 900, 60), (11, 4000, -80))),
]  # fmt: skip


def through(part, x, voice=None):
    processor = processor_of(part)
    state = processor.state()
    out = x.copy()
    for at in range(0, x.shape[1], QUANTUM):
        processor.tick()
        block = np.ascontiguousarray(out[:, at : at + QUANTUM])
        processor.process(block, 0, QUANTUM, state, voice or VoiceContext())
        out[:, at : at + QUANTUM] = block
    return out


@pytest.mark.parametrize("part", PARTS, ids=lambda p: f"{p.kind}-{getattr(p, 'type', '')}-{getattr(p, 'cutoff', 0):g}")
def test_static_response_is_the_analytic_curve(part):
    n, small = 1 << 17, 1e-5
    x = np.zeros((1, n))
    x[0, 0] = small
    got = np.fft.rfft(through(part, x)[0] / small)[1:]
    hz = np.fft.rfftfreq(n, 1 / RATE)[1:]
    inside = hz < 0.4 * RATE
    want = complex_response(part, hz[inside])
    loud = np.abs(want) > 1e-4
    assert np.abs(20 * np.log10(np.abs(got[inside][loud] / want[loud]))).max() < 0.1


def test_key_follow_keeps_the_tone():
    part = Ladder(**FLAT, cutoff=300.0, resonance=18.0, key_follow=100.0)
    x = np.zeros((1, 1 << 15))
    x[0, 0] = 1e-5
    hz = np.fft.rfftfreq(1 << 15, 1 / RATE)
    peaks = [
        hz[np.abs(np.fft.rfft(through(part, x, VoiceContext(octaves=octaves))[0])).argmax()]
        for octaves in (-1.0, 0.0, 2.0)
    ]
    assert peaks[1] == pytest.approx(300.0, rel=0.05)
    assert peaks[0] / peaks[1] == pytest.approx(0.5, rel=0.01)
    assert peaks[2] / peaks[1] == pytest.approx(4.0, rel=0.01)


def test_a_comb_tuned_to_the_note_rings_at_the_note():
    part = Comb(**FLAT, tuned="note", feedback=97.0, damping=20000.0, mix=100.0)
    rng = np.random.default_rng(3)
    x = 0.1 * rng.standard_normal((1, 1 << 16))
    for semitones in (0, 9, 22):
        y = through(part, x, VoiceContext(octaves=semitones / 12))[0][RATE // 2 :]
        hz = np.fft.rfftfreq(y.size, 1 / RATE)
        near = (hz > 40) & (hz < 300)
        found = hz[near][np.abs(np.fft.rfft(y * np.hanning(y.size)))[near].argmax()]
        note = 440.0 * 2 ** ((36 + semitones - 69) / 12)
        times = round(found / note)
        assert found == pytest.approx(times * note, abs=1.0)


def test_vowels_stand_where_they_were_measured():
    from kessel.dsp.filters.formants import VOWELS, formants

    for v in VOWELS:
        log_hz, db = formants("middle", np.array([v.opening]), np.array([v.tongue]))
        assert 2.0 ** log_hz[:, 0] == pytest.approx(v.hz[1], rel=0.002)
        assert db[:, 0] == pytest.approx(v.db, abs=0.1)


def test_no_drive_is_no_edge_and_drive_adds_odd_partials():
    t = np.arange(1 << 15) / RATE
    x = np.tile(0.5 * np.sin(2 * np.pi * 93.75 * t), (1, 1))
    level = []
    for drive in (0.0, 24.0):
        y = through(Filter(**FLAT, cutoff=8000.0, slope="12", drive=drive), x)[0][-(1 << 14) :]
        f = np.abs(np.fft.rfft(y))
        bin_ = round(93.75 * y.size / RATE)
        level.append(20 * np.log10(f[3 * bin_] / f[bin_]))
    assert level[0] < -100 and level[1] > -20


def test_no_stage_explodes_under_movement_at_audio_rate():
    """10,000 random settings, every control moved at random from sample to sample at its widest."""
    rng = np.random.default_rng(11)
    kinds = [Filter, Ladder, Comb, Vowel, AllpassRow, Distortion]
    inputs = [
        rng.uniform(-1, 1, (1, QUANTUM)),
        np.zeros((1, QUANTUM)),
        np.ones((1, QUANTUM)),
        np.sign(np.sin(np.arange(QUANTUM) * 0.05))[None, :],
    ]
    loudest = 0.0
    for _ in range(500):
        kind = kinds[rng.integers(len(kinds))]
        part, controls = random_part(kind, rng)
        processor = processor_of(part)
        for name, parameter in processor.parameters.items():
            wide = parameter.control.to_scale(parameter.control.high) - parameter.control.to_scale(
                parameter.control.low
            )
            if rng.random() < 0.7 and controls[name].moves:
                parameter.movements = [ModulationInput("m", wide, both_ways=True, is_bipolar=True)]
        state = processor.state()
        for step in range(20):
            for name, parameter in processor.parameters.items():
                parameter.turn(parameter.control.at(rng.random()) if name != "mix" else 100.0)
            processor.tick()
            x = inputs[rng.integers(len(inputs))].copy()
            movers = {
                "m": rng.uniform(-1, 1, QUANTUM) if step % 2 else np.sign(np.sin(np.arange(QUANTUM) * rng.random()))
            }
            processor.process(x, 0, QUANTUM, state, VoiceContext(movers, octaves=rng.uniform(-2, 4)))
            assert np.isfinite(x).all(), part
            loudest = max(loudest, float(np.abs(x).max()))
    assert loudest < 1e4


def random_part(kind, rng):
    controls = declarations(kind)
    words = {}
    for name, c in controls.items():
        if isinstance(c, Choice):
            words[name] = c.options[rng.integers(len(c.options))]
        elif isinstance(c, Control):
            value = [c.low, c.high, c.at(rng.random())][rng.integers(3)]
            words[name] = int(value) if c.whole else value
    return kind(**FLAT, **words), controls


@pytest.mark.parametrize("curve", ["soft", "tube", "one-sided", "hard", "fold", "wrap", "crush"])
def test_a_distortion_that_is_off_is_the_sound_late_by_what_it_declares(curve):
    rng = np.random.default_rng(6)
    x = rng.uniform(-1, 1, (2, 4 * QUANTUM))
    part = Distortion(**FLAT, curve=curve, on=False)
    late = latency_of(part)
    assert np.array_equal(through(part, x)[:, late:], x[:, :-late])
    # and it comes and goes without a jump larger than its own
    processor = processor_of(Distortion(**FLAT, curve=curve, drive=6.0))
    state, out = processor.state(), []
    t = np.arange(8 * QUANTUM) / RATE
    sine = np.tile(0.3 * np.sin(2 * np.pi * 60 * t), (2, 1))
    for n in range(8):
        processor.update(Distortion(**FLAT, curve=curve, drive=6.0, on=n % 4 < 2))
        processor.tick()
        block = np.ascontiguousarray(sine[:, n * QUANTUM : (n + 1) * QUANTUM])
        processor.process(block, 0, QUANTUM, state, VoiceContext())
        out.append(block)
    assert np.abs(np.diff(np.concatenate(out, axis=1))).max() < 0.03


@pytest.mark.parametrize("kind", [Filter, Ladder, Comb, Vowel, AllpassRow])
def test_off_is_as_if_it_were_not_there(kind):
    rng = np.random.default_rng(5)
    x = rng.uniform(-1, 1, (2, 4 * QUANTUM))
    assert np.array_equal(through(kind(**FLAT, on=False), x), x)
    assert not np.array_equal(through(kind(**FLAT), x), x)
