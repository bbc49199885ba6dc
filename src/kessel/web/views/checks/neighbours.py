"""The patch beside its neighbours."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from ....checks.playback import Meeting, Neighbours, names_of
from ....formats import dump_patch
from ....patch import Patch, write
from ..frame import FindingView
from ..svg import across, polyline
from .look import CheckContext, db, signed
from .low import BOTTOM_DB, TOP_DB, low_across, low_keys

_OWNERS = {"patch": "the patch", "neighbour": "the neighbour", "both": "both, within 3 dB"}
_FLOOR = -60.0
_TICKS = tuple((low_across(hz), str(hz)) for hz in (20, 30, 40, 60, 80, 100, 150, 200))


@dataclass(frozen=True)
class Fact:
    """A note and the neighbour while both sound."""

    note: str
    beat: str
    own: str
    other: str
    loss: str
    owner: str
    shared: bool


@dataclass(frozen=True)
class NeighboursView:
    """The selected neighbour. Lines are in 1000 by 100 over the loop, and in 1000 by 1000 along 20 to 250 Hz."""

    choices: tuple[tuple[str, str, bool], ...]
    others: tuple[tuple[str, str], ...]
    name: str
    word: str
    own_time: str
    other_time: str
    own_curve: str
    other_curve: str
    keys: tuple[tuple[float, float, bool, str], ...]
    ticks: tuple[tuple[float, str], ...]
    band: tuple[float, float]
    words: tuple[str, ...]
    facts: tuple[Fact, ...]
    room: tuple[tuple[float, float, float, str, bool], ...]
    room_text: str
    duck: str
    duck_values: dict[str, Any]
    kick: str
    kick_hz: float | None
    finding: FindingView | None


_EMPTY = NeighboursView(
    (), (), "", "", "", "", "", "", low_keys(), _TICKS, (0.0, 0.0), (), (), (), "", "", {}, "", None, None
)  # fmt: skip


def words_of(look: CheckContext, word: str) -> dict[str, Any] | None:
    """The arguments of the query about a neighbour. None if it does not exist any more."""
    name = dict(names_of(look.patch.backing)).get(word)
    if name is None:
        return None
    found: dict[str, Any] = {"word": word, "called": name}
    if word.startswith("patch:"):
        part = next(p for p in look.patch.backing.patches if f"patch:{p.id}" == word)
        other = look.desk.open(part.slug).patch
        found |= {"text": dump_patch(other), "level": part.level}
    return found


def _time_line(levels: Any) -> str:
    y = 96.0 - 92.0 * np.clip((levels - _FLOOR) / (-6.0 - _FLOOR), 0.0, 1.0)
    return polyline(np.linspace(0.0, 1000.0, y.size), y)


def _low_line(levels: Any) -> str:
    y = 1000.0 - 1000.0 * np.clip((levels - BOTTOM_DB) / (TOP_DB - BOTTOM_DB), 0.0, 1.0)
    return polyline(np.linspace(0.0, 1000.0, y.size), y)


def _words(d: Neighbours) -> tuple[str, ...]:
    found = []
    if d.over is None:
        found.append("It has no sound below 150 Hz.")
    else:
        side = "over" if d.over > 0 else "under"
        found.append(
            f"Where it sounds, between {d.band[0]:.0f} and {d.band[1]:.0f} Hz, the patch stands "
            f"{write(abs(d.over), 'dB')} {side} it"
        )
        found.append(f"{100 * d.share:.0f} % of its low power coincides with the patch")
    return tuple(found)


def neighbours_view(look: CheckContext, finding: FindingView | None) -> NeighboursView:
    """The selected neighbour, by default the kick."""
    patch = look.patch
    names = names_of(patch.backing)
    word = look.asked.pick if look.asked.pick in dict(names) else "kick"
    words = words_of(look, word)
    d: Neighbours | None = look.find("neighbour", **words) if words is not None else None
    beside = {p.slug for p in patch.backing.patches} | {look.open_patch.slug}
    others = tuple((c.slug, c.name) for c in look.desk.library.patches() if c.slug not in beside)
    choices = tuple((w, n, w == word) for w, n in names)
    name = dict(names)[word]
    if d is None:
        return replace(_EMPTY, choices=choices, others=others, name=name, word=word, finding=finding)
    kick = word == "kick"
    beat = patch.backing.beat
    return NeighboursView(
        choices=choices,
        others=others,
        name=name,
        word=word,
        own_time=_time_line(d.own_time),
        other_time=_time_line(d.other_time),
        own_curve=_low_line(d.own_curve),
        other_curve=_low_line(d.other_curve),
        keys=low_keys(),
        ticks=_TICKS,
        band=(low_across(d.band[0]), round(low_across(d.band[1]) - low_across(d.band[0]), 2)),
        words=(*_words(d), *_silent(patch, word)),
        facts=tuple(_fact(m) for m in d.meetings),
        room=tuple(_room_bar(hz, left) for hz, left in d.room),
        room_text=_room_words(d),
        duck=f"{write(d.duck, 'dB')} for {d.hold_ms:.0f} ms" if d.duck > 0 else "",
        duck_values=_duck_values(d) if kick else {},
        kick=write(d.pitch, "Hz") if d.pitch is not None and abs(d.pitch - beat.kick_pitch) > 2 else "",
        kick_hz=d.pitch,
        finding=finding,
    )


def _silent(patch: Patch, word: str) -> tuple[str, ...]:
    off = word == "kick" and not patch.backing.beat.on
    return ("the beat is off: switch it on under Backing to hear it",) if off else ()


def _room_words(d: Neighbours) -> str:
    if d.room_db is None:
        return ""
    return f"Room above: {signed(d.room_db)} dB against the patch between 200 Hz and 4 kHz"


def _duck_values(d: Neighbours) -> dict[str, float]:
    """Depth and hold that make room. None if there is room."""
    if d.duck <= 0:
        return {}
    return {"depth": min(d.duck + 1.0, 60.0), "hold": min(round(d.hold_ms), 500)}


def _fact(m: Meeting) -> Fact:
    lost = "–" if m.loss is None else db(m.loss)
    return Fact(m.note, f"{m.beat + 1:g}", db(m.own), db(m.other), lost, _OWNERS[m.owner], m.owner == "both")


def _room_bar(hz: float, left: float) -> tuple[float, float, float, str, bool]:
    """Place, width and height of a third octave, its text, and whether it has room."""
    x = across(hz * 2 ** (-1 / 6))
    wide = round(across(hz * 2 ** (1 / 6)) - x - 0.3, 3)
    height = round(50.0 * min(abs(left) / 36.0, 1.0), 2)
    return x, wide, height, f"{write(hz, 'Hz')}: {signed(left)} dB against the patch", left >= 0
