"""The editor of the selected layer, and of what all layers share."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, fields, replace

from ....desk import KINDS, Picture, StoredPart, WaveOffer
from ....patch import Layer, Patch
from ..controls import Audio, View
from .item_panel import chain_panel, returns_panel, worked_panel
from .layer_panels import envelope_panel, mix_panel, output_panel, stages_panel, voices_panel
from .mover_panel import movements_panel, movers_panel
from .panel import Panel, PanelContext
from .source_panel import sources_panel, wave_panel

VIEWS = ("layers", "movement", "shaping", "checks")
"""All workspaces."""


@dataclass(frozen=True)
class Selection:
    """What the page selects in the editor."""

    layer: str = ""
    tab: str = "sources"
    item: str = ""
    group: str = ""
    frame: int = 0
    view: str = "layers"
    what: str = ""
    curve: str = ""
    sort: str = "target"
    only: str = ""
    zoom: str = ""
    topic: str = ""
    pick: str = ""
    spot: str = ""

    @property
    def named(self) -> list[tuple[str, str]]:
        """All selections by name, in the order of the page."""
        return [(f.name, str(getattr(self, f.name))) for f in fields(self)]

    @property
    def words(self) -> str:
        """All selections as one line, to tell whether an answer is still wanted."""
        return "|".join(value.replace("|", " ") for _, value in self.named)


@dataclass(frozen=True)
class Tab:
    """One tab of the editor."""

    slug: str
    label: str
    on: bool
    asks: dict[str, str]


@dataclass(frozen=True)
class Editor:
    """The content of the editor."""

    layer: str
    name: str
    hatch: str
    tab: str
    item: str
    group: str
    tabs: tuple[Tab, ...]
    panel: Panel
    paste: str
    asked: Selection

    @property
    def shown(self) -> Selection:
        """What is shown: the selection, or the first item if it does not exist."""
        frame = self.panel.wave.frame if self.panel.wave else 0
        return replace(self.asked, layer=self.layer, tab=self.tab, item=self.item, group=self.group, frame=frame)

    @property
    def columns(self) -> list[list[View]]:
        """The views, five per column."""
        return [self.panel.views[i : i + 5] for i in range(0, len(self.panel.views), 5)]


_TABS: tuple[tuple[str, str, Callable[[PanelContext], Panel]], ...] = (
    ("sources", "Sources", sources_panel),
    ("wave", "Wave", wave_panel),
    ("stages", "Stages", stages_panel),
    ("envelope", "Amp envelope", envelope_panel),
    ("voices", "Voices", voices_panel),
    ("mix", "Mix and range", mix_panel),
    ("chain", "Chain", chain_panel),
    ("movers", "Movers", movers_panel),
    ("movements", "Movements", movements_panel),
    ("worked", "Worked path", worked_panel),
    ("returns", "Returns", returns_panel),
    ("output", "Output", output_panel),
)


_CHECKS = ("mix", "sources", "envelope", "chain", "worked", "output", "movements")
"""Tabs of the checks workspace."""
_SHAPING = ("chain", "worked", "returns", "output", "movers", "movements")
"""Tabs of the shaping workspace; other workspaces have all except the returns."""


def tabs_of(view: str) -> list[str]:
    """Slugs of a workspace's tabs."""
    if view == "checks":
        return list(_CHECKS)
    return list(_SHAPING) if view == "shaping" else [s for s, _, _ in _TABS if s != "returns"]


def first_tab(view: str, patch: Patch) -> str:
    """The first tab of a workspace."""
    if view == "checks":
        return "mix"
    if view == "shaping":
        return "worked" if patch.worked or not any(x.chain for x in patch.layers) else "chain"
    return "movements" if view == "movement" else "sources"


def _counts(patch: Patch, layer: Layer) -> dict[str, int]:
    return {
        "sources": len(layer.sources),
        "stages": len(layer.stages),
        "chain": len(layer.chain),
        "movers": len(patch.movers),
        "movements": len(patch.movements),
        "worked": len(patch.worked),
        "returns": len(patch.returns),
    }


_OF_SOURCES = ("sources", "wave")
"""Tabs that show the same item."""


def _asks(tab: str, to: str) -> dict[str, str]:
    """What the page asks for when it goes to a tab: the item stays only where both tabs show it."""
    stays = tab in _OF_SOURCES and to in _OF_SOURCES
    return {"tab": to, "frame": "0"} | ({} if stays else {"item": ""})


def editor_view(
    patch: Patch,
    picture: Picture | None,
    asked: Selection,
    audio: Audio = (),
    clipboard: StoredPart | None = None,
    offer: WaveOffer | None = None,
) -> Editor:
    """The editor. Unknown selections fall back to the first item. offer: a wave that is about to be taken."""
    ids = [layer.id for layer in patch.layers]
    layer = patch.layer(asked.layer) if asked.layer in ids else patch.layers[min(1, len(ids) - 1)]
    counts = _counts(patch, layer)
    slugs = tabs_of(asked.view)
    tab = asked.tab if asked.tab in slugs else first_tab(asked.view, patch)
    by_slug = {s: (label, make) for s, label, make in _TABS}
    tabs = tuple(Tab(s, f"{by_slug[s][0]} {counts.get(s, '')}".strip(), s == tab, _asks(tab, s)) for s in slugs)
    look = PanelContext(
        patch, layer, picture, asked.item, asked.group, asked.frame, audio, asked.sort, asked.only, asked.what,
        asked.view == "shaping", offer,
    )  # fmt: skip
    panel = by_slug[tab][1](look)
    chosen = next((c.id for c in panel.chips if c.on), "")
    group = next((g for g, _, on in panel.groups if on), asked.group)
    paste = f"{KINDS[clipboard.kind].lower()} {clipboard.name}" if clipboard is not None else ""
    return Editor(layer.id, layer.name, layer.hatch, tab, chosen, group, tabs, panel, paste, asked)
