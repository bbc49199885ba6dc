"""What the reading process is asked, and what it answers."""

from __future__ import annotations

from dataclasses import dataclass, field
from pathlib import Path
from typing import Literal

from ..formats import LONGEST_SAMPLE, FileProblem
from ..patch import Patch, Phrase


class GivenUp(FileProblem):
    """Somebody cancelled the import."""


@dataclass(frozen=True)
class IntakeJob:
    """A file to read: where it is, and what it is called."""

    path: Path
    name: str


@dataclass(frozen=True)
class ReadAudio(IntakeJob):
    """The sound of a file, written at 48 kHz beside it. longest: seconds. Answered with a KeptSound."""

    longest: float = LONGEST_SAMPLE


@dataclass(frozen=True)
class ReadWave(IntakeJob):
    """Cycles of a sound as a drawn wave. Answered with a Wave."""

    way: Literal["cycle", "run", "frames"] = "cycle"


@dataclass(frozen=True)
class ReadMidiFile(IntakeJob):
    """A MIDI file as a phrase with the key and scale of ``like``. Answered with a ReadMidi."""

    like: Phrase = field(default_factory=Phrase)


@dataclass(frozen=True)
class ReadBundle(IntakeJob):
    """A patch, alone or with its audio, which is written beside the file. Answered with a TakenBundle."""


@dataclass(frozen=True)
class KeptSound:
    """A sound that was written into a file: its word, its length, and the pitch found in it in Hz."""

    file: Path
    word: str
    channels: int
    seconds: float
    root: float | None


@dataclass(frozen=True)
class TakenBundle:
    """A patch and the sounds that came with it, by the word it calls them."""

    patch: Patch
    sounds: dict[str, KeptSound]
