"""Voice stages and chain items as they run: one class a kind, one registration line each."""

from __future__ import annotations

from dataclasses import dataclass, field
from functools import lru_cache
from typing import Any, Protocol

import numpy as np
from numpy.typing import NDArray

from ..dsp import QUANTUM
from ..dsp.distortion import STATE as DISTORTION
from ..dsp.distortion import distort, hold_back, makeup, soft
from ..dsp.filters import BUTTERWORTH, FOURTH_1, FOURTH_2, TANGENTS, band_coefficients, filter_mixed, filter_svf
from ..dsp.halfband import LATENCY
from ..dsp.mixing import meter, ramp_gain
from ..patch import ChainItem, Distortion, Eq, Filter, declared
from ..patch.controls import Control
from .knobs import Array, Knob, as_damping, as_is, as_share, gain_of, steady

Buffer = NDArray[np.float64]

KINDS = {"low-pass": 0, "high-pass": 1, "band-pass": 2, "notch": 3}


@lru_cache(maxsize=1024)
def full(value: float) -> Array:
    """A quantum of one value, shared and not to be written to."""
    made = np.full(QUANTUM, value)
    return made


@dataclass
class VoiceNow:
    """What a voice tells its stages: its movers' values and its pitch over C2 in octaves."""

    movers: dict[str, Array] = field(default_factory=dict)
    octaves: Array | float = 0.0
    gliding: bool = False


STILL = VoiceNow()


class Run(Protocol):
    """A running stage; its state belongs to a voice or a chain."""

    latency: int
    knobs: dict[str, Knob]

    def state(self) -> Any:
        """A state at rest."""

    def tick(self) -> None:
        """Prepare a quantum."""

    def process(self, x: Buffer, a: int, b: int, state: Any, voice: VoiceNow) -> None:
        """Work on samples a..b of x, (channels, n), in place."""


def _knob(part: object, name: str, convert) -> Knob:  # type: ignore[no-untyped-def]
    found = declared(type(part), name)  # type: ignore[arg-type]
    assert isinstance(found, Control)
    return Knob(found, float(getattr(part, name)), convert)


def _follow(knobs: dict[str, Knob], new: dict[str, Knob]) -> None:
    for name, knob in new.items():
        knobs[name].turn(knob.control.from_scale(knob.goal))


class FilterRun:
    """A state-variable filter."""

    latency = 0

    def __init__(self, part: Filter) -> None:
        self.knobs = self._made(part)
        self.update(part)

    @staticmethod
    def _made(part: Filter) -> dict[str, Knob]:
        mix = _knob(part, "mix", as_share)
        if not part.on:
            mix = Knob(mix.control, 0.0, as_share)
        return {"cutoff": _knob(part, "cutoff", as_is), "resonance": _knob(part, "resonance", as_damping), "mix": mix}

    def update(self, part: Filter) -> None:
        """Take over turned controls."""
        _follow(self.knobs, self._made(part))
        self.kind = KINDS[part.type]
        self.double = part.slope == "24"
        self.follow = part.key_follow / 100.0

    def state(self) -> Buffer:
        """State of two channels, two sections."""
        return np.zeros((2, 4))

    def tick(self) -> None:
        """Prepare a quantum."""
        for k in self.knobs.values():
            k.tick()
        self.off = self.knobs["mix"].still and self.knobs["mix"].goal == 0.0
        self.steady = steady(self.knobs.values())
        k1 = self.knobs["resonance"].made
        if self.double and self.kind < 2:
            self._k = full(FOURTH_1), k1 * (FOURTH_2 / BUTTERWORTH)
        else:
            self._k = k1, k1

    def process(self, x: Buffer, a: int, b: int, state: Buffer, voice: VoiceNow) -> None:
        """Filter in place."""
        if self.off:
            state[:] = 0.0
            return
        cutoff, resonance, mix = self.knobs["cutoff"], self.knobs["resonance"], self.knobs["mix"]
        same = self.steady and not (voice.gliding and self.follow)
        if cutoff.movements or self.follow:
            log_hz = cutoff.scale(voice.movers, self.follow * voice.octaves)
        else:
            log_hz = cutoff.made
        k1, k2 = self._k
        if resonance.movements:
            k = as_damping(resonance.scale(voice.movers))
            k1, k2 = (k1, k * (FOURTH_2 / BUTTERWORTH)) if self.double and self.kind < 2 else (k, k)
        filter_svf(x, a, b, self.kind, self.double, log_hz, k1, k2, mix.made, same, state, TANGENTS)


