"""Twelve faulty one-bar patches: what the checks say of them and of their cures, measured again on the renderings alone.

Nothing here knows the checks: windows, sums and spectra of the rendered sound. A patch is two bars of one note, or a few.
"""

import numpy as np
import pytest
import soxr

from kessel.checks import Evidence, check
from kessel.engine import RenderCache, render_loop
from kessel.patch import Edit, apply

from ..making import layer, note, oscillator, patch

TAKES = RenderCache()
RATE = 48000


def sound(p):
    return render_loop(p, TAKES).sum.astype(np.float64)


def alone(p, kept):
    return sound(apply(p, [Edit(f"layers.{x.id}.mute", True) for x in p.layers if x.id != kept]))


def level(x, hz, start=0.15, length=1.0):
    """Amplitude of a steady tone in the middle of both sides, by a Hann window."""
    part = x.mean(axis=0)[round(start * RATE) : round((start + length) * RATE)]
    w = np.hanning(part.size)
    return np.sum(part * w * np.exp(-2j * np.pi * hz * np.arange(part.size) / RATE)) * 2 / w.sum()


def db(a):
    return 20 * np.log10(max(abs(a), 1e-9))


def low(x):
    f = np.fft.rfft(x, axis=1)
    f[:, np.fft.rfftfreq(x.shape[1], 1 / RATE) > 120.0] = 0
    return np.fft.irfft(f, x.shape[1], axis=1)


def sum_loss(p):
    hz = 440 * 2 ** ((p.phrase.notes[0].pitch - 69) / 12)
    a, b = (level(alone(p, x.id), hz) for x in p.layers)
    return db(level(sound(p), hz)) - 20 * np.log10(abs(a) + abs(b))


def dip(p):
    """How far the lows fall within the first note, a tenth of the time, under the power of both layers."""

    def power(x):
        square = np.square(low(x).mean(axis=0))[: round(1.8 * RATE)]
        # 40 ms hold two periods
        return np.convolve(square, np.ones(1920) / 1920, "valid")[4800:]

    parts = sum(power(alone(p, x.id)) for x in p.layers)
    return float(np.percentile(10 * np.log10(power(sound(p)) / parts), 10.0))


def mono_loss_low(p):
    x = low(sound(p))
    return 10 * np.log10(np.square(x.mean(axis=0)).mean() / np.square(x).mean())


def true_peak(p):
    return db(np.abs(soxr.resample(np.tile(sound(p), (1, 3)).T, RATE, 4 * RATE, "VHQ")).max())


def under_harmonics(p):
    hz = 440 * 2 ** ((p.phrase.notes[0].pitch - 69) / 12)
    x = sound(p)
    return max(db(level(x, k * hz)) for k in (2, 3, 4)) - db(level(x, hz))


def offset(p):
    periods = round(10 * RATE / 55.0)
    return db(sound(p).mean(axis=0)[9600 : 9600 + periods].mean())


def spread(p):
    """The levels of the lows of equal notes, apart from each other."""
    x = low(sound(p)).mean(axis=0)
    size = x.size // 4
    levels = [10 * np.log10(np.square(x[i * size : (i + 1) * size]).mean()) for i in range(4)]
    return max(levels) - min(levels)


def pair(own=None, **words):
    sub = layer("sub", level=-9.0, envelope={"attack": 2.0, "sustain": 0.0, "release": 10.0})
    body = sub | {"id": "body", "name": "Body", "level": -10.0, "sources": [own or oscillator("sine")]}
    return patch(sub, body | words, notes=[note(33, 0, 3.9)])


WIDE = {"copies": 2, "detune": 8.0, "width": 100.0}
FAULTS = {
    "late by 8 ms": ("layers-add-up", pair(delay=8.0), sum_loss, 0.2, -1.5),
    "late by 11 ms": ("layers-add-up", pair(delay=11.0), sum_loss, 0.2, -1.5),
    "turned over": ("layers-add-up", pair(polarity="inverted"), sum_loss, 0.2, -1.5),
    "out of step": ("layers-add-up", pair(oscillator("sine", phase=150.0)), sum_loss, 0.2, -1.5),
    "detuned by 20 cents": ("beats", pair(oscillator("sine", cents=20.0)), dip, 1.5, -3.0),
    "detuned by 35 cents": ("beats", pair(oscillator("sine", cents=35.0)), dip, 1.5, -3.0),
    "offset by 2 Hz": ("beats", pair(oscillator("sine", offset=2.0)), dip, 1.5, -3.0),
    "wide lows": (
        "lows-in-mono",
        patch(layer("one", level=-9.0, sources=[oscillator("saw")], unison=WIDE), notes=[note(33, 0, 3.9)]),
        mono_loss_low,
        0.2,
        -1.0,
    ),
    "too hot": ("output-peak", patch(layer("one", level=5.0), notes=[note(33, 0, 3.9)]), true_peak, 0.1, -1.0),
    "no fundamental": (
        "hollow",
        patch(
            layer("one", level=-9.0, sources=[oscillator("saw")], range={"low": 180.0, "high": 20000.0}),
            notes=[note(33, 0, 3.9)],
        ),
        under_harmonics,
        0.5,
        9.0,
    ),
    "an octave in place of the fundamental": (
        "hollow",
        patch(layer("sub", level=-20.0), layer("body", level=-9.0, sources=[oscillator("sine", octave=1)])),
        under_harmonics,
        0.3,
        9.0,
    ),
    "an uneven start": (
        "repeatability",
        patch(
            layer("sub", level=-9.0),
            layer("body", level=-9.0, sources=[oscillator("sine", start="free-running")]),
            notes=[note(33, i, 0.95) for i in range(4)],
            tempo=117.0,
        ),
        spread,
        None,
        0.5,
    ),
}


@pytest.mark.parametrize("name", FAULTS)
def test_a_fault_and_its_cure_are_what_they_are_said_to_be(name):
    slug, p, measured, slack, limit = FAULTS[name]
    (found,) = (f for f in check(Evidence(p, TAKES)) if f.check == slug)
    assert found.verdict == "fails"
    falls = slug not in ("output-peak", "hollow", "repeatability")
    value = measured(p)
    assert (value < limit) if falls else (value > limit)
    if slack is not None:
        assert found.value == pytest.approx(value, abs=slack)
    cures = [fix for fix in found.fixes if not fix.helps]
    assert cures
    for fix in cures:
        left = measured(apply(p, fix.edits))
        assert (left > limit - 0.2) if falls else (left < limit + 0.2), fix.label
