"""What shapes a cycle, what works on other sources, noise and recordings: against closed forms."""

import numpy as np
import pytest
from scipy.signal import sosfilt, zpk2sos
from scipy.special import jv

from kessel.dsp.chance import sign
from kessel.dsp.sources.clicks import click, hat, kick, snare
from kessel.dsp.sources.cycles import Cycle, partials_of, points_of
from kessel.dsp.sources.noise import PINK, STATE, WHITE, noise
from kessel.dsp.sources.playback import play, region_of
from kessel.dsp.sources.stock_waves import stock_partials
from kessel.engine import Engine
from kessel.measure import fit_tones
from kessel.patch import CLICKS, STOCK

from ..making import RATE, alias_db, layer, note, oscillator, patch
from .sources.test_sources import sounded


def partials(x, hz, count=12, most=60):
    return fit_tones(x[None, :], hz * np.arange(1, most))[0][0, :count]


@pytest.mark.parametrize("ratio", [1.0, 2.0, 3.0])
@pytest.mark.parametrize("pitch", [33, 57])
@pytest.mark.parametrize("shape", ["saw", "pulse", "triangle"])
def test_alias_of_rich_carriers_deep_in_fm(shape, pitch, ratio):
    carrier = oscillator(shape, modulators=[{"id": "m", "source": "b", "depth": 180}])
    swept = sounded([carrier, oscillator("sine", to="modulates only", ratio=ratio) | {"id": "b"}], pitch)
    assert alias_db(swept, 440.0 * 2 ** ((pitch - 69) / 12)) >= 60.0


def test_a_rich_carrier_swept_from_outside_keeps_its_partials():
    """A saw whose phase swings by a slow sine: partial k splits as a Bessel function of k times the index."""
    index = np.radians(45.0)
    carrier = oscillator("saw", modulators=[{"id": "m", "source": "b", "depth": 45}])
    x = sounded([carrier, oscillator("sine", to="modulates only", ratio=0.1) | {"id": "b"}], 45, skip=8192)
    hz = 11.0 * np.arange(1, 400)
    found = np.abs(fit_tones(x[None, :], hz)[0][0])
    for k in (1, 3, 7, 12):
        near = found[10 * k - 1 + np.arange(-2, 3)]
        alone = np.abs(jv(np.arange(-2, 3), k * index)) * 2 / np.pi / k
        others = sum(
            np.abs(jv(10 * (k - j) + np.arange(-2, 3), j * index)) * 2 / np.pi / j for j in range(1, 36) if j != k
        )
        assert (np.abs(near - alone) <= others + 2e-3).all()


@pytest.mark.parametrize("ratio", [1.5, 2.7, 4.1])
@pytest.mark.parametrize("pitch", [33, 57, 69])
@pytest.mark.parametrize("mode", ["own", "source"])
def test_alias_of_synced_saws(pitch, ratio, mode):
    hz = 440.0 * 2 ** ((pitch - 69) / 12)
    if mode == "own":
        source = oscillator("saw", sync="own", sync_interval=12 * np.log2(ratio))
    else:
        source = [
            oscillator("saw", sync="source", sync_to="b", ratio=ratio),
            oscillator("sine", to="modulates only") | {"id": "b"},
        ]
    assert alias_db(sounded(source, pitch), hz) >= 60.0


def test_a_synced_saw_is_cut_where_it_should_be():
    """The closed form: a saw running 2.5 times as fast, cut after one cycle of the master."""
    t = (np.arange(1 << 15) + 0.5) / (1 << 15)
    want = (np.fft.rfft(1.0 - 2.0 * np.mod(2.5 * t, 1.0)) * 2 / t.size)[1:20] * np.exp(
        -1j * np.pi * np.arange(1, 20) / t.size
    )
    found = partials_of(Cycle(sync=2.5))[:19]
    assert np.abs(found - want).max() < 2e-3


@pytest.mark.parametrize(("shape", "degrees"), [("saw", 90.0), ("saw", 250.0), ("sine", 90.0)])
def test_a_synced_wave_begins_at_its_start_phase_at_every_restart(shape, degrees):
    """The closed form: the wave from its start phase on, cut after one cycle of the master."""
    source = [
        oscillator(shape, sync="source", sync_to="b", ratio=2.5, phase=degrees),
        oscillator("sine", to="modulates only") | {"id": "b"},
    ]
    at = degrees / 360.0 + 2.5 * (np.arange(1 << 15) + 0.5) / (1 << 15)
    y = 1.0 - 2.0 * np.mod(at, 1.0) if shape == "saw" else np.sin(2 * np.pi * at)
    want = np.abs(np.fft.rfft(y) * 2 / at.size)[1:20]
    assert np.abs(partials(sounded(source), 55.0)) == pytest.approx(want[:12], abs=2e-3)


