"""Which fixes are offered: those that cure a finding, or take away a third of what is missing, and what they cost."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from ..measure import third_octaves
from ..patch import ControlPath, Edit, NoSuchPath, Patch, declaration
from .evidence import Evidence
from .finding import Finding, Limits

_HELPS = 1.0 / 3.0
_SAID_DB = 1.5
"""A fix that takes more of the lows says so."""
_SAID_LU = 1.0
"""A fix that changes the loudness by more says so."""
_TOO_MUCH_DB = 6.0
"""A fix that takes more of the lows is none."""
_LOWEST_HZ = 20.0
_EVEN_DB = 0.3
_QUIET_DB = 40.0


def honest(finding: Finding, patch: Patch) -> Finding:
    """The finding with the fixes that are: cures first, then those that take away a third of what is missing.

    The simplest cure first: what only undoes something before what adds something, one control before four.
    """
    if finding.verdict == "holds" or finding.value is None:
        return finding
    gap = finding.missing(finding.value)
    left = [(x, 0.0 if x.after is None else finding.missing(x.after)) for x in finding.fixes]
    cures = [x for x, missing in left if missing <= 1e-9]
    helps = [replace(x, helps=True) for x, missing in left if 1e-9 < missing <= (1.0 - _HELPS) * gap]
    return replace(finding, fixes=(*sorted(cures, key=lambda x: _effort(patch, x.edits)), *helps))


def _effort(patch: Patch, edits: Sequence[Edit]) -> tuple[int, int]:
    """How many controls an edit takes away from their defaults, and how many it turns. Start phases count as one."""
    turned = {x.path if ControlPath(x.path).name != "phase" else "phase": _adds(patch, x) for x in edits}
    return sum(turned.values()), len(turned)


def _adds(patch: Patch, edit: Edit) -> bool:
    try:
        return bool(edit.value != declaration(patch, edit.path).default)
    except NoSuchPath:
        return True


def lows_lost(e: Evidence, after: Evidence, edits: Sequence[Edit], limits: Limits) -> float:
    """How many dB of the lows an edit takes, in stereo or in mono, whichever loses more.

    What only turns the sum up or down, or limits it, takes none: all else falls with them.
    """
    limits_sum = all(x.path.startswith("output.") and x.path != "output.mono_below" for x in edits)
    if limits_sum or turns_evenly(e, after):
        return 0.0
    was, now = e.sum.spectrum, after.sum.spectrum
    lost = []
    for what in ("both", "mid"):
        a, b = (s.power(_LOWEST_HZ, limits.low_hz, what) for s in (was, now))
        if a > 1e-12:
            lost.append(10.0 * math.log10(a / max(b, 1e-14)))
    return max(lost, default=0.0)


def turns_evenly(e: Evidence, after: Evidence) -> bool:
    """Whether an edit turns all that is heard up or down alike."""
    heard, change = heard_bands(e), band_levels(after) - band_levels(e)
    return bool(heard.any()) and float(np.ptp(change[heard])) < _EVEN_DB


def band_levels(e: Evidence) -> NDArray[np.float64]:
    """Levels of the third octaves of the sum in dB."""

    def made() -> NDArray[np.float64]:
        power = [e.sum.spectrum.power(low, high) for _, low, high in third_octaves()]
        return np.asarray(10.0 * np.log10(np.maximum(power, 1e-14)))

    return e.once("band levels", made)


def heard_bands(e: Evidence) -> NDArray[np.bool_]:
    """The third octaves that are heard: within 40 dB of the loudest."""
    bands = band_levels(e)
    return np.asarray(bands > bands.max() - _QUIET_DB)


def costs_lows(lost: float) -> bool:
    """Whether the lows that a fix takes are worth saying."""
    return lost > _SAID_DB


def change_in_loudness(e: Evidence, after: Evidence) -> float:
    """By how many LU a fix makes the loop louder. 0 if that is not worth saying."""
    was, now = e.sum.loudness.integrated, after.sum.loudness.integrated
    return 0.0 if was is None or now is None or abs(now - was) <= _SAID_LU else round(now - was, 1)


def cost_in_lows(lost: float, limits: Limits) -> tuple[str, ...]:
    """The cost as text, if it is worth saying."""
    said = f"It takes {lost:.1f} dB of all below {limits.low_hz:.0f} Hz"
    return (said,) if costs_lows(lost) else ()


def is_no_cure(lost: float) -> bool:
    """Whether a fix takes so much of the lows that it is none."""
    return lost > _TOO_MUCH_DB