class DistortionRun:
    """The soft curve at twice the rate."""

    latency = LATENCY

    def __init__(self, part: Distortion) -> None:
        self.knobs = self._made(part)
        self._work = np.empty((QUANTUM, 4))
        self.update(part)

    @staticmethod
    def _made(part: Distortion) -> dict[str, Knob]:
        mix = _knob(part, "mix", as_share)
        if not part.on:
            mix = Knob(mix.control, 0.0, as_share)
        return {"drive": _knob(part, "drive", as_is), "trim": _knob(part, "trim", as_is), "mix": mix}

    def update(self, part: Distortion) -> None:
        """Take over turned controls."""
        _follow(self.knobs, self._made(part))
        self.match = part.level_match
        self.bias = part.bias / 100.0 * 2.0

    def state(self) -> tuple[Buffer, Buffer]:
        """Half-band states, and the dry sound held back."""
        return np.zeros(DISTORTION), np.zeros((2, LATENCY))

    def tick(self) -> None:
        """Prepare a quantum."""
        for k in self.knobs.values():
            k.tick()
        self.off = self.knobs["mix"].still and self.knobs["mix"].goal == 0.0
        drive, trim = self.knobs["drive"], self.knobs["trim"]
        if drive.still and trim.still:
            up = full(10.0 ** (drive.goal / 20.0))
            self._gains = up, full(float(self._back(np.array([drive.goal]), np.array([trim.goal]))[0]))
        else:
            self._gains = 10.0 ** (drive.rest / 20.0), self._back(drive.rest, trim.rest)

    def _back(self, drive: Array, trim: Array) -> Array:
        after = 10.0 ** (trim / 20.0)
        return np.asarray(after * makeup(drive) if self.match else after)

    def process(self, x: Buffer, a: int, b: int, state: tuple[Buffer, Buffer], voice: VoiceNow) -> None:
        """Distort in place."""
        curve, dry = state
        n = x.shape[0]
        if self.off:
            hold_back(x, a, b, dry[:n])
            curve[:] = 0.0
            return
        drive, after = self._gains
        if self.knobs["drive"].movements:
            db = self.knobs["drive"].scale(voice.movers)
            drive, after = 10.0 ** (db / 20.0), self._back(db, self.knobs["trim"].rest)
        distort(x, a, b, drive, after, self.bias, self.knobs["mix"].made, curve, dry[:n], self._work)


class EqRun:
    """Up to eight bands in a row."""

    latency = 0

    def __init__(self, part: Eq) -> None:
        self.knobs: dict[str, Knob] = {"mix": _knob(part, "mix", as_share)}
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


_RUNS: dict[str, Any] = {"filter": FilterRun, "distortion": DistortionRun, "eq": EqRun}


def run_of(part: ChainItem) -> Any:
    """The running form of a stage or chain item."""
    return _RUNS[part.kind](part)


def latency_of(part: ChainItem) -> int:
    """Latency in samples, on or off."""
    return int(_RUNS[part.kind].latency)


class Meters:
    """Peak and mean square after every stage, by stage path."""

    def __init__(self) -> None:
        self.found: dict[str, Array] = {}

    def of(self, name: str) -> Array:
        """The meter of a stage: peak, sum of squares, samples."""
        return self.found.setdefault(name, np.zeros(3))


class Chain:
    """Ordered items working on one stereo signal."""

    def __init__(self, items: list[ChainItem], place: str) -> None:
        self.place = place
        self._runs: dict[str, tuple[str, Any, Any]] = {}
        self._order: list[tuple[Array, Any, Any]] = []
        self._restless = True
        self.meters = Meters()
        self.update(items)

    def update(self, items: list[ChainItem]) -> None:
        """Take over turned controls, new items and a new order."""
        for item in items:
            kept = self._runs.get(item.id)
            if kept is not None and kept[0] == item.kind:
                kept[1].update(item)
            else:
                run = run_of(item)
                self._runs[item.id] = (item.kind, run, run.state())
        self._runs = {item.id: self._runs[item.id] for item in items}
        self._order = [(self.meters.of(f"{self.place}.{i}"), run, state) for i, (_, run, state) in self._runs.items()]
        self.latency = sum(latency_of(i) for i in items)
        self._restless = True

    def process(self, x: Buffer) -> None:
        """Work on a quantum of x, (2, QUANTUM), in place."""
        if self._restless:
            for _, run, _ in self._order:
                run.tick()
            self._restless = any(k.turning for _, run, _ in self._order for k in run.knobs.values())
        for acc, run, state in self._order:
            run.process(x, 0, x.shape[1], state, STILL)
            meter(x, 0, x.shape[1], acc)


def curve_of(part: Distortion, points: int = 65) -> tuple[Array, Array]:
    """The transfer curve of a distortion for a picture: input and output, -1..1."""
    x = np.linspace(-1.0, 1.0, points)
    bias = part.bias / 50.0
    y = soft(x * 10 ** (part.drive / 20.0) + bias) - soft(np.array([bias]))
    return x, y * (makeup(np.array([part.drive])) if part.level_match else 1.0)
