"""Envelopes as they run in a voice."""

from __future__ import annotations

import numpy as np

from ...dsp import QUANTUM, RATE
from ...dsp.envelopes import SUSTAIN, close_gate, envelope, open_gate
from ...patch import Envelope, LevelEnvelope, Segments
from ..clock import samples_per_beat
from .parameters import Array, ModulationValues, SmoothedParameter, gain_of
from .transport import TransportContext
from .voice import HELD, Voice

_ACCENT_TENSION = np.array([0.0, 4.0, 0.0])


class EnvelopeShape:
    """An envelope's settings as the loop needs them.

    times, tension: as in ``dsp.envelopes.envelope``. start: value at the beginning of the note. accent: overshoot, in
    dB for a level; accent_times: of its decay.
    """

    def __init__(self, part: LevelEnvelope | Envelope, tempo: float, scale: tuple[float, float] = (1.0, 1.0)) -> None:
        """scale: of all times, and of the sustain."""
        if part.clock == "beats":
            unit = samples_per_beat(tempo)
            attack, hold, decay, release = part.attack_beats, part.hold_beats, part.decay_beats, part.release_beats
        else:
            unit = RATE / 1000.0
            attack, hold, decay, release = part.attack, part.hold, part.decay, part.release
        level = isinstance(part, LevelEnvelope)
        self.level = level
        sustain, self.start = ((gain_of(v) if level else v / 100.0) for v in (part.sustain, part.start))
        unit, sustain = unit * scale[0], min(sustain * scale[1], 1.0)
        first = max(1.0, round(attack * unit))
        self.times = np.array(
            [first, round(hold * unit), max(1.0, round(decay * unit)), sustain, max(1.0, round(release * unit))]
        )
        self.tension = np.array([part.attack_curve, part.decay_curve, part.release_curve]) * 0.08
        self.accent = part.accent if level else part.accent / 100.0
        self.accent_times = np.array([first, 0.0, max(1.0, round(part.accent_decay * RATE / 1000.0)), 0.0, 1.0])


class EnvelopeProcessor:
    """Runs an envelope in every voice. Moved times are read when a note begins.

    scale: of all times, and of the sustain.
    """

    def __init__(self, parameters: dict[str, SmoothedParameter], scale: tuple[float, float] = (1.0, 1.0)) -> None:
        self.parameters = parameters
        self.scale = scale
        self.moved = False
        self.ended = 0
        self._shape: tuple[Segments, float, EnvelopeShape] | None = None

    def settle(self) -> None:
        """Find out whether anything moves its controls."""
        self.moved = any(k.movements for k in self.parameters.values())

    def _shape_of(
        self,
        part: LevelEnvelope | Envelope,
        name: str,
        voice: Voice,
        movers: ModulationValues,
        tempo: float,
        start: int,
    ) -> EnvelopeShape:
        if not self.moved:
            if self._shape is None or self._shape[0] is not part or self._shape[1] != tempo:
                self._shape = part, tempo, EnvelopeShape(part, tempo, self.scale)
            return self._shape[2]
        at = min(max(voice.began - start, 0), QUANTUM - 1)
        found = {n: k.control.from_scale(float(k.scale(movers)[at])) for n, k in self.parameters.items() if k.movements}
        if name not in voice.shapes:
            voice.shapes[name] = EnvelopeShape(part.model_copy(update=found), tempo, self.scale)
        shape: EnvelopeShape = voice.shapes[name]
        return shape

    def value(
        self,
        part: LevelEnvelope | Envelope,
        name: str,
        voice: Voice,
        movers: ModulationValues,
        now: TransportContext,
    ) -> Array:
        """The envelope of a voice over the quanta. ``ended``: the sample at which it ends, beyond all if it goes on."""
        shape = self._shape_of(part, name, voice, movers, now.tempo, now.start)
        state = voice.gates.get(name)
        if state is None:
            state = voice.gates[name] = np.zeros(8)
            sounds = voice.active and not voice.released
            if voice.began >= now.start or sounds:
                open_gate(state[:4], False, shape.start)
                open_gate(state[4:], False)
            if voice.began < now.start and sounds:
                # it was added while the note sounds: go where it would be by now
                gone = min(now.start - voice.began, int(shape.times[:3].sum()) + 1)
                run_envelope(shape, state, [(0, gone, False)], np.empty(gone))
        size = now.quanta * QUANTUM
        held = voice.spans is HELD
        if held and state[0] == SUSTAIN and state[3] == shape.times[3] and not shape.accent:
            self.ended = size + 1
            return np.full(size, shape.times[3])
        out = np.empty(size) if held else np.zeros(size)
        self.ended = run_envelope(shape, state, [(0, size, False)] if held else voice.spans, out)
        return out


def run_envelope(shape: EnvelopeShape, state: Array, spans: list[tuple[int, int, bool]], out: Array) -> int:
    """Write an envelope to ``out`` over spans of samples. A span may end with the release. state: (8,).

    Returns the sample at which it ends; behind the last one if it goes on.
    """
    lift = np.zeros(out.size) if shape.accent else None
    ended = out.size + 1
    for a, b, off in spans:
        ended = envelope(out, a, b, shape.times, shape.tension, state[:4])
        if lift is not None:
            envelope(lift, a, b, shape.accent_times, _ACCENT_TENSION, state[4:])
        if off:
            close_gate(state[:4])
    if lift is not None:
        if shape.level:
            out *= 10.0 ** (shape.accent * lift / 20.0)
        else:
            out += shape.accent * lift
    return ended