@pytest.mark.parametrize("degrees", [90.0, 120.0, 180.0])
def test_a_twin_added_or_subtracted_is_a_comb(degrees):
    k = np.arange(1, 13)
    turn = np.exp(1j * np.radians(degrees) * k)
    saw = 2 / np.pi / k
    added = np.abs(partials(sounded(oscillator("saw", twin="add", twin_shift=degrees)), 55.0))
    taken = np.abs(partials(sounded(oscillator("saw", twin="subtract", twin_shift=degrees)), 55.0))
    assert added == pytest.approx(np.abs(0.5 * saw * (1 + turn)), abs=2e-4)
    assert taken == pytest.approx(np.abs(0.5 * saw * (1 - turn)), abs=2e-4)


def test_a_sine_times_itself_is_its_octave():
    found = np.abs(partials(sounded(oscillator("sine", twin="multiply", twin_shift=0)), 55.0))
    assert found[1] == pytest.approx(0.5, abs=1e-4)
    assert np.delete(found, 1).max() < 1e-4


def test_skew_bends_the_phase():
    """A sine whose first half takes a share s of the cycle: the fundamental by numerical integration."""
    s = 0.5 * (1 + 0.4)
    t = (np.arange(1 << 15)) / (1 << 15)
    phase = np.where(t < s, 0.5 * t / s, 0.5 + 0.5 * (t - s) / (1 - s))
    want = (np.fft.rfft(np.sin(2 * np.pi * phase)) * 2 / t.size)[1:13]
    found = partials(sounded(oscillator("sine", skew=40)), 55.0)
    assert np.abs(found) == pytest.approx(np.abs(want), abs=3e-4)


def test_a_window_keeps_three_partials():
    found = np.abs(partials(sounded(oscillator("saw", partial_high=3.0, partial_edge=0.0)), 55.0))
    assert found[:3] == pytest.approx(2 / np.pi / np.arange(1, 4), abs=1e-4)
    assert found[3:].max() < 1e-6
    upper = np.abs(partials(sounded(oscillator("saw", partial_low=4.0, partial_edge=0.0)), 55.0))
    assert upper[:3].max() < 1e-6 and upper[3] == pytest.approx(0.5 / np.pi, abs=1e-4)


@pytest.mark.parametrize("stretch", [-20.0, 7.5, 50.0])
def test_stretched_partials_stand_where_they_should(stretch):
    x = sounded(oscillator("saw", stretch=stretch), 45)
    k = np.arange(1, 9)
    hz = 110.0 * (k + stretch / 100 * (k - 1))
    found = np.abs(fit_tones(x[None, :], hz)[0][0])
    assert found == pytest.approx(2 / np.pi / k, rel=0.02)


def test_scatter_reorders_partials_and_leaves_the_first():
    plain, mixed = (np.abs(partials_of(Cycle(scatter=s, seed=9))[:64]) for s in (0.0, 1.0))
    assert mixed[0] == plain[0]
    assert sorted(mixed) == pytest.approx(sorted(plain))
    assert np.abs(mixed - plain).max() > 0.05


def test_drift_wanders_slowly_within_its_cents():
    x = sounded(oscillator("sine", drift=30.0), 57, seconds=3.5)
    crossings = np.flatnonzero((x[:-1] < 0) & (x[1:] >= 0))
    place = crossings - x[crossings] / (x[crossings + 1] - x[crossings])
    cents = 1200 * np.log2(RATE / np.diff(place) / 220.0)
    assert np.ptp(cents) > 5.0 and np.abs(cents).max() < 30.5
    assert np.abs(np.diff(cents)).max() < 1.5


@pytest.mark.parametrize("blend", [0.0, 30.0, 100.0])
def test_a_mix_goes_from_one_wave_to_the_other(blend):
    found = partials(sounded(oscillator("mix", mix_a="sine", mix_b="saw", mix=blend)), 55.0)
    saw = 2 / np.pi / np.arange(1, 13)
    want = blend / 100 * saw
    want[0] += 1 - blend / 100
    assert np.abs(found) == pytest.approx(want, abs=2e-4)


