"""Processors of chorus, thicken, phaser, flanger and echo."""

from __future__ import annotations

import math

import numpy as np

from ...dsp import QUANTUM, RATE
from ...dsp.chance import sign
from ...dsp.delays.delay_lines import ECHO_STATE, LONG, SHORT, EchoCurves, copies, echo, flange, line
from ...dsp.delays.wet_mix import STATE as MEET_STATE
from ...dsp.delays.wet_mix import meet
from ...dsp.dynamics.compression import STEP, STEPS, level_rest, levels
from ...dsp.filters.allpass import MOST_PASSES, allpass_row
from ...dsp.filters.svf import PREWARP_TABLE
from ...patch import Chorus, Thicken
from ..blocks import constant_batch, constant_block
from ..clock import samples_per_beat
from ..modulation import Array, as_factor, as_is, as_share
from .base import Buffer, EffectProcessor, EffectState, VoiceContext
from .dynamics import as_ms

_N = np.arange(QUANTUM, dtype=np.float64)
_MS = RATE / 1000.0


class Wet:
    """State that all time effects share: the low cut of the wet sound, and the phase of the LFO."""

    def __init__(self) -> None:
        self.cut = np.zeros((2, MEET_STATE))
        self.at = 0
        self.turns: float | None = None


class WetProcessor(EffectProcessor):
    """An effect that adds a wet sound. ``beside``: how it is mixed, as in ``dsp.delays.wet_mix.meet``."""

    beside = True

    def meet(self, x: Buffer, wet: Buffer, own: Wet, voice: VoiceContext) -> None:
        """Mix the wet sound into x, with its lows cut."""
        parameter = self.parameters["low_cut"]
        log_hz = parameter.scale(voice.movers) if parameter.movements else parameter.converted
        cut = bool(log_hz[-1] > parameter.control.to_scale(parameter.control.low) + 1e-9)
        steady = parameter.still and not parameter.movements
        meet(x, wet, self.over("mix", voice), self.beside, log_hz, cut, steady, own.cut, PREWARP_TABLE)

    def swing(self, own: Wet, voice: VoiceContext) -> Array:
        """LFO phase in cycles over the quantum, accumulated from the start of the phrase."""
        step: Array | float
        if self.part.clock == "beats":
            beat = samples_per_beat(voice.now.tempo)
            still = self.is_still("length")
            step = 1.0 / ((self.last("length", voice) if still else self.over("length", voice)) * beat)
        else:
            still = self.is_still("rate")
            step = (self.last("rate", voice) if still else self.over("rate", voice)) / RATE
        if own.turns is None:
            first = step if isinstance(step, float) else float(step[0])
            own.turns = math.fmod((voice.now.start - voice.now.origin) * first, 1.0)
        turns = own.turns + (_N * step if isinstance(step, float) else np.cumsum(step) - step)
        own.turns = math.fmod(float(turns[-1]) + (step if isinstance(step, float) else float(step[-1])), 1.0)
        return np.asarray(turns)


class _CopiesState(Wet):
    def __init__(self) -> None:
        super().__init__()
        self.line = line(SHORT)


def places(voices: int, width: Array | float) -> Array:
    """Gains of the copies for both sides, (voices, 2), spread evenly from left to right. width: 0..1."""
    w = float(np.asarray(width).reshape(-1)[-1])
    spot = np.linspace(-1.0, 1.0, voices) if voices > 1 else np.zeros(1)
    angle = (spot * w + 1.0) * math.pi / 4.0
    return np.ascontiguousarray(np.stack([np.cos(angle), np.sin(angle)], axis=1) * math.sqrt(2.0 / voices))


