"""The processor of distortion."""

from __future__ import annotations

import numpy as np

from ...dsp import QUANTUM, RATE
from ...dsp.delays.in_place import delay_in_place
from ...dsp.filters.svf import (
    BUTTERWORTH,
    HIGHPASS,
    LOWPASS,
    PREWARP_TABLE,
    SvfCurves,
    band_coefficients,
    filter_mixed,
    filter_svf,
)
from ...dsp.lfo import Drawn
from ...dsp.nonlinear.soft_clip import SOFT_LATENCY, DriveCurves, driven, makeup, makeup_table, rate_for, soft
from ...dsp.nonlinear.waveshaping import (
    CRUSH_STATE,
    CURVES,
    DRAWN_POINTS,
    NOT_DRAWN,
    SHAPED_LATENCY,
    SHAPED_STATE,
    CrushCurves,
    crush,
    drawn_table,
    shape,
    shaped,
    shaped_makeup,
    shaped_table,
)
from ...dsp.store import remembered
from ...patch import CurvePoint, Distortion
from ..blocks import constant_batch, constant_block
from ..modulation import Array, as_factor, as_is, as_share, steady
from .base import Buffer, StageProcessor, VoiceContext
from .soft_curve import SoftCurve


class DistortionState:
    """State of all families of curves, so that one can replace another, and the delayed dry sound."""

    def __init__(self) -> None:
        self.soft = SoftCurve()
        self.shaped = np.zeros(SHAPED_STATE)
        self.crush = np.zeros((2, CRUSH_STATE))
        self.wet = np.zeros((2, SHAPED_LATENCY))
        self.dry: dict[int, Buffer] = {}
        self.bias: float | None = None
        self.focus: Focus | None = None

    def line(self, lag: int, channels: int) -> Buffer:
        """The dry sound of the last ``lag`` samples, (channels, lag)."""
        if lag not in self.dry:
            self.dry = {lag: np.zeros((2, lag))}
        return self.dry[lag][:channels]


