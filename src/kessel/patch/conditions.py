"""When a control is shown: conditions on the part that has it, and on the layer that the part stands in.

``shown_if=when("clock", "ms")`` shows a control while the field ``clock`` of its part says ``ms``. Conditions are
joined with ``&`` and ``|``. A field that begins with ``owner.`` is one of the layer that a source or a voice stage
belongs to; an item of a chain has no owner.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import product
from typing import Any, Literal

_MISSING = object()
Test = Literal["is", "is not", "above", "below", "counts"]


@dataclass(frozen=True)
class Condition:
    """One test of one field."""

    field: str
    test: Test
    values: tuple[Any, ...]

    def holds(self, part: object, owner: object = None) -> bool:
        """Whether it holds. A missing field fails every test."""
        value: Any = {"owner": owner, "part": part}
        for step in (self.field if self.field.split(".")[0] == "owner" else f"part.{self.field}").split("."):
            value = value.get(step) if isinstance(value, Mapping) else getattr(value, step, _MISSING)
        if value is _MISSING:
            return False
        if self.test == "is":
            return value in self.values
        if self.test == "is not":
            return value not in self.values
        least = float(self.values[0])
        if self.test == "counts":
            return len(value) >= least
        return float(value) > least if self.test == "above" else float(value) < least


@dataclass(frozen=True)
class Shown:
    """Alternatives of conditions. It holds if all conditions of one alternative do."""

    alternatives: tuple[tuple[Condition, ...], ...]

    def __and__(self, other: Shown) -> Shown:
        return Shown(tuple((*a, *b) for a, b in product(self.alternatives, other.alternatives)))

    def __or__(self, other: Shown) -> Shown:
        return Shown((*self.alternatives, *other.alternatives))

    def holds(self, part: object, owner: object = None) -> bool:
        """Whether a control of ``part`` is shown; ``owner``: the layer of a source or a voice stage."""
        return any(all(c.holds(part, owner) for c in each) for each in self.alternatives)

    def plain(self) -> list[list[list[Any]]]:
        """The conditions as plain data, for the JSON Schema."""
        return [[[c.field, c.test, *c.values] for c in each] for each in self.alternatives]


def shown_from(plain: Sequence[Sequence[Sequence[Any]]]) -> Shown:
    """The inverse of ``Shown.plain``."""
    return Shown(tuple(tuple(Condition(c[0], c[1], tuple(c[2:])) for c in each) for each in plain))


def _one(field: str, test: Test, *values: Any) -> Shown:
    return Shown(((Condition(field, test, values),),))


def when(field: str, *values: Any) -> Shown:
    """Shown while a field has one of the values."""
    return _one(field, "is", *values)


def unless(field: str, *values: Any) -> Shown:
    """Shown while a field has none of the values."""
    return _one(field, "is not", *values)


def above(field: str, value: float) -> Shown:
    """Shown while a number is greater than a value."""
    return _one(field, "above", value)


def below(field: str, value: float) -> Shown:
    """Shown while a number is less than a value."""
    return _one(field, "below", value)


def counts(field: str, least: int) -> Shown:
    """Shown while a list has at least so many items."""
    return _one(field, "counts", least)


NEVER = Shown(())
"""Never shown: Kessel sets the value."""
IN_CHAINS = when("owner", None)
"""Shown for items of chains, not for voice stages."""
