"""The editor of the chosen layer, and of what all layers share."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field, replace
from typing import Any, TypeVar

import numpy as np

from ...desk import PARTS, Picture
from ...engine import envelope_curve, lfo_curve, response_of, source_picture, transfer_of
from ...patch import (
    ChainItem,
    Envelope,
    Eq,
    Filter,
    Layer,
    Lfo,
    Noise,
    Oscillator,
    Patch,
    declarations,
    movement_text,
    title,
    write,
)
from .controls import View, control_view, end_view, with_ends
from .svg import curve

T = TypeVar("T")


@dataclass(frozen=True)
class Tab:
    """One tab of the editor."""

    slug: str
    label: str
    on: bool


@dataclass(frozen=True)
class Chip:
    """One part that can be chosen; ``path`` is where it stands."""

    id: str
    name: str
    path: str
    on: bool


@dataclass(frozen=True)
class Drawing:
    """A small drawing of 180 by 60: lines, a caption, and its kind."""

    title: str
    caption: str
    lines: tuple[str, ...]
    copper: bool = False


@dataclass
class Panel:
    """What a tab shows."""

    chips: list[Chip] = field(default_factory=list)
    adders: list[tuple[str, str, str]] = field(default_factory=list)
    drawing: Drawing | None = None
    views: list[View] = field(default_factory=list)
    rows: list[str] = field(default_factory=list)
    empty: str = ""
    modulators: list[tuple[str, str, str]] = field(default_factory=list)
    removable: list[tuple[str, str]] = field(default_factory=list)


@dataclass(frozen=True)
class Editor:
    """The whole editor."""

    layer: str
    name: str
    hatch: str
    tab: str
    item: str
    tabs: tuple[Tab, ...]
    panel: Panel

    @property
    def columns(self) -> list[list[View]]:
        """The views, five to a column."""
        return [self.panel.views[i : i + 5] for i in range(0, len(self.panel.views), 5)]


def _adders(path: str, *kinds: str) -> list[tuple[str, str, str]]:
    return [(path, kind, PARTS[kind][0]) for kind in kinds]


def _fields(part: object, *, but: tuple[str, ...] = ()) -> list[str]:
    return [name for name in declarations(type(part)) if name not in but]  # type: ignore[arg-type]


def _chosen(parts: list[T], item: str) -> T | None:
    return next((p for p in parts if getattr(p, "id", "") == item), parts[0] if parts else None)


def _chips(parts: list[Any], base: str, chosen: object) -> list[Chip]:
    return [Chip(p.id, getattr(p, "name", p.id), f"{base}.{p.id}", p is chosen) for p in parts]


def _sources(patch: Patch, layer: Layer, picture: Picture | None, item: str) -> Panel:
    base = f"layers.{layer.id}.sources"
    source = _chosen(list(layer.sources), item)
    panel = Panel(_chips(list(layer.sources), base, source), _adders(base, "oscillator", "noise"))
    if source is None:
        panel.empty = "No source yet: add an oscillator or a noise, and the layer sounds."
        return panel
    own = f"{base}.{source.id}"
    if isinstance(source, Noise):
        panel.drawing = Drawing(source.name, "white noise, seeded", (curve(_speckle(), -1, 1),))
        panel.views = with_ends(patch, [f"{own}.{f}" for f in _fields(source)], picture)
        return panel
    y = source_picture(patch, layer.id, source.id).cycle
    panel.drawing = Drawing(source.name, "two cycles from its start phase", (curve(y, -1.35, 1.35),))
    hidden: tuple[str, ...] = ("pulse_width",) if source.shape != "pulse" else ()
    hidden += ("chance",) if source.start != "chance" else ()
    hidden += ("unison",) if layer.unison.copies == 1 else ()
    paths = [f"{own}.{f}" for f in _fields(source, but=hidden)]
    panel.views = with_ends(patch, paths, picture)
    for m in source.modulators:
        name = next(s.name for s in layer.sources if s.id == m.source)
        path = f"{own}.modulators.{m.id}.depth"
        panel.views.append(control_view(patch, path, picture, f"FM by {name}"))
        panel.views.extend(end_view(patch, e) for e in patch.movements if e.target == path)
        panel.removable.append((f"{own}.modulators.{m.id}", f"FM by {name}"))
    taken = {m.source for m in source.modulators}
    panel.modulators = [
        (own, s.id, s.name)
        for s in layer.sources
        if s.id != source.id and s.id not in taken and not _leads_back(layer, s.id, source.id)
    ]
    return panel


def _leads_back(layer: Layer, start: str, to: str) -> bool:
    """Whether ``to`` is heard in ``start``, so that it can't be modulated by it."""
    source = next(s for s in layer.sources if s.id == start)
    if not isinstance(source, Oscillator):
        return False
    return any(m.source == to or _leads_back(layer, m.source, to) for m in source.modulators)


