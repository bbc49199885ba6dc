"""Storage: sets, patches and their history, parts and audio, in SQLite and one folder."""

from .database import LibraryProblem, NotKept, disk_refused
from .history import Damaged, NoSuchPatch, Stale, Standing
from .records import AudioCard, HistoryStep, PartCard, PatchCard, Reference, SetCard
from .store import Library

__all__ = [
    "AudioCard",
    "Damaged",
    "HistoryStep",
    "Library",
    "LibraryProblem",
    "NoSuchPatch",
    "NotKept",
    "PartCard",
    "PatchCard",
    "Reference",
    "SetCard",
    "Stale",
    "Standing",
    "disk_refused",
]
