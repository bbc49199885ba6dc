"""Distortion and EQ as they run."""

from __future__ import annotations

import numpy as np

from ..dsp import QUANTUM
from ..dsp.distortion import STATE as DISTORTION
from ..dsp.distortion import distort, hold_back, makeup, soft
from ..dsp.filters import band_coefficients, filter_mixed
from ..dsp.halfband import LATENCY
from ..dsp.mixing import ramp_gain
from ..patch import Distortion, Eq
from .knobs import Array, Knob, as_factor, as_is, as_share, gain_of, knob_of
from .runs import Buffer, StageRun, VoiceNow, full


class DistortionRun(StageRun):
    """The soft curve at twice the rate."""

    latency = LATENCY
    converts = {"drive": as_is, "trim": as_is, "mix": as_share}

    def __init__(self, part: Distortion) -> None:
        self._work = np.empty((QUANTUM, 4))
        super().__init__(part)

    def take(self, part: Distortion) -> None:
        """Take over what is not smoothed."""
        super().take(part)
        self.match = part.level_match
        self.bias = part.bias / 100.0 * 2.0

    def state(self) -> tuple[Buffer, Buffer]:
        """Half-band states, and the dry sound held back."""
        return np.zeros(DISTORTION), np.zeros((2, LATENCY))

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
        after = 10.0 ** (trim / 20.0)
        return np.asarray(after * makeup(drive) if self.match else after)

    def rest(self, x: Buffer, a: int, b: int, state: tuple[Buffer, Buffer]) -> None:
        """Hold the sound back as long as if it were distorted."""
        curve, dry = state
        hold_back(x, a, b, dry[: x.shape[0]])
        curve[:] = 0.0

    def work(self, x: Buffer, a: int, b: int, state: tuple[Buffer, Buffer], voice: VoiceNow) -> None:
        """Distort in place."""
        curve, dry = state
        drive, after = self._gains
        if self.knobs["drive"].movements or self.knobs["trim"].movements:
            db = self.knobs["drive"].scale(voice.movers)
            drive, after = as_factor(db), self._back(db, self.knobs["trim"].scale(voice.movers))
        mix = self.knobs["mix"].value(voice.movers)
        distort(x, a, b, drive, after, self.bias, mix, curve, dry[: x.shape[0]], self._work)


class EqRun:
    """Up to eight bands in a row."""

    latency = 0

    def __init__(self, part: Eq) -> None:
        self.knobs: dict[str, Knob] = {"mix": knob_of(part, "mix", as_share)}
        self._bands: dict[str, Array] = {}
        self._now: dict[str, Array] = {}
        self._level = 1.0
        self.update(part)
        self._now = dict(self._bands)
        self._level = self._trim

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


def curve_of(part: Distortion, points: int = 65) -> tuple[Array, Array]:
    """The transfer curve of a distortion for a picture: input and output, -1..1."""
    x = np.linspace(-1.0, 1.0, points)
    bias = part.bias / 50.0
    y = soft(x * 10 ** (part.drive / 20.0) + bias) - soft(np.array([bias]))
    return x, y * (makeup(np.array([part.drive])) if part.level_match else 1.0)
