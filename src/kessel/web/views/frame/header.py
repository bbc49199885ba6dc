"""The header: the patch's name, tempo and length, and its measured figures."""

from __future__ import annotations

from dataclasses import dataclass

from ....desk import Picture
from ....patch import MINUS, Patch
from ..controls import Rule, control_view

WAITS, STOPPED = "measuring…", "not measured"
"""Text for a value not yet known: while it is being measured, and after measuring was stopped."""

METER_FOOT = -60.0
"""Level in dB at the left end of the player's meter."""


@dataclass(frozen=True)
class Header:
    """The content of the header."""

    name: str
    tempo: Rule
    bars: Rule
    loudness: str
    peak: str
    meter_foot: float = METER_FOOT


def figure(value: float | None, empty: str = "silent") -> str:
    """A number with one decimal and a true minus sign."""
    return empty if value is None else f"{value:.1f}".replace("-", MINUS)


def header_view(patch: Patch, picture: Picture | None, measuring: bool = True) -> Header:
    """The header of a patch. ``measuring``: whether missing figures come by themselves."""
    unknown = "…" if measuring else "–"
    tempo, bars = control_view(patch, "tempo"), control_view(patch, "phrase.bars")
    assert isinstance(tempo, Rule) and isinstance(bars, Rule)
    return Header(
        name=patch.name,
        tempo=tempo,
        bars=bars,
        loudness=figure(picture.loudness) if picture else unknown,
        peak=figure(picture.true_peak) if picture else unknown,
    )
