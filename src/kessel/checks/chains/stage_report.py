"""What an item does to the sound: levels, spectrum, harmonics and aliasing, before and behind it."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy.fft import next_fast_len, rfft

from ...engine import RATE, CancelToken, RenderCache, Taps, tap_chain, through_item
from ...measure import Spectrum, decibels, fit_tones
from ...patch import Distortion, Patch, get, pitch_hz
from ..notes import heard_notes
from ..phase_turn import phase_turn
from ..place_levels import StageLevels, levels_of

_Real = NDArray[np.floating[Any]]


@dataclass(frozen=True)
class StageReport:
    """The input and the output of one item of a chain.

    before, after: levels in dB along an axis. inside: density of the input level in steps of 1 dB from -72 dBFS, for
    static curves. turn: of an item that leaves every level, a frequency in Hz and how far it turns the phase there in
    degrees. reach: deviation from zero for half of the time, for 99 % of it, and at most, linear. partials: 1..10
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
    turn: tuple[float, float] | None = None
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
    if part is not None:
        hz = min((pitch_hz(n.pitch, patch.tuning) for n in heard_notes(patch)), default=55.0)
        degrees = phase_turn(part, hz)
        found = replace(found, turn=None if degrees is None else (hz, degrees))
    if not isinstance(part, Distortion):
        return found
    pitch, levels = _partials(patch, taps, taps.before[own], own)
    return replace(found, partials=levels, note=pitch, alias=alias_of(part, into))


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
