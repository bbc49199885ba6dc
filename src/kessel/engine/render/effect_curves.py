"""Curves of stages, movers and sources for drawings, from the formulas and loops that make the sound."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ...dsp import QUANTUM, RATE
from ...dsp.dynamics.compression import static_gain
from ...dsp.envelopes import open_gate
from ...dsp.kicks import ducked
from ...dsp.lfo import Drawn, swing
from ...dsp.nonlinear.halfband import LINE
from ...dsp.sources.oscillators import NOWHERE, STAGES
from ...patch import (
    BandDynamics,
    BeatShape,
    CeilingItem,
    ChainItem,
    Compressor,
    CurvePoint,
    Distortion,
    Envelope,
    Expander,
    LevelEnvelope,
    Lfo,
    Mover,
    Patch,
    is_bipolar,
    stage_of,
)
from ..audio import recording_of
from ..blocks import constant_block
from ..effects import curve_of
from ..modulation import Array, EnvelopeShape, TransportContext, Voice, mover_processor, run_envelope
from ..voices import SourcePlan, SourceState, VoiceQuantum, sound


def transfer_of(part: ChainItem, points: int = 65) -> tuple[Array, Array] | None:
    """Input and output of a distortion, -1..1. None for other effects."""
    return curve_of(part, points) if isinstance(part, Distortion) else None


def static_curve(part: object, points: int = 121) -> tuple[Array, Array] | None:
    """Input and output levels in dB of a dynamics effect, from -72 dBFS on. None for other effects."""
    x = np.linspace(-72.0, 0.0, points)
    if isinstance(part, Compressor):
        slope = 1.0 / part.ratio - 1.0
        down = (part.threshold, slope if part.mode == "downward" else 0.0)
        up = (part.threshold, -slope if part.mode == "upward" else 0.0)
        gain = static_gain(x, down, up, part.knee, part.max_reduction) + part.makeup
    elif isinstance(part, Expander):
        gain = static_gain(x, (0.0, 0.0), (part.threshold, 1.0 - part.ratio), part.knee, part.max_reduction)
    elif isinstance(part, BandDynamics):
        down, up = (part.down_threshold, 1.0 / part.down_ratio - 1.0), (part.up_threshold, 1.0 - 1.0 / part.up_ratio)
        gain = static_gain(x, down, up, 6.0, 36.0) + part.gain
    elif isinstance(part, CeilingItem):
        gain = np.minimum(0.0, part.limit - (x + part.drive)) + part.drive
    else:
        return None
    return x, x + gain


def beat_curve(part: BeatShape, points: int = 160) -> Array:
    """Gain of a beat shape over its length, or over a beat from a kick on: 1 is unity, 0 the full depth."""
    at = np.linspace(0.0, 1.0, points)
    if part.by == "kick":
        k = part.kick
        ms = np.linspace(0.0, max(k.attack + k.hold + k.release, 1.0) * 1.1, points)
        return 1.0 - ducked(ms, k.attack, k.hold, k.release)
    return Drawn.of([(p.at, p.value, p.bend) for p in part.points], 0.0, 0.005)(at)


def envelope_curve(
    part: LevelEnvelope | Envelope, widths: Sequence[float], tempo: float = 120.0, points: int = 160
) -> tuple[Array, float]:
    """An envelope of a note that is released after it reached its sustain: levels, 0..1 (more with an accent), and its
    length in ms.

    widths: of attack, hold, decay, sustain and release on the drawing, in any unit; the times are bent to them.
    """
    shape = EnvelopeShape(part, tempo)
    held = float(shape.times[:3].sum())
    held += max(0.02 * RATE, 0.15 * held)
    whole = held + float(shape.times[4])
    n = points * 8
    drawn = np.maximum(1.0, np.round(np.asarray(widths, dtype=np.float64) * n / sum(widths)))
    stretch = drawn[[0, 2]] / shape.times[[0, 2]]
    shape.times[[0, 1, 2, 4]] = drawn[[0, 1, 2, 4]]
    shape.accent_times[[0, 2]] = np.maximum(1.0, np.round(shape.accent_times[[0, 2]] * stretch))
    voice = Voice()
    voice.began = 0
    state = voice.gates["it"] = np.zeros(8)
    open_gate(state[:4], False, shape.start)
    open_gate(state[4:], False)
    off = min(n, int(drawn[:4].sum()))
    out = np.zeros(n)
    run_envelope(shape, state, [(0, off, True), (off, n, False)], out)
    return out[:: n // points], whole * 1000.0 / RATE


def envelope_after(part: LevelEnvelope | Envelope, samples: int, tempo: float) -> float:
    """Highest value of an envelope whose note ends after some samples."""
    shape = EnvelopeShape(part, tempo)
    state = np.zeros(8)
    open_gate(state[:4], False, shape.start)
    open_gate(state[4:], False)
    out = np.zeros(max(1, samples))
    run_envelope(shape, state, [(0, out.size, False)], out)
    return float(out.max())


def mover_over(mover: Mover, samples: NDArray[np.int64], patch: Patch) -> Array:
    """Values of a mover that starts with the phrase, at samples of it, 0..1."""
    processor, voice = mover_processor(mover), Voice()
    found = []
    for sample in samples:
        start = int(sample) // QUANTUM * QUANTUM
        now = TransportContext(start=start, length=2**40, tempo=patch.tempo, seed=patch.seed)
        value = float(processor.value(voice, {}, now)[int(sample) - start])
        found.append(0.5 + 0.5 * value if is_bipolar(mover) else value)
    return np.array(found)


def lfo_curve(part: Lfo, points: int = 160) -> Array:
    """Two cycles of an LFO, -1..1."""
    drawn = Drawn.of([(p.at, p.value, p.bend) for p in part.points])
    turns = np.linspace(0.0, 1.0 if part.once else 2.0, points, endpoint=False) + part.phase / 360.0
    return swing(part.shape, turns, part.id, part.width / 100.0, 0.0, drawn)


def drawn_curve(points: Sequence[CurvePoint], count: int = 240) -> Array:
    """A drawn curve over its length, 0..1."""
    drawn = Drawn.of([(p.at, p.value, p.bend) for p in points])
    return drawn(np.linspace(0.0, 1.0, count))


PICTURE_HZ = RATE / QUANTUM
"""Pitch at which a source is drawn: one cycle per quantum."""
PARTIALS = 64


@dataclass(frozen=True)
class SourcePicture:
    """Two cycles of a source from its start, and the levels of its partials in dB.

    cycle: (points,), -1..1 and more. partials: (PARTIALS,), against a full-scale sine, no lower than -96 dB.
    """

    cycle: Array
    partials: Array


def source_picture(patch: Patch, layer_id: str, source_id: str) -> SourcePicture:
    """An oscillator with its modulation, unmoved, rendered by the loops that make the sound.

    What voice stages send back is left out: it depends on the note and on the other sources.
    """
    layer = patch.layer(layer_id)
    sources = [
        x.model_copy(update={"modulators": [m for m in x.modulators if not stage_of(m.source)]}) for x in layer.sources
    ]
    alone = layer.model_copy(update={"unison": layer.unison.model_copy(update={"copies": 1}), "sources": sources})
    plan = SourcePlan(alone, patch.seed, patch.waves)
    plan.prepare()
    state = SourceState(plan, "picture", None, 0, 0)
    s = plan.ids.index(source_id)
    dest = np.full(plan.count, NOWHERE, dtype=np.int64)
    dest[s] = STAGES
    plan.now.level[s] = 1.0
    # drawn as one cycle of its own, whatever octave it plays in
    hz = PICTURE_HZ / float(plan.ratio[plan.master[s], 0] * plan.now.pitch[plan.master[s], 0])
    plan.offset[:] = 0.0
    down = np.zeros((2, LINE))
    rendered = []
    for i in range(9):
        x, past = np.zeros((plan.channels, QUANTUM)), np.zeros((plan.channels, QUANTUM))
        sound(state, plan, x, past, VoiceQuantum(0, constant_block(hz), hz, False, {}, down, i * QUANTUM), dest)
        rendered.append(x[0])
    whole = np.concatenate(rendered)
    tail = whole[QUANTUM:]
    window = np.kaiser(tail.size, 12.0)
    spectrum = np.abs(np.fft.rfft(tail * window)) / (0.5 * window.sum())
    at = 8 * np.arange(1, PARTIALS + 1)
    near = np.max([spectrum[at + d] for d in (-1, 0, 1)], axis=0)
    return SourcePicture(whole[: 2 * QUANTUM], 20.0 * np.log10(np.maximum(near, 1.6e-5)))


def audio_outline(word: str, points: int = 180) -> Array | None:
    """The peak of a recording in each of ``points`` stretches. None if the audio is missing."""
    x = recording_of(word)
    if x is None:
        return None
    parts = np.array_split(x, min(points, x.shape[1]), axis=1)
    return np.array([float(np.abs(p).max(initial=0.0)) for p in parts])
