"""Oscillators: pitch, alias, shapes, noise, FM against closed forms. The bars stand in the design of the sound."""

import numpy as np
import pytest
from scipy.special import jv

from kessel.engine import Engine, add_audio_resolver, remove_audio_resolver
from kessel.measure import fit_tones

from ...making import RATE, alias_db, layer, note, oscillator, patch, spectrum_db

SECONDS = 2.0


def sounded(source, pitch=33, copies=None, seconds=SECONDS, skip=4096, **words):
    """The steady sound of one held note, left side."""
    sources = source if isinstance(source, list) else [source]
    extra = {"unison": copies} if copies else {}
    p = patch(layer(sources=sources, **extra, **words), notes=[note(pitch, 0, 4)], tempo=60.0)
    x = Engine(p).read(skip + round(seconds * RATE))
    return x[0, skip:]


@pytest.mark.parametrize("pitch", [21, 33, 45, 57, 69, 81])
@pytest.mark.parametrize("source", [oscillator("saw"), *(oscillator("pulse", pulse_width=w) for w in (5, 30, 50, 95))])
def test_alias_of_saw_and_pulse(source, pitch):
    hz = 440.0 * 2 ** ((pitch - 69) / 12)
    x = sounded(source, pitch)
    # the bar stands under a saw's fundamental; a pulse's own is 2 sin(pi width) times that
    width = source.get("pulse_width")
    stronger = 20 * np.log10(2 * np.sin(np.pi * width / 100)) if width else 0.0
    assert alias_db(x, hz) - stronger >= 90.0


@pytest.mark.parametrize("words", [{}, {"octave": -1}, {"semitones": 7.0}, {"cents": 35.0}, {"offset": 1.5}])
@pytest.mark.parametrize("pitch", [28, 45, 60])
def test_pitch_within_a_tenth_of_a_cent(pitch, words):
    want = 440 * 2 ** ((pitch - 69) / 12) * 2.0 ** words.get("octave", 0)
    want = want * 2 ** (words.get("semitones", 0) / 12 + words.get("cents", 0) / 1200) + words.get("offset", 0)
    x = sounded(oscillator("sine", **words), pitch)
    n = x.size // 2
    first, second = (fit_tones(part[None, :], np.array([want]))[0][0, 0] for part in (x[:n], x[n : 2 * n]))
    drift = np.angle(second * np.conj(first) * np.exp(-2j * np.pi * want * n / RATE))
    measured = want + drift / (2 * np.pi) / (n / RATE)
    assert abs(1200 * np.log2(measured / want)) < 0.1


@pytest.mark.parametrize(
    ("shape", "levels"), [("saw", lambda k: 2 / np.pi / k), ("triangle", lambda k: 8 / np.pi**2 / k**2 * (k % 2))]
)
def test_partials_of_plain_shapes(shape, levels):
    hz = 55.0
    k = np.arange(1, 11)
    found = np.abs(fit_tones(sounded(oscillator(shape))[None, :], hz * np.arange(1, 60))[0][0, :10])
    want = levels(k)
    strong = want > 0
    assert 20 * np.log10(found[strong] / want[strong]) == pytest.approx(0, abs=0.02)
    assert (found[~strong] < 1e-5).all()


def test_a_square_has_odd_partials_only():
    found = np.abs(fit_tones(sounded(oscillator("pulse"))[None, :], 55.0 * np.arange(1, 60))[0][0, :6])
    assert found[0] == pytest.approx(4 / np.pi, rel=1e-3)
    assert found[1] < 1e-4 * found[0]


@pytest.mark.parametrize("index", [0.5, 1.0, 2.5])
def test_fm_of_a_sine_pair_is_bessels(index):
    """A sine of 4 f whose phase is swung by a sine of f: side bands k at J_k(index)."""
    depth = index * 180 / np.pi
    pair = [
        oscillator("sine", octave=2, modulators=[{"id": "m", "source": "b", "depth": depth}]),
        oscillator("sine", to="modulates only") | {"id": "b"},
    ]
    x = sounded(pair, pitch=45, skip=8192)
    f = 110.0
    found = fit_tones(x[None, :], f * np.arange(1, 16))[0][0]
    want = np.zeros(16)
    for k in range(-11, 12):
        at = 4 + k
        want[abs(at)] += jv(k, index) * (1 if at >= 0 else -1)
    assert np.abs(found)[:8] == pytest.approx(np.abs(want[1:9]), abs=2e-4)


@pytest.mark.parametrize("index", [0.5, 2.5])
@pytest.mark.parametrize("circle", [False, True])
def test_fm_of_a_recorded_sine_is_bessels(index, circle):
    """A recorded sine of 4 f takes FM as an oscillator does, with feedback elsewhere in the layer too."""
    recorded = np.sin(2 * np.pi * 440.0 * np.arange(RATE) / RATE)[None, :]
    find = {"test:sine": recorded}.get
    add_audio_resolver(find)
    try:
        trio = [
            {"kind": "sample", "id": "s", "name": "S", "audio": "test:sine", "play": "loop", "end": 1000, "root": 440}
            | {"modulators": [{"id": "m", "source": "b", "depth": index * 180 / np.pi}]},
            oscillator("sine", to="modulates only") | {"id": "b"},
            oscillator("sine", to="modulates only", feedback=20.0 if circle else 0.0) | {"id": "c"},
        ]
        x = sounded(trio, pitch=45, skip=8192)
    finally:
        remove_audio_resolver(find)
    found = fit_tones(x[None, :], 110.0 * np.arange(1, 16))[0][0]
    want = np.zeros(16)
    for k in range(-11, 12):
        at = 4 + k
        want[abs(at)] += jv(k, index) * (1 if at >= 0 else -1)
    assert np.abs(found)[:8] == pytest.approx(np.abs(want[1:9]), abs=1e-3)


