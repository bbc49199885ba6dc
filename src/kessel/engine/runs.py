"""What running voice stages and chain items have in common."""

from __future__ import annotations

from dataclasses import dataclass, field
from functools import lru_cache
from typing import Any, ClassVar, Protocol

import numpy as np
from numpy.typing import NDArray

from ..dsp import QUANTUM
from .knobs import Array, Convert, Knob, Movers, knob_of

Buffer = NDArray[np.float64]


@lru_cache(maxsize=1024)
def full(value: float) -> Array:
    """A quantum of one value, shared and not to be written to."""
    made = np.full(QUANTUM, value)
    return made


@dataclass
class VoiceNow:
    """What a voice tells its stages: its movers' values, its pitch over C2 in octaves, and the tuning of A4 in Hz."""

    movers: Movers = field(default_factory=dict)
    octaves: Array | float = 0.0
    gliding: bool = False
    tuning: float = 440.0


STILL = VoiceNow()


class Run(Protocol):
    """A running stage; its state belongs to a voice or a chain."""

    knobs: dict[str, Knob]

    def state(self) -> Any:
        """A state at rest."""

    def tick(self) -> None:
        """Prepare a quantum."""

    def process(self, x: Buffer, a: int, b: int, state: Any, voice: VoiceNow) -> None:
        """Work on samples a..b of x, (channels, n), in place."""


class StageRun:
    """A stage with a mix; off is a mix of nothing that nothing moves.

    ``converts``: its controls that are smoothed and can be moved, and what the loops want of them.
    """

    converts: ClassVar[dict[str, Convert]] = {}

    def __init__(self, part: Any) -> None:
        self.knobs = {name: knob_of(part, name, convert) for name, convert in self.converts.items()}
        if not part.on:
            mix = self.knobs["mix"].control
            self.knobs["mix"] = Knob(mix, 0.0, self.converts["mix"])
        self.part = part
        self.off = False
        self.update(part)

    @staticmethod
    def latency_of(part: Any) -> int:
        """Latency in samples, on or off."""
        return 0

    def update(self, part: Any) -> None:
        """Take over turned controls."""
        for name, knob in self.knobs.items():
            knob.turn(float(getattr(part, name)))
        if not part.on:
            self.knobs["mix"].turn(0.0)
        self.take(part)

    def take(self, part: Any) -> None:
        """Take over what is not smoothed."""
        self.part = part

    def tick(self) -> None:
        """Prepare a quantum."""
        for knob in self.knobs.values():
            knob.tick()
        mix = self.knobs["mix"]
        still = mix.still and mix.goal == 0.0
        self.off = still and (not self.part.on or not mix.movements)

    def process(self, x: Buffer, a: int, b: int, state: Any, voice: VoiceNow) -> None:
        """Work on samples a..b of x, (channels, n), in place."""
        if self.off:
            self.rest(x, a, b, state)
        else:
            self.work(x, a, b, state, voice)

    def work(self, x: Buffer, a: int, b: int, state: Any, voice: VoiceNow) -> None:
        """Work on the sound."""
        raise NotImplementedError

    def rest(self, x: Buffer, a: int, b: int, state: Any) -> None:
        """Let the sound pass."""
        if isinstance(state, np.ndarray):
            state[:] = 0.0
