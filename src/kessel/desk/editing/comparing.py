"""Comparison at equal loudness: without an item or a chain, or between two settings of a chain, blind if wanted."""

from __future__ import annotations

import random
from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Any

from ...checks import ChainLevels
from ...patch import ChainItem, ControlPath, Edit, Eq, Patch, ValueProblem, get, lookup

ROUNDS = 3
ALL = "all"
_GAIN = "compare-gain"


def _gain(db: float) -> Eq:
    """An item that is only a level."""
    return Eq(id=_GAIN, name="Level", matched=True, match=min(max(db, -60.0), 60.0))


def _with_chain(patch: Any, steps: Sequence[str], items: list[ChainItem]) -> Any:
    """A copy of a patch with another list of items at a place, without validation, as it is only heard."""
    first, rest = steps[0], steps[1:]
    if isinstance(patch, list):
        return [_with_chain(i, rest, items) if i.id == first else i for i in patch]
    new = _with_chain(getattr(patch, first), rest, items) if rest else items
    return patch.model_copy(update={first: new})


def chains_of(patch: Patch) -> list[str]:
    """Paths of all chains with items."""
    found = [f"layers.{x.id}.chain" for x in patch.layers if x.chain] + (["worked"] if patch.worked else [])
    return found + [f"returns.{r.id}.chain" for r in patch.returns if r.chain]


def without(patch: Patch, what: str, levels: ChainLevels) -> Patch:
    """The patch without an item, a chain or all chains, at equal loudness where that is defined.

    Raises ValueProblem if there is nothing of that name.
    """
    if what == ALL:
        for place in chains_of(patch):
            patch = without(patch, place, levels)
        return patch
    if what in chains_of(patch):
        items = list(get(patch, what))
        before, after = levels.at.get(what), levels.at.get(f"{what}.{items[-1].id}")
        gain = 0.0
        if before and after and before.loudness is not None and after.loudness is not None:
            gain = after.loudness - before.loudness
        return _heard(patch, what, [*(i.model_copy(update={"on": False}) for i in items), _gain(gain)])
    place, last = ControlPath(what).parent, ControlPath(what).name
    _, _, found = lookup(patch, what)
    items = list(get(patch, place))
    if getattr(found, "id", None) != last or not hasattr(found, "matched"):
        raise ValueProblem("there is nothing of that name to compare with")
    at = next(n for n, i in enumerate(items) if i.id == last)
    gain = levels.change(what) or 0.0
    return _heard(patch, place, [*items[:at], found.model_copy(update={"on": False}), _gain(gain), *items[at + 1 :]])


def _heard(patch: Patch, place: str, items: list[ChainItem]) -> Patch:
    made: Patch = _with_chain(patch, ControlPath(place).steps, items)
    return made


@dataclass
class Setting:
    """One setting of a chain, and the loudness of the loop behind it."""

    items: list[ChainItem]
    loudness: float | None


@dataclass
class BlindTest:
    """Three rounds of a blind test: which setting is first in each, and which was picked."""

    order: list[str]
    picks: list[str] = field(default_factory=list)

    @property
    def round(self) -> int:
        """The present round, from 1 on."""
        return len(self.picks) + 1

    @property
    def over(self) -> bool:
        """Whether all rounds are done."""
        return len(self.picks) >= ROUNDS

    def setting(self, which: str) -> str:
        """The setting behind the first ("1") or the second ("2")."""
        first = self.order[min(len(self.picks), ROUNDS - 1)]
        return first if which == "1" else ("B" if first == "A" else "A")


@dataclass
class SettingsPair:
    """Two settings of a chain, side by side."""

    settings: dict[str, Setting] = field(default_factory=dict)
    blind: BlindTest | None = None

    @property
    def whole(self) -> bool:
        """Whether both settings are stored."""
        return {"A", "B"} <= set(self.settings)

    def hold(self, which: str, patch: Patch, place: str, levels: ChainLevels) -> None:
        """Store the present chain as one of the two. Raises ValueProblem if it is no chain, or empty."""
        if place not in chains_of(patch):
            raise ValueProblem("store a setting of a chain that isn't empty")
        items = list(get(patch, place))
        last = levels.at.get(f"{place}.{items[-1].id}" if items else place)
        self.settings[which] = Setting(items, last.loudness if last else None)
        self.blind = None

    def begin(self) -> None:
        """Begin three rounds. Raises ValueProblem unless both settings are stored."""
        if not self.whole:
            raise ValueProblem("store two settings first, one as A and one as B")
        self.blind = BlindTest([random.choice("AB") for _ in range(ROUNDS)])

    def pick(self, which: str) -> None:
        """Pick the first ("1") or the second ("2") of this round as the better one."""
        if self.blind is None or self.blind.over:
            raise ValueProblem("there is no blind comparison: start one first")
        self.blind.picks.append(self.blind.setting(which))

    def heard(self, patch: Patch, place: str, which: str) -> Patch:
        """The patch with one of the settings, both equally loud. Raises ValueProblem if it is not stored."""
        name = self.blind.setting(which) if which in "12" and self.blind is not None else which
        if name not in self.settings:
            raise ValueProblem(f"nothing is stored as {name} yet")
        own = self.settings[name]
        known = [s.loudness for s in self.settings.values() if s.loudness is not None]
        gain = min(known) - own.loudness if own.loudness is not None and len(known) == 2 else 0.0
        return _heard(patch, place, [*own.items, _gain(gain)])

    def edits(self, place: str, which: str) -> tuple[list[Edit], str]:
        """Edits that apply a setting to the chain, and the step as text."""
        if which not in self.settings:
            raise ValueProblem(f"nothing is stored as {which} yet")
        return [Edit(place, [i.model_dump() for i in self.settings[which].items])], f"Use setting {which}"

    @property
    def tally(self) -> str:
        """The result of the rounds, as text."""
        if self.blind is None or not self.blind.over:
            return ""
        a = self.blind.picks.count("A")
        words = {0: "B was better each time", 1: "B was better twice, A once", 2: "A was better twice, B once"}
        return words.get(a, "A was better each time")