def test_feedback_is_the_sawing_sine():
    """A sine swinging its own phase by index b: partial k at 2 J_k(k b) / (k b), the series of Kepler's equation.

    The mean of the last two samples delays the swing by a sample and a half at twice the rate, so a low note is taken.
    """
    b = np.pi / 2 * 0.4
    found = np.abs(partials(sounded(oscillator("sine", feedback=40.0), 24, skip=8192), 32.703, 6))
    k = np.arange(1, 7)
    assert found == pytest.approx(2 * jv(k, k * b) / (k * b), rel=0.04)


def test_two_sources_in_a_circle_stay_bounded():
    ring = [
        oscillator("saw", feedback=100.0, modulators=[{"id": "m", "source": "b", "depth": 1800}]),
        oscillator(
            "saw", modulators=[{"id": "m", "source": "a", "depth": 1800}, {"id": "r", "source": "a", "mode": "ring"}]
        )
        | {"id": "b"},
    ]
    x = sounded(ring, 60)
    assert np.isfinite(x).all() and np.abs(x).max() < 3.5


@pytest.mark.parametrize("share", [0.0, 50.0, 100.0])
def test_ring_of_two_sines_is_their_sum_and_difference(share):
    pair = [
        oscillator("sine", octave=2, modulators=[{"id": "m", "source": "b", "mode": "ring", "share": share}]),
        oscillator("sine", to="modulates only") | {"id": "b"},
    ]
    found = np.abs(partials(sounded(pair, 45, skip=8192), 110.0, 8, 20))
    want = np.zeros(8)
    want[3] = 1 - share / 100
    want[2] = want[4] = 0.5 * share / 100
    assert found == pytest.approx(want, abs=3e-4)


def test_a_noise_can_modulate_and_be_ringed():
    hiss = {"kind": "noise", "id": "n", "name": "N", "to": "modulates only", "level": 0.0}
    rough = sounded([oscillator("sine", modulators=[{"id": "m", "source": "n", "depth": 60}]), hiss])
    assert abs(partials(rough, 55.0)[0]) < 0.98
    ringed = hiss | {"to": "stages", "modulators": [{"id": "m", "source": "a", "mode": "ring"}]}
    x = sounded([oscillator("sine", to="modulates only"), ringed], 45)
    # half the power of the noise
    assert 10 * np.log10(np.mean(x**2) * 6) == pytest.approx(0.0, abs=0.1)


@pytest.mark.parametrize(("colour", "slope"), [("white", 0.0), ("pink", -3.01), ("brown", -6.02)])
def test_noise_falls_by_its_slope_and_has_the_power_of_white(colour, slope):
    x = sounded({"kind": "noise", "id": "n", "name": "N", "level": 0.0, "colour": colour}, seconds=12.0)
    f = np.abs(np.fft.rfft(x)) ** 2
    hz = np.fft.rfftfreq(x.size, 1 / RATE)
    bands = [np.mean(f[(hz >= 55 * 2**i) & (hz < 110 * 2**i)]) for i in range(8)]
    fall = np.diff(10 * np.log10(bands))
    assert fall == pytest.approx(np.full(7, slope), abs=0.9)
    assert np.polyfit(np.arange(8), 10 * np.log10(bands), 1)[0] == pytest.approx(slope, abs=0.15)
    assert 10 * np.log10(np.mean(x * x) * 3) == pytest.approx(0.0, abs=1.2)


def test_pink_is_white_through_its_sections_and_as_strong():
    def made(colour):
        out = np.zeros((2, 1 << 14))
        noise(out, 0, out.shape[1], colour, 0.0, np.uint64(7), np.uint64(0), np.zeros((2, STATE)))
        return out[0]

    # poles two octaves apart from 9 Hz on, a zero an octave above each
    poles, zeros = (np.exp(-2 * np.pi * first * 4.0 ** np.arange(6) / RATE) for first in (9.0, 18.0))
    sections = zpk2sos(zeros, poles, 1.0)
    answer = sosfilt(sections, np.eye(1, 1 << 17)[0])
    assert made(PINK) == pytest.approx(sosfilt(sections, made(WHITE)) / np.linalg.norm(answer), abs=1e-9)


