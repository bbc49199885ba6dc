"""Processors of width, auto-pan, frequency shift, beat shape, cabinet and vocoder."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from ...dsp import QUANTUM, RATE
from ...dsp.delays.cabinets import box_response
from ...dsp.delays.convolution import Convolver, Response
from ...dsp.delays.frequency_shift import COEFFICIENTS, shift
from ...dsp.delays.frequency_shift import rest as shift_rest
from ...dsp.dynamics.compression import STEP
from ...dsp.filters.svf import BUTTERWORTH, HIGHPASS, PREWARP_TABLE, SvfCurves, filter_svf
from ...dsp.filters.vocoder import STATE as SPEAK_STATE
from ...dsp.filters.vocoder import speak
from ...dsp.kicks import kicked
from ...dsp.lfo import Drawn
from ...dsp.mid_side import sway, widen
from ...dsp.sources.syllables import spoken
from ...patch import BeatShape, Cabinet, Vocoder
from ..audio import audio_of
from ..blocks import constant_block
from ..clock import BEAT_BEATS, samples_per_beat
from ..modulation import Array, TransportContext, as_factor, as_is, as_share, parameter_of
from .base import Buffer, EffectProcessor, EffectState, VoiceContext
from .delays import Wet, WetProcessor
from .dynamics import as_ms
from .reverb import recorded

_N = np.arange(QUANTUM, dtype=np.float64)


def above(
    processor: EffectProcessor, name: str, x: Buffer, state: Array, voice: VoiceContext, double: bool = True
) -> None:
    """High-pass x, (channels, QUANTUM), at a control's frequency, in place. At its lowest value it does nothing."""
    parameter = processor.parameters[name]
    log_hz = parameter.scale(voice.movers) if parameter.movements else parameter.converted
    if log_hz[-1] <= parameter.control.to_scale(parameter.control.low) + 1e-9:
        return
    k = constant_block(BUTTERWORTH)
    filter_svf(
        x,
        0,
        QUANTUM,
        HIGHPASS,
        double,
        SvfCurves(log_hz, k, k, constant_block(1.0)),
        processor.is_still(name),
        state,
        PREWARP_TABLE,
    )


class WidthProcessor(EffectProcessor):
    """Scales the side signal above a lowest frequency."""

    converts = {"width": as_share, "low": as_is, "mix": as_share}

    def initial_state(self) -> Buffer:
        """The memory of the effect before any sound."""
        return np.zeros((1, 4))

    def effect(self, x: Buffer, held: EffectState, voice: VoiceContext) -> None:
        """Apply the width in place."""
        side = 0.5 * (x[:1] - x[1:])
        high = side.copy()
        above(self, "low", high, held.memory, voice, double=False)
        mix = self.over("mix", voice)
        width = 1.0 + mix * (self.over("width", voice) - 1.0)
        below = 1.0 - mix if self.part.below == "mono" else constant_block(1.0)
        widen(x, side, high, width, below)


class _AutoPanState(Wet):
    def __init__(self) -> None:
        super().__init__()
        self.high = np.zeros((2, 4))


class AutoPanProcessor(WetProcessor):
    """Pans the sound from side to side."""

    converts = {
        "rate": as_ms,
        "length": as_ms,
        "depth": as_share,
        "stereo_offset": as_is,
        "low_cut": as_is,
        "mix": as_share,
    }

    def initial_state(self) -> _AutoPanState:
        """The memory of the effect before any sound."""
        return _AutoPanState()

    def effect(self, x: Buffer, held: EffectState, voice: VoiceContext) -> None:
        """Pan in place."""
        own: _AutoPanState = held.memory
        turns = self.swing(own, voice)
        depth, apart = self.over("depth", voice) * self.over("mix", voice), self.over("stereo_offset", voice) / 360.0
        swung = np.stack([np.sin(2.0 * np.pi * (turns + s * apart)) for s in range(2)])
        # keeps the total level at any depth while the sides are in opposite phase
        change = depth * (0.5 * swung - 0.5 * depth * 0.25)
        high = x.copy()
        above(self, "low_cut", high, own.high, voice, double=False)
        sway(x, high, np.ascontiguousarray(change))


class _ShiftState(Wet):
    def __init__(self) -> None:
        super().__init__()
        self.state = shift_rest()
        self.turned = np.zeros(2)


