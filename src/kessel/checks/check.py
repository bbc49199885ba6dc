"""All checks of a patch."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace

from ..engine import CancelToken, RenderCache, RenderCancelled
from ..patch import Edit, Patch
from .chains import (
    crest_lost,
    folds_back,
    fundamental_shut,
    lows_pump,
    movement_flattened,
    resonance_clips,
    stage_clips,
    stage_idles,
    wet_lows,
)
from .evidence import Evidence
from .finding import WORSE, Finding, Fix, Limits
from .honesty import change_in_loudness, cost_in_lows, honest, is_no_cure, lows_lost
from .levels import dc_offset, loud_enough, masked, output_peak
from .lows import hollow, lows_in_mono, mono_loss, rumble, thin, unheard_pitch
from .movement import idle_movement, loop_jump, restarts, short_notes
from .pairs import layers_add_up, lows_beat
from .playback import kick_clash, repeatability

CHECKS: tuple[Callable[[Evidence, Limits], list[Finding]], ...] = (
    layers_add_up,
    lows_beat,
    repeatability,
    lows_in_mono,
    hollow,
    thin,
    rumble,
    unheard_pitch,
    output_peak,
    dc_offset,
    masked,
    mono_loss,
    loud_enough,
    kick_clash,
    fundamental_shut,
    resonance_clips,
    idle_movement,
    short_notes,
    restarts,
    loop_jump,
    stage_clips,
    wet_lows,
    lows_pump,
    folds_back,
    stage_idles,
    crest_lost,
    movement_flattened,
)


UNJUDGED: dict[str, str] = {
    "layers-add-up": "No two layers or sources share a pitch below 500 Hz while both are heard",
    "beats": "No note plays a pitch that is heard",
    "repeatability": "No note plays a pitch that is heard",
    "lows-in-mono": "There is no sound below the lows' edge",
    "mono-loss": "There is no sound",
    "hollow": "No note plays a pitch that is heard",
    "thin": "Fewer than two keys are played",
    "rumble": "There is no sound between the room's floor and 120 Hz",
    "kick-clash": "The backing plays no kick",
    "output-peak": "There is no sound",
    "loudness": "There is too little sound for a loudness",
    "stage-clips": "No stage or effect is over its clip point, idle, or takes crest",
    "wet-lows": "No effect adds wet sound or pumping to the lows",
    "idle-movement": "Nothing moves without effect, and no note ends before it opens",
    "masked": "Fewer than two layers are heard",
}
"""Why a check has no finding."""


def check(
    patch: Patch | Evidence,
    limits: Limits | None = None,
    takes: RenderCache | None = None,
    stop: CancelToken | None = None,
) -> list[Finding]:
    """The findings of a patch, worst first, then in the order of the checks. Raises RenderCancelled."""
    e = patch if isinstance(patch, Evidence) else Evidence(patch, takes, stop)
    return sorted((f for _, f in check_by_check(e, limits or Limits(), stop)), key=lambda f: -WORSE[f.verdict])


Check = Callable[[Evidence, Limits], list[Finding]]


def check_by_check(e: Evidence, limits: Limits, stop: CancelToken | None = None) -> list[tuple[Check, Finding]]:
    """The findings of a patch, each with the check that made it. Raises RenderCancelled."""
    found = []
    for ask in CHECKS:
        if stop is not None and stop.asked:
            raise RenderCancelled
        found += [(ask, f) for f in accepted([honest(f, e.patch) for f in ask(e, limits)], e.patch)]
    return found


def fixes_of(e: Evidence, ask: Check, finding: Finding, limits: Limits) -> tuple[Fix, ...]:
    """The fixes of one finding, sought now."""
    before, e.seeks = e.seeks, True
    try:
        found = [honest(f, e.patch) for f in ask(e, limits) if f.key == finding.key]
    finally:
        e.seeks = before
    return found[0].fixes if found else ()


def accepted(findings: Sequence[Finding], patch: Patch) -> list[Finding]:
    """The findings, with those that the patch accepts as wanted at most worth a look."""
    reasons = {w.finding: w.reason for w in patch.wanted}
    return [
        replace(f, verdict="look" if f.verdict == "fails" else f.verdict, wanted=reasons[f.key])
        if f.key in reasons and f.verdict != "holds"
        else f
        for f in findings
    ]


def with_harms(found: Sequence[Finding], e: Evidence, limits: Limits | None = None) -> list[Finding]:
    """The findings, each fix with what it costs: findings that get worse, lows that are gone, another loudness.

    What costs no finding and no lows stands first. A fix that takes most of the lows is none. Raises RenderCancelled.
    """
    limits = limits or Limits()
    before = {f.key: WORSE[f.verdict] for f in found}
    # values may be lists, which are not hashable
    every = {repr(fix.edits): fix.edits for f in found if f.verdict != "holds" for fix in f.fixes}

    def tried(edits: tuple[Edit, ...]) -> tuple[list[Finding], float, float]:
        after = e.with_edits(edits)
        then = check(after, limits, stop=e.stop)
        return then, lows_lost(e, after, edits, limits), change_in_loudness(e, after)

    known = dict(zip(every, e.takes.each([*every.values()], tried, e.stop), strict=True))

    def costed(finding: Finding) -> tuple[Fix, ...]:
        fixes = []
        for fix in finding.fixes:
            after, lost, louder = known[repr(fix.edits)]
            worse = tuple(
                f"{f.title}: {f.text}"
                for f in after
                if f.key != finding.key and WORSE[f.verdict] > before.get(f.key, 0)
            )
            costs = (*worse, *cost_in_lows(lost, limits))
            if not is_no_cure(lost):
                fixes.append((bool(costs), replace(fix, harms=costs, louder=louder)))
        return tuple(fix for _, fix in sorted(fixes, key=lambda x: x[0]))

    return [replace(f, fixes=costed(f)) if f.verdict != "holds" else f for f in found]
