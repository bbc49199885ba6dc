"""The modulation matrix: all movers that a place depends on, in dependency order."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

import numpy as np

from ...patch import (
    AudioRate,
    Movement,
    Mover,
    Patch,
    Source,
    is_bipolar,
    mover_dependencies,
    movers_below,
    source_of,
    stage_of,
    topological_order,
)
from .amp_envelopes import ScaledEnvelope, amp_of
from .movers import EnvelopeMover, MoverProcessor, mover_processor
from .parameters import Array, ModulationInput, ModulationValues, SmoothedParameter
from .transport import TransportContext
from .voice import Voice


class ModulationMatrix:
    """The movers of one place: the voices of a layer, or a chain."""

    def __init__(self) -> None:
        self.processors: dict[str, MoverProcessor] = {}
        self.feeds: dict[str, str] = {}
        """Source ids by the id of the mover that they drive."""
        self.stage_feeds: dict[str, list[str]] = {}
        """Ids of the movers that a stage drives, by its id."""
        self.moved: dict[str, SmoothedParameter] = {}
        """Every moved control by path: those of this part and those of its movers."""

    def update(
        self, patch: Patch, parameters: Mapping[str, SmoothedParameter], below: tuple[str, ...], layer_id: str = ""
    ) -> None:
        """Apply a patch's movers and movements.

        parameters: those of the place, by path. below: path prefixes of the place, each with its last dot. layer_id:
        the layer whose sources can be audio-rate movers.
        """
        self._take_movers(patch, movers_below(patch, *below))
        if layer_id:
            self._scale_envelopes(patch.layer(layer_id).sources)
        self.feeds, self.stage_feeds = {}, {}
        for mover_id, processor in self.processors.items():
            part = processor.part
            if isinstance(part, AudioRate) and part.source and layer_id:
                of_layer, source = source_of(patch, part)
                stage = stage_of(source)
                if of_layer == layer_id and stage:
                    self.stage_feeds.setdefault(stage, []).append(mover_id)
                elif of_layer == layer_id:
                    self.feeds[mover_id] = source
        every = dict(parameters)
        for mover_id, processor in self.processors.items():
            every |= {f"movers.{mover_id}.{name}": parameter for name, parameter in processor.parameters.items()}
        for parameter in every.values():
            parameter.movements = []
        self.moved = {}
        two_way = {m.id: is_bipolar(m) for m in patch.movers}
        for m in patch.movements:
            found = every.get(m.target)
            if not m.lost and found is not None:
                found.movements.append(_input_of(m, two_way))
                self.moved[m.target] = found
        for processor in self.processors.values():
            processor.settle()

    def _take_movers(self, patch: Patch, used: Iterable[str]) -> None:
        """Keep or make the processors of the movers that are used, in dependency order."""
        parts = {m.id: m for m in patch.movers if m.id in used}
        kept = self.processors
        self.processors = {}
        for mover_id in topological_order(list(parts), mover_dependencies(patch.movements)):
            part = parts[mover_id]
            processor = kept.get(mover_id)
            if processor is None or processor.part.kind != part.kind:
                processor = mover_processor(part)
            else:
                processor.take(part)
            self.processors[mover_id] = processor

    def _scale_envelopes(self, sources: Iterable[Source]) -> None:
        """Run the amp envelopes that a source has with times and a sustain of its own."""
        for source in sources:
            envelope = self.processors.get(source.envelope)
            if amp_of(source) not in ("", source.envelope) and isinstance(envelope, EnvelopeMover):
                self.processors[amp_of(source)] = ScaledEnvelope(envelope, source)

    def turn(self, movers: Iterable[Mover]) -> bool:
        """Apply other values of movers. Returns whether any of them runs here."""
        found = [(self.processors[m.id], m) for m in movers if m.id in self.processors]
        for processor, part in found:
            processor.take(part)
            processor.settle()
        return bool(found)

    def tick(self) -> None:
        """Prepare the next quantum."""
        for processor in self.processors.values():
            processor.tick()

    @property
    def turning(self) -> bool:
        """Whether a control of a mover is ramping."""
        return any(processor.turning for processor in self.processors.values())

    def can_span(self) -> bool:
        """Whether all movers can say their values over several quanta at once."""
        return all(processor.can_span() for processor in self.processors.values())

    def values(self, voice: Voice, now: TransportContext) -> ModulationValues:
        """The value of every mover over the quanta, for a voice."""
        found: ModulationValues = {}
        for mover_id, processor in self.processors.items():
            found[mover_id] = processor.value(voice, found, now)
        return found

    def feed(self, movers: ModulationValues, signals: Mapping[str, Array]) -> None:
        """Set the values of audio-rate movers to the sound of their sources, (QUANTUM,), by id."""
        for mover_id, source in self.feeds.items():
            movers[mover_id] = np.clip(signals[source], -1.0, 1.0)


def _input_of(m: Movement, two_way: Mapping[str, bool]) -> ModulationInput:
    """two_way: whether a mover is bipolar, by id."""
    return ModulationInput(
        m.mover,
        m.amount,
        m.both_ways,
        two_way[m.mover],
        m.curve * 0.08 if abs(m.curve) >= 0.5 else 0.0,
        m.scaled_by,
        two_way.get(m.scaled_by, False),
        m.from_off == "decibels",
    )
