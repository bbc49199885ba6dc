"""The row of meters: the peak behind every stage, in signal order."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from ....desk import Picture
from ....patch import MINUS, Patch

METER_LOW = -48.0
CLIP = 0.0


@dataclass(frozen=True)
class MeterCell:
    """One stage: its peak in per cent of the height, and as text."""

    name: str
    tab: str
    layer: str
    item: str
    what: str
    view: str
    height: float
    text: str
    clips: bool
    first: bool
    chosen: bool
    off: bool


@dataclass(frozen=True)
class MeterGroup:
    """The stages of one place."""

    name: str
    hatch: str
    cells: tuple[MeterCell, ...]


class _MeterRow:
    """Builds the row of meters."""

    def __init__(self, patch: Patch, picture: Picture | None, path: str) -> None:
        self.patch, self.peaks, self.path = patch, picture.stages if picture else {}, path
        self.first_found = False

    def cell(self, path: str, name: str, off: bool, **goto: str) -> MeterCell:
        """Add one stage."""
        peak = self.peaks.get(path)
        clips = peak is not None and peak > CLIP and not off
        first = clips and not self.first_found
        self.first_found = self.first_found or clips
        height = 0.0 if peak is None else 100.0 * min(max((peak - METER_LOW) / (6.0 - METER_LOW), 0.0), 1.0)
        text = "" if peak is None else f"{peak:.1f}".replace("-", MINUS)
        words = {"tab": "", "layer": "", "item": "", "what": "", "view": "shaping"} | goto
        return MeterCell(name, height=round(height, 1), text=text, clips=clips, first=first, chosen=path == self.path,
                    off=off, **words)  # fmt: skip

    def chain(self, items: list[Any], base: str, **goto: str) -> list[MeterCell]:
        """Add the items of a chain, with those in its branches."""
        found = []
        for item in items:
            for branch_path in getattr(item, "paths", []):
                below = f"{item.id}.paths.{branch_path.id}.items"
                for inner in branch_path.items:
                    own = f"{below}.{inner.id}"
                    off = not (inner.on and item.on)
                    found.append(self.cell(f"{base}.{own}", inner.name, off, item=own, **goto))
            found.append(self.cell(f"{base}.{item.id}", item.name, not item.on, item=item.id, **goto))
        return found


def groups_of(patch: Patch, picture: Picture | None, path: str) -> tuple[MeterGroup, ...]:
    row = _MeterRow(patch, picture, path)
    found = []
    for layer in patch.layers:
        own = f"layers.{layer.id}"
        cells = [
            row.cell(f"{own}.stages.{s.id}", s.name, not s.on, tab="stages", layer=layer.id, item=s.id, view="layers")
            for s in layer.stages
        ]
        cells += row.chain(list(layer.chain), f"{own}.chain", tab="chain", layer=layer.id)
        if cells:
            found.append(MeterGroup(layer.name, layer.hatch, tuple(cells)))
    if patch.worked:
        found.append(MeterGroup("Worked path", "", tuple(row.chain(list(patch.worked), "worked", tab="worked"))))
    for r in patch.returns:
        if any(f"returns.{r.id}.chain.{i.id}" in row.peaks for i in r.chain):
            cells = row.chain(list(r.chain), f"returns.{r.id}.chain", tab="returns", what=r.id)
            found.append(MeterGroup(r.name, "", tuple(cells)))
    names = (("gain", "Gain"), ("fold", "Fold"), ("ceiling", "Ceiling"))
    out = [row.cell(f"output.{k}", n, False, tab="output") for k, n in names]
    found.append(MeterGroup("Output", "", tuple(out)))
    return tuple(found)
