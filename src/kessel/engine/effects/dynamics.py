"""Processors of compressor, expander, multiband dynamics and ceiling."""

from __future__ import annotations

import math

import numpy as np

from ...dsp import QUANTUM, RATE
from ...dsp.dynamics.compression import (
    STEPS,
    GainCurves,
    gain_rest,
    gains,
    keeping,
    level_rest,
    levels,
    weigh,
    weigh_into,
)
from ...dsp.dynamics.limiter import LATENCY as LIMITER_LATENCY
from ...dsp.dynamics.limiter import limit
from ...dsp.dynamics.limiter import rest as limiter_rest
from ...dsp.filters.crossover import crossover
from ...dsp.filters.crossover import rest as crossover_rest
from ...dsp.filters.svf import BUTTERWORTH, HIGHPASS, PREWARP_TABLE, SvfCurves, filter_svf
from ...dsp.mixing import ramp_gain
from ...dsp.nonlinear.soft_clip import SOFT_LATENCY, DriveCurves, rate_for
from ...dsp.nonlinear.waveshaping import CURVES, NOT_DRAWN, SHAPED_LATENCY, SHAPED_STATE, shape
from ...patch import BandDynamics, CeilingItem, Compressor, Multiband
from ..blocks import constant_batch, constant_block
from ..modulation import Array, as_factor, as_is, as_share, parameter_of
from .base import Buffer, EffectProcessor, EffectState, VoiceContext, stepped
from .soft_curve import SoftCurve


def as_ms(log_ms: Array) -> Array:
    """Milliseconds, from log2."""
    return np.asarray(np.exp2(log_ms))


def as_keeping(log_ms: Array) -> Array:
    """Smoothing coefficient per step, from log2 of a time in ms."""
    return keeping(np.exp2(log_ms))


def as_slope(log_ratio: Array) -> Array:
    """Gain reduction in dB per dB over the threshold, from log2 of a ratio."""
    return np.exp2(-log_ratio) - 1.0


def as_lift(log_ratio: Array) -> Array:
    """Boost in dB per dB under the threshold, from log2 of a ratio."""
    return 1.0 - np.exp2(-log_ratio)


def as_fall(log_ratio: Array) -> Array:
    """Attenuation in dB per dB under the threshold, negative, from log2 of a ratio."""
    return 1.0 - np.exp2(log_ratio)


class DetectorInputs:
    """State of one level detector and its gain."""

    def __init__(self) -> None:
        self.level = level_rest()
        self.gain = gain_rest()
        self.cut = np.zeros((2, 4))
        self.heard, self.trace, self.out = np.empty(0), np.zeros(0), np.empty(0)
        self.room(1)

    def room(self, quanta: int) -> None:
        """Allocate the levels and gains of so many quanta."""
        if self.out.size != quanta * QUANTUM:
            self.heard, self.trace = np.empty(quanta * STEPS), np.zeros(quanta * STEPS)
            self.out = np.empty(quanta * QUANTUM)


class CompressorProcessor(EffectProcessor):
    """Reduces loud parts, or boosts soft ones."""

    converts = {
        "threshold": as_is, "ratio": as_is, "knee": as_is, "attack": as_keeping, "release": as_keeping, "hold": as_is,
        "max_reduction": as_is, "detector_low_cut": as_is, "makeup": as_factor, "mix": as_share,
    }  # fmt: skip

    @staticmethod
    def latency_of(part: Compressor) -> int:
        """Latency in samples. It is the same on and off."""
        return round(part.look_ahead * RATE / 1000.0)

    def can_batch_when_steady(self) -> bool:
        """Whether it can process several quanta at once while none of its controls changes."""
        return True

    def initial_state(self) -> DetectorInputs:
        """The memory of the effect before any sound."""
        return DetectorInputs()

    def effect(self, x: Buffer, held: EffectState, voice: VoiceContext) -> None:
        """Compress in place."""
        own: DetectorInputs = held.memory
        own.room(voice.quanta)
        part: Compressor = self.part
        hears = x
        edge = self.parameters["detector_low_cut"].scale(voice.movers)
        if edge.max() > self.parameters["detector_low_cut"].control.to_scale(20.0) + 1e-9:
            hears = x.copy()
            k, still = constant_block(BUTTERWORTH), self.is_still("detector_low_cut")
            filter_svf(
                hears,
                0,
                x.shape[1],
                HIGHPASS,
                False,
                SvfCurves(edge, k, k, constant_block(1.0)),
                still,
                own.cut,
                PREWARP_TABLE,
            )
        levels(hears, part.detector == "RMS", self.held("hold", voice), own.heard, own.level)
        threshold, ratio = self.steps("threshold", voice), self.steps("ratio", voice)
        most = self.steps("max_reduction", voice)
        none = stepped(0.0, voice.quanta)
        down = as_slope(ratio) if part.mode == "downward" else none
        up = as_lift(ratio) if part.mode == "upward" else none
        curves = GainCurves(
            threshold, down, threshold, up, self.steps("knee", voice), stepped(1.0, voice.quanta), most, most,
            self.steps("attack", voice), self.steps("release", voice),
        )  # fmt: skip
        gains(own.heard, curves, False, own.out, own.trace, own.gain)
        self.traces = {"": own.trace}
        held.delay(x, self.latency_of(part))
        weigh(x, own.out, self.over("makeup", voice), self.over("mix", voice))


