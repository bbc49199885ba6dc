"""What the store hands out: plain records, no live rows."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class SetCard:
    """A set."""

    id: int
    name: str
    limits: str
    demo: bool


@dataclass(frozen=True)
class PatchCard:
    """A patch without its body. ``edited`` is UTC, ISO 8601."""

    slug: str
    set_id: int
    name: str
    demo: str | None
    edited: str
    deleted: bool


@dataclass(frozen=True)
class HistoryStep:
    """A step of a patch's history; ``there`` and ``back`` are edits as JSON text."""

    id: int
    label: str
    there: str
    back: str
    undone: bool


@dataclass(frozen=True)
class PartCard:
    """A part on the part shelf; ``body`` is JSON text. Parts that come with Kessel have negative ids."""

    id: int
    kind: str
    name: str
    body: str


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
    """The recording a patch is held against: ``seconds`` of it from ``start`` on, and its tempo in BPM."""

    audio: str
    start: float
    seconds: float
    tempo: float
