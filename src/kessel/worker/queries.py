"""Queries that the worker answers, by name. Each takes its arguments as JSON and returns plain data."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from ..checks import Evidence, Finding, Limits, check, details, next_cure, with_harms
from ..checks.levels import level_detail
from ..checks.lows import mono_detail
from ..checks.pairs import plan_align
from ..checks.playback import compare, in_rooms, kick_alone, neighbours, over_loop, strike, strike_keys
from ..engine import CancelToken, RenderCache, Track, audio_of, loop_track, recording_of, render_loop
from ..formats import load_patch
from ..measure import fitted_to
from ..patch import Patch, Room, ValueProblem
from .picture import axis


@dataclass
class LastMeasurement:
    """The last measurement, for further queries about it."""

    evidence: Evidence | None = None
    limits: Limits | None = None
    findings: list[Finding] | None = None


@dataclass(frozen=True)
class Work:
    """The arguments of a query."""

    patch: Patch
    limits: Limits
    takes: RenderCache
    stop: CancelToken
    kept: LastMeasurement = field(default_factory=LastMeasurement)

    def evidence(self) -> Evidence:
        """The evidence of the patch, without fixes. The last measurement is reused."""
        known = self.kept.evidence
        if known is not None and known.patch == self.patch:
            known.stop, known.seeks = self.stop, False
            return known
        return Evidence(self.patch, self.takes, self.stop, seeks=False)


def _pairs(w: Work, words: dict[str, Any]) -> Any:
    return details.pair_details(w.evidence(), w.limits)


def _align(w: Work, words: dict[str, Any]) -> Any:
    return plan_align(w.evidence(), w.limits, words.get("key"))


def _strikes(w: Work, words: dict[str, Any]) -> Any:
    return strike(w.patch, w.limits, w.takes, w.stop)


def _mono(w: Work, words: dict[str, Any]) -> Any:
    return mono_detail(w.evidence(), w.limits)


def _low(w: Work, words: dict[str, Any]) -> Any:
    return details.low_detail(w.evidence(), w.limits)


def _level(w: Work, words: dict[str, Any]) -> Any:
    return level_detail(w.evidence())


def _rooms(w: Work, words: dict[str, Any]) -> Any:
    return in_rooms(w.evidence(), [Room.model_validate(r) for r in words["rooms"]], axis())


def _keys(w: Work, words: dict[str, Any]) -> Any:
    return strike_keys(w.patch, words["keys"], w.limits, w.takes, w.stop)


def _neighbour(w: Work, words: dict[str, Any]) -> Any:
    """words: the neighbour's ``word`` and ``called``, its name. Another patch comes with its text."""
    kind, _, own = words["word"].partition(":")
    if kind == "kick":
        track = kick_alone(w.patch)
    elif kind == "loop":
        loop = next((p for p in w.patch.backing.loops if p.id == own), None)
        x = audio_of(loop.audio) if loop is not None else None
        if loop is None or x is None:
            raise ValueProblem("the audio of this loop is not there: import it again")
        track = loop_track(loop.id, x * 10.0 ** (loop.level / 20.0), loop.tempo, w.patch.tempo, loop.offset)
    else:
        other = load_patch(words["text"]).model_copy(update={"tempo": w.patch.tempo})
        x = render_loop(other, w.takes, w.stop).sum * 10.0 ** (words.get("level", 0.0) / 20.0)
        track = Track("other", x.astype(np.float32), other.phrase.beats)
    e = w.evidence()
    return neighbours(e, words["called"], over_loop(e, track), w.limits, kick=kind == "kick")


def _reference(w: Work, words: dict[str, Any]) -> Any:
    x = recording_of(words["audio"])
    if x is None:
        raise ValueProblem("the reference's audio is not there: import it again")
    return compare(w.evidence(), fitted_to(x, words["start"], words["seconds"]), words["tempo"], axis())


def _set(w: Work, words: dict[str, Any]) -> Any:
    """Findings of the patch and of others, which come with their texts; for each of them, or why there are none."""

    def judged(patch: Patch) -> tuple[Finding, ...] | str:
        try:
            return tuple(check(Evidence(patch, w.takes, w.stop, seeks=False), w.limits))
        except ValueProblem as problem:
            return str(problem)

    return w.takes.each([w.patch, *map(load_patch, words["others"])], judged, w.stop)


def _with_fixes(w: Work) -> tuple[Evidence, list[Finding]]:
    """The findings with their fixes. The last ones are reused."""
    e = w.evidence()
    if w.kept.evidence is e and w.kept.limits == w.limits and w.kept.findings is not None:
        return e, w.kept.findings
    e.seeks = True
    found = check(e, w.limits)
    if w.kept.evidence is e and w.kept.limits == w.limits:
        w.kept.findings = found
    return e, found


def _fixes(w: Work, words: dict[str, Any]) -> Any:
    return tuple(_with_fixes(w)[1])


def _harms(w: Work, words: dict[str, Any]) -> Any:
    e, found = _with_fixes(w)
    return tuple(with_harms(found, e, w.limits))


def _cure(w: Work, words: dict[str, Any]) -> Any:
    first = Evidence(load_patch(words["first"]), w.takes, w.stop, seeks=False)
    return next_cure(Evidence(w.patch, w.takes, w.stop), w.limits, w.stop, first)


QUERIES: dict[str, Callable[[Work, dict[str, Any]], Any]] = {
    "pairs": _pairs,
    "align": _align,
    "strikes": _strikes,
    "mono": _mono,
    "low": _low,
    "level": _level,
    "rooms": _rooms,
    "keys": _keys,
    "neighbour": _neighbour,
    "reference": _reference,
    "set": _set,
    "fixes": _fixes,
    "harms": _harms,
    "cure": _cure,
}


LONG = ("fixes", "harms", "keys", "set", "cure")
"""Queries that are long, and during which their user goes on working."""

UNASKED = ("fixes", "harms")
"""Those of them that start by themselves, once nothing has been edited for a while."""


def answer(name: str, words: dict[str, Any], work: Work) -> Any:
    """The answer to a query. Raises KeyError, ValueProblem or RenderCancelled."""
    return QUERIES[name](work, words)
