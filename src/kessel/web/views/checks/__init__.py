"""The Checks workspace: its topics."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from ....checks import WORSE, Finding
from ....desk import Desk, OpenPatch
from ..controls import travels
from ..editor import Selection
from ..evidence import TOPIC_OF
from ..frame import FindingView, finding_view
from ..layers import GRID, KEYS, TICKS
from .alignment import alignment_view, foreseen
from .keys import keys_view, span_of
from .level import level_view
from .look import CheckContext
from .low import low_view
from .mono import mono_view
from .neighbours import neighbours_view
from .reference import reference_view
from .rooms import fields_of, rooms_view
from .strikes import strikes_view
from .summary import summary_view
from .whole_set import set_view

_LONGEST = 25.0
_PATIENCE = 5.0
"""Seconds that an answer waits for news, so that progress is polled seldom."""


@dataclass(frozen=True)
class Topic:
    """A page of the workspace, with its worst verdict."""

    word: str
    name: str
    verdict: str
    on: bool


@dataclass(frozen=True)
class ChecksView:
    """The selected page. ``topic`` names its template; ``it`` is the view of it."""

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
    travels: dict[str, tuple[float, float, str]]
    version: int


def _finding(look: CheckContext, check: str) -> FindingView | None:
    measured = look.measured
    if measured is None:
        return None
    own = [f for f in measured.findings if f.check == check]
    worst: Finding | None = max(own, key=lambda f: WORSE[f.verdict], default=None)
    return None if worst is None else finding_view(measured.picture.patch, worst, look.open_patch.before)


def _judged(look: CheckContext) -> None:
    """Wait for the verdicts of this version, if there is time."""
    version = look.open_patch.version
    if look.fresh:
        look.open_patch.measuring.wait_findings(version, _LONGEST, 0)
    look.waiting = look.waiting or look.measured is None or look.measured.version < version


def _summary(look: CheckContext) -> Any:
    _judged(look)
    return summary_view(look)


def _level(look: CheckContext) -> Any:
    _judged(look)
    return level_view(look, tuple(f for c in ("output-peak", "loudness") if (f := _finding(look, c)) is not None))


def _keys(look: CheckContext) -> Any:
    sweep, patch = look.open_patch.checking.sweep, look.patch
    if look.fresh and sweep.running(patch):
        sweep.wait(patch, len(sweep.keys_of(patch)), _PATIENCE)
    found = keys_view(look)
    look.waiting = found.running
    return found


def _whole_set(look: CheckContext) -> Any:
    set_id = look.desk.library.set_of(look.open_patch.slug).id
    whole = look.desk.set_check(set_id)
    if look.fresh and whole.running:
        whole.wait(whole.progress[0], _PATIENCE)
    found = set_view(look.desk, set_id, look.open_patch.slug)
    look.waiting = found.running
    return found


TOPICS: tuple[tuple[str, str, Callable[[CheckContext], Any]], ...] = (
    ("summary", "Summary", _summary),
    ("alignment", "Alignment", alignment_view),
    ("strikes", "Repeatability", lambda look: strikes_view(look, _finding(look, "repeatability"))),
    ("mono", "Mono", mono_view),
    ("low", "Low end", low_view),
    ("level", "Level", _level),
    ("keys", "Keys", _keys),
    ("rooms", "Rooms", rooms_view),
    ("neighbours", "Neighbours", lambda look: neighbours_view(look, _finding(look, "kick-clash"))),
    ("reference", "Reference", reference_view),
    ("set", "Whole set", _whole_set),
)
"""Word, name, and the function that builds its view."""


def _shown(look: CheckContext, topic: str, begun: int) -> int:
    """The version that a topic shows. Topics that show findings may be older than what was asked for."""
    if topic in ("summary", "level"):
        return look.measured.version if look.measured is not None else -1
    return begun


def _topic_of(word: str) -> tuple[str, str, Callable[[CheckContext], Any]]:
    return next((t for t in TOPICS if t[0] == word), TOPICS[0])


def topics_of(open_patch: OpenPatch, asked: Selection) -> tuple[Topic, ...]:
    """All topics with what is known of them, and the selected one."""
    measured, shown = open_patch.measuring.measured, _topic_of(asked.topic)[0]
    found = []
    for word, name, _ in TOPICS:
        own = [f.verdict for f in (measured.findings if measured is not None else ()) if TOPIC_OF.get(f.check) == word]
        worst = max(own, key=lambda v: WORSE[v], default="")
        found.append(Topic(word, name, worst if worst != "holds" else "", word == shown))
    return tuple(found)


def checks_view(desk: Desk, open_patch: OpenPatch, asked: Selection, fresh: bool) -> ChecksView:
    """The selected topic. ``fresh``: it may wait for slow parts."""
    look = CheckContext(desk, open_patch, asked, fresh)
    begun = open_patch.version
    topic, _, draw = _topic_of(asked.topic)
    it = draw(look)
    patch = open_patch.patch
    return ChecksView(
        topic=topic,
        topics=topics_of(open_patch, asked),
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
        version=_shown(look, topic, begun),
    )


__all__ = ["TOPICS", "ChecksView", "checks_view", "fields_of", "foreseen", "set_view", "span_of", "topics_of"]