class ExpanderProcessor(EffectProcessor):
    """Makes soft parts softer."""

    converts = {
        "threshold": as_is, "ratio": as_is, "knee": as_is, "attack": as_keeping, "release": as_keeping, "hold": as_is,
        "max_reduction": as_is, "mix": as_share,
    }  # fmt: skip

    def can_batch_when_steady(self) -> bool:
        """Whether it can process several quanta at once while none of its controls changes."""
        return True

    def initial_state(self) -> DetectorInputs:
        """The memory of the effect before any sound."""
        return DetectorInputs()

    def effect(self, x: Buffer, held: EffectState, voice: VoiceContext) -> None:
        """Expand in place."""
        own: DetectorInputs = held.memory
        own.room(voice.quanta)
        none = stepped(0.0, voice.quanta)
        levels(x, False, self.held("hold", voice), own.heard, own.level)
        threshold = self.steps("threshold", voice)
        curves = GainCurves(
            threshold, none, threshold, as_fall(self.steps("ratio", voice)), self.steps("knee", voice),
            stepped(1.0, voice.quanta), self.steps("max_reduction", voice), none, self.steps("attack", voice),
            self.steps("release", voice),
        )  # fmt: skip
        gains(own.heard, curves, True, own.out, own.trace, own.gain)
        self.traces = {"": own.trace}
        weigh(x, own.out, constant_batch(1.0, voice.quanta), self.over("mix", voice))


class _Bands:
    """State of multiband dynamics."""

    def __init__(self, count: int) -> None:
        self.count = count
        self.split = crossover_rest(count - 1)
        self.bands = np.empty((count, 2, QUANTUM))
        self.each: dict[str, DetectorInputs] = {}
        self.shares: dict[str, tuple[float, float]] = {}
        """Per band, the present fades of its solo state and of its dynamics."""

    def room(self, n: int) -> Buffer:
        """Allocate n samples for every band."""
        if self.bands.shape[2] != n:
            self.bands = np.empty((self.count, 2, n))
        return self.bands


_ACROSS = np.arange(1, QUANTUM + 1) / QUANTUM
_BAND = {
    "down_threshold": as_is, "down_ratio": as_slope, "up_threshold": as_is, "up_ratio": as_lift, "attack": as_is,
    "release": as_is, "gain": as_factor,
}  # fmt: skip
SPLITS = ("split_1", "split_2", "split_3")