def test_a_layer_with_fm_says_how_late_it_is():
    """A modulator of depth 0 makes a layer late by what the layer declares, within half a sample."""
    plain = patch(layer(sources=[oscillator("sine")]), notes=[note(45, 0, 4)], tempo=60.0)
    edge = oscillator("sine", modulators=[{"id": "m", "source": "b", "depth": 0.0}])
    other = patch(
        layer(sources=[edge, oscillator("sine", to="modulates only") | {"id": "b"}]), notes=[note(45, 0, 4)], tempo=60.0
    )
    found = []
    for p in (plain, other):
        run = Engine(p)
        x = run.read(RATE)[0, 8192:]
        found.append((np.angle(fit_tones(x[None, :], np.array([110.0]))[0][0, 0]), run.latency))
    (first, none), (second, late) = found
    assert none < late
    lag = np.mod(first - second, 2 * np.pi) / (2 * np.pi * 110.0) * RATE
    assert lag == pytest.approx(late - none, abs=0.5)


def test_fm_of_depth_nothing_is_the_plain_oscillator_through_the_half_band():
    pair = [
        oscillator("sine", modulators=[{"id": "m", "source": "b", "depth": 0.0}]),
        oscillator("sine", octave=3, to="modulates only") | {"id": "b"},
    ]
    found = np.abs(fit_tones(sounded(pair, skip=8192)[None, :], 55.0 * np.arange(1, 20))[0][0])
    assert found[0] == pytest.approx(1.0, abs=1e-4)
    assert found[1:].max() < 1e-6


@pytest.mark.parametrize("copies", [2, 5, 7, 16])
def test_unison_keeps_the_power(copies):
    def power(n):
        voices = {"copies": n, "detune": 30, "width": 80, "spread": 100}
        p = patch(layer(sources=[oscillator("saw")], unison=voices), notes=[note(57, 0, 4)], tempo=40.0)
        x = Engine(p).read(6 * RATE)[:, RATE // 4 :]
        return float(np.mean(x * x))

    assert 10 * np.log10(power(copies) / power(1)) == pytest.approx(0.0, abs=0.6)


def test_unison_of_no_width_is_mono_and_with_width_is_not():
    def sides(width):
        p = patch(layer(sources=[oscillator("saw")], unison={"copies": 5, "detune": 20, "width": width}))
        return Engine(p).read(RATE)

    narrow, wide = sides(0), sides(100)
    assert np.array_equal(narrow[0], narrow[1])
    assert np.abs(wide[0] - wide[1]).max() > 0.1


def test_a_source_outside_unison_stays_single():
    single = oscillator("sine", unison=False)
    alone = sounded(single)
    many = sounded(single, copies={"copies": 7, "detune": 30})
    assert many == pytest.approx(alone, abs=1e-6)


def test_white_noise_is_flat_seeded_and_centred():
    noise = {"kind": "noise", "id": "n", "name": "N", "level": 0.0}
    x, again = sounded(noise, seconds=3.0), sounded(noise, seconds=3.0)
    assert np.array_equal(x, again)
    assert np.std(x) == pytest.approx(1 / np.sqrt(3), rel=0.02)
    assert abs(np.mean(x)) < 0.01
    f = np.abs(np.fft.rfft(x)) ** 2
    thirds = [10 * np.log10(part.mean()) for part in np.array_split(f[10:-10], 12)]
    assert max(thirds) - min(thirds) < 1.0


@pytest.mark.parametrize("degrees", [0.0, 90.0, 225.0])
def test_start_phase(degrees):
    p = patch(layer(sources=[oscillator("sine", phase=degrees)], envelope={"attack": 0.5, "sustain": 0, "release": 5}))
    x = Engine(p).read(RATE)[0]
    late = Engine(p).latency
    found = fit_tones(x[None, late : late + RATE // 2], np.array([55.0]))[0][0, 0]
    assert np.degrees(np.angle(found)) == pytest.approx((degrees - 90 + 180) % 360 - 180, abs=0.5)


def test_polarity_turns_the_source_over():
    assert sounded(oscillator("saw", polarity="inverted")) == pytest.approx(-sounded(oscillator("saw")), abs=1e-7)


def test_spectrum_tool_sees_a_tone():
    hz, db = spectrum_db(np.sin(2 * np.pi * 1000 * np.arange(RATE) / RATE))
    assert db[np.argmin(np.abs(hz - 1000))] == pytest.approx(0.0, abs=0.01)
