"""The Shaping workspace: what a stage does to the sound, apart from making it louder."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from ....checks import StageReport
from ....desk import OpenPatch, Picture, SettingsPair, axis
from ....engine import response_of
from ....patch import (
    BandDynamics,
    BeatShape,
    Branch,
    BranchPath,
    Comb,
    Compressor,
    Distortion,
    Eq,
    Multiband,
    Patch,
    TimeEffect,
    get,
    number,
    write,
)
from ..controls import travels
from ..editor import ChainPlace, Selection, first_tab, place_of, tabs_of
from ..layers import GRID, KEYS, TICKS, FrequencyHandle
from ..movement import CurveView, curve_view, ruler_of
from ..svg import across, level_line
from .stage_figures import Figure, Lane, Partial, decibels, lanes_of, partials_of, static_figure, transfer_figure
from .stage_row import MeterGroup, groups_of


@dataclass(frozen=True)
class ChainView:
    """A chain that can be selected."""

    tab: str
    layer: str
    what: str
    name: str
    hatch: str
    count: int
    on: bool


@dataclass(frozen=True)
class CompareView:
    """The comparison: the item, its chain; its two stored settings; the blind test."""

    item: str
    item_name: str
    place: str
    place_name: str
    held: tuple[str, ...]
    round: int
    over: bool
    blind: bool
    tally: str


@dataclass(frozen=True)
class DrawnCurve:
    """The drawn curve of an item, for the curve box."""

    curve: CurveView | None
    curves: tuple[tuple[str, str, bool], ...]
    beats: tuple[tuple[float, bool, str], ...]


@dataclass(frozen=True)
class ShapingView:
    """The content of the workspace."""

    chains: tuple[ChainView, ...]
    groups: tuple[MeterGroup, ...]
    name: str
    words: tuple[str, ...]
    before: str
    after: str
    response: str
    handles: tuple[FrequencyHandle, ...]
    cut: float | None
    figure: Figure | None
    partials: tuple[Partial, ...]
    lanes: tuple[Lane, ...]
    compare: CompareView | None
    ticks: tuple[tuple[float, str, bool], ...]
    grid: tuple[tuple[float, bool], ...]
    keys: tuple[tuple[float, float, bool, str], ...]
    measured: bool
    layers: tuple[str, ...]
    travels: dict[str, tuple[float, float, str]]
    path: str
    drawn: DrawnCurve | None = None


def _chains(patch: Patch, tab: str, layer: str, what: str) -> tuple[ChainView, ...]:
    found = [
        ChainView("chain", x.id, "", x.name, x.hatch, len(x.chain), tab == "chain" and x.id == layer)
        for x in reversed(patch.layers)
    ]
    found.append(ChainView("worked", "", "", "Worked path", "", len(patch.worked), tab == "worked"))
    shown = what if any(r.id == what for r in patch.returns) else patch.returns[0].id if patch.returns else ""
    for r in patch.returns:
        found.append(ChainView("returns", "", r.id, r.name, "", len(r.chain), tab == "returns" and r.id == shown))
    found.append(ChainView("output", "", "", "Output", "", 3, tab == "output"))
    return tuple(found)


def _handle(patch: Patch, path: str, label: str, kind: str, row: int = 0, also: str = "") -> FrequencyHandle:
    value = float(get(patch, path))
    at = round(number(patch, also).position(float(get(patch, also))), 4) if also else 0.0
    return FrequencyHandle(path, label, write(value, "Hz"), across(value), kind, row, also, at)


def _handles(patch: Patch, own: str, part: Any) -> tuple[list[FrequencyHandle], float | None]:
    """Handles of an item on the axis, and the low cut of its wet sound as a position."""
    found: list[FrequencyHandle] = []
    cut: float | None = None
    if isinstance(part, Eq):
        for n, band in enumerate(b for b in part.bands if b.on and not b.tied):
            path = f"{own}.bands.{band.id}"
            also = "" if band.type in ("low-cut", "high-cut", "notch") else f"{path}.gain"
            made = _handle(patch, f"{path}.frequency", f"{part.name} {band.type}", "cutoff", 15 * (n % 3), also)
            # place it on the curve, where its effect is visible
            found.append(replace(made, y=round(100.0 * (24.0 - band.gain) / 72.0, 2)) if also else made)
    elif isinstance(part, Multiband | Branch):
        bands = isinstance(part, Multiband) or part.into == "bands"
        count = len(part.bands) if isinstance(part, Multiband) else len(part.paths)
        for n in range(1, count if bands else 1):
            found.append(_handle(patch, f"{own}.split_{n}", f"{part.name} split {n}", "split"))
    elif isinstance(part, Distortion):
        found.append(_handle(patch, f"{own}.focus_low", f"{part.name} focus from", "edge"))
        found.append(_handle(patch, f"{own}.focus_high", f"{part.name} focus to", "edge"))
        if part.lift:
            found.append(_handle(patch, f"{own}.lift_at", f"{part.name} emphasis", "cutoff", 0, f"{own}.lift"))
    elif isinstance(part, TimeEffect):
        found.append(_handle(patch, f"{own}.low_cut", f"{part.name} low cut", "edge"))
        cut = across(part.low_cut)
    elif isinstance(part, Compressor) and part.detector_low_cut > 20:
        found.append(_handle(patch, f"{own}.detector_low_cut", f"{part.name} detector low cut", "edge"))
    elif hasattr(part, "cutoff") and not (isinstance(part, Comb) and part.tuned == "note"):
        also = f"{own}.resonance" if hasattr(part, "resonance") else f"{own}.feedback"
        found.append(_handle(patch, f"{own}.cutoff", f"{part.name} cutoff", "cutoff", 0, also))
    elif hasattr(part, "low") and part.kind == "width":
        found.append(_handle(patch, f"{own}.low", f"{part.name} from", "edge"))
    return found, cut


def _words(report: StageReport | None, part: Any, matched: float | None) -> tuple[str, ...]:
    """What a stage did, as sentences. None while it is unknown."""
    if report is None:
        return ()
    a, b = report.into, report.out
    if b.peak is None:
        return ("No sound here.",)
    found = []
    if a.loudness is not None and b.loudness is not None:
        change = b.loudness - a.loudness
        if abs(change) < 0.1:
            found.append("as loud as before")
        else:
            found.append(f"{abs(change):.1f} dB {'louder' if change > 0 else 'softer'}")
    if matched is not None:
        found.append(f"level match: {decibels(matched)}")
    found.append(f"peak {decibels(a.peak)} → {decibels(b.peak)}FS")
    if a.crest is not None and b.crest is not None:
        found.append(f"crest {decibels(a.crest)} → {decibels(b.crest)}")
    if report.alias is not None:
        found.append("no aliasing" if report.alias > 100 else f"aliasing {decibels(-report.alias)}")
    return tuple(found)


def _compare(open_patch: OpenPatch, place: ChainPlace, part: Any, place_name: str) -> CompareView | None:
    if not place.items:
        return None
    pair = open_patch.pairs.get(place.base, SettingsPair())
    blind = pair.blind
    item = place.path if hasattr(part, "matched") else ""
    return CompareView(
        item,
        getattr(part, "name", ""),
        place.base,
        place_name,
        tuple(w for w in "AB" if w in pair.settings),
        blind.round if blind is not None else 0,
        blind is not None and blind.over,
        blind is not None,
        pair.tally,
    )


def _response(patch: Patch, part: Any) -> str:
    """An item's own response along the axis, one unit per point across and 1000 high, from 24 dB to -48 dB."""
    if getattr(part, "kind", "") not in ("eq", "filter", "ladder", "comb", "vowel", "allpass"):
        return ""
    pitch = float(min((n.pitch for n in patch.phrase.notes), default=36))
    db = response_of(replace_trim(part), axis(), pitch, patch.tuning)
    if db is None:
        return ""
    y = 1000.0 * np.clip((24.0 - db) / 72.0, 0.0, 1.0)
    return "M" + " ".join(f"{x},{v}" for x, v in enumerate(y.astype(int).tolist()))


