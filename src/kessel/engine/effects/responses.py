"""Frequency responses of stages for drawings, from the formulas that the loops are tested against."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from ...dsp.filters.allpass import allpass_response
from ...dsp.filters.blended_svf import blend_of, shaped_response
from ...dsp.filters.comb import comb_delay, comb_response
from ...dsp.filters.formants import bands, vowel_response
from ...dsp.filters.ladder import ladder_response
from ...dsp.filters.svf import BUTTERWORTH, FOURTH_1, FOURTH_2, band_response, sections_of
from ...patch import KEY_TRACK_CENTER, AllpassRow, ChainItem, Comb, Eq, EqBand, Filter, Ladder, Vowel, pitch_hz
from ..modulation import Array, gain_of
from .registry import processor_class

Complex = np.ndarray


def _filter(part: Filter, hz: Array, cutoff: float) -> Complex:
    poles = {"6": 1, "12": 2, "24": 4}[part.slope]
    plain = part.type in ("low-pass", "high-pass")
    if poles == 1 and not plain:
        poles = 2
    found = blend_of(part.type, np.array([part.resonance]), np.array([part.morph / 100.0]), max(1, poles // 2))
    k, low, band, high = (float(v[0]) for v in found)
    pair = (FOURTH_1, k * FOURTH_2 / BUTTERWORTH) if poles == 4 and plain else (k, k)
    return shaped_response(poles, cutoff, pair, (low, band, high), hz)


def _comb(part: Comb, hz: Array, pitch: float, cutoff: float, tuning: float) -> Complex:
    ring = pitch_hz(pitch + part.interval, tuning) if part.tuned == "note" else cutoff
    delay = float(comb_delay(np.array([ring]), np.array([part.damping]))[0])
    return comb_response(delay, part.feedback / 100.0, part.damping, hz)


def _vowel(part: Vowel, hz: Array, octaves: float) -> Complex:
    one = np.ones(1)
    made = bands(
        part.speaker, one * part.opening / 100, one * part.tongue / 100, one * part.size / 100,
        one * part.sharpness / 100, one * part.spread / 100, octaves,
    )  # fmt: skip
    log_hz, damping, level = (m[:, 0] for m in made)
    return gain_of(part.trim) * vowel_response(log_hz, damping, level, hz)


def _allpass(part: AllpassRow, hz: Array, cutoff: float) -> Complex:
    return allpass_response(part.stages, cutoff, part.feedback / 100.0, hz)


def _ladder(part: Ladder, hz: Array, cutoff: float) -> Complex:
    return ladder_response(cutoff, part.resonance, part.lows / 100.0, hz)


def _eq(part: Eq, hz: Array, note: float) -> Complex:
    h: Complex = np.full(hz.shape, gain_of(part.trim), dtype=np.complex128)
    for band in part.bands:
        if band.on:
            h = h * eq_band_response(band, hz, note)
    return h


def eq_band_response(band: EqBand, hz: Array, note: float) -> Complex:
    """Complex response of one EQ band at frequencies in Hz, for a note of ``note`` Hz."""
    at = min(note * band.times, 20000.0) if band.tied else band.frequency
    h: Complex = np.ones(hz.shape, dtype=np.complex128)
    for section in sections_of(band.type, int(band.slope), at, band.gain, band.q):
        h = h * band_response(section, hz)
    return h


_PLAIN: dict[str, Callable[..., Complex]] = {"filter": _filter, "ladder": _ladder, "allpass": _allpass}


def complex_response(
    part: ChainItem, hz: Array, pitch: float = KEY_TRACK_CENTER, tuning: float = 440.0
) -> Complex | None:
    """Complex response of a stage and its mix at frequencies in Hz, for a note. None if it is no filter."""
    octaves = (
        (pitch - KEY_TRACK_CENTER) / 12.0 * (0.0 if isinstance(part, Eq) else getattr(part, "key_follow", 0.0) / 100.0)
    )
    if isinstance(part, Eq):
        h = _eq(part, hz, pitch_hz(pitch, tuning))
    elif isinstance(part, Comb):
        h = _comb(part, hz, pitch, part.cutoff * 2.0**octaves, tuning)
    elif isinstance(part, Vowel):
        h = _vowel(part, hz, octaves)
    elif part.kind in _PLAIN:
        h = _PLAIN[part.kind](part, hz, min(max(part.cutoff * 2.0**octaves, 20.0), 20000.0))  # type: ignore[union-attr]
    elif (own := getattr(processor_class(part.kind), "response", None)) is not None:
        h = own(part, hz, pitch, tuning)
    else:
        return None
    after = 1.0 if isinstance(part, Eq | Vowel) else gain_of(part.trim)
    return np.asarray(after * (1.0 + part.mix / 100.0 * (h - 1.0)))


def response_of(part: ChainItem, hz: Array, pitch: float = KEY_TRACK_CENTER, tuning: float = 440.0) -> Array | None:
    """Response in dB, no lower than -96 dB. None if it is no filter."""
    h = complex_response(part, hz, pitch, tuning)
    return None if h is None else np.asarray(20.0 * np.log10(np.maximum(np.abs(h), 1.6e-5)))
