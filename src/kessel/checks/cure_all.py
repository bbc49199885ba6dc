"""Cure all: the worst finding, its best cure, check again, until all holds or nothing helps.

Every step lowers (failing findings, findings worth a look, the sum of what is missing), in that order. Nothing else
pays for it: no note's fundamental falls, also not below that of the first patch unless a peak was too high, nor do the
lows by more than 1.5 dB in stereo or mono, and no third octave above twice the lows' edge changes by more than 1 dB.
Fixes that change the sound by intent (detune, offset, unison, a mode, a movement) are offered singly, and never taken
here. What was accepted as wanted is left alone.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..engine import CancelToken, RenderCache, RenderCancelled
from ..measure import third_octaves
from ..patch import MINUS, ControlPath, Edit, Patch, apply
from .check import Check, check_by_check, fixes_of
from .evidence import BUSES, SUM, Evidence
from .finding import WORSE, Finding, Limits
from .honesty import band_levels, costs_lows, heard_bands, lows_lost, turns_evenly
from .matching import settling

MOST_STEPS = 12
_MOST_MISSING = 12.0
_FALLS_DB = 0.2
"""What is measured of a fundamental may differ by so much from one rendering to the next."""
_BAND_DB = 1.0
_CHARACTER = {
    "cents", "fine", "offset", "drift", "semitones", "ratio", "copies", "detune", "unison", "spread", "phases",
    "mode", "type", "curve", "amount", "start", "random_range",
}  # fmt: skip
"""Last steps of paths that change the sound's character by intent."""
_RESTARTS = ("retrigger", "note")


@dataclass(frozen=True)
class Applied:
    """A fix that was applied: the check, its label and edits, and the figure before and after."""

    check: str
    title: str
    label: str
    edits: tuple[Edit, ...]
    before: float | None
    after: float | None
    unit: str

    @property
    def lowers_all(self) -> bool:
        """Whether it took a peak down: what is lower by that is not paid with, so the next steps begin there."""
        return self.check == "output-peak"

    @property
    def words(self) -> str:
        """The row as text."""
        if self.before is None or self.after is None:
            return self.label
        return f"{self.label}: {self.before:.1f} to {self.after:.1f} {self.unit}".replace("-", MINUS)

    def plain(self) -> dict[str, object]:
        """The row as JSON data."""
        return {"check": self.check, "label": self.label, "before": self.before, "after": self.after}


@dataclass(frozen=True)
class Cured:
    """What Cure all did. findings: of the patch as it leaves it."""

    patch: Patch
    applied: tuple[Applied, ...]
    findings: tuple[Finding, ...]


def score(findings: Sequence[Finding]) -> tuple[int, int, float]:
    """Failing findings, findings worth a look, and what is missing in all, at most 12 dB of each."""
    fails = sum(f.verdict == "fails" for f in findings)
    looks = sum(f.verdict == "look" for f in findings)
    missing = sum(
        min(f.missing(f.value), _MOST_MISSING) for f in findings if f.verdict != "holds" and f.value is not None
    )
    return fails, looks, round(missing, 2)


def is_character(edits: Sequence[Edit]) -> bool:
    """Whether edits change the sound's character by intent. Restarting a source or a mover with each note does not."""
    return any(ControlPath(e.path).name in _CHARACTER and e.value not in _RESTARTS for e in edits)


def pays(e: Evidence, after: Evidence, limits: Limits) -> bool:
    """Whether lows or character pay for an edit."""
    # what turns all up or down alike takes nothing from anything
    if turns_evenly(e, after):
        return False
    high = np.array([c for c, _, _ in third_octaves()]) > 2.0 * limits.low_hz
    change = np.abs(band_levels(after) - band_levels(e))
    return bool(np.any(change[heard_bands(e) & high] > _BAND_DB)) or any(_falls(e, after, BUSES))


def _falls(e: Evidence, after: Evidence, where: str) -> Iterator[bool]:
    """Whether the fundamental of each note falls, in the output (SUM) or before its stage (BUSES)."""
    for note in e.notes:
        ratio = e.base_ratio(note)
        if ratio is None:
            continue
        hz = e.note_hz(note, ratio)

        was, now = (_level(x.partials(where, note, hz, 8, 0.0)) for x in (e, after))
        yield now < was * 10.0 ** (-_FALLS_DB / 20.0)


def _level(frames: NDArray[np.complex128]) -> float:
    """RMS amplitude of the first partial of frames, (frames, partials)."""
    return float(np.sqrt(np.square(np.abs(frames[:, 0])).mean())) if frames.shape[0] else 0.0


def cure_all(
    patch: Patch,
    limits: Limits | None = None,
    takes: RenderCache | None = None,
    stop: CancelToken | None = None,
) -> Cured:
    """Cure a patch as far as it goes. Raises RenderCancelled."""
    limits, stop = limits or Limits(), stop or CancelToken()
    e = first = Evidence(patch, takes, stop, False)
    applied: list[Applied] = []
    found = check_by_check(e, limits, stop)
    while len(applied) < MOST_STEPS:
        step = _step(e, found, limits, stop, first)
        if step is None:
            break
        row, e, found = step
        applied.append(row)
        if row.lowers_all:
            first = e
    return Cured(e.patch, tuple(applied), tuple(f for _, f in found))


def next_cure(e: Evidence, limits: Limits, stop: CancelToken, first: Evidence) -> Applied | None:
    """The next step of Cure all, which began with ``first``. None if nothing helps. Raises RenderCancelled."""
    step = _step(e, check_by_check(e, limits, stop), limits, stop, first)
    return step[0] if step is not None else None


_Found = list[tuple[Check, Finding]]


def _step(
    e: Evidence, found: _Found, limits: Limits, stop: CancelToken, first: Evidence
) -> tuple[Applied, Evidence, _Found] | None:
    """The first fix that makes things better at nobody's cost, with what holds after it. None if there is none.

    The fixes of a finding are sought when its turn comes, the worst first.
    """
    before = score([f for _, f in found])
    bad = [(ask, f) for ask, f in found if f.verdict != "holds" and not f.wanted]
    for ask, f in sorted(bad, key=lambda x: (-WORSE[x[1].verdict], -_missing(x[1]))):
        for fix in fixes_of(e, ask, f, limits):
            if stop.asked:
                raise RenderCancelled
            if is_character(fix.edits):
                continue
            edits = (*fix.edits, *settling(e.patch, fix.edits, e.takes, stop))
            after = Evidence(apply(e.patch, edits), e.takes, stop, False)
            then = check_by_check(after, limits, stop)
            if score([x for _, x in then]) >= before or pays(e, after, limits):
                continue
            if costs_lows(lows_lost(e, after, fix.edits, limits)):
                continue
            # only a peak that is too high may take the fundamentals below what they were at first
            if f.check != "output-peak" and any(_falls(first, after, SUM)):
                continue
            again = next((x for _, x in then if x.key == f.key), None)
            row = Applied(f.check, f.title, fix.label, edits, f.value, again.value if again else None, f.unit)
            return row, after, then
    return None


def _missing(f: Finding) -> float:
    return f.missing(f.value) if f.value is not None else 0.0
