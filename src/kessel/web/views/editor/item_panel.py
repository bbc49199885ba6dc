"""Tabs of voice stages, chains, branches and returns."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

from ....patch import (
    BRANCH,
    CHAIN_KINDS,
    PARTS,
    STAGES,
    Branch,
    BranchPath,
    ControlPath,
    Layer,
    Patch,
    declarations,
    get,
    stage_of,
    write,
)
from ..controls import View, control_view, with_ends
from .faces import face_of, gripped
from .panel import (
    Act,
    ActPick,
    Adding,
    Chip,
    Panel,
    PanelContext,
    adders,
    chips,
    chosen,
    fields,
    keeping,
)

_TURNED_UP = ("makeup", "trim", "drive")
"""What makes an effect louder, in the order in which it is named."""
_TAKES_DB = 1.0


def items_panel(look: PanelContext, base: str, parts: list[Any], kept_as: str, *kinds: str) -> Panel:
    """Voice stages: chips, and the controls and drawing of the selected one."""
    part = chosen(parts, look.item)
    panel = Panel(chips(list(parts), base, part), adders(base, *kinds), dragged=True)
    if look.layer.branches.routing == "parallel":
        panel.chips = [replace(c, mark=getattr(p, "branch", "")) for c, p in zip(panel.chips, parts, strict=True)]
    if part is None:
        panel.empty = "Empty: add a part, and the sound passes through it."
        return panel
    _chosen(look, panel, f"{base}.{part.id}", part, look.layer)
    panel.rows += _modulated_by(look.layer, part)
    panel.acts = keeping(kept_as, base)
    return panel


def _modulated_by(layer: Layer, stage: Any) -> list[str]:
    """What a stage modulates among the sources before it, as a sentence."""
    found = [
        f"{'FM of' if m.mode == 'phase' else 'ring on'} {s.name}"
        for s in layer.sources
        for m in s.modulators
        if stage_of(m.source) == stage.id
    ]
    return [f"{stage.name} feeds back to the sources: {', '.join(found)}."] if found else []


def _chosen(look: PanelContext, panel: Panel, own: str, part: Any, layer: Layer | None) -> None:
    """The controls of the selected part. layer: the layer of a voice stage."""
    face = face_of(part)
    panel.drawing = face.drawing(part, look.group)
    peak = look.picture.stages.get(own) if look.picture is not None else None
    if peak is not None and panel.drawing is not None:
        panel.drawing = replace(panel.drawing, caption=f"peak {write(peak, 'dB')}FS behind it")
    if panel.drawing is not None:
        panel.drawing = replace(panel.drawing, grips=gripped(look.patch, own, part, look.group))
    paths = face.paths(part, own, [f"{own}.{f}" for f in fields(part, layer)], look.group)
    panel.views = with_ends(look.patch, paths, look.picture, look.audio)
    panel.name_path = f"{own}.name"
    panel.name = str(getattr(part, "name", ""))
    panel.picks += _kind_picks(part, own, layer)
    if layer is None:
        panel.acts += _taken_back(own, part)
    face.extend(look, panel, own, part)
    if look.shaping:
        panel.drawing = None
    if layer is None and _is_effect(part) and ControlPath(own).parent.name in ("chain", "worked"):
        tip = "Put it into a branch, so that it processes only a band or a copy"
        panel.acts.append(Act("branch", {"path": own}, "Branch", tip))


def _taken_back(own: str, part: Any) -> list[Act]:
    """What the level match of an effect takes of what is turned up in it, and a button that lets it through."""
    raised = [name for name in _TURNED_UP if getattr(part, name, 0.0) > 0.0]
    if not raised or not getattr(part, "matched", False) or part.match > -_TAKES_DB:
        return []
    taken = write(-part.match, "dB")
    tip = f"Switches the level match off, which turns the {raised[0]} down again by {taken}"
    return [Act("let-through", {"path": own}, f"Match takes {taken}: let it through", tip)]


def _is_effect(part: Any) -> bool:
    """Whether it can stand in a branch, which a branch and its paths can't."""
    return getattr(part, "kind", BRANCH.word) != BRANCH.word


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