class ChorusProcessor(WetProcessor):
    """Copies with modulated delays."""

    converts = {
        "rate": as_ms,
        "length": as_ms,
        "delay": as_ms,
        "depth": as_is,
        "width": as_share,
        "low_cut": as_is,
        "mix": as_share,
    }

    def initial_state(self) -> _CopiesState:
        """The memory of the effect before any sound."""
        return _CopiesState()

    def effect(self, x: Buffer, held: EffectState, voice: VoiceContext) -> None:
        """Add the copies."""
        own: _CopiesState = held.memory
        part: Chorus = self.part
        turns = self.swing(own, voice)
        delay, depth, width = (self.over(n, voice) for n in ("delay", "depth", "width"))
        far = np.empty((part.voices, 2, QUANTUM))
        for v in range(part.voices):
            for side in range(2):
                phase = v / part.voices + 0.25 * width[-1] * side
                far[v, side] = _MS * np.maximum(0.05, delay + depth * np.sin(2.0 * np.pi * (turns + phase)))
        wet = np.empty((2, QUANTUM))
        copies(x, wet, own.line, own.at, far, places(part.voices, width))
        own.at += QUANTUM
        self.meet(x, wet, own, voice)


class ThickenProcessor(WetProcessor):
    """Copies that drift independently: their delays glide between seeded values."""

    converts = {
        "rate": as_ms,
        "delay": as_ms,
        "detune": as_is,
        "width": as_share,
        "low_cut": as_is,
        "mix": as_share,
    }

    def initial_state(self) -> _CopiesState:
        """The memory of the effect before any sound."""
        return _CopiesState()

    def effect(self, x: Buffer, held: EffectState, voice: VoiceContext) -> None:
        """Add the copies."""
        own: _CopiesState = held.memory
        part: Thicken = self.part
        rate = self.over("rate", voice)
        if own.turns is None:
            own.turns = (voice.now.start - voice.now.origin) * float(rate[0]) / RATE
        turns = own.turns + np.cumsum(rate) / RATE
        own.turns = float(turns[-1])
        # a smooth step is at most 1.5 times as steep as on average: this limits a copy's excursion for a given detune
        reach = (2.0 ** (self.over("detune", voice) / 1200.0) - 1.0) * 1000.0 / rate / 1.5
        delay = self.over("delay", voice)
        reach_ms = np.minimum(reach, delay * 0.9)
        far = np.empty((part.voices, 2, QUANTUM))
        for v in range(part.voices):
            own_turns = turns + v / part.voices
            first = math.floor(own_turns[0])
            marks = np.array([sign(voice.now.seed, part.id, v, first + k) for k in range(4)])
            whole = np.floor(own_turns).astype(np.int64)
            t = own_turns - whole
            k = np.clip(whole - first, 0, 2)
            smooth = t * t * (3.0 - 2.0 * t)
            place = 0.5 + 0.5 * (marks[k] + (marks[k + 1] - marks[k]) * smooth)
            far[v, 0] = far[v, 1] = _MS * np.maximum(0.05, delay * (1.0 + v) / part.voices - reach_ms * place)
        wet = np.empty((2, QUANTUM))
        copies(x, wet, own.line, own.at, far, places(part.voices, self.over("width", voice)))
        own.at += QUANTUM
        self.meet(x, wet, own, voice)


class _PhaserState(Wet):
    def __init__(self) -> None:
        super().__init__()
        self.row = np.zeros((2, MOST_PASSES))


class PhaserProcessor(WetProcessor):
    """A modulated row of all-passes."""

    beside = False
    converts = {
        "rate": as_ms,
        "length": as_ms,
        "cutoff": as_is,
        "depth": as_is,
        "feedback": as_share,
        "stereo_offset": as_is,
        "low_cut": as_is,
        "mix": as_share,
    }

    def initial_state(self) -> _PhaserState:
        """The memory of the effect before any sound."""
        return _PhaserState()

    def effect(self, x: Buffer, held: EffectState, voice: VoiceContext) -> None:
        """Apply the all-passes in place."""
        own: _PhaserState = held.memory
        turns = self.swing(own, voice)
        depth, apart = self.over("depth", voice), self.over("stereo_offset", voice) / 360.0
        centre = self.parameters["cutoff"].scale(voice.movers)
        wet = x.copy()
        for side in range(2):
            log_hz = centre + depth * np.sin(2.0 * np.pi * (turns + side * apart))
            row = wet[side : side + 1]
            allpass_row(
                row,
                0,
                QUANTUM,
                self.part.stages,
                log_hz,
                self.over("feedback", voice),
                constant_block(1.0),
                own.row[side : side + 1],
                PREWARP_TABLE,
            )
        self.meet(x, wet, own, voice)


