"""All checks in a table, their limits, and the verdicts over the history."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ....checks import UNJUDGED, WORSE, Finding, Limits
from ....checks.playback import InRoom, playable
from ....desk import limit_title, limit_words
from ....patch import note_name
from ..evidence import Spot, spot_of
from .look import CheckContext
from .rooms import words_of

_GROUPS: tuple[tuple[str, tuple[str, ...]], ...] = (
    ("Layers add up", ("layers-add-up",)),
    ("Beats", ("beats",)),
    ("Repeatability", ("repeatability",)),
    ("Lows in mono", ("lows-in-mono",)),
    ("Mono, all frequencies", ("mono-loss",)),
    ("Fundamental", ("hollow", "fundamental-shut")),
    ("Harmonic balance", ("thin",)),
    ("Rumble", ("rumble",)),
    ("Kick", ("kick-clash",)),
    ("Peak level", ("output-peak",)),
    ("DC offset", ("dc-offset",)),
    ("Loudness", ("loudness",)),
    ("Masked layers", ("masked",)),
    ("Stages", ("stage-clips", "resonance-clips", "folds-back", "stage-idles", "crest-lost")),
    ("Wet lows", ("wet-lows", "lows-pump")),
    ("Movement", ("idle-movement", "short-notes", "restarts", "loop-jump", "movement-flattened")),
)
_STEPS = 60


@dataclass(frozen=True)
class CheckRow:
    """One check. spot: where its evidence is."""

    name: str
    verdict: str
    text: str
    spot: Spot
    limit_name: str = ""
    limit_title: str = ""
    limit: str = ""
    more: int = 0


@dataclass(frozen=True)
class VerdictStep:
    """One step of the history with its verdicts, row by row: fails, look, holds, or unknown."""

    id: int
    label: str
    marks: tuple[str, ...]
    now: bool


@dataclass(frozen=True)
class SummaryView:
    """The summary. tracks: names of the rows of the history. limits: all of the set's, on request."""

    verdict: str
    answer: str
    rows: tuple[CheckRow, ...]
    steps: tuple[VerdictStep, ...]
    tracks: tuple[str, ...]
    limits: tuple[tuple[str, str, str, bool], ...] = ()


def _row(name: str, checks: tuple[str, ...], found: list[Finding], look: CheckContext) -> CheckRow:
    if not found:
        return CheckRow(name, "", UNJUDGED.get(checks[0], "nothing to judge"), spot_of(checks[0]))
    f = max(found, key=lambda f: WORSE[f.verdict])
    more = sum(g.verdict == f.verdict for g in found) - 1
    title = f"{f.title}: {f.text}" if f.verdict != "holds" or len(found) == 1 else f.text
    limit = limit_words(look.limits, f.limit_name) if f.limit_name else ""
    called = limit_title(f.limit_name) if f.limit_name else f.limit_text
    return CheckRow(name, f.verdict, title, spot_of(f.check, f.where), f.limit_name, called, limit, more)


def _history(look: CheckContext, rows: tuple[str, ...]) -> tuple[VerdictStep, ...]:
    kept = look.desk.library.checks.verdicts(look.open_patch.slug)
    steps = [s for s in look.open_patch.steps(_STEPS) if not s.undone]
    slugs = dict(_GROUPS)
    found = []
    for step_id, label in [(0, "Start"), *((s.id, s.label) for s in steps)]:
        verdicts = kept.get(step_id)
        marks = []
        for name in rows:
            own = [verdicts[c] for c in slugs[name] if c in verdicts] if verdicts is not None else []
            marks.append(max(own, key=lambda v: WORSE[v]) if own else "holds" if verdicts is not None else "")
        found.append(VerdictStep(step_id, label, tuple(marks), False))
    return tuple(s if n < len(found) - 1 else VerdictStep(s.id, s.label, s.marks, True) for n, s in enumerate(found))


def _asked_for(look: CheckContext) -> tuple[CheckRow, ...]:
    """What is measured on request only, as far as it is known of this version. No check counts it."""
    keys = look.open_patch.checking.sweep.keys_of(look.patch)
    if keys:
        span = playable(keys, look.limits)
        struck = f"{note_name(keys[0].pitch)} to {note_name(keys[-1].pitch)}"
        whole = span == (keys[0].pitch, keys[-1].pitch)
        said = "none of them" if span is None else f"{note_name(span[0])} to {note_name(span[1])}"
        over = CheckRow("Keys", "holds" if whole else "look", f"Playable: {said}, of {struck}", Spot("keys"))
    else:
        over = CheckRow("Keys", "", "not measured yet", Spot("keys"))
    rooms: list[InRoom] | None = look.open_patch.known("rooms", **words_of(look.desk.library.checks.rooms()))
    if rooms is None:
        return over, CheckRow("Rooms", "", "not measured yet", Spot("rooms"))
    told = [r for r in rooms if r.carried is not None]
    lost = [r for r in told if r.carried is not None and r.carried < 0.999]
    text = f"The pitch is clear in {len(told) - len(lost)} of {len(rooms)} rooms"
    if lost:
        text += f"; it is lost in {', '.join(r.room.name for r in lost)}"
    return over, CheckRow("Rooms", "look" if lost else "holds" if told else "", text, Spot("rooms"))


def summary_view(look: CheckContext) -> SummaryView:
    """The summary of the newest findings."""
    measured = look.measured
    found = measured.findings if measured is not None else ()
    rows = tuple(_row(name, checks, [f for f in found if f.check in checks], look) for name, checks in _GROUPS)
    verdict, answer = _answer(rows) if measured is not None else ("", "")
    steps, shown = _tracks(look)
    # checks with nothing to judge go below those that were or can be measured
    ordered = (*(r for r in rows if r.verdict), *_asked_for(look), *(r for r in rows if not r.verdict))
    return SummaryView(verdict, answer, ordered, steps, shown, _limits(look))


def _answer(rows: Sequence[CheckRow]) -> tuple[str, str]:
    """The verdict on all checks, and its text."""
    fails = [r.name.lower() for r in rows if r.verdict == "fails"]
    looks = sum(r.verdict == "look" for r in rows)
    judged = sum(bool(r.verdict) for r in rows)
    if fails:
        return "fails", f"Fails: {' and '.join(fails[:3])}. {judged - len(fails)} of {judged} checks hold."
    if looks:
        return "look", f"No check fails; {looks} of {judged} checks {'is' if looks == 1 else 'are'} worth a look."
    return "holds", f"All {judged} checks hold."


def _tracks(look: CheckContext) -> tuple[tuple[VerdictStep, ...], tuple[str, ...]]:
    """The verdicts over the history, and the names of the checks that did not always hold: only those are drawn."""
    known = tuple(name for name, _ in _GROUPS)
    steps = _history(look, known)
    drawn = [i for i in range(len(known)) if any(s.marks[i] in ("fails", "look") for s in steps)]
    kept = tuple(VerdictStep(s.id, s.label, tuple(s.marks[i] for i in drawn), s.now) for s in steps)
    return kept, tuple(known[i] for i in drawn)


def _limits(look: CheckContext) -> tuple[tuple[str, str, str, bool], ...]:
    """Name, title and text of every limit, and whether it is the set's own. Only if they are shown."""
    if look.asked.pick != "limits":
        return ()
    plain = Limits()
    return tuple(
        (n, limit_title(n), limit_words(look.limits, n), getattr(look.limits, n) != getattr(plain, n))
        for n in Limits.model_fields
    )
