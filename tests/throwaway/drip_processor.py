"""The throw-away mover as it runs."""

import numpy as np

from kessel.dsp import QUANTUM, RATE
from kessel.engine.modulation.movers import MoverProcessor


class DripMover(MoverProcessor):
    """A straight fall from the beginning of the note."""

    def value(self, voice, movers, now):
        """1..0."""
        since = now.start - voice.began + np.arange(QUANTUM)
        return np.clip(1.0 - since / (self.over("fall", movers) * RATE / 1000.0), 0.0, 1.0)
