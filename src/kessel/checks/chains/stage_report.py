"""What an item does to the sound: levels, spectrum, harmonics and aliasing, before and behind it."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy.fft import next_fast_len, rfft

from ...engine import RATE, CancelToken, RenderCache, RenderCancelled, Taps, places_of_chains, tap_chain, through_item
from ...measure import Spectrum, decibels, fit_tones, loudness
from ...patch import ChainItem, Distortion, Patch, get, pitch_hz
from ..evidence import heard_notes

_Real = NDArray[np.floating[Any]]
SILENT_LUFS = -70.0
"""Below this loudness there is nothing to match a level to."""


@dataclass(frozen=True)
class StageLevels:
    """Loudness in LUFS, peak and RMS in dBFS at one place of a chain. None if it is silent."""

    loudness: float | None
    peak: float | None
    rms: float | None

    @property
    def crest(self) -> float | None:
        """Peak over RMS in dB."""
        return None if self.peak is None or self.rms is None else self.peak - self.rms


@dataclass(frozen=True)
class ChainLevels:
    """Levels at every place of all chains by path, and the input of every item.

    wanted: new gains of level matches by path.
    """

    at: dict[str, StageLevels] = field(default_factory=dict)
    before: dict[str, str] = field(default_factory=dict)
    wanted: tuple[tuple[str, float], ...] = ()

    def change(self, path: str) -> float | None:
        """How much louder an item makes the loop, in LU. None if that is undefined."""
        own, before = self.at.get(path), self.at.get(self.before.get(path, ""))
        if own is None or before is None or own.loudness is None or before.loudness is None:
            return None
        if min(own.loudness, before.loudness) <= SILENT_LUFS:
            return None
        return own.loudness - before.loudness


def levels_of(given: _Real) -> StageLevels:
    """Levels of a loop, (2, n)."""
    x = given.astype(np.float64)
    peak = float(np.abs(x).max(initial=0.0))
    looped = np.concatenate((x[:, -min(x.shape[1], RATE // 2) :], x), axis=1)
    return StageLevels(loudness(looped).integrated, decibels(peak * peak), decibels(float(np.mean(x * x))))


def chain_levels(patch: Patch, takes: RenderCache, stop: CancelToken | None = None) -> ChainLevels:
    """Levels at every place of every chain."""
    stop = stop or CancelToken()
    return levels_from(patch, lambda place: tap_chain(patch, place, takes, stop), stop)


def levels_from(patch: Patch, taps_of: Callable[[str], Taps], stop: CancelToken) -> ChainLevels:
    """Levels at every place of every chain, from the taps there."""
    at: dict[str, StageLevels] = {}
    before: dict[str, str] = {}
    for place in places_of_chains(patch):
        taps = taps_of(place)
        before |= taps.before
        for path, x in taps.x.items():
            if stop.asked:
                raise RenderCancelled
            at[path] = levels_of(x)
    return ChainLevels(at, before)


@dataclass(frozen=True)
class StageReport:
    """The input and the output of one item of a chain.

    before, after: levels in dB along an axis. inside: density of the input level in steps of 1 dB from -72 dBFS, for
    static curves. reach: deviation from zero for half of the time, for 99 % of it, and at most, linear. partials: 1..10
    of the lowest note, in dB before and after. alias: of a distortion, in dB below a tone. gone: of the output stage,
    levels of what the mono fold removes, and its total in dB against the input.
    """

    path: str
    before: _Real
    after: _Real
    into: StageLevels
    out: StageLevels
    inside: _Real
    reach: tuple[float, float, float]
    partials: tuple[tuple[float | None, float | None], ...] = ()
    note: int | None = None
    alias: float | None = None
    gone: _Real | None = None
    gone_db: float | None = None


def stage_report(
    patch: Patch, place: str, path: str, axis: _Real, takes: RenderCache, stop: CancelToken
) -> StageReport:
    """Report on an item at ``path`` of the chain at ``place``, or on the whole chain for the chain's own path."""
    taps = tap_chain(patch, place, takes, stop)
    if place == "output":
        return _output_report(taps, axis)
    own = path if path in taps.x else place
    into = taps.x[taps.before.get(own, place)].astype(np.float64)
    out = (taps.x[own] if own != place else taps.x[_last(patch, place)]).astype(np.float64)
    spectra = [Spectrum.of(x, wrap=True).curve(axis) for x in (into, out)]
    part = get(patch, own) if own != place else None
    loud = np.abs(into).max(axis=0)
    db = 20.0 * np.log10(np.maximum(loud, 1e-9))
    inside = np.histogram(db, bins=np.arange(-72.5, 7.5))[0] / max(1, db.size)
    found = StageReport(
        own,
        spectra[0],
        spectra[1],
        levels_of(into),
        levels_of(out),
        inside,
        (float(np.percentile(loud, 50)), float(np.percentile(loud, 99)), float(loud.max(initial=0.0))),
    )
    if not isinstance(part, Distortion):
        return found
    pitch, levels = _partials(patch, taps, taps.before[own], own)
    values = vars(found) | {"partials": levels, "note": pitch, "alias": alias_of(part, into)}
    return StageReport(**values)


def _output_report(taps: Taps, axis: _Real) -> StageReport:
    """Report on the whole output stage. ``gone``: what the mono fold removes."""
    into, out = taps.x["output"].astype(np.float64), taps.x["output.ceiling"].astype(np.float64)
    gone = taps.x["output.gain"].astype(np.float64) - taps.x["output.fold"]
    spectra = [Spectrum.of(x, wrap=True).curve(axis) for x in (into, out)]
    removed = Spectrum.of(gone, wrap=True).curve(axis) if np.abs(gone).max(initial=0.0) > 1e-6 else None
    lost, kept = (float(np.mean(x**2)) for x in (gone, taps.x["output.gain"].astype(np.float64)))
    share = decibels(lost / kept) if kept > 0 else None
    return StageReport(
        "output", spectra[0], spectra[1], levels_of(into), levels_of(out), np.zeros(79), (0.0, 0.0, 0.0),
        gone=removed, gone_db=share,
    )  # fmt: skip


