"""What a patch is: models, units, paths, edits. The lowest room; it knows no other."""

from .base import free_id
from .controls import Choice, Control, Toggle, declarations, declared
from .describe import describe
from .edits import Edit, apply, inverse, movement_text, plain, sentence, shown, tied, typed
from .layer import HATCHES, Layer, Play, Range, Unison
from .model import Ceiling, Output, Patch, Split
from .movers import Envelope, LevelEnvelope, Lfo, Movement, Mover
from .paths import NoSuchPath, declaration, get, lookup, movable, number, title, walk
from .phrase import Note, Phrase
from .sources import Modulator, Noise, Oscillator, Source
from .stages import ChainItem, Distortion, Eq, EqBand, Filter, Stage
from .units import SILENT_DB, ValueProblem, note_name, pitch_hz, pitch_of, read, write

__all__ = [
    "HATCHES",
    "SILENT_DB",
    "Ceiling",
    "ChainItem",
    "Choice",
    "Control",
    "Distortion",
    "Edit",
    "Envelope",
    "Eq",
    "EqBand",
    "Filter",
    "Layer",
    "LevelEnvelope",
    "Lfo",
    "Modulator",
    "Movement",
    "Mover",
    "NoSuchPath",
    "Noise",
    "Note",
    "Oscillator",
    "Output",
    "Patch",
    "Phrase",
    "Play",
    "Range",
    "Source",
    "Split",
    "Stage",
    "Toggle",
    "Unison",
    "ValueProblem",
    "apply",
    "declaration",
    "declarations",
    "declared",
    "describe",
    "free_id",
    "get",
    "inverse",
    "lookup",
    "movable",
    "movement_text",
    "note_name",
    "number",
    "pitch_hz",
    "pitch_of",
    "plain",
    "read",
    "sentence",
    "shown",
    "tied",
    "title",
    "typed",
    "walk",
    "write",
]
