"""Every key of a range: a strip for each measure, the playable range, and a correction by key."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from ....checks import Limits
from ....checks.playback import FIRST, LAST, KeyFigures, level_by_key, playable, slope_of
from ....patch import note_name, write
from .look import CheckContext, db

_Figure = Callable[[KeyFigures], float | None]

_MEASURES: tuple[tuple[str, str, _Figure, float, float, str], ...] = (
    ("Loudness", "LUFS", lambda k: k.loudness, -30.0, -8.0, ""),
    ("Fundamental", "dBFS", lambda k: k.first, -40.0, -6.0, ""),
    ("Mono loss, lows", "dB", lambda k: k.mono_loss, 0.0, -6.0, "mono_loss"),
    ("Worst sum loss", "dB", lambda k: k.sum_loss, 0.0, -9.0, "sum_loss"),
    ("Weak fundamental", "dB", lambda k: k.hollow, -12.0, 18.0, "hollow"),
)
RANGES = ((FIRST, LAST), (FIRST, 60), (28, 40), (12, 48))


@dataclass(frozen=True)
class KeyCell:
    """One key's figure: its shade, 0..1, and whether it fails."""

    share: float
    text: str
    figure: str
    fails: bool
    known: bool


@dataclass(frozen=True)
class KeyColumn:
    """One key: its position and width in per cent."""

    name: str
    black: bool
    played: bool
    x: float
    width: float


@dataclass(frozen=True)
class KeyStrip:
    """A measure over the keys."""

    name: str
    unit: str
    cells: tuple[KeyCell, ...]


@dataclass(frozen=True)
class KeysView:
    """The strips. wide: whether there is room for figures."""

    columns: tuple[KeyColumn, ...]
    wide: bool
    strips: tuple[KeyStrip, ...]
    running: bool
    done: int
    count: int
    playable: str
    first: int
    last: int
    ranges: tuple[tuple[int, int, str, bool], ...]
    slope: str
    corrects: bool
    problem: str
    complete: bool
    bracket: tuple[float, float] | None


def _cell(
    k: KeyFigures | None,
    pitch: int,
    name: str,
    unit: str,
    figure: _Figure,
    ends: tuple[float, float],
    slug: str,
    bad: tuple[str, ...],
) -> KeyCell:
    value = figure(k) if k is not None else None
    if value is None:
        return KeyCell(
            0.0, f"{note_name(pitch)}: {'nothing to measure' if k else 'not measured yet'}", "", False, k is not None
        )
    share = min(max((value - ends[0]) / (ends[1] - ends[0]), 0.0), 1.0)
    text = f"{note_name(pitch)} {name.lower()} {db(value)} {unit}"
    shown = db(value, 0 if unit != "dB" or name == "Weak fundamental" else 1)
    return KeyCell(round(share, 3), text, "0" if shown in ("−0.0", "0.0", "−0") else shown, slug in bad, True)


def span_of(look: CheckContext) -> tuple[int, int]:
    """The selected range."""
    low, _, high = look.asked.pick.partition("-")
    found = next((r for r in RANGES if f"{r[0]}-{r[1]}" == f"{low}-{high}"), None)
    return found or RANGES[0]


def keys_view(look: CheckContext) -> KeysView:
    """The known keys."""
    sweep, patch, limits = look.open_patch.checking.sweep, look.patch, look.limits
    known = {k.pitch: k for k in sweep.keys_of(patch)}
    first, last = span_of(look)
    pitches = range(first, last + 1)
    found = [known[p] for p in pitches if p in known]
    complete = len(found) == len(pitches)
    span = playable(found, limits) if found else None
    slope = slope_of(found)
    done, count = sweep.progress
    wide = 100.0 / len(pitches)
    return KeysView(
        columns=_columns(pitches, {n.pitch for n in patch.phrase.notes}),
        wide=len(pitches) <= 26,
        strips=_strips(pitches, known, limits),
        running=sweep.running(patch),
        done=done,
        count=count,
        playable="none of them" if span is None else f"{note_name(span[0])} to {note_name(span[1])}",
        first=first,
        last=last,
        ranges=tuple((a, b, f"{note_name(a)} to {note_name(b)}", (a, b) == (first, last)) for a, b in RANGES),
        slope="" if slope is None or not complete else f"{write(slope * 12.0, 'dB')} an octave",
        corrects=complete and bool(level_by_key(patch, found)),
        problem=sweep.problem or "",
        complete=complete,
        bracket=None
        if span is None
        else (round((span[0] - first) * wide, 2), round((span[1] - span[0] + 1) * wide, 2)),
    )


def _columns(pitches: range, played: set[int]) -> tuple[KeyColumn, ...]:
    wide = 100.0 / len(pitches)
    return tuple(
        KeyColumn(note_name(p), p % 12 in (1, 3, 6, 8, 10), p in played, round(i * wide, 3), round(wide, 3))
        for i, p in enumerate(pitches)
    )


def _strips(pitches: range, known: dict[int, KeyFigures], limits: Limits) -> tuple[KeyStrip, ...]:
    bad = {p: k.fails(limits) for p, k in known.items()}
    return tuple(
        KeyStrip(
            name,
            unit,
            tuple(_cell(known.get(p), p, name, unit, figure, (low, high), slug, bad.get(p, ())) for p in pitches),
        )
        for name, unit, figure, low, high, slug in _MEASURES
    )
