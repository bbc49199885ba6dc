"""The row of meters: the peak after every stage, in the order of the sound."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from ....desk import Picture
from ....patch import MINUS, Patch

METER_LOW = -48.0
CLIP = 0.0


@dataclass(frozen=True)
class MeterCell:
    """One stage in the row of meters: how high its peak stands in per cent, and the peak in words."""

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
    """Stages of one place in the row."""

    name: str
    hatch: str
    cells: tuple[MeterCell, ...]


class _MeterRow:
    """The row of meters while it is made."""

    def __init__(self, patch: Patch, picture: Picture | None, path: str) -> None:
        self.patch, self.peaks, self.path = patch, picture.stages if picture else {}, path
        self.first_found = False

    def cell(self, path: str, name: str, off: bool, **goto: str) -> MeterCell:
        """One stage."""
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
        """A chain's items, of a branch its ways' too."""
        found = []
        for item in items:
            for way in getattr(item, "ways", []):
                below = f"{item.id}.ways.{way.id}.items"
                for inner in way.items:
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
