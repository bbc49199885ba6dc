"""What is kept: sets, patches and their history, parts and audio, in SQLite and one folder."""

from .audio_store import find_audio
from .records import AudioCard, HistoryStep, PartCard, PatchCard, Reference, SetCard
from .store import Library, LibraryProblem, NoSuchPatch

__all__ = [
    "AudioCard",
    "HistoryStep",
    "Library",
    "LibraryProblem",
    "NoSuchPatch",
    "PartCard",
    "PatchCard",
    "Reference",
    "SetCard",
    "find_audio",
]
