"""Jobs of the reading process, and their results."""

from __future__ import annotations

from dataclasses import dataclass, field
from pathlib import Path

from ..formats import LONGEST_SAMPLE, FileProblem
from ..patch import Patch, Phrase


class GivenUp(FileProblem):
    """The import was cancelled."""


@dataclass(frozen=True)
class IntakeJob:
    """A file to read: its path, and its name."""

    path: Path
    name: str


@dataclass(frozen=True)
class ReadAudio(IntakeJob):
    """Read audio and write it at 48 kHz beside the file. longest: seconds. Returns a KeptSound."""

    longest: float = LONGEST_SAMPLE


@dataclass(frozen=True)
class ReadWave(IntakeJob):
    """Read audio that a drawn wave can be cut from. Returns a WaveFile."""


@dataclass(frozen=True)
class ReadMidiFile(IntakeJob):
    """Read a MIDI file as a phrase with the key and scale of ``like``. Returns a ReadMidi."""

    like: Phrase = field(default_factory=Phrase)


@dataclass(frozen=True)
class ReadBundle(IntakeJob):
    """Read a patch, alone or with its audio, which is written beside the file. Returns a TakenBundle."""


@dataclass(frozen=True)
class KeptSound:
    """Audio that was written to a file: its digest, its length, and its pitch in Hz if it has one."""

    file: Path
    word: str
    channels: int
    seconds: float
    root: float | None


@dataclass(frozen=True)
class TakenBundle:
    """A patch and the audio that came with it, by digest."""

    patch: Patch
    sounds: dict[str, KeptSound]