def replace_trim(part: Any) -> Any:
    """The item without its trim."""
    return part.model_copy(update={"trim": 0.0}) if hasattr(part, "trim") else part


def shaping_view(
    open_patch: OpenPatch, picture: Picture | None, asked: Selection, version: int, fresh: bool
) -> ShapingView:
    """The drawing of the selected item. ``fresh``: it may wait for its report."""
    patch, begun = open_patch.patch, open_patch.version
    tab = asked.tab if asked.tab in tabs_of("shaping") else first_tab("shaping", patch)
    layer = next((x for x in patch.layers if x.id == asked.layer), patch.layers[min(1, len(patch.layers) - 1)])
    chains = _chains(patch, tab, layer.id, asked.what)
    name = next((c.name for c in chains if c.on), "Worked path")
    if tab not in ("chain", "worked", "returns"):
        tab = "output" if tab == "output" else "worked"
    place = place_of(patch, layer, tab if tab != "output" else "worked", asked.what, asked.item)
    path = "output" if tab == "output" else place.path
    part: Any = None if tab == "output" or not place.below else get(patch, place.path)
    reported = place.path
    if isinstance(part, BranchPath):
        reported = place.path.rpartition(".paths.")[0]
    report = None
    if fresh and picture is not None and part is not None:
        report = open_patch.stage(place.base, reported)
    if fresh and picture is not None and tab == "output":
        report = open_patch.stage("output", "output")
    handles, cut = ([], None) if part is None else _handles(patch, place.path, part)
    if tab == "output" and patch.output.fold and not patch.output.fold_follows:
        handles = [_handle(patch, "output.mono_below", "Mono below", "mono")]
    figure: Figure | None = None
    shown = part
    if isinstance(part, Multiband):
        shown = next((b for b in part.bands if b.id == asked.group), part.bands[0])
    if isinstance(part, Distortion):
        figure = transfer_figure(part, report)
    elif shown is not None:
        figure = static_figure(shown, None if isinstance(shown, BandDynamics) else report)
    before = level_line(report.before) if report is not None else ""
    after = level_line(report.after) if report is not None else ""
    words = _words(report, part, part.match if part is not None and getattr(part, "matched", False) else None)
    if tab == "output":
        words = _output_words(open_patch, picture, report)
    elif part is None:
        words = ("The chain is empty: add an effect below, and see here what it does.",)
    reported_on = tab == "output" or part is not None
    title = "Output" if tab == "output" else f"{name}: {part.name}" if part is not None else name
    return ShapingView(
        chains=chains,
        groups=groups_of(patch, picture, path),
        name=title,
        words=words,
        before=before,
        after=after,
        response=level_line(report.gone) if report is not None and report.gone is not None else _response(patch, part),
        handles=tuple(handles),
        cut=cut,
        figure=figure,
        partials=partials_of(report),
        lanes=lanes_of(picture, path, part),
        compare=_compare(open_patch, place, part, name) if tab != "output" else None,
        ticks=TICKS,
        grid=GRID,
        keys=KEYS,
        measured=open_patch.settled
        and open_patch.version == begun
        and picture is not None
        and picture.version >= version
        and (report is not None or not reported_on),
        layers=tuple(x.id for x in patch.layers),
        travels=travels(patch, picture),
        path=path,
        drawn=_drawn(patch, path, part, asked.zoom),
    )


