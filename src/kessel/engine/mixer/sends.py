"""Levels of the sends to the returns."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ...patch import SILENT_DB, ControlPath, Patch, Send
from ..modulation import ModulationValues, SmoothedParameter, as_gain, gain_of, parameter_of

Gain = NDArray[np.float32]


class Sends:
    """The moved sends of one layer or of the worked path. Unmoved sends are part of a placement."""

    def __init__(self, place: str) -> None:
        self.place = place
        self._own: dict[str, SmoothedParameter] = {}

    def update(self, sends: list[Send]) -> None:
        """Apply new control values."""
        for send in sends:
            if send.id in self._own:
                self._own[send.id].turn(send.level)
            else:
                self._own[send.id] = parameter_of(send, "level", as_gain)
        kept = {s.id for s in sends}
        self._own = {i: k for i, k in self._own.items() if i in kept}

    @property
    def parameters(self) -> dict[str, SmoothedParameter]:
        """Parameters by path."""
        return {f"{self.place}.{i}.level": k for i, k in self._own.items()}

    def moved(self, movers: ModulationValues) -> dict[str, Gain]:
        """Gains of the moved sends over the quantum, (QUANTUM,), by return."""
        return {i: k.value(movers).astype(np.float32) for i, k in self._own.items() if k.movements}


def moved_sends(patch: Patch, place: str) -> set[str]:
    """Ids of the returns whose sends from a place are moved."""
    found = (
        ControlPath(m.target).steps for m in patch.movements if not m.lost and ControlPath(m.target).is_below(place)
    )
    return {steps[-2] for steps in found if steps[-1] == "level"}


def still_sends(patch: Patch, place: str, sends: list[Send]) -> dict[str, float]:
    """Gains of the unmoved sends by return, without silent ones."""
    moved = moved_sends(patch, place)
    return {s.id: gain_of(s.level) for s in sends if s.id not in moved and s.level > SILENT_DB}


def feeds_alike(before: Patch, after: Patch) -> bool:
    """Whether the same returns receive something in two versions of a patch."""
    lists = ((x.sends, x.movements, x.returns, *(y.sends for y in x.layers)) for x in (before, after))
    one, other = lists
    if len(one) == len(other) and all(x is y for x, y in zip(one, other, strict=True)):
        return True
    return fed(before) == fed(after)


def fed(patch: Patch) -> list[str]:
    """Ids of the returns that receive anything, in order."""
    places = [("sends", patch.sends)] + [(f"layers.{x.id}.sends", x.sends) for x in patch.layers]
    goes: set[str] = set()
    for place, sends in places:
        goes |= moved_sends(patch, place) | set(still_sends(patch, place, list(sends)))
    return [r.id for r in patch.returns if r.on and r.id in goes]
