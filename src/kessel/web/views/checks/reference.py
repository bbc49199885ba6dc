"""The patch beside a recording, at equal loudness."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ....checks.playback import Comparison, Difference
from ....engine import audio_outline
from ....measure import BANDS
from ..svg import across, curve, level_line
from .look import CheckContext, db, signed


@dataclass(frozen=True)
class BandRow:
    """A band of both: levels, mono loss, width."""

    name: str
    span: str
    own: str
    other: str
    apart: str
    mono: str
    width: str
    strong: bool


@dataclass(frozen=True)
class ReferenceView:
    """The comparison, or how to begin. x, width of a difference: its position on the axis in per cent."""

    name: str
    audio: tuple[tuple[str, str], ...]
    start: str
    seconds: str
    tempo: str
    longest: str
    own: str
    other: str
    rows: tuple[BandRow, ...]
    differences: tuple[tuple[str, str, float | None, float | None], ...]
    own_beat: str
    other_beat: str
    gain: str
    crest: tuple[str, str]
    outline: str = ""
    whole: float = 0.0
    stretch: tuple[float, float] = (0.0, 100.0)


def _outline(word: str) -> str:
    """A recording as a closed shape in 180 by 60."""
    found = audio_outline(word)
    if found is None:
        return ""
    top = max(float(found.max(initial=0.0)), 1e-6)
    x = np.linspace(0.0, 180.0, found.size)
    up = " ".join(f"{a:.1f},{30 - 28 * v / top:.1f}" for a, v in zip(x, found, strict=True))
    down = " ".join(f"{a:.1f},{30 + 28 * v / top:.1f}" for a, v in zip(x[::-1], found[::-1], strict=True))
    return f"M{up} {down}Z"


def _band_row(d: Comparison, band: str, low: float, high: float) -> BandRow:
    (a, mono_a, wide_a), (b, mono_b, wide_b) = d.own.bands[band], d.other.bands[band]
    apart = a - b if a is not None and b is not None else None
    return BandRow(
        band,
        f"{low:.0f}–{high:.0f}",
        db(a, empty="–"),
        db(b, empty="–"),
        signed(apart, empty="–"),
        f"{db(mono_a, empty='–')} / {db(mono_b, empty='–')}",
        f"{db(wide_a, 0, '–')} / {db(wide_b, 0, '–')}",
        apart is not None and abs(apart) >= 3.0,
    )


def _placed(x: Difference) -> tuple[str, str, float | None, float | None]:
    """A difference as text and advice, with place and width of its band on the axis."""
    if not x.low_hz or not x.high_hz:
        return x.text, x.advice, across(x.low_hz) if x.low_hz else None, None
    return x.text, x.advice, across(x.low_hz), round(across(x.high_hz) - across(x.low_hz), 2)


def reference_view(look: CheckContext) -> ReferenceView:
    """The comparison with the reference."""
    store = look.desk.library
    audio = tuple((a.word, a.name) for a in store.audio.all())
    kept = store.checks.reference(look.open_patch.slug)
    if kept is None:
        return ReferenceView("", audio, "", "", "", "", "", "", (), (), "", "", "", ("", ""))
    card = store.audio.card(kept.audio)
    d: Comparison | None = look.find("reference", **vars(kept))
    name = card.name if card is not None else "gone"
    head = (name, audio, f"{kept.start:g} s", f"{kept.seconds:g} s", f"{kept.tempo:g} BPM")
    longest = f"{card.seconds:.1f} s" if card is not None else ""
    if d is None:
        return ReferenceView(*head, longest, "", "", (), (), "", "", "", ("", ""))
    both = np.concatenate([d.own.envelope, d.other.envelope])
    low, high = float(max(both.min(), both.max() - 40.0)), float(both.max())
    return ReferenceView(
        *head,
        longest,
        own=level_line(d.own.curve),
        other=level_line(d.other.curve),
        rows=tuple(_band_row(d, *band) for band in BANDS),
        differences=tuple(_placed(x) for x in d.differences[:9]),
        own_beat=curve(d.own.envelope, low, high + 0.1),
        other_beat=curve(d.other.envelope, low, high + 0.1),
        gain=signed(d.gain),
        crest=(db(d.own.crest), db(d.other.crest)),
        outline=_outline(kept.audio),
        whole=card.seconds if card is not None else 0.0,
        stretch=(
            (round(100.0 * kept.start / card.seconds, 2), round(100.0 * kept.seconds / card.seconds, 2))
            if card is not None
            else (0.0, 100.0)
        ),
    )
