"""Amp envelopes of single sources: envelopes of the patch, with times and a sustain of their own."""

from __future__ import annotations

from ...patch import Envelope, Source
from .envelopes import EnvelopeProcessor
from .movers import EnvelopeMover, MoverProcessor
from .parameters import Array, ModulationValues
from .transport import TransportContext
from .voice import Voice


def amp_of(source: Source) -> str:
    """The name under which a source's amp envelope runs: its mover's id, if it is not scaled. Empty without one."""
    if not source.envelope or (source.envelope_times == 100.0 and source.envelope_sustain == 100.0):
        return source.envelope
    return f"{source.envelope} at {source.envelope_times} and {source.envelope_sustain}"


class ScaledEnvelope(MoverProcessor):
    """An envelope again, with other times and another sustain: the amp envelope of one of several sources."""

    def __init__(self, envelope: EnvelopeMover, source: Source) -> None:
        self._envelope, self._name = envelope, amp_of(source)
        self._scale = source.envelope_times / 100.0, source.envelope_sustain / 100.0
        super().__init__(envelope.part)

    def take(self, part: Envelope) -> None:
        """Its controls are those of the envelope."""
        self.part = part
        self._processor = EnvelopeProcessor(self._envelope.parameters, self._scale)

    def settle(self) -> None:
        """Find out what moves its controls now."""
        self._processor.settle()

    def value(self, voice: Voice, movers: ModulationValues, now: TransportContext) -> Array:
        """0..1, above 1 during the accent."""
        return self._processor.value(self._envelope.part, self._name, voice, movers, now)
