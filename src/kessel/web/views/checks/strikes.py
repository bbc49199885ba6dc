"""The same note sixteen times, overlaid."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ....checks.playback import RepeatedNotes
from ....patch import note_name, write
from ..frame import FindingView
from ..svg import polyline
from .look import CheckContext, db

_SECONDS = 0.16


@dataclass(frozen=True)
class Angles:
    """A pair's angle at every repeat, as positions in per cent of the height (180° at the top, -180° at the bottom)."""

    title: str
    spread: str
    dots: tuple[tuple[float, float], ...]


@dataclass(frozen=True)
class RepeatedNotesView:
    """Waves as lines in 1000 by 100; levels as positions in per cent of the height around their mean."""

    note: str
    waves: tuple[str, ...]
    ticks: tuple[tuple[float, str], ...]
    levels: tuple[tuple[float, float, str], ...]
    limit: tuple[float, float]
    span: str
    lows: str
    spread: str
    spread_deg: str
    angles: tuple[Angles, ...]
    causes: tuple[str, ...]
    finding: FindingView | None


def strikes_view(look: CheckContext, finding: FindingView | None) -> RepeatedNotesView | None:
    """The repeats of the phrase's lowest note."""
    found: RepeatedNotes | None = look.find("strikes")
    if found is None:
        return None
    n = min(int(_SECONDS * found.rate), found.waves.shape[1])
    waves = found.waves[:, :n]
    top = max(float(np.abs(waves).max(initial=0.0)), 1e-9)
    step = max(1, n // 480)
    x = np.linspace(0.0, 1000.0, waves[:, ::step].shape[1])
    seconds = n / found.rate
    levels = np.array(found.levels)
    middle = float(levels.mean())
    span = max(1.0, 0.7 * float(np.ptp(levels)), look.limits.strike_db)
    wide = 100.0 / levels.size
    rows = tuple(
        (
            round(i * wide + wide / 2, 2),
            round(50.0 - 50.0 * max(min((v - middle) / span, 1.0), -1.0), 2),
            f"repeat {i + 1}: {write(float(v), 'dB')}",
        )
        for i, v in enumerate(levels)
    )
    band = 50.0 * min(look.limits.strike_db / 2.0 / span, 1.0)
    angles = []
    for title, own in found.angles.items():
        dots = tuple((round(i * wide + wide / 2, 2), round(50.0 - a / 180.0 * 46.0, 2)) for i, a in enumerate(own))
        spread = float(np.ptp(np.unwrap(np.array(own), period=360.0)))
        angles.append(Angles(title, f"{spread:.0f}°", dots))
    ms = [t for t in (0, 20, 40, 60, 80, 100, 120, 140) if t / 1000.0 < seconds]
    return RepeatedNotesView(
        note=note_name(found.pitch),
        waves=tuple(polyline(x, 50.0 - 46.0 * w[::step] / top) for w in waves),
        ticks=tuple((round(t / 10.0 / seconds, 2), f"{t} ms") for t in ms),
        levels=rows,
        limit=(round(50.0 - band, 2), round(2.0 * band, 2)),
        span=f"{span:.1f}",
        lows=write(look.limits.low_hz, "Hz"),
        spread=db(found.spread_db, 2),
        spread_deg="–" if found.spread_deg is None else f"{found.spread_deg:.0f}°",
        angles=tuple(angles),
        causes=tuple(dict.fromkeys(c.text for c in found.causes)),
        finding=finding,
    )