class DistortionProcessor(StageProcessor):
    """Waveshaping: the soft curve at two, four or eight times the rate, curves with edges at four times."""

    converts = {
        "drive": as_is, "trim": as_is, "bias": as_is, "bits": as_is, "rate": as_is, "focus_low": as_is,
        "focus_high": as_is, "lift": as_is, "lift_at": as_is, "lift_q": as_is, "mix": as_share,
    }  # fmt: skip

    def __init__(self, part: Distortion) -> None:
        self._work = np.empty((QUANTUM, 4))
        super().__init__(part)

    @staticmethod
    def latency_of(part: Distortion) -> int:
        """Latency in samples. It is the same on and off."""
        return SOFT_LATENCY if part.curve == "soft" else SHAPED_LATENCY

    def take(self, part: Distortion) -> None:
        """Apply the controls that are not smoothed."""
        super().take(part)
        self.match = part.level_match
        self._lines = drawn_of(tuple(part.points)) if part.curve == "drawn" else NOT_DRAWN
        if part.curve == "drawn":
            self._table = drawn_makeup(tuple(part.points))
        else:
            self._table = makeup_table() if part.curve == "soft" else shaped_table(part.curve)

    def state(self) -> DistortionState:
        """A new state."""
        return DistortionState()

    def tick(self) -> None:
        """Prepare the next quantum."""
        super().tick()
        drive, trim = self.parameters["drive"], self.parameters["trim"]
        if drive.still and trim.still:
            up = constant_block(10.0 ** (drive.goal / 20.0))
            self._gains = up, constant_block(float(self._back(np.array([drive.goal]), np.array([trim.goal]))[0]))
        else:
            self._gains = as_factor(drive.base_value), self._back(drive.base_value, trim.base_value)
        self._rate = rate_for(self._most_drive())

    def _most_drive(self) -> float:
        """The most that its drive and its movements can reach, with what the focus lifts, in dB."""
        most = self.parameters["drive"].reach[1]
        return most if self._plain() else most + max(0.0, self.parameters["lift"].reach[1])

    def _back(self, drive: Array, trim: Array) -> Array:
        after = as_factor(trim)
        return np.asarray(after * level_match(self.part, drive) if self.match else after)

    def rest(self, x: Buffer, a: int, b: int, state: DistortionState) -> None:
        """Delay the sound by the latency of the curve."""
        delay_in_place(x, a, b, state.line(self.latency_of(self.part), x.shape[0]))
        state.focus, state.bias = None, None
        state.soft.rest()
        state.shaped[:], state.crush[:], state.wet[:] = 0.0, 0.0, 0.0

    def work(self, x: Buffer, a: int, b: int, state: DistortionState, voice: VoiceContext) -> None:
        """Apply the curve in place."""
        drive, after = self._gains
        if self.parameters["drive"].movements or self.parameters["trim"].movements:
            db, trim = (self.scaled(n, voice) for n in ("drive", "trim"))
            drive, after = np.empty(db.size), np.empty(db.size)
            driven(db, trim, self._table, self.match, drive, after)
        elif voice.quanta > 1:
            drive, after = (constant_batch(float(g[0]), voice.quanta) for g in (drive, after))
        mix = self.over("mix", voice)
        if self._plain():
            state.focus = None
            self._bend(x, a, b, drive, after, mix, state, voice)
        else:
            self._focused(x, a, b, drive, after, mix, state, voice)

    def can_batch_when_steady(self) -> bool:
        """Whether it can process several quanta at once while none of its controls changes."""
        return self._plain() and self.part.curve != "crush"

    def can_span(self) -> bool:
        """Whether it can process several quanta at once while movers move its controls."""
        return self._plain() and not self.parameters["bias"].movements

    def _plain(self) -> bool:
        """Whether the whole sound goes into the curve unfiltered."""
        low, high, lift = (self.parameters[n] for n in ("focus_low", "focus_high", "lift"))
        if not steady([low, high, lift]):
            return False
        return low.goal <= low.control.to_scale(20.0) and high.goal >= high.control.to_scale(20000.0) and not lift.goal

    def _focused(
        self,
        x: Buffer,
        a: int,
        b: int,
        drive: Array,
        after: Array,
        mix: Array,
        state: DistortionState,
        voice: VoiceContext,
    ) -> None:
        """Distort one band, with pre- and de-emphasis. What the curve changes in the band is added to the dry sound."""
        if state.focus is None:
            state.focus = Focus()
        own, n = state.focus, x.shape[0]
        low, high = (self.parameters[k].scale(voice.movers) for k in ("focus_low", "focus_high"))
        inside = x.copy()
        k, whole = constant_block(BUTTERWORTH), constant_block(1.0)
        if low[b - 1] > np.log2(20.0) + 1e-9:
            filter_svf(inside, a, b, HIGHPASS, True, SvfCurves(low, k, k, whole), False, own.low[:n], PREWARP_TABLE)
        if high[b - 1] < np.log2(20000.0) - 1e-9:
            filter_svf(inside, a, b, LOWPASS, True, SvfCurves(high, k, k, whole), False, own.high[:n], PREWARP_TABLE)
        before = inside.copy()
        lift, at, q = (float(self.parameters[k].scale(voice.movers)[b - 1]) for k in ("lift", "lift_at", "lift_q"))
        up, down = (band_coefficients("bell", 2.0**at, sign * lift, 2.0**q) for sign in (1.0, -1.0))
        filter_mixed(inside, a, b, up if own.up is None else own.up, up, own.into[:n])
        self._bend(inside, a, b, drive, after, whole, state, voice)
        filter_mixed(inside, a, b, down if own.down is None else own.down, down, own.out[:n])
        own.up, own.down = up, down
        lag = self.latency_of(self.part)
        delay_in_place(x, a, b, own.line("dry", lag, n))
        delay_in_place(before, a, b, own.line("before", lag, n))
        x[:, a:b] += mix[a:b] * (inside[:, a:b] - before[:, a:b])

    def _bend(
        self,
        x: Buffer,
        a: int,
        b: int,
        drive: Array,
        after: Array,
        mix: Array,
        state: DistortionState,
        voice: VoiceContext,
    ) -> None:
        curve, n = self.part.curve, x.shape[0]
        bias = float(self.parameters["bias"].scale(voice.movers)[min(b, QUANTUM) - 1]) * 0.02
        was = bias if state.bias is None else state.bias
        state.bias = bias
        if curve == "soft":
            line = state.line(SOFT_LATENCY, n)
            state.soft.bend(x, a, b, DriveCurves(drive, after, was, bias, mix), self._rate, line, self._work)
        elif curve == "crush":
            levels = np.exp2(self.scaled("bits", voice) - 1.0)
            step = np.exp2(self.scaled("rate", voice)) / RATE
            line = state.line(SHAPED_LATENCY, n)
            crush(x, a, b, CrushCurves(drive, after, levels, step, mix), state.crush[:n], line, state.wet[:n])
        else:
            line = state.line(SHAPED_LATENCY, n)
            shape(
                x,
                a,
                b,
                CURVES[curve],
                DriveCurves(drive, after, was, bias, mix),
                state.shaped,
                line,
                self._work,
                self._lines,
            )


