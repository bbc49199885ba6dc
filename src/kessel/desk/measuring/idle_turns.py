"""A control that was turned and changes nothing in the loop: measured, and told with the reason."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ...patch import ControlPath, Edit, NoSuchPath, Patch, ValueProblem, apply, get, sentence, walk, why_idle

HEARD_DB = -80.0
"""A difference below this, against the loudest sample of the loop, is none."""

_Loop = NDArray[np.float32]


class IdleTurns:
    """Compares each measured loop with the one before, if one control lies between them.

    words: what is told of the last turn. Empty if it is heard, or more than one control was turned.
    """

    def __init__(self) -> None:
        self.words = ""
        self._before: tuple[Patch, _Loop] | None = None

    def hear(self, patch: Patch, loop: _Loop) -> None:
        """Take the loop of a version whose level matches are settled, (2, n)."""
        before, self._before = self._before, (patch, loop)
        self.words = "" if before is None else idle_words(*before, patch, loop)


def idle_words(old: Patch, old_loop: _Loop, new: Patch, loop: _Loop) -> str:
    """What to tell if a single control was turned from one patch to the other and the loops are the same."""
    path = turned(old, new)
    if path is None or loop.shape != old_loop.shape:
        return ""
    # the gains of level matches are rounded: what is left of that is not what was turned
    matched = _gains(old) != _gains(new)
    if change_db(old_loop, _leveled(loop, old_loop) if matched else loop) > HEARD_DB:
        return ""
    reason = why_idle(new, path)
    turn = sentence(old, [Edit(path, get(new, path))])
    return f"{turn} changes nothing in this loop" + (f": {reason}" if reason else "")


def _gains(patch: Patch) -> list[object]:
    return [value for path, _, value in walk(patch) if ControlPath(path).name == "match"]


def _leveled(loop: _Loop, like: _Loop) -> _Loop:
    """The loop with the static gain, of 0.02 dB at most, that brings it nearest to another."""
    power = float(np.vdot(loop, loop))
    gain = float(np.vdot(loop, like)) / power if power > 0.0 else 1.0
    return loop * np.float32(gain) if abs(gain - 1.0) < 0.0023 else loop


def change_db(a: _Loop, b: _Loop) -> float:
    """The largest difference of two loops against the loudest sample, in dB."""
    top = max(float(np.abs(a).max(initial=0.0)), float(np.abs(b).max(initial=0.0)))
    away = float(np.abs(a - b).max(initial=0.0))
    return 20.0 * float(np.log10(away / top)) if away > 0.0 and top > 0.0 else -np.inf


def turned(old: Patch, new: Patch) -> str | None:
    """The one control in which two patches differ, apart from the gains of level matches. None if there is another."""
    a, b = ({path: value for path, _, value in walk(p)} for p in (old, new))
    if a.keys() != b.keys():
        return None
    found = [path for path, value in b.items() if value != a[path] and ControlPath(path).name != "match"]
    gains = {p: b[p] for p in b if ControlPath(p).name == "match"}
    return found[0] if len(found) == 1 and _only(old, new, {found[0]: b[found[0]]} | gains) else None


def _only(old: Patch, new: Patch, values: dict[str, object]) -> bool:
    """Whether nothing else differs, such as notes or points of a curve."""
    try:
        return apply(old, [Edit(path, value) for path, value in values.items()]) == new
    except (NoSuchPath, ValueProblem):
        return False
