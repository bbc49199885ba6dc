"""Files come in: read in a process of their own, within limits, with progress and a way to give up."""

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
