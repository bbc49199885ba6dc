"""Processors of the filters: state-variable, ladder, comb, vowel, all-pass row."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import numpy as np

from ...dsp import QUANTUM
from ...dsp.filters.allpass import MOST_PASSES, allpass_row
from ...dsp.filters.blended_svf import SHAPED_STATE, ShapedCurves, blend_of, filter_shaped
from ...dsp.filters.comb import LINE as COMB_LINE
from ...dsp.filters.comb import CombCurves, comb, comb_delay, comb_gain, sincs
from ...dsp.filters.formants import FORMANTS, bands, vowel
from ...dsp.filters.ladder import LadderCurves, ladder, ladder_gain, loop_gain
from ...dsp.filters.soft_edge import edge_share, level_back
from ...dsp.filters.svf import BUTTERWORTH, FOURTH_1, FOURTH_2, PREWARP_TABLE, SvfCurves, filter_svf, prewarp_array
from ...dsp.sources.stage_loop import ALLPASS, COMB, LADDER, SHAPED, VOWEL
from ...patch import KEY_TRACK_CENTER, Filter, Vowel, pitch_hz
from ..blocks import constant_batch
from ..modulation import Array, as_damping, as_factor, as_is, as_share, steady
from .base import Buffer, StageProcessor, VoiceContext

LoopStage = tuple[int, int, Sequence[Array]]
"""What a filter is within a loop of stages and sources: its kind, its poles or passes, and its curves."""
KINDS = {"low-pass": 0, "high-pass": 1, "band-pass": 2, "notch": 3}


class _Tuned(StageProcessor):
    """A stage whose cutoff can follow the key."""

    def _log_hz(self, voice: VoiceContext) -> Array:
        """Log2 of the cutoff in Hz over the quantum."""
        cutoff = self.parameters["cutoff"]
        follow = self.part.key_follow / 100.0
        if cutoff.movements:
            return cutoff.scale(voice.movers, follow * voice.octaves, voice.quanta)
        if not follow:
            return self.over("cutoff", voice)
        if cutoff.still and not isinstance(voice.octaves, np.ndarray):
            return constant_batch(cutoff.within(cutoff.goal + follow * voice.octaves), voice.quanta)
        return cutoff.scale(voice.movers, follow * voice.octaves, voice.quanta)


class FilterProcessor(_Tuned):
    """A state-variable filter."""

    converts = {"cutoff": as_is, "resonance": as_damping, "morph": as_share, "drive": as_is, "mix": as_share}

    def take(self, part: Filter) -> None:
        """Apply new control values."""
        super().take(part)
        slope = "12" if part.slope == "6" and part.type not in ("low-pass", "high-pass") else part.slope
        self.poles = {"6": 1, "12": 2, "24": 4}[slope]
        self.follow = part.key_follow / 100.0

    def state(self) -> Buffer:
        """State of two channels: two sections, and the last driven sample."""
        return np.zeros((2, SHAPED_STATE))

    def tick(self) -> None:
        """Prepare the next quantum."""
        super().tick()
        own = self.parameters
        drive = own["drive"]
        driven = bool(drive.movements) or not drive.still or drive.goal > 0.0
        self.plain = self.part.type in KINDS and self.poles > 1 and not driven
        self.steady = steady(own[n] for n in ("cutoff", "resonance", "mix"))
        self._k = self._sections(own["resonance"].converted)

    def _sections(self, k: Array) -> tuple[Array, Array]:
        if self.poles == 4 and self.part.type in ("low-pass", "high-pass"):
            return constant_batch(FOURTH_1, k.size // QUANTUM), k * (FOURTH_2 / BUTTERWORTH)
        return k, k

    def can_span(self) -> bool:
        """Whether it can process several quanta at once while movers move its controls."""
        return True

    def can_batch_when_steady(self) -> bool:
        """Whether it can process several quanta at once while none of its controls changes."""
        return self.plain and self.steady and not self.follow and self.parameters["mix"].goal == 100.0

    def work(self, x: Buffer, a: int, b: int, state: Buffer, voice: VoiceContext) -> None:
        """Filter in place."""
        own = self.parameters
        if self.plain:
            log_hz, mix = self._log_hz(voice), self.over("mix", voice)
            same = self.steady and not (voice.gliding and self.follow)
            rests = voice.quanta == 1 and not own["resonance"].movements
            k1, k2 = self._k if rests else self._sections(self.over("resonance", voice))
            filter_svf(
                x,
                a,
                b,
                KINDS[self.part.type],
                self.poles == 4,
                SvfCurves(log_hz, k1, k2, mix),
                same,
                state,
                PREWARP_TABLE,
            )
            return
        filter_shaped(x, a, b, self.poles, self._shaped(voice), state, PREWARP_TABLE)

    def _shaped(self, voice: VoiceContext) -> ShapedCurves:
        db, morph = self.scaled("resonance", voice), self.over("morph", voice)
        k, low, band, high = blend_of(self.part.type, db, morph, 2 if self.poles == 4 else 1)
        k1, k2 = self._sections(k)
        drive = self.scaled("drive", voice)
        return ShapedCurves(
            self._log_hz(voice), k1, k2, low, band, high, as_factor(drive), edge_share(drive), level_back(drive),
            self.over("mix", voice),
        )  # fmt: skip

    def in_loop(self, voice: VoiceContext) -> LoopStage:
        """What the filter is within a loop."""
        return SHAPED, self.poles, self._shaped(voice)


class LadderProcessor(_Tuned):
    """Four poles in a loop that saturates."""

    converts = {"cutoff": as_is, "resonance": loop_gain, "lows": as_share, "drive": as_is, "mix": as_share}

    def state(self) -> Buffer:
        """State of two channels."""
        return np.zeros((2, 4))

    def can_span(self) -> bool:
        """Whether it can process several quanta at once while movers move its controls."""
        return True

    def work(self, x: Buffer, a: int, b: int, state: Buffer, voice: VoiceContext) -> None:
        """Filter in place."""
        ladder(x, a, b, self._curves(voice), state, PREWARP_TABLE)

    def _curves(self, voice: VoiceContext) -> LadderCurves:
        loop, lows, mix = (self.over(n, voice) for n in ("resonance", "lows", "mix"))
        drive = self.scaled("drive", voice)
        return LadderCurves(self._log_hz(voice), loop, lows, as_factor(drive), ladder_gain(drive), mix)

    def in_loop(self, voice: VoiceContext) -> LoopStage:
        """What the ladder is within a loop."""
        return LADDER, 4, self._curves(voice)


class CombState:
    """State of a comb: the delay line, the low-pass in its loop, and the write position."""

    def __init__(self) -> None:
        self.line = np.zeros((2, COMB_LINE))
        self.mem = np.zeros((2, 1))
        self.at = 0
        self.rings = False


class CombProcessor(_Tuned):
    """A tuned comb filter with feedback."""

    converts = {"interval": as_is, "cutoff": as_is, "feedback": as_share, "damping": as_is, "mix": as_share}

    def state(self) -> CombState:
        """A new state with an empty delay line."""
        return CombState()

    def can_span(self) -> bool:
        """Whether it can process several quanta at once while movers move its controls."""
        return True

    def work(self, x: Buffer, a: int, b: int, state: CombState, voice: VoiceContext) -> None:
        """Apply the comb in place."""
        n = x.shape[0]
        comb(x, a, b, self._curves(voice), state.line[:n], state.mem[:n], state.at, sincs())
        state.at = (state.at + b - a) % COMB_LINE
        state.rings = True

    def _curves(self, voice: VoiceContext) -> CombCurves:
        if self.part.tuned == "note":
            octaves = self.scaled("interval", voice) / 12.0 + voice.octaves
            hz = pitch_hz(KEY_TRACK_CENTER, voice.tuning) * np.exp2(octaves)
        else:
            hz = np.exp2(self._log_hz(voice))
        damping = np.exp2(self.scaled("damping", voice))
        feedback, mix = self.over("feedback", voice), self.over("mix", voice)
        highest = self.parameters["damping"].control.high
        open_above = highest * (1.0 - 1e-9)
        g = prewarp_array(np.log2(damping))
        dull = np.where(damping < open_above, g / (1.0 + g), 1.0)
        delay = comb_delay(hz, np.where(damping < open_above, damping, highest))
        return CombCurves(delay, feedback, dull, comb_gain(feedback), mix)

    def in_loop(self, voice: VoiceContext) -> LoopStage:
        """What the comb is within a loop."""
        return COMB, 0, self._curves(voice)

    def rest(self, x: Buffer, a: int, b: int, state: CombState) -> None:
        """Pass the sound, and clear the delay line."""
        if state.rings:
            state.__init__()  # type: ignore[misc]


class VowelProcessor(StageProcessor):
    """Three formants, steered on a vowel chart."""

    converts = {
        "opening": as_share, "tongue": as_share, "size": as_is, "sharpness": as_is, "spread": as_share,
        "trim": as_factor, "mix": as_share,
    }  # fmt: skip

    def __init__(self, part: Vowel) -> None:
        self._key: tuple[Any, ...] = ()
        super().__init__(part)

    def state(self) -> Buffer:
        """State of two channels."""
        return np.zeros((2, 2 * FORMANTS))

    def can_span(self) -> bool:
        """Whether it can process several quanta at once while movers move its controls."""
        return True

    def work(self, x: Buffer, a: int, b: int, state: Buffer, voice: VoiceContext) -> None:
        """Apply the formant filter in place."""
        vowel(x, a, b, *self._curves(voice), state, PREWARP_TABLE)

    def in_loop(self, voice: VoiceContext) -> LoopStage:
        """What the formants are within a loop."""
        log_hz, damping, level, after, mix = self._curves(voice)
        return VOWEL, 0, (*log_hz, *damping, *level, after, mix)

    def _curves(self, voice: VoiceContext) -> tuple[Array, Array, Array, Array, Array]:
        opening, tongue, spread, after, mix = (
            self.over(n, voice) for n in ("opening", "tongue", "spread", "trim", "mix")
        )
        size, sharpness = (np.exp2(self.scaled(n, voice)) / 100.0 for n in ("size", "sharpness"))
        follow = voice.octaves * (self.part.key_follow / 100.0)
        key = (
            self.part.speaker,
            *(np.asarray(q).tobytes() for q in (opening, tongue, size, sharpness, spread, follow)),
        )
        if key != self._key:
            self._key = key
            self._bands = bands(self.part.speaker, opening, tongue, size, sharpness, spread, follow)
        return (*self._bands, after, mix)


class AllpassProcessor(_Tuned):
    """A row of all-passes."""

    converts = {"cutoff": as_is, "feedback": as_share, "mix": as_share}

    def state(self) -> Buffer:
        """State of two channels."""
        return np.zeros((2, MOST_PASSES))

    def can_span(self) -> bool:
        """Whether it can process several quanta at once while movers move its controls."""
        return True

    def work(self, x: Buffer, a: int, b: int, state: Buffer, voice: VoiceContext) -> None:
        """Apply the all-passes in place."""
        allpass_row(x, a, b, self.part.stages, *self._curves(voice), state, PREWARP_TABLE)

    def _curves(self, voice: VoiceContext) -> tuple[Array, Array, Array]:
        return self._log_hz(voice), self.over("feedback", voice), self.over("mix", voice)

    def in_loop(self, voice: VoiceContext) -> LoopStage:
        """What the row is within a loop."""
        return ALLPASS, self.part.stages, self._curves(voice)
