"""Tabs of voice stages, chains, branches and returns."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from ....desk import EACH
from ....dsp.filters.formants import VOWELS
from ....engine import beat_curve, response_of, static_curve, transfer_of
from ....patch import (
    BRANCH,
    CHAIN_KINDS,
    PARTS,
    STAGES,
    BeatShape,
    Branch,
    BranchPath,
    Cabinet,
    ControlPath,
    Eq,
    Layer,
    Multiband,
    Patch,
    Space,
    Vocoder,
    Vowel,
    declarations,
    get,
    write,
)
from ..controls import Rule, View, control_view, with_ends
from ..svg import curve, polyline
from .panel import (
    Act,
    ActPick,
    Adding,
    Chart,
    Chip,
    Drawing,
    Panel,
    PanelContext,
    adders,
    chips,
    chosen,
    fields,
    keeping,
)


def _item_drawing(part: Any, group: str) -> Drawing | None:
    if isinstance(part, Branch | BranchPath):
        return None
    if isinstance(part, Multiband):
        part = next((b for b in part.bands if b.id == group), None) or part.bands[0]
    hz = 20.0 * 1000.0 ** np.linspace(0.0, 1.0, 180)
    static = static_curve(part)
    if static is not None:
        return Drawing(part.name, "−72 to 0 dBFS in and out", (curve(static[1], -72.0, 6.0),))
    if isinstance(part, BeatShape):
        level = beat_curve(part)
        return Drawing(part.name, "level over its length", (curve(level, -0.05, 1.05),), copper=True)
    response = response_of(part, hz)
    if response is not None:
        low, high = (-18.0, 18.0) if isinstance(part, Eq) else (-48.0, 24.0)
        return Drawing(
            part.name,
            f"{low:.0f} to {high:+.0f} dB, 20 Hz to 20 kHz".replace("-", "−"),
            (curve(response, low, high),),
        )
    found = transfer_of(part)
    if found is None:
        return Drawing(part.name, "", ())
    return Drawing(part.name, "in across, out up", (curve(np.clip(found[1], -1, 1), -1.05, 1.05),))


def _item_paths(part: Any, own: str, layer: Layer | None, group: str) -> list[str]:
    paths = [f"{own}.{f}" for f in fields(part, layer)]
    if isinstance(part, Eq):
        band = _band_of(part, group, part.bands[:1])
        return ([] if band is None else _below(f"{own}.bands.{band.id}", band)) + paths
    if isinstance(part, Multiband):
        band = _band_of(part, group)
        return paths if band is None else _below(f"{own}.bands.{band.id}", band)
    if isinstance(part, BeatShape) and part.by == "kick":
        paths[1:1] = _below(f"{own}.kick", part.kick)
    return paths


def _below(path: str, part: Any) -> list[str]:
    return [f"{path}.{f}" for f in fields(part)]


def _band_of(part: Eq | Multiband, group: str, else_first: Sequence[Any] = ()) -> Any:
    """The band that is chosen as a group. None, or the first of ``else_first``, if none is."""
    return next((b for b in part.bands if b.id == group), next(iter(else_first), None))


EVERY = "every"
"""The group whose controls set all bands at once."""


def _every(patch: Patch, bands: str, first: Any) -> list[View]:
    """Controls for all bands at once, from those that the first band shows."""
    found: list[View] = []
    for name in fields(first):
        if name == "solo":
            continue
        view = control_view(patch, f"{bands}.{first.id}.{name}")
        says = f"{view.help} Dragging moves all bands alike; a typed value applies to all."
        full = f"{view.name} of every band"
        path = f"{bands}.{EACH}.{name}"
        view = replace(view, path=path, full=full, help=says)
        found.append(replace(view, moved_by="", tied="", travel=None) if isinstance(view, Rule) else view)
    return found


def _chart(part: Vowel, own: str, look: PanelContext) -> Chart:
    """The vowel chart, with the path of moved positions."""
    words = tuple((100.0 * v.tongue, 100.0 * v.opening, v.word) for v in VOWELS)
    line = ""
    paths = look.picture.paths if look.picture is not None else {}
    moved = [paths.get(f"{own}.{n}") for n in ("tongue", "opening")]
    if any(w is not None for w in moved):
        count = next(w.size for w in moved if w is not None)
        x, y = (np.full(count, v) if w is None else w for w, v in zip(moved, (part.tongue, part.opening), strict=True))
        there = np.isfinite(x) & np.isfinite(y)
        step = max(1, int(there.sum()) // 400)
        if there.sum() > 1:
            line = polyline(x[there][::step], y[there][::step])
    return Chart(f"{own}.opening", f"{own}.tongue", part.tongue, part.opening, words, line, part.name, f"{own}.name")


def items_panel(look: PanelContext, base: str, parts: list[Any], kept_as: str, *kinds: str) -> Panel:
    """Voice stages: chips, and the controls and drawing of the selected one."""
    part = chosen(parts, look.item)
    panel = Panel(chips(list(parts), base, part), adders(base, *kinds))
    if look.layer.branches.routing == "parallel":
        panel.chips = [replace(c, mark=getattr(p, "branch", "")) for c, p in zip(panel.chips, parts, strict=True)]
    if part is None:
        panel.empty = "Empty: add a part, and the sound passes through it."
        return panel
    _chosen(look, panel, f"{base}.{part.id}", part, look.layer)
    panel.acts = keeping(kept_as, base)
    return panel


def _chosen(look: PanelContext, panel: Panel, own: str, part: Any, layer: Layer | None) -> None:
    """The controls of the selected part. layer: the layer of a voice stage."""
    panel.drawing = _item_drawing(part, look.group)
    peak = look.picture.stages.get(own) if look.picture is not None else None
    if peak is not None and panel.drawing is not None:
        panel.drawing = replace(panel.drawing, caption=f"peak {write(peak, 'dB')}FS behind it")
    paths = _item_paths(part, own, layer, look.group)
    panel.views = with_ends(look.patch, paths, look.picture, look.audio)
    if isinstance(part, Vowel):
        # the drawing shows its response; this is the chart
        panel.chart, panel.drawing = _chart(part, own, look), None
    panel.name_path = f"{own}.name"
    panel.name = str(getattr(part, "name", ""))
    if look.shaping:
        panel.drawing = None
    place = ControlPath(own).parent
    panel.picks += _kind_picks(part, own, layer)
    if isinstance(part, Eq):
        _eq_groups(look, panel, own, part)
    if isinstance(part, Multiband):
        _multiband_groups(look, panel, own, part)
    if isinstance(part, Cabinet | Space | Vocoder):
        panel.imports, panel.path = True, own
    if isinstance(part, Branch) and len(part.paths) < 4:
        panel.adders += adders(f"{own}.paths", "path")
    if layer is None and not isinstance(part, Branch | BranchPath) and ControlPath(place).name in ("chain", "worked"):
        tip = "Put it into a branch, so that it processes only a band or a copy"
        panel.acts.append(Act("branch", {"path": own}, "Branch", tip))


def _kind_picks(part: Any, own: str, layer: Layer | None) -> list[ActPick]:
    """Starting settings of an effect, and the kinds that a stage can be turned into."""
    picks: list[ActPick] = []
    kind = PARTS.get(getattr(part, "kind", ""))
    if kind is not None and kind.starting and layer is None:
        names = tuple((n, n) for n, _ in kind.starting)
        picks.append(ActPick("start-from", {"path": own}, "name", "Start from", names))
    if kind is not None and kind.is_stage:
        others = tuple((k.word, k.label) for k in STAGES if k is not kind)
        picks.append(ActPick("turn-into", {"path": own}, "kind", "Turn into", others))
    return picks


def _eq_groups(look: PanelContext, panel: Panel, own: str, part: Eq) -> None:
    shown = _band_of(part, look.group, part.bands[:1])
    panel.groups = [(b.id, _band_word(b), b is shown) for b in part.bands]
    panel.adders += adders(f"{own}.bands", "band")
    if shown is not None:
        panel.removable = [(f"{own}.bands.{shown.id}", f"band {_band_word(shown)}")]


def _multiband_groups(look: PanelContext, panel: Panel, own: str, part: Multiband) -> None:
    band = _band_of(part, look.group)
    every = look.group == EVERY
    panel.groups = [("whole", "Whole", band is None and not every), (EVERY, "Every", every)]
    panel.groups += [(b.id, b.name, b is band) for b in part.bands]
    if every:
        panel.views = _every(look.patch, f"{own}.bands", part.bands[0])
    if band is not None:
        tip = "Copy the settings of this band, except its gain, to all other bands"
        panel.acts.append(Act("same-bands", {"path": f"{own}.bands.{band.id}"}, "Copy to all bands", tip))
        if len(part.bands) > 2:
            panel.removable = [(f"{own}.bands.{band.id}", "this band")]
    if len(part.bands) < 4:
        panel.adders += adders(f"{own}.bands", "dynamics-band")


def _band_word(band: Any) -> str:
    return f"{write(band.times, 'x')} note" if band.tied else write(band.frequency, "Hz")


@dataclass(frozen=True)
class ChainPlace:
    """A chain: its path, its items, and the selected one as a path below the chain."""

    base: str
    items: list[Any]
    below: str

    @property
    def path(self) -> str:
        """Path of the selected item, or of the chain if there is none."""
        return f"{self.base}.{self.below}" if self.below else self.base


def place_of(patch: Patch, layer: Layer, tab: str, what: str, item: str) -> ChainPlace:
    """The chain of a tab, and the selected item or its first."""
    base = f"layers.{layer.id}.chain"
    items: list[Any] = list(layer.chain)
    if tab == "worked":
        base, items = "worked", list(patch.worked)
    elif tab == "returns":
        found = next((r for r in patch.returns if r.id == what), patch.returns[0] if patch.returns else None)
        base, items = (f"returns.{found.id}.chain", list(found.chain)) if found else ("returns", [])
    below = item if _there(items, ControlPath(item).steps) else (items[0].id if items else "")
    return ChainPlace(base, items, below)


def _there(items: list[Any], steps: Sequence[str]) -> bool:
    part = next((i for i in items if i.id == steps[0]), None)
    if part is None or len(steps) == 1:
        return part is not None
    if not isinstance(part, Branch) or steps[1] != "paths" or len(steps) < 3:
        return False
    branch_path = next((w for w in part.paths if w.id == steps[2]), None)
    if branch_path is None or len(steps) == 3:
        return branch_path is not None
    return len(steps) == 5 and steps[3] == "items" and any(i.id == steps[4] for i in branch_path.items)


def _adding(path: str, label: str, branches: bool) -> Adding:
    groups = []
    there = [kind for kind in CHAIN_KINDS if branches or kind is not BRANCH]
    for family in dict.fromkeys(kind.family for kind in there):
        groups.append((family, tuple((k.word, k.label) for k in there if k.family == family)))
    return Adding(path, label, tuple(groups))


def _chain_chips(place: ChainPlace) -> list[Chip]:
    """One chip per item; for a selected branch, also for its paths and their items."""
    found = []
    first = ControlPath(place.below).root
    for item in place.items:
        found.append(Chip(item.id, item.name, f"{place.base}.{item.id}", item.id == place.below, not item.on))
        if not isinstance(item, Branch) or item.id != first:
            continue
        for branch_path in item.paths:
            below = f"{item.id}.paths.{branch_path.id}"
            mark = "⤷"
            found.append(
                Chip(below, branch_path.name, f"{place.base}.{below}", below == place.below, branch_path.mute, mark)
            )
            for inner in branch_path.items:
                own = f"{below}.items.{inner.id}"
                chip = Chip(own, inner.name, f"{place.base}.{own}", own == place.below, not inner.on, "⤷ ·")
                found.append(chip)
    return found


def chain_at(look: PanelContext, place: ChainPlace) -> Panel:
    """A chain: chips, kinds that can be added, and the controls of the selected item."""
    panel = Panel(_chain_chips(place))
    panel.ordered, panel.place = True, place.base
    panel.adding.append(_adding(place.base, "Add to the chain", True))
    if not place.below:
        panel.empty = "Empty: add an effect, and the sound passes through it."
        return panel
    part = get(look.patch, place.path)
    steps = ControlPath(place.below).steps
    if len(steps) >= 3:
        way_path = ControlPath(place.base).below(*steps[:3])
        branch_path = get(look.patch, way_path)
        panel.adding.append(_adding(way_path.below("items"), f"Add to {branch_path.name}", False))
    _chosen(look, panel, place.path, part, None)
    if not isinstance(part, BranchPath):
        panel.acts = keeping("item", place.path) + panel.acts
    panel.acts += [replace(a, label=f"{a.label} chain") for a in keeping("chain", place.base)]
    return panel


def chain_panel(look: PanelContext) -> Panel:
    """The chain of the layer."""
    return chain_at(look, place_of(look.patch, look.layer, "chain", look.what, look.item))


def worked_panel(look: PanelContext) -> Panel:
    """The chain of the worked path, and its sends."""
    panel = chain_at(look, place_of(look.patch, look.layer, "worked", look.what, look.item))
    if not panel.views:
        panel.views = _send_views(look, "sends", list(look.patch.sends), "Worked path")
    return panel


def _send_views(look: PanelContext, place: str, sends: list[Any], who: str) -> list[View]:
    names = {r.id: r.name for r in look.patch.returns}
    return [
        control_view(look.patch, f"{place}.{s.id}.level", look.picture, name=f"{who} to {names[s.id]}")
        for s in sends
        if s.id in names
    ]


def returns_panel(look: PanelContext) -> Panel:
    """The returns: level, low cut, sends to it, and its chain."""
    patch = look.patch
    place = place_of(patch, look.layer, "returns", look.what, look.item)
    if not patch.returns:
        panel = Panel(adders=adders("returns", "return"))
        panel.empty = "No return: add one, and send layers to its chain."
        return panel
    shown = next(r for r in patch.returns if place.base == f"returns.{r.id}.chain")
    if look.item and place.below == look.item:
        panel = chain_at(look, place)
    else:
        panel = Panel(_chain_chips(replace(place, below="")), adding=[_adding(place.base, "Add to the chain", True)])
        panel.ordered, panel.place = True, place.base
        own = f"returns.{shown.id}"
        paths = [f"{own}.{n}" for n in declarations(type(shown))]
        views = with_ends(patch, paths, look.picture)
        for place_, sends, who in (
            *((f"layers.{x.id}.sends", x.sends, x.name) for x in patch.layers),
            ("sends", patch.sends, "Worked path"),
        ):
            if any(s.id == shown.id for s in sends):
                views.append(control_view(patch, f"{place_}.{shown.id}.level", look.picture, name=who))
        panel.views = views
        panel.removable = [(own, shown.name)]
    panel.whats = [(r.id, r.name, r.id == shown.id) for r in patch.returns]
    if len(patch.returns) < 4:
        panel.adders = [*panel.adders, *adders("returns", "return")]
    return panel