class FlangerProcessor(WetProcessor):
    """A short, modulated delay with feedback."""

    converts = {
        "rate": as_ms,
        "length": as_ms,
        "delay": as_ms,
        "depth": as_is,
        "feedback": as_share,
        "stereo_offset": as_is,
        "low_cut": as_is,
        "mix": as_share,
    }

    def initial_state(self) -> _CopiesState:
        """The memory of the effect before any sound."""
        return _CopiesState()

    def effect(self, x: Buffer, held: EffectState, voice: VoiceContext) -> None:
        """Add the delayed sound."""
        own: _CopiesState = held.memory
        turns = self.swing(own, voice)
        delay, depth, apart = (
            self.over("delay", voice),
            self.over("depth", voice),
            self.over("stereo_offset", voice) / 360.0,
        )
        far = np.stack(
            [_MS * np.maximum(0.05, delay + depth * np.sin(2.0 * np.pi * (turns + s * apart))) for s in range(2)]
        )
        wet = np.empty((2, QUANTUM))
        flange(x, wet, own.line, own.at, np.ascontiguousarray(far), self.over("feedback", voice))
        own.at += QUANTUM
        self.meet(x, wet, own, voice)


_USUAL = 1 << 16
"""Length in samples of an echo's delay line until a longer delay is set."""


class _EchoState(Wet):
    def __init__(self) -> None:
        super().__init__()
        self.line = line(_USUAL)
        self.loop = np.zeros((2, ECHO_STATE))
        self.level = level_rest()
        self.down = 0.0

    def reach(self, delay: float) -> None:
        """Lengthen the line for a delay in samples. Its content stays."""
        size = self.line.shape[1]
        longer = size
        while longer < delay + QUANTUM + 16:
            longer *= 2
        if longer > size:
            kept, self.line = self.line, line(longer)
            at = np.arange(self.at - size, self.at)
            self.line[:, at & (longer - 1)] = kept[:, at & (size - 1)]


def one_pole(log_hz: Array) -> Array:
    """The coefficient of a one-pole low-pass, from log2 of its corner in Hz."""
    return np.asarray(1.0 - np.exp(-2.0 * np.pi * np.exp2(log_hz) / RATE))