class FrequencyShiftProcessor(WetProcessor):
    """Shifts all partials by the same number of Hz."""

    beside = False
    converts = {"shift": as_is, "low_cut": as_is, "mix": as_share}

    def initial_state(self) -> _ShiftState:
        """The memory of the effect before any sound."""
        return _ShiftState()

    def effect(self, x: Buffer, held: EffectState, voice: VoiceContext) -> None:
        """Shift in place."""
        own: _ShiftState = held.memory
        step = self.over("shift", voice) / RATE
        both = np.stack([step, -step if self.part.sides == "opposite" else step])
        turns = own.turned[:, None] + np.cumsum(both, axis=1)
        own.turned = np.fmod(turns[:, -1], 1.0)
        wet = np.empty((2, QUANTUM))
        angle = 2.0 * np.pi * turns
        shift(x, wet, np.cos(angle), np.sin(angle), own.state, COEFFICIENTS)
        self.meet(x, wet, own, voice)


def kick_duck_gain(now: TransportContext, attack: float, hold: float, release: float) -> Array:
    """Gain reduction by the kick of the backing beat over the quantum, 0..1. Times are in ms."""
    beat = now.length / now.beats if now.beats else samples_per_beat(now.tempo)
    ms = RATE / 1000.0
    kicks = np.array(now.kicks) * beat
    return kicked(now.beat_places() * beat, kicks, BEAT_BEATS * beat, attack * ms, hold * ms, release * ms)


_KICK = ("depth", "attack", "hold", "release")
_ACROSS = np.arange(1, QUANTUM + 1) / QUANTUM


class _BeatShapeState:
    def __init__(self) -> None:
        self.turns: float | None = None
        self.times: tuple[float, float, float] | None = None
        self.drawn: Drawn | None = None


class BeatShapeProcessor(EffectProcessor):
    """A drawn gain per beat, or a duck by the kick."""

    converts = {"length": as_ms, "depth": as_is, "soften": as_is, "mix": as_share}

    def __init__(self, part: BeatShape) -> None:
        self._drawn: tuple[Any, float, Drawn] | None = None
        super().__init__(part)

    def take(self, part: BeatShape) -> None:
        """Apply new control values."""
        super().take(part)
        for name in _KICK:
            path = f"kick.{name}"
            if path in self.parameters:
                self.parameters[path].turn(float(getattr(part.kick, name)))
            else:
                self.parameters[path] = parameter_of(part.kick, name, as_is)

    def initial_state(self) -> _BeatShapeState:
        """The memory of the effect before any sound."""
        return _BeatShapeState()

    def effect(self, x: Buffer, held: EffectState, voice: VoiceContext) -> None:
        """Apply the gain in place."""
        db = self.down(held.memory, voice)
        mix = self.over("mix", voice)
        self.traces = {"": -db[STEP - 1 :: STEP]}
        gain = as_factor(-db)
        x *= 1.0 + mix * (gain - 1.0)

    def down(self, own: _BeatShapeState, voice: VoiceContext) -> Array:
        """Gain reduction in dB over the quantum."""
        part: BeatShape = self.part
        if part.by == "kick":
            return self.over("kick.depth", voice) * self._by_kick(own, voice)
        beats = voice.now.beat_places()
        if self.is_still("length"):
            length = self.last("length", voice)
            place = beats / length
            own.turns = None
        else:
            step = 1.0 / (self.over("length", voice) * samples_per_beat(voice.now.tempo))
            own.turns = beats[0] / self.last("length", voice) if own.turns is None else own.turns
            place = own.turns + np.cumsum(step)
            own.turns = math.fmod(float(place[-1]), 1.0)
            length = self.last("length", voice)
        samples = length * samples_per_beat(voice.now.tempo)
        soft = min(0.25, 2.0 ** self.last("soften", voice) * RATE / 1000.0 / samples)
        if self._drawn is None or self._drawn[0] is not part or self._drawn[1] != soft:
            points = [(p.at, p.value, p.bend) for p in part.points]
            self._drawn = part, soft, Drawn.of(points, 0.0, soft)
        drawn, place = self._drawn[2], np.ascontiguousarray(place - np.floor(place))
        level = drawn.around(place)
        if own.drawn is not None and own.drawn is not drawn:
            # crossfade to another curve over one quantum
            before = own.drawn.around(place)
            level = before + (level - before) * _ACROSS
        own.drawn = drawn
        return self.over("depth", voice) * (1.0 - level)

    def _by_kick(self, own: _BeatShapeState, voice: VoiceContext) -> Array:
        """Gain reduction by the kick, 0..1. New times crossfade in over a quantum."""
        attack, hold, release = (self.last(f"kick.{name}", voice) for name in _KICK[1:])
        times = 2.0**attack, hold, 2.0**release
        down = kick_duck_gain(voice.now, *times)
        if own.times is not None and own.times != times:
            before = kick_duck_gain(voice.now, *own.times)
            down = before + (down - before) * _ACROSS
        own.times = times
        return down


