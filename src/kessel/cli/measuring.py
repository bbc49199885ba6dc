"""Commands about audio files: measure, align."""

from __future__ import annotations

import argparse
import json
import math

from ..formats import read_at_own_rate, read_audio
from ..measure import align, measure
from .command import Problem


def _shown(value: object, unit: str) -> str:
    if isinstance(value, float):
        return f"{value:.2f} {unit}".rstrip()
    return "silent" if value is None else str(value)


def measure_file(given: argparse.Namespace) -> int:
    """Measure one file."""
    x, rate = read_at_own_rate(given.audio)
    found = measure(x, rate=rate).plain()
    if given.json:
        print(json.dumps(found, indent=1))
        return 0
    for name, unit in (
        ("loudness_lufs", "LUFS"),
        ("true_peak_dbtp", "dBTP"),
        ("crest_db", "dB"),
        ("correlation", ""),
        ("mono_loss_db", "dB"),
        ("dc_offset", ""),
    ):
        print(f"{name:<16} {_shown(found[name], unit)}")
    bands = found["bands"]
    assert isinstance(bands, list)
    for band in bands:
        edges = f"{band['low_hz']:.0f} to {band['high_hz']:.0f} Hz"
        level, loss = _shown(band["level_db"], "dB"), _shown(band["mono_loss_db"], "dB")
        print(f"{band['name']:<8} {edges:<18} level {level:<12} mono loss {loss}")
    return 0


def align_files(given: argparse.Namespace) -> int:
    """Compare two files."""
    for name in ("low", "high", "pitch"):
        value = getattr(given, name)
        if value is not None and not (math.isfinite(value) and 5.0 <= value <= 24000.0):
            raise Problem(f"--{name} goes from 5 to 24000 Hz")
    if given.low >= given.high:
        raise Problem("the low edge has to stay below the high edge: swap --low and --high")
    a, b = (read_audio(p).mean(axis=0) for p in (given.a, given.b))
    found = align(a, b, given.low, given.high, given.pitch)
    if given.json:
        print(json.dumps(vars(found), indent=1))
        return 0
    for name, unit in (
        ("lag_ms", "ms"),
        ("polarity", ""),
        ("ambiguous", ""),
        ("phase_deg", "°"),
        ("sum_loss_db", "dB"),
        ("sum_loss_overlap_db", "dB"),
        ("coherence", ""),
    ):
        print(f"{name:<20} {_shown(getattr(found, name), unit)}")
    if found.lag_ms is None:
        print("the two have no partial in common there: there is no lag to tell")
    elif found.coherence is not None and found.coherence < 0.5:
        print("the two do not keep step: a lag means little")
    return 0