class MultibandProcessor(EffectProcessor):
    """Dynamics of two to four bands."""

    converts = {
        "split_1": as_is, "split_2": as_is, "split_3": as_is, "knee": as_is, "depth": as_share, "speed": as_is,
        "hold": as_is, "max_boost": as_is, "mix": as_share,
    }  # fmt: skip

    def take(self, part: Multiband) -> None:
        """Apply new control values and new bands."""
        super().take(part)
        self._switched = True
        for band in part.bands:
            for name, convert in _BAND.items():
                path = f"bands.{band.id}.{name}"
                if path in self.parameters:
                    self.parameters[path].turn(float(getattr(band, name)))
                else:
                    self.parameters[path] = parameter_of(band, name, convert)
        kept = {f"bands.{b.id}." for b in part.bands}
        self.parameters = {
            p: k for p, k in self.parameters.items() if not p.startswith("bands.") or p.startswith(tuple(kept))
        }

    def tick(self) -> None:
        """Prepare the next quantum. The split rotates the phase, so it is off only when it is switched off."""
        super().tick()
        self.off = self.off and not self.part.on

    def can_batch_when_steady(self) -> bool:
        """Whether it can process several quanta at once while none of its controls changes."""
        return not self._switched

    def initial_state(self) -> _Bands:
        """The memory of the effect before any sound."""
        return _Bands(len(self.part.bands))

    def effect(self, x: Buffer, held: EffectState, voice: VoiceContext) -> None:
        """Process every band, and sum them."""
        part: Multiband = self.part
        if held.memory.count != len(part.bands):
            held.memory = self.initial_state()
        own: _Bands = held.memory
        logs, same = rising(self, own.count - 1, voice)
        bands = own.room(x.shape[1])
        crossover(x, bands, logs, same, own.split, PREWARP_TABLE)
        alone = [b.id for b in part.bands if b.solo]
        mix = self.over("mix", voice)
        x[:] = 0.0
        self.traces = {}
        self._switched = False
        for n, band in enumerate(part.bands):
            y = bands[n]
            heard = 1.0 if not alone or band.id in alone else 0.0
            on = 1.0 if band.on else 0.0
            was, was_on = own.shares.get(band.id, (heard, on))
            own.shares[band.id] = heard, on
            if (heard, was) == (0.0, 0.0):
                continue
            if heard != was:
                ramp_gain(y, was, heard)
            if (on, was_on) == (0.0, 0.0):
                x += y
                continue
            listening = own.each.get(band.id)
            if listening is None:
                listening = own.each[band.id] = DetectorInputs()
            # a switched setting crossfades over one quantum
            much = mix if on == was_on else mix * (was_on + (on - was_on) * _ACROSS)
            self._dynamics(x, y, band, listening, much, voice)

    def _dynamics(
        self, x: Buffer, y: Buffer, band: BandDynamics, own: DetectorInputs, mix: Array, voice: VoiceContext
    ) -> None:
        """Add the band y to x with its dynamics applied."""
        own.room(voice.quanta)
        levels(y, False, self.held("hold", voice), own.heard, own.level)
        key = band.id, voice.quanta
        made: tuple[GainCurves, Array] | None = self.fixed.get(key)
        if made is None:
            made = self._controls(f"bands.{band.id}", voice)
            if self.settled:
                self.fixed[key] = made
        gains(own.heard, made[0], False, own.out, own.trace, own.gain)
        self.traces[f"bands.{band.id}"] = own.trace
        weigh_into(x, y, own.out, made[1], mix)

    def _controls(self, path: str, voice: VoiceContext) -> tuple[GainCurves, Array]:
        """A band's controls as the loops need them: gain at every step, and the level after it."""
        speed = self.steps("speed", voice)
        down_from, down, up_from, up, attack, release = (
            self.steps(f"{path}.{name}", voice)
            for name in ("down_threshold", "down_ratio", "up_threshold", "up_ratio", "attack", "release")
        )
        steps = GainCurves(
            down_from, down, up_from, up, self.steps("knee", voice), self.steps("depth", voice),
            stepped(120.0, voice.quanta),
            self.steps("max_boost", voice), _kept(attack, speed), _kept(release, speed),
        )  # fmt: skip
        return steps, self.over(f"{path}.gain", voice)


def _kept(log_ms: Array, log_speed: Array) -> Array:
    return keeping(np.exp2(log_ms - log_speed))


def rising(processor: EffectProcessor, count: int, voice: VoiceContext) -> tuple[list[Array], bool]:
    """Log2 of the first splits in Hz, each at least as high as the one before, and whether they are constant."""
    found: list[Array] = []
    for name in SPLITS[:count]:
        parameter = processor.parameters[name]
        log_hz = parameter.scale(voice.movers) if parameter.movements else parameter.converted
        found.append(np.maximum(log_hz, found[-1]) if found else log_hz)
    return found, processor.is_still(*SPLITS[:count])


class Clips:
    """State of the ceiling in all modes."""

    def __init__(self) -> None:
        self.limiter = limiter_rest()
        self.work = np.empty((QUANTUM, 4))
        self.mode, self.coming = "", ""
        self.rest("soft clip")
        self.rest("hard clip")

    def rest(self, mode: str) -> None:
        """Reset one mode."""
        if mode == "limiter":
            self.limiter = limiter_rest()
        elif mode == "soft clip":
            self.soft, self.soft_line = SoftCurve(), np.zeros((2, SOFT_LATENCY))
        else:
            self.hard, self.hard_line = np.zeros(SHAPED_STATE), np.zeros((2, SHAPED_LATENCY))