def _last(patch: Patch, place: str) -> str:
    items = get(patch, place)
    return f"{place}.{items[-1].id}" if items else place


def _partials(
    patch: Patch, taps: Taps, before: str, after: str
) -> tuple[int | None, tuple[tuple[float | None, float | None], ...]]:
    """Partials 1..10 of the lowest note before and behind the item, over the longest of its notes."""
    notes = heard_notes(patch)
    if not notes:
        return None, ()
    lowest = min(n.pitch for n in notes)
    note = max((n for n in notes if n.pitch == lowest), key=lambda n: n.length)
    signals = [taps.x[p].astype(np.float64).mean(axis=0) for p in (before, after)]
    hz = pitch_hz(note.pitch, patch.tuning)
    skip = min(round(0.08 * RATE), note.length // 4)
    at = (note.start + skip + np.arange(max(1, note.length - skip))) % signals[0].size
    # sources may sound octaves below or above the note: the lowest partial present counts as the first
    hz = _lowest(signals[0][at], hz)
    tones = hz * np.arange(1, 11)
    tones = tones[tones < 0.45 * RATE]
    if at.size < 2.5 * RATE / hz:
        return note.pitch, ()
    found = np.abs(fit_tones(np.stack([s[at] for s in signals]), tones)[0])
    return note.pitch, tuple((decibels(float(a) ** 2), decibels(float(b) ** 2)) for a, b in found.T)


def _lowest(x: _Real, hz: float) -> float:
    """Frequency of the lowest partial: the note's, or octaves of it."""
    choices = [hz / 4, hz / 2, hz, 2 * hz]
    strong = np.abs(fit_tones(x[None], np.array(choices))[0][0])
    return next((h for h, a in zip(choices, strong, strict=True) if a > 0.1 * strong.max()), hz)


def alias_of(part: Distortion, into: _Real, peak_dbfs: float | None = None) -> float | None:
    """Level in dB of a distortion's strongest aliasing below 16 kHz, below a tone.

    The tone is as high as the frequency that holds 99 % of the input's power, and as loud as its loudest moment, at a
    frequency whose harmonics fall between its aliases. peak_dbfs: of the input, if ``into`` is only a part of it.
    """
    size = next_fast_len(into.shape[1], real=True)
    power = np.abs(rfft(into.mean(axis=0), size)) ** 2
    peak = float(np.abs(into).max(initial=0.0)) if peak_dbfs is None else 10.0 ** (peak_dbfs / 20.0)
    if peak < 1e-4 or part.curve == "crush":
        return None
    edge = float(np.searchsorted(np.cumsum(power), 0.99 * power.sum())) * RATE / size
    n = 1 << 15
    k = max(3, round(min(max(edge, 110.0), 4000.0) * n / RATE)) | 1
    x = peak * np.sin(2.0 * np.pi * k * np.arange(3 * n) / n)
    y = through_item(part, np.stack([x, x]))[0, 2 * n :]
    spectrum = np.abs(np.fft.rfft(y)) / (n / 2)
    own = np.zeros(spectrum.size, dtype=bool)
    own[::k] = True
    rest = np.where(own, 0.0, spectrum)[: round(16000 * n / RATE)]
    return 20.0 * math.log10(max(float(spectrum[k]), 1e-12) / max(float(rest.max()), 1e-12))


def matches_wanted(patch: Patch, levels: ChainLevels, slack: float = 0.05) -> list[tuple[str, float]]:
    """New gains of all level matches that are off, by path. Later items of a chain may need another round."""
    found: list[tuple[str, float]] = []
    for place in places_of_chains(patch):
        for path in _paths(get(patch, place), place):
            part = get(patch, path)
            change = levels.change(path) if part.matched and part.on else None
            if change is not None and abs(change) > slack:
                wanted = round(min(max(part.match - change, -60.0), 60.0), 2)
                if abs(wanted - part.match) > 0.02:
                    found.append((f"{path}.match", wanted))
    return found


def any_matched(patch: Patch) -> bool:
    """Whether any audible item has a level match."""
    return any(
        get(patch, path).matched and get(patch, path).on
        for place in places_of_chains(patch)
        for path in _paths(get(patch, place), place)
    )


def match_of(patch: Patch, path: str, takes: RenderCache, stop: CancelToken | None = None) -> float:
    """The gain in dB that makes the loop as loud behind an item as before it. 0 if that is undefined."""
    place = next((p for p in places_of_chains(patch) if path.startswith(f"{p}.")), None)
    if place is None:
        return 0.0
    taps = tap_chain(patch, place, takes, stop)
    before, after = (levels_of(taps.x[p]).loudness for p in (taps.before[path], path))
    if before is None or after is None or min(before, after) <= SILENT_LUFS:
        return 0.0
    return round(min(max(float(get(patch, path).match) + before - after, -60.0), 60.0), 2)


def _paths(items: list[ChainItem], place: str) -> list[str]:
    """Paths of all items of a chain. Items in branches come before the branch."""
    found: list[str] = []
    for item in items:
        paths: list[Any] = getattr(item, "paths", [])
        for branch_path in paths:
            found += _paths(branch_path.items, f"{place}.{item.id}.paths.{branch_path.id}.items")
        found.append(f"{place}.{item.id}")
    return found
