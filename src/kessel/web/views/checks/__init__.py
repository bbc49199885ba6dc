"""The Checks workspace: does it hold, and why not."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from ....checks import WORSE, Finding
from ....desk import Desk, OpenPatch
from ..controls import travels
from ..editor import Asked
from ..rail import FindingView, finding_view
from ..sheet import GRID, KEYS, TICKS
from .alignment import alignment_view, foreseen
from .keys import keys_view, span_of
from .look import Look
from .low import low_view
from .mono import mono_view
from .neighbours import neighbours_view
from .reference import reference_view
from .rooms import fields_of, rooms_view
from .strikes import strikes_view
from .summary import summary_view
from .whole_set import set_view

TOPICS = (
    ("summary", "Summary", ()),
    ("alignment", "Alignment", ("layers-add-up",)),
    ("strikes", "Strikes", ("repeatability",)),
    ("mono", "Mono", ("lows-in-mono", "mono-loss")),
    ("low", "Low end", ("hollow", "thin", "rumble", "fundamental-shut")),
    ("keys", "Keys", ()),
    ("rooms", "Rooms", ()),
    ("neighbours", "Neighbours", ("kick-clash",)),
    ("reference", "Reference", ()),
    ("set", "Whole set", ()),
)
_LONGEST = 25.0
_PATIENCE = 5.0
"""Seconds that an answer waits for something new, so that progress is asked for seldom."""


@dataclass(frozen=True)
class Topic:
    """A page of the workspace, with the worst verdict that belongs to it."""

    word: str
    name: str
    verdict: str
    on: bool


@dataclass(frozen=True)
class ChecksView:
    """The page that is asked for: ``topic`` names its template, ``it`` is what that draws."""

    topic: str
    topics: tuple[Topic, ...]
    it: Any
    measured: bool
    problem: str
    pick: str
    ticks: tuple[tuple[float, str, bool], ...]
    grid: tuple[tuple[float, bool], ...]
    keys: tuple[tuple[float, float, bool, str], ...]
    layers: tuple[str, ...]
    travels: dict[str, tuple[float, float]]
    version: int


def _finding(look: Look, check: str) -> FindingView | None:
    measured = look.measured
    if measured is None:
        return None
    own = [f for f in measured.findings if f.check == check]
    worst: Finding | None = max(own, key=lambda f: WORSE[f.verdict], default=None)
    return None if worst is None else finding_view(measured.picture.patch, worst, look.open_patch.before)


def checks_view(desk: Desk, open_patch: OpenPatch, asked: Asked, fresh: bool) -> ChecksView:
    """The topic that is asked for; ``fresh``: what takes time may be waited for."""
    look = Look(desk, open_patch, asked, fresh)
    topic = asked.topic if asked.topic in {t for t, _, _ in TOPICS} else "summary"
    begun = open_patch.version
    if topic == "summary":
        if fresh:
            open_patch.measuring.wait_findings(begun, _LONGEST, 0)
        it: Any = summary_view(look)
        look.waiting = look.waiting or look.measured is None or look.measured.version < begun
    elif topic == "alignment":
        it = alignment_view(look)
    elif topic == "strikes":
        it = strikes_view(look, _finding(look, "repeatability"))
    elif topic == "mono":
        it = mono_view(look)
    elif topic == "low":
        it = low_view(look)
    elif topic == "keys":
        sweep = open_patch.checking.sweep
        if fresh and sweep.running(open_patch.patch):
            sweep.wait(open_patch.patch, len(sweep.keys_of(open_patch.patch)), _PATIENCE)
        it = keys_view(look)
        look.waiting = it.running
    elif topic == "rooms":
        it = rooms_view(look)
    elif topic == "neighbours":
        it = neighbours_view(look, _finding(look, "kick-clash"))
    elif topic == "reference":
        it = reference_view(look)
    else:
        set_id = desk.library.set_of(open_patch.slug).id
        whole = desk.set_check(set_id)
        if fresh and whole.running:
            whole.wait(whole.progress[0], _PATIENCE)
        it = set_view(desk, set_id, open_patch.slug)
        look.waiting = it.running
    findings = look.measured.findings if look.measured is not None else ()
    topics = []
    for word, name, checks in TOPICS:
        own = [f.verdict for f in findings if f.check in checks]
        worst = max(own, key=lambda v: WORSE[v], default="")
        topics.append(Topic(word, name, worst if worst != "holds" else "", word == topic))
    patch = open_patch.patch
    return ChecksView(
        topic=topic,
        topics=tuple(topics),
        it=it,
        measured=bool(look.problem or open_patch.measuring.problem)
        or (not look.waiting and open_patch.version == begun),
        problem=look.problem,
        pick=asked.pick,
        ticks=TICKS,
        grid=GRID,
        keys=KEYS,
        layers=tuple(x.id for x in patch.layers),
        travels=travels(patch, open_patch.measuring.picture),
        version=begun,
    )


__all__ = ["TOPICS", "ChecksView", "checks_view", "fields_of", "foreseen", "set_view", "span_of"]
