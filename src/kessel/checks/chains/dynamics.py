"""Whether the chains keep the crest and the level movement of their input."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from ...engine import RATE, places_of_chains
from ...patch import get, write
from ..evidence import Evidence
from ..finding import Finding, Limits, Where
from ..items import all_items, before_item, less_of, whose_of

_Real = NDArray[np.floating[Any]]
_DYNAMICS = ("compressor", "expander", "multiband", "ceiling", "echo", "space", "distortion")
_FRAME = RATE // 50


def _crest(peak: float | None, rms: float | None) -> float | None:
    return None if peak is None or rms is None else peak - rms


def crest_lost(e: Evidence, limits: Limits) -> list[Finding]:
    """Chains that reduce the crest by more than the limit."""
    found = []
    for place in places_of_chains(e.patch):
        items = [i for i in get(e.patch, place) if i.on]
        if not items or place.startswith("returns."):
            # reverberation is meant to be quieter and longer than its input
            continue
        lost, each = _losses(e, place)
        if lost is None or lost <= limits.crest_db:
            continue
        worst = max(each, key=lambda p: each[p])
        fix = e.cure(
            less_of(e.patch, worst, (70.0, 50.0, 30.0)),
            lambda x, place=place: _losses(x, place)[0],  # type: ignore[misc]
            lambda lost: lost <= limits.crest_db,
        )
        layers, whose = whose_of(e.patch, place)
        found.append(
            Finding(
                check="crest-lost",
                verdict="look",
                title=f"The chain of {whose} loses punch",
                text=f"It lowers the crest factor by {write(lost, 'dB')}; most of it in {get(e.patch, worst).name}",
                value=lost,
                unit="dB",
                limit=limits.crest_db,
                limit_text=f"{write(limits.crest_db, 'dB')}",
                limit_name="crest_db",
                where=Where(layers, path=worst),
                fixes=(fix,) if fix else (),
            )
        )
    return found


def _losses(e: Evidence, place: str) -> tuple[float | None, dict[str, float]]:
    """Crest lost in a chain, and in each of its items, in dB."""
    each: dict[str, float] = {}
    total = 0.0
    for item in get(e.patch, place):
        path = f"{place}.{item.id}"
        before, after = (_crest(*e.level_at(p)) for p in (before_item(e.patch, place, path), path))
        if before is None or after is None:
            return None, {}
        each[path] = before - after
        total += before - after
    return total, each


def _depth(x: _Real) -> float | None:
    """Level movement over the loop in dB: the spread of audible frames of 20 ms."""
    n = x.shape[1] // _FRAME * _FRAME
    power = np.asarray(np.mean(np.square(x[:, :n]).reshape(2, -1, _FRAME), axis=(0, 2), dtype=np.float64))
    heard = power[power > 1e-4 * power.max(initial=0.0)]
    if heard.size < 8 or power.max() <= 1e-10:
        return None
    return float(np.std(10.0 * np.log10(heard)))


def movement_flattened(e: Evidence, limits: Limits) -> list[Finding]:
    """Items that flatten the level movement of their input."""
    found = []
    for place, path, item in all_items(e.patch):
        if item.kind not in _DYNAMICS or place.startswith("returns."):
            continue
        if _keeps_movement(e, place, limits):
            continue
        left = _left(e, place, path)
        if left is None or left >= 100.0 * limits.flat_share:
            continue
        fix = e.cure(
            less_of(e.patch, path, (60.0, 40.0, 25.0)),
            lambda x, place=place, path=path: _left(x, place, path),  # type: ignore[misc]
            lambda left: left >= 100.0 * limits.flat_share,
        )
        layers, whose = whose_of(e.patch, path)
        found.append(
            Finding(
                check="movement-flattened",
                verdict="look",
                title=f"{item.name} on {whose} flattens the movement",
                text=f"{write(left, '%')} of the level changes at its input remain",
                value=left,
                unit="%",
                limit=100.0 * limits.flat_share,
                limit_text=f"{write(100.0 * limits.flat_share, '%')}",
                limit_name="flat_share",
                where=Where(layers, path=path),
                fixes=(fix,) if fix else (),
            )
        )
    return found


def _keeps_movement(e: Evidence, place: str, limits: Limits) -> bool:
    """Whether a whole worked path keeps its level movement, so that its items need no check."""
    if place != "worked":
        return False
    before, after = e.once("worked depths", lambda: (_depth(e.into(place)), _depth(e.loop.worked)))
    return before is None or before < 3.0 or (after is not None and after >= limits.flat_share * before)


def _left(e: Evidence, place: str, path: str) -> float | None:
    """Per cent of the level movement that an item keeps. None if its input has hardly any."""
    taps = e.taps(place)
    before, after = _depth(taps.x[taps.before[path]]), _depth(taps.x[path])
    if before is None or after is None or before < 3.0:
        return None
    return 100.0 * after / before
