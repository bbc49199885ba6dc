"""Messages between the server and the process that plays."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, Literal

from ...patch import Patch
from ..tape import Tape

Asked = Literal["edit", "turn", "levels", "settings", "room", "reference", "beside", "sounds", "begin_tape", "end_tape"]
"""What a stream asks of its patch: methods of PlayedPatch."""


@dataclass(frozen=True)
class Attend:
    """Server to player: answer the player's questions from now on."""


@dataclass(frozen=True)
class Open:
    """Player to server: a stream begins on a patch. Opened answers it."""

    stream: int
    slug: str


@dataclass(frozen=True)
class Opened:
    """The patch of a stream, and the tape that is kept of it."""

    patch: Patch
    tape: Tape | None


@dataclass(frozen=True)
class Question:
    """Player to server: call a method of the played patch."""

    stream: int
    what: Asked
    arguments: Sequence[Any] = ()


@dataclass(frozen=True)
class Close:
    """Player to server: a stream has ended."""

    stream: int


@dataclass(frozen=True)
class Ask:
    """Player to server: a numbered question."""

    number: int
    question: Open | Question | Close


@dataclass(frozen=True)
class Answer:
    """Server to player: the answer to a question, or what it raised."""

    number: int
    value: Any = None
    error: Exception | None = None


@dataclass(frozen=True)
class PatchNews:
    """Server to player: a new version of the patch of a stream."""

    stream: int
    patch: Patch


@dataclass(frozen=True)
class LoopNews:
    """Server to player: another rendered loop. file: its samples as an array file."""

    stream: int
    file: str
    loudness: float | None
