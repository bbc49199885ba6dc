"""Arrays of a layer's sources that belong together: table rows, noises and recordings, present values."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from ...dsp import QUANTUM
from ...dsp.sources.noise import BROWN, PINK, WHITE
from ...dsp.sources.tables import LOWEST_HZ, ROWS, SINE_ROW, STEPS_PER_OCTAVE
from ...patch import Noise, Oscillator, Sample, Source
from ..audio import region_for
from ..modulation import Array, SmoothedParameter

_COLOUR = {"white": WHITE, "pink": PINK, "brown": BROWN}


def row_of(hz: Array) -> NDArray[np.int64]:
    """The third-octave rows whose partials fit fundamentals of hz."""
    steps = np.floor(STEPS_PER_OCTAVE * np.log2(np.maximum(hz, LOWEST_HZ) / LOWEST_HZ) + 1e-9)
    return np.asarray(np.minimum(steps, ROWS - 1).astype(np.int64))


class TableRows:
    """Which table every source and copy reads. base: the first row of each source's wave."""

    def __init__(self, base: NDArray[np.int64], copies: int) -> None:
        self._base, self._sine = base, base == SINE_ROW
        self._for: bytes | None = None
        self._rows = np.zeros((base.size, copies), dtype=np.int64)

    def at(self, hz: Array | float, ratio: Array, offset: Array) -> NDArray[np.int64]:
        """The rows, (sources, copies), whose partials fit a note that rises to ``hz`` at most."""
        stamp = ratio.tobytes() + (hz.tobytes() if isinstance(hz, np.ndarray) else repr(hz).encode())
        if stamp != self._for:
            rows = self._base[:, None] + row_of(np.abs(hz * ratio + offset[:, None]))
            self._for = stamp
            self._rows = np.ascontiguousarray(np.where(self._sine[:, None], 0, rows).astype(np.int64))
        return self._rows


class ReadySources:
    """Noises and recordings, which are rendered before the oscillators.

    of: their indices. row: (sources,) the row of each in the arrays. twice: (ready, 2, 2 QUANTUM), their sound at twice
    the rate; spot: (ready, 2 QUANTUM), where a modulated recording is read. colour: of every source. regions: by index.
    """

    def __init__(self, sources: Sequence[Source]) -> None:
        self.of = [i for i, s in enumerate(sources) if not isinstance(s, Oscillator)]
        self.row = np.zeros(len(sources), dtype=np.int64)
        self.row[self.of] = np.arange(len(self.of))
        self.colour = [_COLOUR[s.colour] if isinstance(s, Noise) else 0 for s in sources]
        self.regions = {i: region_for(s) for i, s in enumerate(sources) if isinstance(s, Sample)}
        self.make_room(False)

    def make_room(self, modulated: bool) -> None:
        """Allocate the arrays at twice the rate, which only modulation needs."""
        n = 2 * QUANTUM if modulated else 0
        self.twice = np.zeros((len(self.of), 2, n))
        self.spot = np.zeros((len(self.of), n))


class PresentValues:
    """Values of unmoved controls over the quantum.

    level, pitch, shape: (sources, QUANTUM). still: (sources,), whether they are constant; moves: its opposite as a
    number; moving: all moving. turns: how often they were read.
    """

    def __init__(self, count: int) -> None:
        self.level, self.pitch, self.shape = (np.ones((count, QUANTUM)) for _ in range(3))
        self.still = np.ones(count, dtype=bool)
        self.moving = np.ones(count, dtype=np.int64)
        self.moves = np.zeros(count, dtype=np.int64)
        self.turns = 0
        self._seen: dict[tuple[int, str], int] = {}
        self._long: dict[int, tuple[Array, Array, Array]] = {}

    def changed(self, s: int, parameter: SmoothedParameter) -> bool:
        """Whether a parameter of a source is another than when it was last asked for."""
        at = s, parameter.control.name
        if self._seen.get(at) == parameter.revision:
            return False
        self._seen[at] = parameter.revision
        return True

    def settle(self) -> None:
        """End reading."""
        self.moves = (~self.still).astype(np.int64)
        self.turns += 1
        self._long = {}

    def over(self, quanta: int) -> tuple[Array, Array, Array]:
        """Level, pitch and shape over so many quanta, each (sources, n). Over several, all must be still."""
        if quanta == 1:
            return self.level, self.pitch, self.shape
        if quanta not in self._long:
            level, pitch, shape = (np.repeat(x[:, :1], quanta * QUANTUM, axis=1) for x in self.over(1))
            self._long[quanta] = level, pitch, shape
        return self._long[quanta]