def _speckle() -> np.ndarray[tuple[int], np.dtype[np.float64]]:
    return np.random.default_rng(7).uniform(-0.9, 0.9, 90)


def _item_drawing(part: ChainItem) -> Drawing:
    hz = 20.0 * 1000.0 ** np.linspace(0.0, 1.0, 180)
    if isinstance(part, Filter | Eq):
        low, high = (-48.0, 24.0) if isinstance(part, Filter) else (-18.0, 18.0)
        return Drawing(
            part.name,
            f"{low:.0f} to {high:+.0f} dB, 20 Hz to 20 kHz".replace("-", "−"),
            (curve(response_of(part, hz), low, high),),
        )
    found = transfer_of(part)
    assert found is not None
    return Drawing(part.name, "in across, out up", (curve(np.clip(found[1], -1, 1), -1.05, 1.05),))


def _item_paths(part: ChainItem, own: str) -> list[str]:
    if isinstance(part, Eq):
        paths = [f"{own}.{f}" for f in _fields(part)]
        for band in part.bands:
            but = ("gain",) if band.type in ("low-cut", "high-cut", "notch") else ()
            paths += [f"{own}.bands.{band.id}.{f}" for f in _fields(band, but=but)]
        return paths
    return [f"{own}.{f}" for f in _fields(part)]


def _items(patch: Patch, base: str, parts: list[ChainItem], picture: Picture | None, item: str, *kinds: str) -> Panel:
    part = _chosen(parts, item)
    panel = Panel(_chips(list(parts), base, part), _adders(base, *kinds))
    if part is None:
        panel.empty = "Nothing here yet: add a part and the sound goes through it."
        return panel
    panel.drawing = _item_drawing(part)
    peak = picture.stages.get(f"{base}.{part.id}") if picture is not None else None
    if peak is not None:
        panel.drawing = replace(panel.drawing, caption=f"peak {write(peak, 'dB')}FS behind it")
    panel.views = with_ends(patch, _item_paths(part, f"{base}.{part.id}"), picture)
    if isinstance(part, Eq):
        panel.adders += _adders(f"{base}.{part.id}.bands", "band")
        panel.removable = [
            (f"{base}.{part.id}.bands.{b.id}", f"{b.type} {write(b.frequency, 'Hz')}") for b in part.bands
        ]
    return panel


def _stages(patch: Patch, layer: Layer, picture: Picture | None, item: str) -> Panel:
    base = f"layers.{layer.id}.stages"
    return _items(patch, base, list(layer.stages), picture, item, "filter", "distortion")


def _chain(patch: Patch, layer: Layer, picture: Picture | None, item: str) -> Panel:
    base = f"layers.{layer.id}.chain"
    return _items(patch, base, list(layer.chain), picture, item, "distortion", "eq", "filter")


def _worked(patch: Patch, layer: Layer, picture: Picture | None, item: str) -> Panel:
    return _items(patch, "worked", list(patch.worked), picture, item, "distortion", "eq", "filter")


def _level(patch: Patch, layer: Layer, picture: Picture | None, item: str) -> Panel:
    own = f"layers.{layer.id}.envelope"
    y, ms = envelope_curve(layer.envelope)
    paths = [f"{own}.{f}" for f in _fields(layer.envelope)] + [f"layers.{layer.id}.play.velocity"]
    drawing = Drawing("Level in time", f"one note, {write(ms, 'ms')}", (curve(y, 0.0, 1.0),), copper=True)
    return Panel(drawing=drawing, views=with_ends(patch, paths, picture))


