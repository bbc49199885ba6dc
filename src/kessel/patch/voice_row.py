"""How a layer's voice stages stand: in series, or in two branches between two common rows. And what feeds back."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Protocol

from .effects import Branches, Distortion, Stage
from .sources import Source, stage_of


class Staged(Protocol):
    """A layer, as far as its sources and voice stages are concerned."""

    @property
    def name(self) -> str:
        """Its name."""

    @property
    def sources(self) -> Sequence[Source]:
        """Its sources."""

    @property
    def stages(self) -> Sequence[Stage]:
        """Its voice stages."""

    @property
    def branches(self) -> Branches:
        """Their routing."""


@dataclass(frozen=True)
class VoiceRow:
    """The stages of a layer by where they stand. In series, all stand before the branches, which are empty."""

    before: tuple[Stage, ...]
    a: tuple[Stage, ...] = ()
    b: tuple[Stage, ...] = ()
    after: tuple[Stage, ...] = ()
    split: bool = False

    @property
    def rows(self) -> tuple[tuple[Stage, ...], ...]:
        """The four rows, in order."""
        return self.before, self.a, self.b, self.after

    def up_to(self, stage_id: str) -> list[Stage]:
        """The stages that the sound passes before it leaves a stage, which comes last. Empty if there is none."""
        for row, ahead in (
            (self.before, ()),
            (self.a, self.before),
            (self.b, self.before),
            (self.after, (*self.before, *self.a, *self.b)),
        ):
            for n, stage in enumerate(row):
                if stage.id == stage_id:
                    return [*ahead, *row[: n + 1]]
        return []


def voice_row(stages: Sequence[Stage], branches: Branches) -> VoiceRow:
    """Where the stages of a layer stand."""
    if branches.routing == "series":
        return VoiceRow(tuple(stages))
    before, a, b, after = (tuple(s for s in stages if s.branch == word) for word in ("before", "A", "B", "after"))
    return VoiceRow(before, a, b, after, True)


def fed_back(layer: Staged) -> list[str]:
    """Ids of the stages whose output modulates sources of the layer, in the order of the stages."""
    named = {stage_of(m.source) for source in layer.sources for m in source.modulators}
    return [s.id for s in layer.stages if s.id in named]


def can_feed_back(layer: Staged, stage_id: str) -> None:
    """Raise ValueError unless the output of a stage can modulate the sources before it.

    Only filters feed back: all that the sound passes on the way is in one loop, by one sample.
    """
    way = voice_row(layer.stages, layer.branches).up_to(stage_id)
    if not way:
        raise ValueError(f"a source is modulated by “{stage_id}”, which is no voice stage of {layer.name}")
    hard = next((s for s in way if isinstance(s, Distortion)), None)
    if hard is way[-1]:
        raise ValueError(f"{hard.name} is a distortion, which can't feed back to the sources: use a filter")
    if hard is not None:
        raise ValueError(f"{way[-1].name} feeds back to the sources, so no distortion can stand before it: "
                         f"let {hard.name} come after it")  # fmt: skip
