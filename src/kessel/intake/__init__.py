"""Reading of files in a process of its own: within limits, with progress, and cancellable."""

from .cycles import WAYS, WaveCut, WaveFile, cut, wave_of_cut, ways_for
from .intake import Intake, Progress
from .jobs import GivenUp, KeptSound, ReadAudio, ReadBundle, ReadMidiFile, ReadWave, TakenBundle

__all__ = [
    "WAYS",
    "GivenUp",
    "Intake",
    "KeptSound",
    "Progress",
    "ReadAudio",
    "ReadBundle",
    "ReadMidiFile",
    "ReadWave",
    "TakenBundle",
    "WaveCut",
    "WaveFile",
    "cut",
    "wave_of_cut",
    "ways_for",
]