def test_noise_is_the_same_in_any_portions():
    def made(cuts):
        out, state, at = np.zeros((2, 1024)), np.zeros((2, STATE)), 0
        for b in [*cuts, 1024]:
            noise(out, at, b, PINK, 0.5, np.uint64(7), np.uint64(at), state)
            at = b
        return out

    assert np.array_equal(made([]), made([1, 17, 600]))
    assert WHITE == 0


def test_forty_waves_and_twelve_clicks_all_differ_and_are_whole():
    waves = [stock_partials(slug) for slug, _ in STOCK]
    assert len(waves) == 40 and len(CLICKS) == 12
    for c in waves:
        y = points_of(c, 4096)
        assert np.abs(y).max() <= 1.05 and np.isfinite(y).all()
        assert abs(c[0]) > 0.02
    for i, a in enumerate(waves):
        for b in waves[:i]:
            near = np.abs(np.vdot(a, b)) / np.linalg.norm(a) / np.linalg.norm(b)
            assert near < 0.9999
    lengths = {}
    for slug, _ in CLICKS:
        x = click(slug)
        assert x.shape[0] == 1 and np.abs(x).max() == pytest.approx(1.0)
        assert abs(x[0, 0]) < 0.3 and abs(x[0, -1]) < 1e-3
        lengths[slug] = x.shape[1] / RATE
    assert max(lengths.values()) <= 0.15
    for drum in (kick(50.0), snare(), hat()):
        assert np.isfinite(drum).all() and np.abs(drum).max() == pytest.approx(1.0)
    late = kick(50.0)[9000:13800]
    assert abs(fit_tones(late[None, :], np.array([50.0]))[0][0, 0]) > 0.05


def test_a_recording_is_read_at_any_speed():
    """A sine of 500 Hz read at 1.3 times the speed is one of 650 Hz; a faster one has no alias."""
    t = np.arange(RATE) / RATE
    region = region_of(np.sin(2 * np.pi * 500 * t)[None, :], 0, RATE, False)
    out, at = np.zeros((2, 8192)), np.zeros(1)
    play(out, 0, 8192, region.versions[0], 1.0, at, np.full(8192, 1.3), 0, 1.0)
    assert abs(fit_tones(out[:1, 200:], np.array([650.0]))[0][0, 0]) == pytest.approx(1.0, abs=1e-3)
    assert at[0] == pytest.approx(8192 * 1.3)
    high = region_of(np.sin(2 * np.pi * 9000 * t)[None, :], 0, RATE, False)
    out = np.zeros((2, 4096))
    data = high.versions[2]
    play(out, 0, 4096, data, high.length / (data.shape[1] - 3), np.zeros(1), np.full(4096, 4.0), 0, 1.0)
    assert np.abs(out[0, 100:-100]).max() < 1e-3


def test_a_loop_goes_round_without_a_click():
    rough = np.array([sign("x", i) for i in range(6000)])
    smooth = np.convolve(rough, np.hanning(200), "same") / 10
    region = region_of(smooth[None, :], 1500, 4100, True)
    out, at = np.zeros((2, 12000)), np.zeros(1)
    play(out, 0, 12000, region.versions[0], 1.0, at, np.ones(12000), 1, 1.0)
    step = np.abs(np.diff(out[0]))
    assert step.max() < 2.0 * np.abs(np.diff(smooth)).max()
    assert out[0, 2600:5200] == pytest.approx(out[0, 5200:7800], abs=1e-9)


def test_a_moved_cycle_goes_without_a_click():
    """Frame place, sync and skew moved by an LFO: no jump beyond what the widest of its settings has."""
    lfo = {"kind": "lfo", "id": "l", "name": "L", "length": 1.0}
    moves = [("mix", 50.0), ("skew", 60.0), ("twin_shift", 120.0)]
    p = patch(
        layer(sources=[oscillator("mix", mix_a="sine", mix_b="triangle", mix=50, twin="add", twin_shift=90)]),
        notes=[note(33, 0, 4)],
        movers=[lfo],
        movements=[
            {"id": f"m{i}", "mover": "l", "target": f"layers.one.sources.a.{n}", "amount": a, "both_ways": True}
            for i, (n, a) in enumerate(moves)
        ],
    )
    x = Engine(p).read(2 * RATE)[0, 2000:]
    assert np.abs(np.diff(x)).max() < 0.16
    assert np.ptp(x) > 0.3
