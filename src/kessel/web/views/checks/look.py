"""The context of the views of the Checks workspace."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from ....checks import Limits
from ....desk import Desk, Measured, OpenPatch
from ....patch import Patch, ValueProblem
from ..editor import Selection


@dataclass
class CheckContext:
    """An open patch and the selection. ``fresh``: it may wait for slow parts.

    waiting: whether something has to be measured yet. problem: why something can't be.
    """

    desk: Desk
    open_patch: OpenPatch
    asked: Selection
    fresh: bool
    waiting: bool = False
    problem: str = ""

    @property
    def patch(self) -> Patch:
        """The present patch."""
        return self.open_patch.patch

    @property
    def limits(self) -> Limits:
        """The limits of its set."""
        return self.open_patch.limits

    @property
    def measured(self) -> Measured | None:
        """The newest findings, of this version or an older one."""
        return self.open_patch.measuring.measured

    def find(self, name: str, /, **words: Any) -> Any:
        """The answer to a query. None if it has to be measured first, or can't be."""
        if not self.fresh:
            found = self.open_patch.known(name, **words)
            self.waiting = self.waiting or found is None
            return found
        try:
            return self.open_patch.find(name, **words)
        except ValueProblem as problem:
            self.problem = str(problem)
            return None


def _unsigned_zero(text: str) -> str:
    return text[1:] if text.startswith("-") and not text.strip("-0.") else text


def db(value: float | None, digits: int = 1, empty: str = "silent") -> str:
    """A figure in dB with a true minus sign, without its unit."""
    return empty if value is None else _unsigned_zero(f"{value:.{digits}f}").replace("-", "−")


def signed(value: float | None, digits: int = 1, empty: str = "silent") -> str:
    """The same with its sign."""
    if value is None:
        return empty
    text = f"{value:+.{digits}f}"
    return (text if text.strip("+-0.") else text[1:]).replace("-", "−")
