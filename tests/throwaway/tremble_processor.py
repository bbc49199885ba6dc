"""The throw-away effect as it runs."""

import numpy as np

from kessel.dsp import QUANTUM
from kessel.engine.effects.base import EffectProcessor
from kessel.engine.modulation import as_share, as_stretch


class TrembleProcessor(EffectProcessor):
    """Swings the level in place."""

    converts = {"times": as_stretch, "depth": as_share, "mix": as_share}

    @staticmethod
    def response(part, hz, pitch, tuning):
        """Flat: what it takes on average."""
        return np.full(hz.shape, 1.0 - 0.5 * part.depth / 100.0, dtype=np.complex128)

    def initial_state(self):
        """It keeps nothing."""
        return ()

    def effect(self, x, held, voice):
        """Swing x, (2, n), in place."""
        beats = voice.now.beat_places()
        swing = 0.5 - 0.5 * np.cos(2.0 * np.pi * beats * self.part.times)
        if self.part.form == "steep":
            swing **= self.part.power
        gain = 1.0 - self.over("mix", voice)[:QUANTUM] * self.over("depth", voice)[:QUANTUM] * swing
        x[:, :QUANTUM] *= gain