class CabinetProcessor(EffectProcessor):
    """A speaker in a cabinet, by convolution."""

    converts = {"size": as_is, "bass": as_is, "treble": as_is, "air": as_share, "mix": as_share}

    def __init__(self, part: Cabinet) -> None:
        self._kept: tuple[Any, Response | None] = ((), None)
        super().__init__(part)

    def initial_state(self) -> Convolver:
        """The memory of the effect before any sound."""
        return Convolver()

    def effect(self, x: Buffer, held: EffectState, voice: VoiceContext) -> None:
        """Convolve with the response of the speaker."""
        response = self._response(voice)
        if response is None:
            return
        wet = held.memory.process(x, response)
        mix = self.over("mix", voice)
        x += mix * (wet - x)

    def _response(self, voice: VoiceContext) -> Response | None:
        part: Cabinet = self.part
        if part.mode == "recorded":
            x = audio_of(part.audio) if part.audio else None
            key: Any = (part.audio, None if x is None else x.shape)
            if key != self._kept[0]:
                self._kept = key, None if x is None else Response(recorded(x, 2.0))
            return self._kept[1]
        size = 2.0 ** float(self.parameters["size"].scale(voice.movers)[-1]) / 100.0
        # quantized to just below what can be heard, so that a slow movement does not compute a response every quantum
        key = (
            part.box,
            round(size, 2),
            round(self.last("bass", voice), 1),
            round(self.last("treble", voice), 1),
            round(self.last("air", voice), 2),
        )
        if key != self._kept[0]:
            self._kept = key, Response(box_response(*key))
        return self._kept[1]


class _VocoderState:
    def __init__(self, bands: int) -> None:
        self.bands = np.zeros((bands, SPEAK_STATE))
        self.low = np.zeros((2, 4))


class VocoderProcessor(EffectProcessor):
    """The sound as carrier of a voice."""

    converts = {"formant": as_is, "attack": as_ms, "release": as_ms, "mix": as_share}

    def initial_state(self) -> _VocoderState:
        """The memory of the effect before any sound."""
        return _VocoderState(self.part.bands)

    def effect(self, x: Buffer, held: EffectState, voice: VoiceContext) -> None:
        """Apply the vocoder in place."""
        part: Vocoder = self.part
        if held.memory.bands.shape[0] != part.bands:
            held.memory = self.initial_state()
        own: _VocoderState = held.memory
        middles = np.linspace(math.log2(part.low), math.log2(part.high), part.bands)
        apart = float(middles[1] - middles[0])
        k = 2.0 * math.sinh(0.5 * math.log(2.0) * apart) * 1.2
        sounds = np.clip(middles + self.last("formant", voice) / 12.0, math.log2(30.0), math.log2(20000.0))
        rise, fall = (1.0 - math.exp(-1000.0 / (self.last(n, voice) * RATE)) for n in ("attack", "release"))
        wet = np.empty((2, QUANTUM))
        speak(x, self._speaker(voice.now), wet, middles, sounds, k, rise, fall, own.bands, PREWARP_TABLE)
        # a band passes unchanged when the modulator's level in it reaches -30 dBFS
        wet *= 10.0**1.5
        low = x.copy()
        edge = constant_block(math.log2(part.low) - 0.5 * apart)
        d = constant_block(BUTTERWORTH)
        filter_svf(low, 0, QUANTUM, 0, True, SvfCurves(edge, d, d, constant_block(1.0)), True, own.low, PREWARP_TABLE)
        if part.keep_lows:
            wet += low
        mix = self.over("mix", voice)
        x += mix * (wet - x)

    def _speaker(self, now: TransportContext) -> Array:
        """The modulating voice over the quantum, in sync with the phrase."""
        part: Vocoder = self.part
        if part.mode == "syllables":
            beat = samples_per_beat(now.tempo)
            source = spoken(part.words, max(960, round(part.step * beat)))
        else:
            heard = audio_of(part.audio) if part.audio else None
            if heard is None:
                return np.zeros(QUANTUM)
            source = heard.mean(axis=0)
        at = (now.start - now.origin + np.arange(QUANTUM)) % source.size
        return np.ascontiguousarray(source[at])
