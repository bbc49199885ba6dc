"""Whether the chains keep their peaks and their lows, and whether their items do anything."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from ...engine import RATE
from ...measure import decibels
from ...patch import ControlPath, Distortion, Edit, Layer, Multiband, TimeEffect, get, number, write
from ..evidence import Evidence
from ..finding import Finding, Fix, Limits, Where, first_that_holds
from ..items import all_items, before_item, stages_in_order, whose_of
from .stage_report import alias_of
from .voice_stages import Ring, first_over, less, ring_words, rings

_Real = NDArray[np.floating[Any]]
_IDLE_DB = -70.0
"""A stage that changes its input by less than this, in dB against the input, counts as idle."""
_APART = 0.01
"""Smallest level difference in dB, before against after an item, that shows it does something."""


def stage_clips(e: Evidence, limits: Limits) -> list[Finding]:
    """The first stage whose peak exceeds the clip point, and whether its resonance is the cause."""
    first = first_over(e, limits)
    if first is None:
        return []
    stage, layer = next((stage, layer) for path, stage, layer in stages_in_order(e.patch) if path == first)
    peak = e.stages[first][0] or 0.0
    layers, whose = whose_of(e.patch, first)
    ring = rings(e, layer, stage, limits) if layer is not None else None
    title = f"{stage.name} on {whose} is the first stage over the clip point"
    text = f"Its peak is {write(peak, 'dB')}FS"
    if ring is not None:
        title = f"{stage.name} resonates over the clip point on {whose}"
        text = ring_words(ring, number(e.patch, f"{first}.{ring.name}"))
    return [
        Finding(
            check="stage-clips",
            verdict="look",
            title=title,
            text=text,
            value=peak,
            unit="dBFS",
            limit=limits.clip_dbfs,
            limit_text=f"{write(limits.clip_dbfs, 'dB')}FS",
            limit_name="clip_dbfs",
            where=Where(layers, path=first),
            fixes=e.sought(lambda: _calmer(e, first, stage, layer, ring, limits)),
        )
    ]


def _calmer(
    e: Evidence, path: str, stage: Any, layer: Layer | None, ring: Ring | None, limits: Limits
) -> tuple[Fix, ...]:
    """Less of the resonance that rings, or the stage softer."""
    calmed = less(e, ring, limits.clip_dbfs) if ring is not None else None
    over = (e.stages[path][0] or 0.0) - limits.clip_dbfs + 0.5
    return (*(() if calmed is None else (calmed,)), *_softer(e, path, stage, layer, over))


def _softer(e: Evidence, path: str, stage: Any, layer: Layer | None, over: float) -> tuple[Fix, ...]:
    """Its trim lower, and for a voice stage what goes into it lower."""
    found = (_softer_item(e, path, stage, over), _softer_sources(e, layer, over, path) if layer is not None else None)
    return tuple(fix for fix in found if fix is not None)


def _softer_sources(e: Evidence, layer: Layer, over: float, path: str) -> Fix | None:
    """All sources of a layer lower, and its fader up by as much."""
    heard = [s for s in layer.sources if s.to != "modulates only" and s.level > -72]
    control = number(e.patch, f"layers.{layer.id}.level")
    if not heard or any(s.level - over < -71 for s in heard) or layer.level + over > control.high:
        return None
    down = round(over + 0.05, 1)
    edits = [Edit(f"layers.{layer.id}.sources.{s.id}.level", round(s.level - down, 2)) for s in heard]
    edits.append(Edit(f"layers.{layer.id}.level", round(layer.level + down, 2)))
    after = e.with_edits(edits).stages[path][0]
    return Fix(f"Sources of {layer.name} {write(-down, 'dB')}, its fader up by as much", tuple(edits), after)


def _softer_item(e: Evidence, path: str, item: Any, over: float) -> Fix | None:
    """The trim of an item lower."""
    control = number(e.patch, f"{path}.trim")
    down = round(over + 0.05, 1)
    matched = getattr(item, "matched", False)
    present = item.trim + (item.match if matched else 0.0)
    value = min(max(control.low, round(present - down, 1)), control.high)
    edits = [Edit(f"{path}.trim", value)]
    label = f"{item.name} trim to {write(value, 'dB')}"
    if matched:
        edits.append(Edit(f"{path}.matched", False))
        label += ", its level match off"
    return Fix(label, tuple(edits), e.with_edits(edits).stages.get(path, (None, None))[0])


def _low_power(x: _Real, hz: float) -> float:
    spectrum = np.abs(np.fft.rfft(x.astype(np.float64), axis=1)) ** 2
    return float(spectrum[:, : max(2, round(hz * x.shape[1] / RATE))].sum())


def wet_lows(e: Evidence, limits: Limits) -> list[Finding]:
    """Time effects that add their wet sound to the lows."""
    found = []
    for place, path, item in all_items(e.patch):
        if not isinstance(item, TimeEffect) or item.low_cut >= limits.wet_low_hz:
            continue
        steps = ControlPath(place).steps
        if steps[0] == "returns" and next(r for r in e.patch.returns if r.id == steps[1]).low_cut >= limits.wet_low_hz:
            continue
        level = _wet(e, place, path, limits.wet_low_hz)
        if level is None or level <= -24.0:
            continue
        fix = e.cure(
            [("Low cut to 150 Hz", (Edit(f"{path}.low_cut", 150.0),))],
            lambda x, place=place, path=path: _wet_left(x, place, path, limits.wet_low_hz),  # type: ignore[misc]
            lambda level: level <= -24.0,
        )
        layers, whose = whose_of(e.patch, path)
        found.append(
            Finding(
                check="wet-lows",
                verdict="look",
                title=f"{item.name} on {whose} adds to the lows",
                text=f"Below {write(limits.wet_low_hz, 'Hz')} its wet sound is at {write(level, 'dB')} "
                "against the lows at its input",
                value=level,
                unit="dB",
                limit=-24.0,
                limit_text=f"{write(-24.0, 'dB')}",
                where=Where(layers, low_hz=20.0, high_hz=limits.wet_low_hz, path=path),
                fixes=(fix,) if fix else (),
            )
        )
    return found


def _wet_left(e: Evidence, place: str, path: str, hz: float) -> float | None:
    """Like ``_wet``. None if its low cut keeps it out of the lows."""
    return None if get(e.patch, path).low_cut >= hz else _wet(e, place, path, hz)


def _wet(e: Evidence, place: str, path: str, hz: float) -> float | None:
    """Level below a frequency of what an item adds, against its input, in dB."""
    taps = e.taps(place)
    before, after = taps.x[taps.before[path]], taps.x[path]
    part = get(e.patch, path)
    gain = 10.0 ** ((part.trim + (part.match if part.matched else 0.0)) / 20.0)
    power = _low_power(before, hz)
    if power <= 0:
        return None
    return decibels(_low_power(after / gain - before, hz) / power)


def lows_pump(e: Evidence, limits: Limits) -> list[Finding]:
    """Multiband dynamics that pump below 100 Hz."""
    found = []
    for _, path, item in all_items(e.patch):
        if not isinstance(item, Multiband):
            continue
        band = item.bands[0]
        swing = _swing(e, path, band.id)
        if swing is None or swing <= limits.pump_db:
            continue
        own = f"{path}.bands.{band.id}"
        ratios = [min(r, band.down_ratio) for r in (2.0, 1.5, 1.2, 1.0)]
        fix = e.cure(
            (
                (
                    f"{band.name} down ratio to {write(r, 'x')}",
                    (Edit(f"{own}.down_ratio", r), Edit(f"{own}.up_ratio", 1.0)),
                )
                for r in ratios
            ),
            lambda x, path=path, band=band: _swing(x, path, band.id),  # type: ignore[misc]
            lambda swing: swing <= limits.pump_db,
        )
        layers, whose = whose_of(e.patch, path)
        found.append(
            Finding(
                check="lows-pump",
                verdict="look",
                title=f"{item.name} on {whose} pumps below 100 Hz",
                text=f"The gain of its band {band.name} varies by {write(swing, 'dB')}",
                value=swing,
                unit="dB",
                limit=limits.pump_db,
                limit_text=f"{write(limits.pump_db, 'dB')}",
                limit_name="pump_db",
                where=Where(layers, low_hz=20.0, high_hz=min(item.split_1, 100.0), path=own),
                fixes=(fix,) if fix else (),
            )
        )
    return found


def _swing(e: Evidence, path: str, band: str) -> float | None:
    trace = e.loop.traces.get(f"{path}.bands.{band}")
    if trace is None or trace.size < 8:
        return None
    low, high = np.percentile(trace, [5.0, 95.0])
    return float(high - low)


def folds_back(e: Evidence, limits: Limits) -> list[Finding]:
    """Distortions in chains whose aliasing exceeds the limit, for a tone at the level of their input."""
    found = []
    for place, path, item in all_items(e.patch):
        if not isinstance(item, Distortion) or item.curve == "crush":
            continue
        into = _into(e, place, path)
        before = before_item(e.patch, place, path)
        peak = e.level_at(before)[0] if before == place or before in e.loop.meters else None
        floor = alias_of(item, into, peak)
        if floor is None or floor >= limits.alias_db:
            continue
        drives = dict.fromkeys(max(0.0, round(item.drive - down, 1)) for down in (6.0, 12.0, 18.0, 24.0, 36.0))
        fix = first_that_holds(
            ((f"Drive to {write(drive, 'dB')}", (Edit(f"{path}.drive", drive),)) for drive in drives if e.seeks),
            lambda edits, item=item, into=into, peak=peak: alias_of(  # type: ignore[misc]
                item.model_copy(update={"drive": edits[0].value}), into, peak
            ),
            lambda floor: floor >= limits.alias_db,
        )
        layers, whose = whose_of(e.patch, path)
        found.append(
            Finding(
                check="folds-back",
                verdict="look",
                title=f"{item.name} on {whose} aliases",
                text=f"The loudest alias is {write(floor, 'dB')} below the test tone",
                value=floor,
                unit="dB",
                limit=limits.alias_db,
                limit_text=f"{write(limits.alias_db, 'dB')} below",
                limit_name="alias_db",
                where=Where(layers, path=path),
                fixes=(fix,) if fix else (),
            )
        )
    return found


def stage_idles(e: Evidence, limits: Limits) -> list[Finding]:
    """Items that change nothing."""
    found = []
    for place, path, item in all_items(e.patch):
        if place.startswith("returns."):
            continue
        if _told_apart(e, place, path):
            continue
        taps = e.taps(place)
        before, after = taps.x[taps.before[path]], taps.x[path]
        power = float(np.mean(np.square(before), dtype=np.float64))
        if power <= 1e-12:
            continue
        change = decibels(float(np.mean(np.square(after - before), dtype=np.float64)) / power)
        if change is not None and change > _IDLE_DB:
            continue
        layers, whose = whose_of(e.patch, path)
        stem, last = ControlPath(path).parent, ControlPath(path).name
        left = [i.model_dump() for i in get(e.patch, stem) if i.id != last]
        found.append(
            Finding(
                check="stage-idles",
                verdict="look",
                title=f"{item.name} on {whose} changes nothing",
                text="Its output equals its input",
                value=change,
                unit="dB",
                limit=_IDLE_DB,
                limit_text=f"{write(_IDLE_DB, 'dB')} of change",
                where=Where(layers, path=path),
                fixes=(Fix(f"Remove {item.name}", (Edit(stem, left),)),),
            )
        )
    return found


def _into(e: Evidence, place: str, path: str) -> _Real:
    before = before_item(e.patch, place, path)
    if before == place:
        return e.into(place)
    if place == "worked" and before.count(".") == 1:
        return e.near(before)
    taps = e.taps(place)
    return taps.x[taps.before[path]]


def _told_apart(e: Evidence, place: str, path: str) -> bool:
    """Whether peak or level alone show that an item changes something."""
    before = before_item(e.patch, place, path)
    if before != place and before not in e.loop.meters:
        return False
    rows = zip(e.level_at(before), e.level_at(path), strict=True)
    return any(a is not None and b is not None and abs(a - b) > _APART for a, b in rows)
