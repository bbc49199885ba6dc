"""The processor of the space effect."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from ...dsp import QUANTUM, RATE
from ...dsp.delays.convolution import Convolver, Response
from ...dsp.delays.delay_lines import line
from ...dsp.delays.feedback_network import (
    EARLY_GAIN,
    MOST_AHEAD,
    NetworkCurves,
    NetworkLengths,
    NetworkLines,
    early_lengths,
    lengths,
    losses,
    network,
)
from ...dsp.delays.feedback_network import Rest as NetworkRest
from ...dsp.delays.room_responses import room_response
from ...dsp.filters.svf import BUTTERWORTH, LOWPASS, PREWARP_TABLE, SvfCurves, filter_svf
from ...patch import Space
from ..audio import audio_of
from ..blocks import constant_block
from ..modulation import Array, as_is, as_share
from .base import Buffer, EffectState, VoiceContext
from .delays import Wet, WetProcessor, one_pole
from .dynamics import as_ms

_MS = RATE / 1000.0


class _NetworkState(Wet):
    def __init__(self) -> None:
        super().__init__()
        self.network = NetworkRest()
        self.convolver = Convolver()
        self.size: Array | None = None
        self.loss: Array | None = None
        self.high = np.zeros((2, 4))
        self.ahead = line(MOST_AHEAD)


class SpaceProcessor(WetProcessor):
    """Reverberation by a feedback network or by convolution."""

    converts = {
        "decay": as_ms, "size": as_is, "pre_delay": as_is, "early": as_share, "damping": one_pole, "high_cut": as_is,
        "width": as_share, "low_cut": as_is, "mix": as_share,
    }  # fmt: skip

    def __init__(self, part: Space) -> None:
        self._kept: tuple[Any, Response | None] = ((), None)
        super().__init__(part)

    def initial_state(self) -> _NetworkState:
        """The memory of the effect before any sound."""
        return _NetworkState()

    def effect(self, x: Buffer, held: EffectState, voice: VoiceContext) -> None:
        """Add the reverberation."""
        own: _NetworkState = held.memory
        response = self._response(voice)
        if self.part.mode == "network" or response is None:
            wet = np.zeros((2, QUANTUM))
            if self.part.mode == "network":
                self._network(x, wet, own, voice)
        else:
            wet = own.convolver.process(self._before(x, own, voice), response)
            own.at += QUANTUM
            middle = 0.5 * (wet[0] + wet[1])
            wet = middle + self.over("width", voice) * (wet - middle)
        parameter = self.parameters["high_cut"]
        log_hz = parameter.scale(voice.movers)
        if log_hz[-1] < math.log2(parameter.control.high) - 1e-9:
            k, steady = constant_block(BUTTERWORTH), self.is_still("high_cut")
            wet = np.ascontiguousarray(wet)
            filter_svf(
                wet,
                0,
                QUANTUM,
                LOWPASS,
                False,
                SvfCurves(log_hz, k, k, constant_block(1.0)),
                steady,
                own.high,
                PREWARP_TABLE,
            )
        self.meet(x, wet, own, voice)

    def _network(self, x: Buffer, wet: Buffer, own: _NetworkState, voice: VoiceContext) -> None:
        size = 2.0 ** float(self.parameters["size"].scale(voice.movers)[-1]) / 100.0
        far = lengths(size)
        loss = losses(far, self.last("decay", voice) / 1000.0)
        was = far if own.size is None else own.size
        loss_was = loss if own.loss is None else own.loss
        own.size, own.loss = far, loss
        damping = self.parameters["damping"]
        log_hz = damping.scale(voice.movers)
        dull = constant_block(1.0) if log_hz[-1] >= math.log2(damping.control.high) - 1e-9 else damping.convert(log_hz)
        r = own.network
        delays = NetworkLengths(was, far, loss_was, loss, early_lengths(size), EARLY_GAIN)
        curves = NetworkCurves(
            self.over("pre_delay", voice) * _MS, self.over("early", voice), dull, self.over("width", voice)
        )
        network(x, wet, r.at, NetworkLines(r.ahead, r.smear, r.lines, r.damp), delays, curves)
        r.at += QUANTUM

    def _before(self, x: Buffer, own: _NetworkState, voice: VoiceContext) -> Buffer:
        ms = self.last("pre_delay", voice)
        at = (own.at + np.arange(QUANTUM)) % MOST_AHEAD
        own.ahead[:, at] = x
        return own.ahead[:, (at - round(ms * _MS)) % MOST_AHEAD]

    def _response(self, voice: VoiceContext) -> Response | None:
        part: Space = self.part
        if part.mode == "network":
            return None
        decay, size = self.last("decay", voice), 2.0 ** float(self.parameters["size"].scale(voice.movers)[-1]) / 100.0
        if part.mode == "built-in":
            key: Any = (part.shape, round(size, 2), round(decay / 1400.0, 2))
            if key != self._kept[0]:
                self._kept = key, Response(room_response(*key))
            return self._kept[1]
        x = audio_of(part.audio) if part.audio else None
        key = (part.audio, None if x is None else x.shape, round(decay))
        if key != self._kept[0]:
            self._kept = key, None if x is None else Response(recorded(x, decay / 1000.0))
        return self._kept[1]


def recorded(x: Array, seconds: float) -> Array:
    """A recorded response, (1 or 2, n), faded out after so many seconds and normalised in loudness."""
    n = min(x.shape[1], round(min(seconds, 8.0) * RATE))
    y = np.array(x[:, :n], dtype=np.float64)
    fade = min(n, 960)
    y[:, n - fade :] *= np.linspace(1.0, 0.0, fade)
    loud = math.sqrt(float(np.sum(y**2)) / y.shape[0])
    return y / loud if loud > 1e-9 else y
