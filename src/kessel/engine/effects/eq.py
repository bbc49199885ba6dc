"""The processor of the EQ."""

from __future__ import annotations

import numpy as np

from ...dsp import QUANTUM
from ...dsp.filters.svf import filter_mixed, sections_of, span_of_band
from ...dsp.mixing import ramp_gain
from ...patch import KEY_TRACK_CENTER, Eq, EqBand, pitch_hz
from ..modulation import Array, as_factor, as_is, as_share, parameter_of, steady
from .base import Buffer, StageProcessor, VoiceContext

_MOST = 8
"""Most bands of an EQ."""
_ACROSS = np.arange(1, QUANTUM + 1) / QUANTUM


class EqProcessor(StageProcessor):
    """Up to eight bands in series, each of one or more sections."""

    converts = {"trim": as_factor, "mix": as_share}

    def __init__(self, part: Eq) -> None:
        self._now: dict[str, list[Array]] = {}
        self._off: set[str] = set()
        super().__init__(part)

    def update(self, part: Eq) -> None:
        """Apply new control values and new bands."""
        fresh = [b for b in part.bands if f"bands.{b.id}.gain" not in self.parameters]
        self._off = (self._off | {b.id for b in fresh if not b.on}) & {b.id for b in part.bands}
        for name in ("frequency", "gain", "q", "times"):
            for band in part.bands:
                path = f"bands.{band.id}.{name}"
                if path in self.parameters:
                    self.parameters[path].turn(float(getattr(band, name)))
                else:
                    self.parameters[path] = parameter_of(band, name, as_is)
        kept = tuple(f"bands.{b.id}." for b in part.bands)
        self.parameters = {p: k for p, k in self.parameters.items() if not p.startswith("bands.") or p.startswith(kept)}
        self.parameters["trim"].turn(part.trim)
        self.parameters["mix"].turn(part.mix if part.on else 0.0)
        self.take(part)

    def state(self) -> dict[str, Buffer]:
        """A state for each section, allocated when it is first needed."""
        return {}

    def rest(self, x: Buffer, a: int, b: int, state: dict[str, Buffer]) -> None:
        """Pass the sound while the EQ is off."""
        state.clear()

    def can_batch_when_steady(self) -> bool:
        """Whether it can process several quanta at once while none of its controls changes."""
        going = any(b.on == (b.id in self._off) or b.solo for b in self.part.bands)
        return not going and not any(b.tied for b in self.part.bands)

    def work(self, x: Buffer, a: int, b: int, state: dict[str, Buffer], voice: VoiceContext) -> None:
        """Equalise in place."""
        mix = self.over("mix", voice)
        whole = bool(mix[a:b].min() == 1.0)
        dry = None if whole else x.copy()
        fresh = not state
        for band in self.part.bands:
            if band.on or band.id not in self._off:
                self._band(band, x, a, b, state, voice)
        self._alone(x, a, b, state, voice, fresh)
        if not steady([self.parameters["trim"]]) or self.parameters["trim"].goal != 0.0:
            x[:, a:b] *= self.over("trim", voice)[a:b]
        if dry is not None:
            x[:, a:b] = dry[:, a:b] + mix[a:b] * (x[:, a:b] - dry[:, a:b])

    def _band(self, band: EqBand, x: Buffer, a: int, b: int, state: dict[str, Buffer], voice: VoiceContext) -> None:
        if self.settled and not band.tied:
            made = self.fixed.get(band.id)
            if made is None:
                made = self.fixed[band.id] = sections_of(band.type, int(band.slope), band.frequency, band.gain, band.q)
            self._sections(band, made, x, a, b, state)
            return
        own = {n: self.parameters[f"bands.{band.id}.{n}"] for n in ("frequency", "gain", "q", "times")}
        moving = any(k.movements for k in own.values()) or (band.tied and voice.gliding)
        step = _MOVED if moving else b - a
        values = {n: k.scale(voice.movers) if k.movements else k.base_value for n, k in own.items()}
        pitch = np.broadcast_to(np.asarray(voice.octaves), (QUANTUM,))
        for first in range(a, b, step):
            stop = min(first + step, b)
            at = {n: float(v[stop - 1]) for n, v in values.items()}
            hz = 2.0 ** at["frequency"]
            if band.tied:
                hz = pitch_hz(KEY_TRACK_CENTER, voice.tuning) * 2.0 ** (float(pitch[stop - 1]) + at["times"])
            wanted = sections_of(band.type, int(band.slope), hz, at["gain"], 2.0 ** at["q"])
            self._sections(band, wanted, x, first, stop, state)

    def _sections(self, band: EqBand, wanted: list[Array], x: Buffer, a: int, b: int, state: dict[str, Buffer]) -> None:
        """Interpolate from the present sections to the wanted ones over samples a..b.

        A band that is switched goes to or from sections that change nothing.
        """
        before = self._now.get(band.id, wanted)
        if band.id in self._off:
            before = [_nothing(w) for w in wanted]
            self._off.discard(band.id)
        goal = wanted if band.on else [_nothing(w) for w in wanted]
        for n, new in enumerate(goal):
            held = state.get(f"{band.id}/{n}")
            if held is None:
                held = state[f"{band.id}/{n}"] = np.zeros((2, 2))
            filter_mixed(x, a, b, before[n] if n < len(before) else new, new, held[: x.shape[0]])
        self._now[band.id] = goal
        if not band.on and b == QUANTUM:
            self._off.add(band.id)
            for n in range(len(goal)):
                state.pop(f"{band.id}/{n}", None)

    def _alone(self, x: Buffer, a: int, b: int, state: dict[str, Buffer], voice: VoiceContext, fresh: bool) -> None:
        """Keep only the regions of soloed bands, and crossfade there and back over a quantum.

        fresh: a note begins, and is soloed from its first sample.
        """
        goals = [1.0 if band.on and band.solo else 0.0 for band in self.part.bands]
        if not any(goals) and "alone" not in state:
            return
        shares = state.get("alone")
        if shares is None:
            shares = state["alone"] = np.zeros((1, 1 + _MOST))
            if fresh:
                shares[0, 0] = 1.0
                shares[0, 1 : 1 + len(goals)] = goals
        heard = np.zeros_like(x)
        for k, goal in enumerate(goals):
            if goal or shares[0, 1 + k]:
                y = self._region(k, x, a, b, state, voice)
                ramp_gain(y, shares[0, 1 + k], goal)
                heard += y
                shares[0, 1 + k] = goal
        end = max(goals, default=0.0)
        share = shares[0, 0] + (end - shares[0, 0]) * _ACROSS[a:b]
        x[:, a:b] += share * (heard[:, a:b] - x[:, a:b])
        shares[0, 0] = end
        if not end:
            for name in [n for n in state if n.startswith("alone")]:
                del state[name]

    def _region(self, k: int, x: Buffer, a: int, b: int, state: dict[str, Buffer], voice: VoiceContext) -> Buffer:
        """The part of the sound that lies in the region of a band."""
        band, y = self.part.bands[k], x.copy()
        for n, section in enumerate(span_of_band(band.type, *self._middle(band, b, voice))):
            held = state.get(f"alone/{k}/{n}")
            if held is None:
                held = state[f"alone/{k}/{n}"] = np.zeros((2, 2))
            filter_mixed(y, a, b, section, section, held[: x.shape[0]])
        return y

    def _middle(self, band: EqBand, b: int, voice: VoiceContext) -> tuple[float, float]:
        """Frequency in Hz and Q of a band at the end of the quantum."""
        own = {
            n: self.parameters[f"bands.{band.id}.{n}"].scale(voice.movers)[b - 1] for n in ("frequency", "times", "q")
        }
        hz = 2.0 ** float(own["frequency"])
        if band.tied:
            octaves = float(np.broadcast_to(np.asarray(voice.octaves), (QUANTUM,))[b - 1])
            hz = pitch_hz(KEY_TRACK_CENTER, voice.tuning) * 2.0 ** (octaves + float(own["times"]))
        return hz, 2.0 ** float(own["q"])


def _nothing(section: Array) -> Array:
    """A section with the same poles that changes nothing."""
    return np.array([section[0], section[1], 1.0, 0.0, 0.0])


_MOVED = 64
"""Samples over which the coefficients of a moved band are interpolated."""
