"""What stages and movers do, as curves for the eye, from the same formulas and loops that make the sound."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..dsp import QUANTUM, RATE
from ..dsp.envelopes import close_gate, envelope, open_gate, swing
from ..dsp.filters import band_coefficients, band_response, svf_response
from ..dsp.halfband import LINE
from ..dsp.oscillators import NOWHERE, STAGES
from ..patch import ChainItem, Distortion, Envelope, Eq, Filter, LevelEnvelope, Lfo, Patch
from .audio import audio_of
from .knobs import Array, gain_of
from .plan import SourcePlan
from .sourcing import SourceState, sound
from .stages import KINDS, curve_of, full
from .voices import EnvelopeShape


def response_of(part: Filter | Eq, hz: Array) -> Array:
    """Response in dB of a filter or EQ at rest, at frequencies in Hz, at most 96 dB down."""
    total: Array
    if isinstance(part, Filter):
        h = svf_response(KINDS[part.type], part.slope == "24", part.cutoff, part.resonance, hz)
    else:
        h = np.ones(hz.shape, dtype=np.complex128)
        for band in part.bands:
            if band.on:
                h = h * band_response(band_coefficients(band.type, band.frequency, band.gain, band.q), hz)
        h = h * gain_of(part.trim)
    mix = part.mix / 100.0
    total = np.abs(1.0 + mix * (h - 1.0))
    return np.asarray(20.0 * np.log10(np.maximum(total, 1.6e-5)))


def transfer_of(part: ChainItem, points: int = 65) -> tuple[Array, Array] | None:
    """Input and output of a distortion, -1..1; None for what has no such curve."""
    return curve_of(part, points) if isinstance(part, Distortion) else None


def envelope_curve(part: LevelEnvelope | Envelope, points: int = 160) -> tuple[Array, float]:
    """An envelope over a note held until the sustain is reached, and let go: levels 0..1, and its length in ms."""
    held = part.attack + part.hold + part.decay
    held += max(20.0, 0.15 * held)
    whole = held + part.release
    n = points * 8
    scale = n / (whole * RATE / 1000.0)
    shape = EnvelopeShape(part)
    times = shape.times.copy()
    for i in (0, 1, 2, 4):
        times[i] = max(1.0, round(times[i] * scale))
    state = np.zeros(4)
    out = np.zeros(n)
    open_gate(state, again=False)
    off = min(n, round(held * RATE / 1000.0 * scale))
    envelope(out, 0, off, times, shape.tension, state)
    close_gate(state)
    envelope(out, off, n, times, shape.tension, state)
    return out[:: n // points], whole


def lfo_curve(part: Lfo, points: int = 160) -> Array:
    """Two swings of an LFO, -1..1."""
    return swing(part.shape, np.linspace(0.0, 2.0, points, endpoint=False) + part.phase / 360.0, part.id)


PICTURE_HZ = RATE / QUANTUM
"""Pitch at which a source is drawn: one cycle is one quantum."""
PARTIALS = 64


@dataclass(frozen=True)
class SourcePicture:
    """Two cycles of a source from its start, and the levels of its partials in dB.

    cycle: (points,), -1..1 and over. partials: (PARTIALS,), against a full-scale sine, at most 96 dB down.
    """

    cycle: Array
    partials: Array


def source_picture(patch: Patch, layer_id: str, source_id: str) -> SourcePicture:
    """An oscillator as it sounds, with all that works on it at rest, made by the loops that make the sound."""
    layer = patch.layer(layer_id)
    alone = layer.model_copy(update={"unison": layer.unison.model_copy(update={"copies": 1})})
    plan = SourcePlan(alone, patch.seed, patch.waves)
    plan.prepare()
    state = SourceState(plan, "picture", None, 0, 0)
    s = plan.ids.index(source_id)
    dest = np.full(plan.count, NOWHERE, dtype=np.int64)
    dest[s] = STAGES
    plan.level[s] = 1.0
    # drawn in a cycle of its own, whatever octave it stands in
    hz = PICTURE_HZ / float(plan.ratio[plan.master[s], 0] * plan.pitch[plan.master[s], 0])
    plan.offset[:] = 0.0
    down = np.zeros((2, LINE))
    rendered = []
    for i in range(9):
        x, past = np.zeros((plan.channels, QUANTUM)), np.zeros((plan.channels, QUANTUM))
        sound(state, plan, x, past, 0, full(hz), hz, False, {}, down, dest, i * QUANTUM)
        rendered.append(x[0])
    whole = np.concatenate(rendered)
    tail = whole[QUANTUM:]
    window = np.kaiser(tail.size, 12.0)
    spectrum = np.abs(np.fft.rfft(tail * window)) / (0.5 * window.sum())
    at = 8 * np.arange(1, PARTIALS + 1)
    near = np.max([spectrum[at + d] for d in (-1, 0, 1)], axis=0)
    return SourcePicture(whole[: 2 * QUANTUM], 20.0 * np.log10(np.maximum(near, 1.6e-5)))


def audio_outline(word: str, points: int = 180) -> Array | None:
    """The outline of a recording: its largest value in each of ``points`` stretches; None when it is not there."""
    x = audio_of(word)
    if x is None:
        return None
    parts = np.array_split(np.abs(x).max(axis=0), min(points, x.shape[1]))
    return np.array([float(p.max()) for p in parts])