class Focus:
    """State of a band distortion: the edges of the band, and the filters before and after the curve."""

    def __init__(self) -> None:
        self.low, self.high = np.zeros((2, 4)), np.zeros((2, 4))
        self.into, self.out = np.zeros((2, 2)), np.zeros((2, 2))
        self.up: Array | None = None
        self.down: Array | None = None
        self._lines: dict[str, Buffer] = {}

    def line(self, name: str, lag: int, channels: int) -> Buffer:
        """A delay line of so many samples."""
        held = self._lines.get(name)
        if held is None or held.shape[1] != lag:
            held = self._lines[name] = np.zeros((2, lag))
        return held[:channels]


@remembered
def drawn_of(points: tuple[CurvePoint, ...]) -> Array:
    """A drawn transfer curve as the table that the loops read."""
    drawn = Drawn.of([(p.at, p.value, p.bend) for p in points], 0.0, 0.004)
    return drawn_table(2.0 * drawn(np.linspace(0.0, 1.0, DRAWN_POINTS)) - 1.0)


@remembered
def drawn_makeup(points: tuple[CurvePoint, ...]) -> Array:
    """Gains that compensate a drawn curve, at every quarter dB of drive from -24 dB."""
    wave = 0.35 * np.sin(2 * np.pi * np.arange(512) / 512)
    place, values = np.linspace(-1.0, 1.0, DRAWN_POINTS), drawn_of(points)[0]
    out = [np.std(np.interp(wave * 10 ** (d / 20), place, values)) for d in np.linspace(-24.0, 72.0, 385)]
    return np.asarray(np.sqrt(np.mean(wave**2)) / np.maximum(out, 0.02))


def level_match(part: Distortion, drive: Array) -> Array:
    """The fixed gain that compensates the drive."""
    if part.curve == "drawn":
        return np.asarray(np.interp(drive, np.linspace(-24.0, 72.0, 385), drawn_makeup(tuple(part.points))))
    return makeup(drive) if part.curve == "soft" else shaped_makeup(part.curve, drive)


def curve_of(part: Distortion, points: int = 129) -> tuple[Array, Array]:
    """The transfer curve of a distortion for a drawing: input and output, -1..1."""
    x = np.linspace(-1.0, 1.0, points)
    driven = x * 10 ** (part.drive / 20.0)
    bias = part.bias / 50.0
    if part.curve == "crush":
        levels = 2.0 ** (part.bits - 1.0)
        y = np.round(np.clip(driven, -1.0, 1.0) * levels) / levels
    elif part.curve == "drawn":
        place, line = np.linspace(-1.0, 1.0, DRAWN_POINTS), drawn_of(tuple(part.points))[0]
        y = np.interp(driven + bias, place, line) - np.interp(bias, place, line)
    elif part.curve == "soft":
        y = soft(driven + bias) - soft(np.array([bias]))
    else:
        y = shaped(part.curve, driven + bias) - shaped(part.curve, np.array([bias]))
    return x, y * (level_match(part, np.array([part.drive])) if part.level_match else 1.0)
