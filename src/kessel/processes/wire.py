"""What goes over the wire between the server and a process beside it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any


class Failed(Exception):
    """A job that failed in a way nobody expected; its traceback is in the log."""


@dataclass(frozen=True)
class Reply:
    """What a process says of a job: a value, or the exception it ended with. Nothing follows the ``last``."""

    number: int
    value: Any = None
    error: Exception | None = None
    last: bool = True
