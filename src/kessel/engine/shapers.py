"""Distortion and EQ as they run."""

from __future__ import annotations

import numpy as np

from ..dsp import QUANTUM, RATE
from ..dsp.distortion import STATE as SOFT_STATE
from ..dsp.distortion import distort, driven, hold_back, makeup, makeup_table, soft
from ..dsp.filters import band_coefficients, filter_mixed
from ..dsp.halfband import LATENCY
from ..dsp.mixing import ramp_gain
from ..dsp.shapes import (
    CRUSH_STATE,
    CURVES,
    SHAPED_LATENCY,
    SHAPED_STATE,
    crush,
    shape,
    shaped,
    shaped_makeup,
    shaped_table,
)
from ..patch import Distortion, Eq
from .knobs import Array, Knob, as_factor, as_is, as_share, gain_of, knob_of
from .runs import Buffer, StageRun, VoiceNow, full


class DistortionState:
    """What a distortion keeps: of every family of curves, so that one can take over from the other; and the dry sound
    held back."""

    def __init__(self) -> None:
        self.soft = np.zeros(SOFT_STATE)
        self.shaped = np.zeros(SHAPED_STATE)
        self.crush = np.zeros((2, CRUSH_STATE))
        self.wet = np.zeros((2, SHAPED_LATENCY))
        self.dry: dict[int, Buffer] = {}

    def line(self, lag: int, channels: int) -> Buffer:
        """The dry sound of so many samples, (channels, lag)."""
        if lag not in self.dry:
            self.dry = {lag: np.zeros((2, lag))}
        return self.dry[lag][:channels]


class DistortionRun(StageRun):
    """A curve: the soft one at twice the rate, those with edges at four times."""

    converts = {"drive": as_is, "trim": as_is, "bits": as_is, "rate": as_is, "mix": as_share}

    def __init__(self, part: Distortion) -> None:
        self._work = np.empty((QUANTUM, 4))
        super().__init__(part)

    @staticmethod
    def latency_of(part: Distortion) -> int:
        """Latency in samples, on or off."""
        return LATENCY if part.curve == "soft" else SHAPED_LATENCY

    def take(self, part: Distortion) -> None:
        """Take over what is not smoothed."""
        super().take(part)
        self.match = part.level_match
        self.bias = part.bias / 100.0 * 2.0
        self._table = makeup_table() if part.curve == "soft" else shaped_table(part.curve)

    def state(self) -> DistortionState:
        """At rest."""
        return DistortionState()

    def tick(self) -> None:
        """Prepare a quantum."""
        super().tick()
        drive, trim = self.knobs["drive"], self.knobs["trim"]
        if drive.still and trim.still:
            up = full(10.0 ** (drive.goal / 20.0))
            self._gains = up, full(float(self._back(np.array([drive.goal]), np.array([trim.goal]))[0]))
        else:
            self._gains = as_factor(drive.rest), self._back(drive.rest, trim.rest)

    def _back(self, drive: Array, trim: Array) -> Array:
        after = as_factor(trim)
        return np.asarray(after * level_match(self.part.curve, drive) if self.match else after)

    def rest(self, x: Buffer, a: int, b: int, state: DistortionState) -> None:
        """Hold the sound back as long as if it were distorted."""
        hold_back(x, a, b, state.line(self.latency_of(self.part), x.shape[0]))
        state.soft[:], state.shaped[:], state.crush[:], state.wet[:] = 0.0, 0.0, 0.0, 0.0

    def work(self, x: Buffer, a: int, b: int, state: DistortionState, voice: VoiceNow) -> None:
        """Distort in place."""
        drive, after = self._gains
        if self.knobs["drive"].movements or self.knobs["trim"].movements:
            drive, after = np.empty(QUANTUM), np.empty(QUANTUM)
            db, trim = (self.knobs[n].scale(voice.movers) for n in ("drive", "trim"))
            driven(db, trim, self._table, self.match, drive, after)
        mix = self.knobs["mix"].value(voice.movers)
        curve, n = self.part.curve, x.shape[0]
        if curve == "soft":
            distort(x, a, b, drive, after, self.bias, mix, state.soft, state.line(LATENCY, n), self._work)
        elif curve == "crush":
            levels = np.exp2(self.knobs["bits"].scale(voice.movers) - 1.0)
            step = np.exp2(self.knobs["rate"].scale(voice.movers)) / RATE
            line = state.line(SHAPED_LATENCY, n)
            crush(x, a, b, drive, after, levels, step, mix, state.crush[:n], line, state.wet[:n])
        else:
            line = state.line(SHAPED_LATENCY, n)
            shape(x, a, b, CURVES[curve], drive, after, self.bias, mix, state.shaped, line, self._work)


def level_match(curve: str, drive: Array) -> Array:
    """The fixed gain that takes back what drive adds."""
    return makeup(drive) if curve == "soft" else shaped_makeup(curve, drive)


class EqRun:
    """Up to eight bands in a row."""

    def __init__(self, part: Eq) -> None:
        self.knobs: dict[str, Knob] = {"mix": knob_of(part, "mix", as_share)}
        self._bands: dict[str, Array] = {}
        self._now: dict[str, Array] = {}
        self._level = 1.0
        self.update(part)
        self._now = dict(self._bands)
        self._level = self._trim

    @staticmethod
    def latency_of(part: Eq) -> int:
        """None."""
        return 0

    def update(self, part: Eq) -> None:
        """Take over turned controls."""
        self.knobs["mix"].turn(part.mix if part.on else 0.0)
        self._bands = {b.id: band_coefficients(b.type, b.frequency, b.gain, b.q) for b in part.bands if b.on}
        self._trim = gain_of(part.trim)

    def state(self) -> dict[str, Buffer]:
        """A state for each band, made when first needed."""
        return {}

    def tick(self) -> None:
        """Prepare a quantum."""
        self.knobs["mix"].tick()

    def process(self, x: Buffer, a: int, b: int, state: dict[str, Buffer], voice: VoiceNow) -> None:
        """Equalise in place."""
        mix = self.knobs["mix"]
        if mix.still and mix.goal == 0.0:
            state.clear()
            return
        dry = x.copy() if not mix.still or mix.goal != 100.0 else None
        for band, new in self._bands.items():
            own = state.setdefault(band, np.zeros((2, 2)))
            filter_mixed(x, a, b, self._now.get(band, new), new, own[: x.shape[0]])
        ramp_gain(x, self._level, self._trim)
        self._now = dict(self._bands)
        self._level = self._trim
        if dry is not None:
            x[:, a:b] = dry[:, a:b] + mix.made[a:b] * (x[:, a:b] - dry[:, a:b])


def curve_of(part: Distortion, points: int = 129) -> tuple[Array, Array]:
    """The transfer curve of a distortion for a picture: input and output, -1..1."""
    x = np.linspace(-1.0, 1.0, points)
    driven = x * 10 ** (part.drive / 20.0)
    bias = part.bias / 50.0
    if part.curve == "crush":
        levels = 2.0 ** (part.bits - 1.0)
        y = np.round(np.clip(driven, -1.0, 1.0) * levels) / levels
    elif part.curve == "soft":
        y = soft(driven + bias) - soft(np.array([bias]))
    else:
        y = shaped(part.curve, driven + bias) - shaped(part.curve, np.array([bias]))
    return x, y * (level_match(part.curve, np.array([part.drive])) if part.level_match else 1.0)
