"""Which fixes are offered: those that cure a finding, or take away a third of what is missing, and what they cost."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import replace

from ..patch import Edit
from .evidence import Evidence
from .finding import Finding, Fix, Limits

_HELPS = 1.0 / 3.0
_SAID_DB = 1.5
"""A fix that takes more of the lows says so."""
_TOO_MUCH_DB = 6.0
"""A fix that takes more of the lows is none."""
_LOWEST_HZ = 20.0


def honest(finding: Finding) -> Finding:
    """The finding with the fixes that are: cures first, then those that take away a third of what is missing."""
    if finding.verdict == "holds" or finding.value is None:
        return finding
    gap = finding.missing(finding.value)
    left = [(x, 0.0 if x.after is None else finding.missing(x.after)) for x in finding.fixes]
    cures = [x for x, missing in left if missing <= 1e-9]
    helps = [replace(x, helps=True) for x, missing in left if 1e-9 < missing <= (1.0 - _HELPS) * gap]
    return replace(finding, fixes=(*cures, *helps))


def costly_last(fixes: Iterable[Fix]) -> tuple[Fix, ...]:
    """Fixes that cost something stand last; each group keeps its order."""
    return tuple(sorted(fixes, key=lambda x: bool(x.harms)))


def lows_lost(e: Evidence, after: Evidence, edits: Sequence[Edit], limits: Limits) -> float:
    """How many dB of the lows an edit takes, in stereo or in mono, whichever loses more.

    What only turns the output up or down takes none: all else falls with them.
    """
    if all(x.path.startswith("output.") and x.path != "output.mono_below" for x in edits):
        return 0.0
    was, now = e.sum.spectrum, after.sum.spectrum
    lost = []
    for what in ("both", "mid"):
        a, b = (s.power(_LOWEST_HZ, limits.low_hz, what) for s in (was, now))
        if a > 1e-12:
            lost.append(10.0 * math.log10(a / max(b, 1e-14)))
    return max(lost, default=0.0)


def costs_lows(lost: float) -> bool:
    """Whether the lows that a fix takes are worth saying."""
    return lost > _SAID_DB


def cost_in_lows(lost: float, limits: Limits) -> tuple[str, ...]:
    """The cost as text, if it is worth saying."""
    said = f"It takes {lost:.1f} dB of all below {limits.low_hz:.0f} Hz"
    return (said,) if costs_lows(lost) else ()


def is_no_cure(lost: float) -> bool:
    """Whether a fix takes so much of the lows that it is none."""
    return lost > _TOO_MUCH_DB