def _drawn(patch: Patch, path: str, part: Any, zoom: str) -> DrawnCurve | None:
    if not (isinstance(part, BeatShape) and part.by == "curve") and not (
        isinstance(part, Distortion) and part.curve == "drawn"
    ):
        return None
    return DrawnCurve(curve_view(patch, path, zoom), ((path, part.name, True),), ruler_of(patch))


def shaped_curve(patch: Patch, asked: Selection) -> DrawnCurve:
    """The drawn curve of the selected item."""
    tab = asked.tab if asked.tab in tabs_of("shaping") else first_tab("shaping", patch)
    layer = next((x for x in patch.layers if x.id == asked.layer), patch.layers[min(1, len(patch.layers) - 1)])
    place = place_of(patch, layer, tab, asked.what, asked.item)
    part = get(patch, place.path) if place.below else None
    return _drawn(patch, place.path, part, asked.zoom) or DrawnCurve(None, (), ())


def _output_words(open_patch: OpenPatch, picture: Picture | None, report: StageReport | None) -> tuple[str, ...]:
    if picture is None or report is None:
        return ()
    output = open_patch.patch.output
    found = [f"peak {decibels(picture.stages.get('output.ceiling'))}FS, true peak {decibels(picture.true_peak)}TP"]
    before = picture.stages.get("output.fold")
    if output.ceiling.on and before is not None:
        over = before - output.ceiling.limit
        what = output.ceiling.mode
        found.append(
            f"{what}: largest reduction {decibels(over)}" if over > 0 else f"{what}: {decibels(-over)} of headroom"
        )
    if output.fold and report is not None:
        gone = report.gone_db
        found.append("mono fold removes nothing" if gone is None else f"mono fold removes {decibels(gone)}")
    return tuple(found)