class EchoProcessor(WetProcessor):
    """Repeats that fade."""

    converts = {
        "time": as_ms,
        "length": as_ms,
        "time_right": as_ms,
        "length_right": as_ms,
        "feedback": as_share,
        "cross": as_share,
        "stereo_offset": as_share,
        "feedback_low_cut": one_pole,
        "feedback_high_cut": one_pole,
        "detune": as_is,
        "duck": as_is,
        "low_cut": as_is,
        "mix": as_share,
    }

    def can_batch_when_steady(self) -> bool:
        """Whether it can process several quanta at once while none of its controls changes."""
        return self.parameters["detune"].goal == 0.0 and self.parameters["duck"].goal == 0.0

    def initial_state(self) -> _EchoState:
        """The memory of the effect before any sound."""
        return _EchoState()

    def effect(self, x: Buffer, held: EffectState, voice: VoiceContext) -> None:
        """Add the repeats."""
        own: _EchoState = held.memory
        key = voice.now.tempo, voice.quanta
        made = self.fixed.get(key) if self.settled else None
        if made is None:
            made = self._controls(voice)
            if self.settled and self.parameters["detune"].goal == 0.0:
                self.fixed[key] = made
        delay, lost, kept = made
        own.reach(float(delay.max()))
        wet = np.empty((2, x.shape[1]))
        fed = np.ascontiguousarray(np.broadcast_to(x.mean(axis=0), x.shape)) if self.part.sides == "mono" else x
        echo(
            fed,
            wet,
            own.line,
            own.at,
            EchoCurves(
                delay,
                self.settled and self.parameters["detune"].goal == 0.0,
                self.over("feedback", voice),
                self.over("cross", voice),
                lost,
                kept,
            ),
            own.loop,
        )
        own.at += x.shape[1]
        self._duck(x, wet, own, voice)
        self.meet(x, wet, own, voice)

    def _controls(self, voice: VoiceContext) -> tuple[Buffer, Array, Array]:
        """Delays of both sides in samples, and the cuts of the feedback loop."""
        far = self._time("", voice)
        delay = np.empty((2, far.size))
        delay[:] = far
        if self.part.sides == "own times":
            delay[1] = self._time("_right", voice)
        elif self.part.sides == "linked":
            delay[1] *= 1.0 + self.over("stereo_offset", voice)
        detune = self.last("detune", voice)
        if detune > 0.0:
            # a 0.7 Hz sway whose greatest slope gives the detune
            turns = 0.7 * (voice.now.start + _N) / RATE
            reach = (2.0 ** (detune / 1200.0) - 1.0) * RATE / (2.0 * np.pi * 0.7)
            apart = 0.0 if self.part.sides == "mono" else 0.27
            delay += reach * (1.0 + np.stack([np.sin(2 * np.pi * turns), np.sin(2 * np.pi * (turns + apart))]))
        np.minimum(delay, LONG - 8, out=delay)
        low, high = self.parameters["feedback_low_cut"], self.parameters["feedback_high_cut"]
        log_low, log_high = low.scale(voice.movers), high.scale(voice.movers)
        lost = constant_block(0.0) if self._at(log_low, low.control.low) else low.convert(log_low)
        kept = constant_block(1.0) if self._at(log_high, high.control.high) else high.convert(log_high)
        if voice.quanta > 1:
            lost, kept = (constant_batch(float(x[0]), voice.quanta) for x in (lost, kept))
        return delay, lost, kept

    def _time(self, side: str, voice: VoiceContext) -> Array:
        """The time between repeats in samples. side: the end of the controls' names."""
        if self.part.clock == "beats":
            return self.over(f"length{side}", voice) * samples_per_beat(voice.now.tempo)
        return self.over(f"time{side}", voice) * _MS

    @staticmethod
    def _at(log_hz: Array, end: float) -> bool:
        return abs(float(log_hz[-1]) - math.log2(end)) < 1e-9

    def _duck(self, x: Buffer, wet: Buffer, own: _EchoState, voice: VoiceContext) -> None:
        duck = self.last("duck", voice)
        if duck <= 0.0 and own.down == 0.0:
            return
        heard = np.empty(STEPS)
        levels(x, False, 0.02 * RATE / STEP, heard, own.level)
        # full effect from -12 dBFS up, none below -36 dBFS; 10 ms down, 150 ms up
        want = duck * np.clip((heard + 36.0) / 24.0, 0.0, 1.0)
        down = np.empty(STEPS + 1)
        down[0] = own.down
        rise, fall = (1.0 - math.exp(-STEP / (s * RATE)) for s in (0.01, 0.15))
        for k in range(STEPS):
            w = want[k]
            down[k + 1] = down[k] + (rise if w > down[k] else fall) * (w - down[k])
        own.down = 0.0 if duck <= 0.0 and down[-1] < 1e-3 else float(down[-1])
        wet *= as_factor(-np.interp((_N + 1.0) / STEP, np.arange(STEPS + 1.0), down))
