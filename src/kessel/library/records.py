"""Records that the library returns: plain data, no live rows."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Any


@dataclass(frozen=True)
class SetCard:
    """A set."""

    id: int
    name: str
    limits: Any
    demo: bool


@dataclass(frozen=True)
class PatchCard:
    """A patch without its document. ``damaged``: its row can't be read."""

    slug: str
    set_id: int
    name: str
    demo: str | None
    edited: datetime
    deleted: bool
    revision: int
    damaged: bool = False


@dataclass(frozen=True)
class HistoryStep:
    """A step of a patch's history, with its sitting. ``whole``: the state after it is stored whole."""

    id: int
    label: str
    undone: bool
    made: datetime
    sitting: int | None
    whole: bool


@dataclass(frozen=True)
class PartCard:
    """A part on the part shelf. ``body`` is plain JSON data. Built-in parts have negative ids."""

    id: int
    kind: str
    name: str
    body: Any


@dataclass(frozen=True)
class AudioCard:
    """A piece of audio; ``root`` in Hz."""

    word: str
    name: str
    seconds: float
    channels: int
    root: float | None


@dataclass(frozen=True)
class Reference:
    """The reference recording of a patch: ``seconds`` of it from ``start`` on, and its tempo in BPM."""

    audio: str
    start: float
    seconds: float
    tempo: float
