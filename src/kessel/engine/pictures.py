"""What stages and movers do, as curves for the eye, from the same formulas and loops that make the sound."""

from __future__ import annotations

import math

import numpy as np

from ..dsp import RATE
from ..dsp.envelopes import close_gate, envelope, open_gate, swing
from ..dsp.filters import band_coefficients, band_response, svf_response
from ..dsp.tables import POINTS, row_for, tables
from ..patch import ChainItem, Distortion, Envelope, Eq, Filter, Layer, LevelEnvelope, Lfo, Noise
from .knobs import Array, gain_of
from .plan import SourcePlan
from .stages import KINDS, curve_of
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


def cycle_of(layer: Layer, source_id: str, points: int = 240, hz: float = 65.4) -> Array:
    """Two cycles of an oscillator as it sounds with its modulators at rest, -1..1, from its start phase."""
    plan = SourcePlan(layer, 0)
    rows = tables()
    t = np.arange(points) * 2.0 / points

    def heard(index: int, own: bool) -> Array:
        source = layer.sources[index]
        if isinstance(source, Noise):
            return np.sin(2.0 * np.pi * (t * 37.0 + np.sin(t * 91.0)))
        ratio = float(plan.ratio[index].mean()) * 2.0 ** (source.semitones / 12.0 + source.cents / 1200.0)
        phase = t * (1.0 if own else ratio / base) + source.phase / 360.0
        for m in source.modulators:
            phase = phase + m.depth / 360.0 * heard(plan.ids.index(m.source), False)
        row = 0 if source.shape == "sine" else int(plan.base[index]) + row_for(hz * ratio)

        def read(turns: Array) -> Array:
            at = np.floor(np.mod(turns, 1.0) * POINTS).astype(np.int64) % POINTS
            return np.asarray(rows[row, at + 1])

        y = read(phase)
        if source.shape == "pulse":
            y = y - read(phase - source.pulse_width / 100.0)
        return np.asarray(-y if source.polarity == "flipped" else y)

    index = plan.ids.index(source_id)
    first = layer.sources[index]
    base = 1.0
    if not isinstance(first, Noise):
        base = float(plan.ratio[index].mean()) * math.pow(2.0, first.semitones / 12.0 + first.cents / 1200.0)
    return heard(index, True)
