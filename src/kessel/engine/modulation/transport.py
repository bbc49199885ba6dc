"""The transport context: where a quantum stands, and what is played in it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from ...dsp import QUANTUM
from ..clock import NoteEvent, samples_per_beat
from .controllers import CONTROLLERS_AT_REST, ControllerState

Batch = Sequence[tuple["TransportContext", list[NoteEvent]]]
"""Quanta that are processed in one call: each with its time and its note events."""

Blocks = dict[str, NDArray[np.float32]]


@dataclass
class TransportContext:
    """Where a quantum, or several in one go, stand, and what is played and heard in them.

    start: first sample, in engine time. quanta: how many are rendered at once. origin: sample at which the phrase
    began. length: samples of a pass of ``beats`` beats. heard: output of followed layers, (2, QUANTUM), by id. kicks:
    positions of the kick of the backing beat, in beats.
    """

    start: int = 0
    origin: int = 0
    length: int = 1
    tempo: float = 120.0
    seed: int = 0
    controllers: ControllerState = field(default_factory=lambda: CONTROLLERS_AT_REST)
    heard: Blocks = field(default_factory=dict)
    beats: float = 0.0
    kicks: tuple[float, ...] = ()
    quanta: int = 1

    @property
    def size(self) -> int:
        """Samples that are rendered at once."""
        return self.quanta * QUANTUM

    def beat_places(self) -> NDArray[np.float64]:
        """Beats since the phrase first began, for every sample of the quantum."""
        per_beat = self.length / self.beats if self.beats else samples_per_beat(self.tempo)
        return (self.start - self.origin + np.arange(QUANTUM, dtype=np.float64)) / per_beat