def _movers(patch: Patch, layer: Layer, picture: Picture | None, item: str) -> Panel:
    mover = _chosen(list(patch.movers), item)
    panel = Panel(_chips(list(patch.movers), "movers", mover), _adders("movers", "envelope", "lfo"))
    if mover is None:
        panel.empty = "Nothing moves yet: add an envelope or an LFO."
        return panel
    own = f"movers.{mover.id}"
    hidden: tuple[str, ...] = ()
    if isinstance(mover, Envelope):
        y, ms = envelope_curve(mover)
        panel.drawing = Drawing(mover.name, f"one note, {write(ms, 'ms')}", (curve(y, 0.0, 1.0),), copper=True)
    elif isinstance(mover, Lfo):
        panel.drawing = Drawing(mover.name, "two swings", (curve(lfo_curve(mover), -1.1, 1.1),), copper=True)
        hidden = ("rate",) if mover.clock == "beats" else ("length",)
    panel.views = with_ends(patch, [f"{own}.{f}" for f in _fields(mover, but=hidden)], picture)
    for m in patch.movements:
        if m.mover == mover.id:
            both = ", both ways" if m.both_ways else ""
            panel.rows.append(f"{title(patch, m.target)} {movement_text(patch, m.target, m.amount)}{both}")
    if not panel.rows:
        panel.rows.append(f"{mover.name} moves nothing yet")
    return panel


def _place(patch: Patch, layer: Layer, picture: Picture | None, item: str) -> Panel:
    own = f"layers.{layer.id}"
    names = ("level", "pan", "width", "polarity", "delay", "path", "range.low", "range.high", "range.where")
    return Panel(views=with_ends(patch, [f"{own}.{n}" for n in names], picture))


def _play(patch: Patch, layer: Layer, picture: Picture | None, item: str) -> Panel:
    own = f"layers.{layer.id}"
    names = [f"unison.{f}" for f in _fields(layer.unison)] + [f"play.{f}" for f in _fields(layer.play)]
    return Panel(views=with_ends(patch, [f"{own}.{n}" for n in names], picture))


def _output(patch: Patch, layer: Layer, picture: Picture | None, item: str) -> Panel:
    paths = [f"output.{f}" for f in _fields(patch.output)]
    paths += [f"output.ceiling.{f}" for f in _fields(patch.output.ceiling)]
    return Panel(views=with_ends(patch, [*paths, "tuning"], picture))


_TABS: tuple[tuple[str, str, Callable[[Patch, Layer, Picture | None, str], Panel]], ...] = (
    ("sources", "Sources", _sources),
    ("stages", "Stages", _stages),
    ("level", "Level in time", _level),
    ("voices", "Voices", _play),
    ("place", "Place", _place),
    ("chain", "Chain", _chain),
    ("movers", "Movers", _movers),
    ("worked", "Worked path", _worked),
    ("output", "Output", _output),
)


def _counts(patch: Patch, layer: Layer) -> dict[str, int]:
    return {
        "sources": len(layer.sources),
        "stages": len(layer.stages),
        "chain": len(layer.chain),
        "movers": len(patch.movers),
        "worked": len(patch.worked),
    }


def editor_view(patch: Patch, picture: Picture | None, layer_id: str, tab: str, item: str) -> Editor:
    """The editor; what is not known falls back to the first."""
    ids = [layer.id for layer in patch.layers]
    layer = patch.layer(layer_id) if layer_id in ids else patch.layers[min(1, len(ids) - 1)]
    counts = _counts(patch, layer)
    known = [t[0] for t in _TABS]
    tab = tab if tab in known else "sources"
    tabs = tuple(Tab(s, f"{label} {counts[s]}" if s in counts else label, s == tab) for s, label, _ in _TABS)
    panel = next(make for s, _, make in _TABS if s == tab)(patch, layer, picture, item)
    chosen = next((c.id for c in panel.chips if c.on), "")
    return Editor(layer.id, layer.name, layer.hatch, tab, chosen, tabs, panel)
