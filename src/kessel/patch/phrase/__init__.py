"""The phrase: notes and lanes, and built-in phrases."""

from .idioms import IDIOMS, Idiom, degree_pitch, phrase_of
from .phrase import LANES, MOST_NOTES, ROOTS, SCALES, Note, Phrase, Point

__all__ = [
    "IDIOMS",
    "LANES",
    "MOST_NOTES",
    "ROOTS",
    "SCALES",
    "Idiom",
    "Note",
    "Phrase",
    "Point",
    "degree_pitch",
    "phrase_of",
]
