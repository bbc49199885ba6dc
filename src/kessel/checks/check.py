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
from .finding import WORSE, Finding, Limits
from .levels import loud_enough, output_peak
from .lows import hollow, lows_in_mono, mono_loss, rumble, thin
from .movement import idle_movement, loop_jump, restarts, short_notes
from .pairs import layers_add_up
from .playback import kick_clash, repeatability

CHECKS: tuple[Callable[[Evidence, Limits], list[Finding]], ...] = (
    layers_add_up,
    repeatability,
    lows_in_mono,
    hollow,
    thin,
    rumble,
    output_peak,
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


def check(
    patch: Patch | Evidence,
    limits: Limits | None = None,
    takes: RenderCache | None = None,
    stop: CancelToken | None = None,
) -> list[Finding]:
    """The findings of a patch, worst first, then in the order of the checks. Raises RenderCancelled."""
    e = patch if isinstance(patch, Evidence) else Evidence(patch, takes, stop)
    found: list[Finding] = []
    for ask in CHECKS:
        if stop is not None and stop.asked:
            raise RenderCancelled
        found.extend(ask(e, limits or Limits()))
    return sorted(found, key=lambda f: -WORSE[f.verdict])


def with_harms(found: Sequence[Finding], e: Evidence, limits: Limits | None = None) -> list[Finding]:
    """The findings, each fix with the titles of the findings that it makes worse. Raises RenderCancelled."""
    before = {f.key: WORSE[f.verdict] for f in found}
    known: dict[str, tuple[str, ...]] = {}

    def harms(finding: Finding, edits: tuple[Edit, ...]) -> tuple[str, ...]:
        # values may be lists, which are not hashable
        word = repr(edits)
        if word not in known:
            after = check(e.with_edits(edits), limits, stop=e.stop)
            known[word] = tuple(
                f"{f.title}: {f.text}"
                for f in after
                if f.key != finding.key and WORSE[f.verdict] > before.get(f.key, 0)
            )
        return known[word]

    return [
        replace(f, fixes=tuple(replace(x, harms=harms(f, x.edits)) for x in f.fixes)) if f.verdict != "holds" else f
        for f in found
    ]
