"""What is kept: sets, patches and their history, in SQLite."""

from .records import HistoryStep, PatchCard, SetCard
from .store import Library, LibraryProblem, NoSuchPatch

__all__ = ["HistoryStep", "Library", "LibraryProblem", "NoSuchPatch", "PatchCard", "SetCard"]