CEILING_LATENCY = LIMITER_LATENCY


def clipped(x: Buffer, own: Clips, hard: bool, into: Array, after: Array, most: float) -> int:
    """Clip x, (2, QUANTUM), in place, with gains into and out of the curve, (QUANTUM,). Returns the latency.

    most: the highest gain into the curve that the controls can reach, in dB.
    """
    if hard:
        shape(
            x,
            0,
            QUANTUM,
            CURVES["hard"],
            DriveCurves(into, after, 0.0, 0.0, constant_block(1.0)),
            own.hard,
            own.hard_line,
            own.work,
            NOT_DRAWN,
        )
    else:
        curves = DriveCurves(into, after, 0.0, 0.0, constant_block(1.0))
        own.soft.bend(x, 0, QUANTUM, curves, rate_for(most), own.soft_line, own.work)
    # the filter on the way down from the higher rate overshoots
    np.minimum(x, after, out=x)
    np.maximum(x, -after, out=x)
    return SHAPED_LATENCY if hard else SOFT_LATENCY


class CeilingProcessor(EffectProcessor):
    """A limit for all peaks. All modes have the latency of the limiter."""

    converts = {"drive": as_is, "limit": as_is, "release": as_ms, "mix": as_share}

    def take(self, part: CeilingItem) -> None:
        """Apply new control values and another mode."""
        super().take(part)
        self._switched = True

    @staticmethod
    def latency_of(part: CeilingItem) -> int:
        """Latency in samples. It is the same on and off."""
        return CEILING_LATENCY

    def initial_state(self) -> Clips:
        """The memory of the effect before any sound."""
        return Clips()

    def can_batch_when_steady(self) -> bool:
        """Whether it can process several quanta at once while none of its controls changes."""
        mode: str = self.part.mode
        return mode == "limiter" and not self._switched

    def effect(self, x: Buffer, held: EffectState, voice: VoiceContext) -> None:
        """Keep x below the limit, in place."""
        own: Clips = held.memory
        mix = self.over("mix", voice)
        dry = x.copy()
        held.delay(dry, CEILING_LATENCY)
        drive, top = self._levels(voice)
        before = np.abs(x).reshape(2, -1, QUANTUM).max(axis=(0, 2)) * drive[-1]
        mode: str = self.part.mode
        if own.mode in ("", mode):
            self._end(x, mode, held, drive, top, voice)
            own.mode, own.coming, self._switched = mode, "", False
        else:
            # the new mode runs silently for one quantum, then crossfades in over the next
            y = x.copy()
            if own.coming != mode:
                own.rest(mode)
                held.lines.pop(mode, None)
            self._end(y, mode, held, drive, top, voice)
            self._end(x, own.mode, held, drive, top, voice)
            if own.coming == mode:
                x += _ACROSS * (y - x)
                own.mode, own.coming = mode, ""
            else:
                own.coming = mode
        over = 20.0 * np.log10(np.maximum(before, 1e-9) / float(top[-1]))
        self.traces = {"": np.repeat(-np.maximum(0.0, over), STEPS)}
        if mix.min() < 1.0:
            x += (1.0 - mix) * (dry - x)

    def _end(self, x: Buffer, mode: str, held: EffectState, drive: Array, top: Array, voice: VoiceContext) -> None:
        """Apply one mode of the ceiling to x, in place."""
        own: Clips = held.memory
        if mode == "limiter":
            x *= drive if voice.quanta == 1 else drive[-1]
            fall = math.exp(-1000.0 / (self.last("release", voice) * RATE))
            limit(x, float(top[-1]) * 10.0 ** (-0.05 / 20.0), fall, own.limiter)
            late = LIMITER_LATENCY
        else:
            most = self.parameters["drive"].reach[1] - self.parameters["limit"].reach[0]
            late = clipped(x, own, mode == "hard clip", drive / top, top, most)
        held.delay(x, CEILING_LATENCY - late, mode)

    def _levels(self, voice: VoiceContext) -> tuple[Array, Array]:
        drive, top = self.parameters["drive"], self.parameters["limit"]
        return as_factor(drive.scale(voice.movers)), as_factor(top.scale(voice.movers))
