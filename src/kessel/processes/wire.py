"""Messages between the server and a process beside it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any


class Failed(Exception):
    """A job that failed unexpectedly. Its traceback is in the log."""


@dataclass(frozen=True)
class Reply:
    """A reply to a job: a value, or the exception that ended it. Nothing follows the ``last``."""

    number: int
    value: Any = None
    error: Exception | None = None
    last: bool = True
