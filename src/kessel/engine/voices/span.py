"""What a voice plays over a span of quanta: its pitch, movers and level, known before it sounds."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np

from ...dsp import QUANTUM
from ..modulation import Array, ModulationValues, Voice

Pitch = Array | float


@dataclass(slots=True)
class VoiceSpan:
    """A voice over the quanta in which it is heard, or a part of them.

    place: its samples within the span of the layer. start: engine time of the first. a: the first in which the voice
    sounds. pitch: in semitones, an array over the first quanta if it changes in them. rest: the pitch behind those.
    movers, level: (n,). gain: of the note, for its velocity. current: the travel of the layer is that of this voice.
    """

    voice: Voice
    place: slice
    start: int
    a: int
    pitch: Pitch
    rest: float
    movers: ModulationValues
    level: Array
    gain: float
    current: bool

    @property
    def size(self) -> int:
        """Its length in samples."""
        return self.level.size

    @property
    def quanta(self) -> int:
        """Number of quanta."""
        return self.level.size // QUANTUM

    def parts(self) -> Iterator[VoiceSpan]:
        """The quanta over which the pitch changes, and those after, in which it stays."""
        if not isinstance(self.pitch, np.ndarray) or self.pitch.size >= self.size:
            yield self
            return
        gone = self.pitch.size
        yield self._part(0, gone, self.pitch)
        yield self._part(gone, self.size, self.rest)

    def _part(self, at: int, end: int, pitch: Pitch) -> VoiceSpan:
        movers = {name: values[at:end] for name, values in self.movers.items()}
        place = slice(self.place.start + at, self.place.start + end)
        a = min(max(self.a - at, 0), end - at)
        return replace(
            self, place=place, start=self.start + at, a=a, pitch=pitch, movers=movers, level=self.level[at:end]
        )
