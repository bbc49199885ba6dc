"""Reading of files in a process of its own: within limits, with progress, and cancellable."""

from .cycles import wave_from_audio
from .intake import Intake, Progress
from .jobs import GivenUp, KeptSound, ReadAudio, ReadBundle, ReadMidiFile, ReadWave, TakenBundle

__all__ = [
    "GivenUp",
    "Intake",
    "KeptSound",
    "Progress",
    "ReadAudio",
    "ReadBundle",
    "ReadMidiFile",
    "ReadWave",
    "TakenBundle",
    "wave_from_audio",
]
