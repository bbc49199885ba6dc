"""Notes to voices: mono, legato, glide; and a layer's place in the sum: range, polarity, delay, width, paths."""

import numpy as np
import pytest

from kessel.engine import Engine, Schedule, loop_samples, render_loop
from kessel.measure import Spectrum, correlation, fit_tones

from ...making import RATE, edited, layer, note, oscillator, patch


def loop(p):
    return render_loop(p).sum


def level_at(x, hz):
    """Amplitude of a tone in a short stretch."""
    return float(np.abs(fit_tones(x[None, :], np.array([hz]))[0][0, 0]))


def hz(pitch):
    return 440 * 2 ** ((pitch - 69) / 12)


def test_the_last_note_has_priority_and_the_one_below_comes_back():
    notes = [note(33, 0, 2), note(45, 0.5, 0.5)]
    x = loop(patch(layer(play={"mode": "legato", "velocity": 0}), notes=notes))[0]
    beat = RATE // 2
    assert level_at(x[beat // 8 : beat // 2], hz(33)) > 0.9
    assert level_at(x[round(0.6 * beat) : round(0.95 * beat)], hz(45)) > 0.9
    assert level_at(x[round(1.1 * beat) : round(1.8 * beat)], hz(33)) > 0.9
    assert np.abs(x[round(2.2 * beat) :]).max() < 1e-6


@pytest.mark.parametrize("mode", ["mono", "legato"])
def test_mono_starts_anew_where_legato_slides_on(mode):
    env = {"attack": 0.5, "decay": 200.0, "sustain": -72.0, "release": 5.0, "decay_curve": 0}
    notes = [note(33, 0, 1.2), note(45, 1, 1)]
    x = loop(patch(layer(play={"mode": mode, "velocity": 0}, envelope=env), notes=notes))[0]
    second = np.abs(x[RATE // 2 + 480 : RATE // 2 + 4000]).max()
    assert (second > 0.5) == (mode == "mono")


@pytest.mark.parametrize("when", ["overlap", "always"])
@pytest.mark.parametrize("overlap", [True, False])
def test_glide_ends_on_the_pitch_and_only_when_asked(when, overlap):
    notes = [note(33, 0, 1.25 if overlap else 0.9), note(45, 1, 2)]
    play = {"mode": "legato", "glide": 200.0, "glide_when": when, "velocity": 0}
    x = loop(patch(layer(play=play), notes=notes))[0]
    start = RATE // 2
    # zero crossings count the cycles: a glide of 200 ms over an octave has fewer of them
    part = x[start + 100 : start + 9700]
    cycles = np.count_nonzero((part[:-1] < 0) & (part[1:] >= 0))
    glides = when == "always" or overlap
    assert cycles == pytest.approx(0.2 * 110 / (2 * np.log(2)) * 1.0 if glides else 22, abs=1.6)
    steady = x[start + 12000 : start + 36000]
    first, second = (fit_tones(p[None, :], np.array([110.0]))[0][0, 0] for p in (steady[:12000], steady[12000:]))
    drift = np.angle(second * np.conj(first) * np.exp(-2j * np.pi * 110.0 * 0.25))
    assert abs(1200 * np.log2(1 + drift / (2 * np.pi) / 0.25 / 110.0)) < 0.1


def test_velocity_softens_by_the_declared_amount():
    loud = loop(patch(layer(play={"velocity": 12.0}), notes=[note(33, 0, 4, 127)]))
    soft = loop(patch(layer(play={"velocity": 12.0}), notes=[note(33, 0, 4, 1)]))
    change = 20 * np.log10(np.abs(soft).max() / np.abs(loud).max())
    assert change == pytest.approx(-12 * 126 / 127, abs=0.05)


def test_free_phase_runs_on_and_restart_does_not():
    notes = [note(33, b, 0.5) for b in (0, 1, 2, 3)]

    def phases(start):
        x = loop(patch(layer(sources=[oscillator("sine", start=start)]), notes=notes, tempo=97.0))[0]
        beat = 60 * RATE / 97.0
        parts = [x[round(b * beat) + 2400 : round(b * beat) + 12000] for b in (1, 2, 3)]
        return np.array([np.angle(fit_tones(p[None, :], np.array([55.0]))[0][0, 0]) for p in parts])

    restart, free = phases("retrigger"), phases("free-running")
    assert np.ptp(np.unwrap(restart)) < 0.01
    turn = np.angle(np.exp(1j * (free[1:] - free[:-1] - 2 * np.pi * 55.0 * 60 / 97.0)))
    assert np.abs(turn).max() < 0.05


@pytest.mark.parametrize(("path", "value", "gain"), [("level", -6.0206, 0.5), ("polarity", "inverted", -1.0)])
def test_level_and_polarity(path, value, gain):
    p = patch(layer())
    changed = edited(p, **{f"layers__one__{path}": value})
    assert loop(changed) == pytest.approx(gain * loop(p), abs=1e-5)


def test_delay_holds_back_by_whole_samples():
    p = patch(layer(sources=[oscillator("saw")]))
    a, b = Engine(p).read(20000), Engine(edited(p, layers__one__delay=5.0)).read(20000)
    assert np.array_equal(b[:, 240:], a[:, :-240])


def test_a_muted_layer_is_absent_and_a_soloed_one_alone():
    two = layer("two", sources=[oscillator("saw", octave=1)])
    both, one, other = (loop(patch(*layers)) for layers in ((layer(), two), (layer(),), (two,)))
    assert both == pytest.approx(one + other, abs=2e-6)
    assert np.array_equal(loop(edited(patch(layer(), two), layers__two__mute=True)), one)
    engine = Engine(patch(layer(), two))
    engine.solo = frozenset({"one"})
    assert engine.read(9000) == pytest.approx(Engine(patch(layer())).read(9000), abs=1e-7)


def test_width_nothing_is_mono_and_pan_is_one_sided():
    wide = patch(layer(sources=[oscillator("saw")], unison={"copies": 5, "width": 100}, width=0.0))
    x = loop(wide)
    assert np.allclose(x[0], x[1], atol=1e-7)
    left = loop(patch(layer(pan=-100.0)))
    assert np.abs(left[1]).max() < 1e-6 < np.abs(left[0]).max()


def test_two_layers_split_between_them_add_up_to_the_whole():
    """Linkwitz-Riley edges: both sides of a split are in step and sum flat, only their phase is turned."""
    saw = [oscillator("saw", octave=-1)]
    low = layer("low", sources=saw, range={"high": 200.0})
    high = layer("high", sources=saw, range={"low": 200.0})
    parts = Spectrum.of(loop(patch(low, high, notes=[note(45, 0, 4)])), wrap=True)
    whole = Spectrum.of(loop(patch(layer(sources=saw), notes=[note(45, 0, 4)])), wrap=True)
    for k in range(1, 40):
        band = 55.0 * k * 0.99, 55.0 * k * 1.01
        assert 10 * np.log10(parts.power(*band) / whole.power(*band)) == pytest.approx(0.0, abs=0.05)


def test_all_paths_are_equally_late():
    """A distortion on one path holds the other back as well: two equal layers cancel to nothing."""
    drive = {"kind": "distortion", "id": "d", "name": "D", "on": False}
    a = layer("a")
    for b in (
        layer("b", polarity="inverted", path="worked"),
        layer("b", polarity="inverted", stages=[drive]),
        layer("b", polarity="inverted", chain=[drive, drive | {"id": "e"}]),
    ):
        assert np.abs(loop(patch(a, b, worked=[drive]))).max() < 1e-6


def test_an_item_that_is_off_is_absent_after_its_latency():
    items = [
        {"kind": "distortion", "id": "d", "name": "D", "on": False, "drive": 30.0},
        {"kind": "eq", "id": "q", "name": "Q", "on": False, "trim": -6.0, "bands": [{"id": "b", "gain": 9.0}]},
        {"kind": "filter", "id": "f", "name": "F", "on": False, "cutoff": 100.0},
    ]
    plain = layer(sources=[oscillator("saw")], path="worked")
    assert np.array_equal(loop(patch(plain, worked=items)), loop(patch(plain)))
    neutral = [{"kind": "eq", "id": "q", "name": "Q", "bands": [{"id": "b", "gain": 0.0}]}]
    assert np.array_equal(loop(patch(plain, worked=neutral)), loop(patch(plain)))


def test_mono_fold_takes_the_side_and_leaves_the_middle():
    wide = layer(sources=[oscillator("saw")], unison={"copies": 7, "detune": 30, "width": 100})
    open_, folded = (
        loop(patch(wide, output={"ceiling": {"on": False}, "fold": f, "mono_below": 150.0})) for f in (False, True)
    )
    assert folded[0] + folded[1] == pytest.approx(open_[0] + open_[1], abs=1e-9)
    low = Spectrum.of(folded, wrap=True)
    assert low.power(20, 70) - low.power(20, 70, "mid") < 1e-4 * low.power(20, 70)
    assert correlation(folded) < 0.999


def test_a_movement_goes_where_it_says():
    """The travel the engine reports is what was asked: an envelope lifts a cutoff by two octaves and lets it fall."""
    stage = {"kind": "filter", "id": "f", "name": "F", "cutoff": 200.0}
    p = patch(
        layer(sources=[oscillator("saw")], stages=[stage]),
        notes=[note(33, 0, 3)],
        movers=[{"kind": "envelope", "id": "e", "name": "E", "attack": 100.0, "decay": 300.0, "sustain": 25.0}],
        movements=[{"id": "m", "mover": "e", "target": "layers.one.stages.f.cutoff", "amount": 2.0}],
    )
    path = render_loop(p).travel["layers.one.stages.f.cutoff"]
    assert 2 ** np.nanmax(path) == pytest.approx(800.0, rel=0.02)
    assert 2 ** path[120] == pytest.approx(200.0 * 2**0.5, rel=0.01)


@pytest.mark.parametrize("clock", [{"clock": "beats", "length": 1.0}, {"clock": "Hz", "rate": 2.0}])
def test_an_lfo_swings_in_step(clock):
    p = patch(
        layer(),
        movers=[{"kind": "lfo", "id": "l", "name": "L", "shape": "sine", "restart": "phrase"} | clock],
        movements=[
            {"id": "m", "mover": "l", "target": "layers.one.sources.a.level", "amount": -20.0, "both_ways": True}
        ],
    )
    path = render_loop(p).travel["layers.one.sources.a.level"]
    t = np.arange(path.size) * 256 / RATE
    want = np.clip(-20 * np.sin(2 * np.pi * 2.0 * t), None, 12.0)
    assert path[10:-10] == pytest.approx(want[10:-10], abs=0.2)


def test_the_schedule_repeats_both_ways():
    s = Schedule(patch(notes=[note(33, 1, 1)]).phrase, 120.0)
    assert s.length == loop_samples(patch().phrase, 120.0) == 96000
    assert [e.at for e in s.between(-96000, 2 * 96000) if e.on] == [-72000, 24000, 120000]
    assert s.position(-1) == 95999
    assert [e.note for e in s.sounding(30000)] == ["n100p33"]
