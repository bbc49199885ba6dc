"""The Shaping workspace: what a stage does to the sound, apart from making it louder."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from ....checks import StageReport
from ....desk import OpenPatch, Picture, SettingsPair, axis
from ....engine import response_of
from ....patch import (
    BeatShape,
    BranchPath,
    Control,
    Distortion,
    Eq,
    EqBand,
    Multiband,
    Patch,
    TimeEffect,
    get,
    number,
    shown_controls,
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
    """The content of the workspace. waits: whether the report on the stage is still to come."""

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
    waits: bool
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
    """also: the path of the control that is dragged up and down; its last step is empty if there is none."""
    value = float(get(patch, path))
    also = "" if also.endswith(".") else also
    at = round(number(patch, also).position(float(get(patch, also))), 4) if also else 0.0
    return FrequencyHandle(path, label, write(value, "Hz"), across(value), kind, row, also, at)


def _handles(patch: Patch, own: str, part: Any) -> tuple[list[FrequencyHandle], float | None]:
    """Handles of an item on the axis, and the low cut of its wet sound as a position."""
    if isinstance(part, Eq):
        return [_band_handle(patch, own, part, band, n) for n, band in enumerate(_on_the_axis(part))], None
    found = [
        _handle(patch, f"{own}.{name}", f"{part.name} {c.name.lower()}", c.handle, 0, f"{own}.{c.paired}")
        for name, c in shown_controls(part).items()
        if isinstance(c, Control) and c.handle
    ]
    return found, across(part.low_cut) if isinstance(part, TimeEffect) else None


def _on_the_axis(part: Eq) -> list[EqBand]:
    """The bands at a fixed frequency."""
    return [b for b in part.bands if b.on and not b.tied]


def _band_handle(patch: Patch, own: str, part: Eq, band: EqBand, n: int) -> FrequencyHandle:
    path = f"{own}.bands.{band.id}"
    has_gain = "gain" in shown_controls(band)
    also = f"{path}.gain" if has_gain else ""
    made = _handle(patch, f"{path}.frequency", f"{part.name} {band.type}", "cutoff", 15 * (n % 3), also)
    # place it on the curve, where its effect is visible
    return replace(made, y=round(100.0 * (24.0 - band.gain) / 72.0, 2)) if has_gain else made


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
    if report.turn is not None:
        hz, degrees = report.turn
        found.append(f"it turns the phase: {write(degrees, 'deg')} at {write(hz, 'Hz')}")
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
    stage = _shown_stage(open_patch, asked)
    report = stage.report(open_patch) if fresh and picture is not None else None
    waits = report is None and stage.reported != ""
    newest = open_patch.settled and open_patch.version == begun
    return ShapingView(
        chains=stage.chains,
        groups=groups_of(patch, picture, stage.path),
        name=stage.title,
        words=_stage_words(open_patch, picture, stage, report),
        before=level_line(report.before) if report is not None else "",
        after=level_line(report.after) if report is not None else "",
        response=_response_line(patch, stage.part, report),
        handles=tuple(stage.handles),
        cut=stage.cut,
        figure=_figure(stage.part, asked.group, report),
        partials=partials_of(report),
        lanes=lanes_of(picture, stage.path, stage.part),
        compare=None if stage.is_output else _compare(open_patch, stage.place, stage.part, stage.name),
        ticks=TICKS,
        grid=GRID,
        keys=KEYS,
        measured=newest and picture is not None and picture.version >= version and not waits,
        waits=waits,
        layers=tuple(x.id for x in patch.layers),
        travels=travels(patch, picture),
        path=stage.path,
        drawn=_drawn(patch, stage.path, stage.part, asked.zoom),
    )


@dataclass(frozen=True)
class _ShownStage:
    """What the workspace shows: an item of a chain, or the output stage.

    name: of the chain. part: the item; None if the chain is empty, or for the output stage. reported: the path whose
    report is shown; empty if there is nothing to report on. handles, cut: on the frequency axis.
    """

    chains: tuple[ChainView, ...]
    name: str
    title: str
    place: ChainPlace
    path: str
    part: Any
    reported: str
    is_output: bool
    handles: list[FrequencyHandle]
    cut: float | None

    def report(self, open_patch: OpenPatch) -> StageReport | None:
        """The report on it. It may take a moment."""
        if not self.reported:
            return None
        return open_patch.stage("output" if self.is_output else self.place.base, self.reported)


def _shown_stage(open_patch: OpenPatch, asked: Selection) -> _ShownStage:
    patch = open_patch.patch
    tab = asked.tab if asked.tab in tabs_of("shaping") else first_tab("shaping", patch)
    layer = next((x for x in patch.layers if x.id == asked.layer), patch.layers[min(1, len(patch.layers) - 1)])
    chains = _chains(patch, tab, layer.id, asked.what)
    name = next((c.name for c in chains if c.on), "Worked path")
    place = place_of(patch, layer, tab if tab in ("chain", "returns") else "worked", asked.what, asked.item)
    if tab == "output":
        fold = patch.output.fold and not patch.output.fold_follows
        handles = [_handle(patch, "output.mono_below", "Mono below", "mono")] if fold else []
        return _ShownStage(chains, name, "Output", place, "output", None, "output", True, handles, None)
    part: Any = get(patch, place.path) if place.below else None
    if part is None:
        return _ShownStage(chains, name, name, place, place.path, None, "", False, [], None)
    reported = place.path.rpartition(".paths.")[0] if isinstance(part, BranchPath) else place.path
    handles, cut = _handles(patch, place.path, part)
    title = f"{name}: {part.name}"
    return _ShownStage(chains, name, title, place, place.path, part, reported, False, handles, cut)


def _stage_words(
    open_patch: OpenPatch, picture: Picture | None, stage: _ShownStage, report: StageReport | None
) -> tuple[str, ...]:
    if stage.is_output:
        return _output_words(open_patch, picture, report)
    if stage.part is None:
        return ("The chain is empty: add an effect below, and see here what it does.",)
    return _words(report, stage.part, stage.part.match if getattr(stage.part, "matched", False) else None)


def _response_line(patch: Patch, part: Any, report: StageReport | None) -> str:
    return level_line(report.gone) if report is not None and report.gone is not None else _response(patch, part)


def _figure(part: Any, group: str, report: StageReport | None) -> Figure | None:
    """The curve of a distortion, or the static curve of a dynamics effect or of one of its bands."""
    if isinstance(part, Distortion):
        return transfer_figure(part, report)
    if isinstance(part, Multiband):
        return static_figure(next((b for b in part.bands if b.id == group), part.bands[0]), None)
    return static_figure(part, report) if part is not None else None


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
