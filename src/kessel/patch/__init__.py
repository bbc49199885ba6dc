"""What a patch is: models, units, paths, edits. The lowest room; it knows no other."""

from .backing import PATTERNS, Backing, BackingLoop, BackingPatch, Beat
from .base import free_id
from .controls import Choice, Control, Declared, Pick, Toggle, declarations, declared
from .describe import describe
from .edits import Edit, apply, inverse, movement_text, plain, sentence, shown, tied, typed
from .idioms import IDIOMS, Idiom, degree_pitch, phrase_of
from .in_step import partners
from .layer import HATCHES, Layer, Play, Range, Unison
from .model import Ceiling, Output, Patch, Split
from .movers import MOST_MACROS, Envelope, Hand, LevelEnvelope, Lfo, Macro, Movement, Mover
from .paths import NoSuchPath, declaration, get, lookup, movable, number, title, walk
from .phrase import LANES, ROOTS, SCALES, Note, Phrase, Point
from .sources import CLICK_PREFIX, CLICKS, Modulator, Noise, Oscillator, Sample, Source, click_name
from .stages import ChainItem, Distortion, Eq, EqBand, Filter, Stage
from .units import SILENT_DB, ValueProblem, note_name, pitch_hz, pitch_of, read, write
from .waves import FRAME_POINTS, MOST_FRAMES, STOCK, STOCK_PREFIX, Wave, known_wave, wave_name

__all__ = [
    "CLICKS",
    "CLICK_PREFIX",
    "FRAME_POINTS",
    "HATCHES",
    "IDIOMS",
    "LANES",
    "MOST_FRAMES",
    "MOST_MACROS",
    "PATTERNS",
    "ROOTS",
    "SCALES",
    "SILENT_DB",
    "STOCK",
    "STOCK_PREFIX",
    "Backing",
    "BackingLoop",
    "BackingPatch",
    "Beat",
    "Ceiling",
    "ChainItem",
    "Choice",
    "Control",
    "Declared",
    "Distortion",
    "Edit",
    "Envelope",
    "Eq",
    "EqBand",
    "Filter",
    "Hand",
    "Idiom",
    "Layer",
    "LevelEnvelope",
    "Lfo",
    "Macro",
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
    "Pick",
    "Play",
    "Point",
    "Range",
    "Sample",
    "Source",
    "Split",
    "Stage",
    "Toggle",
    "Unison",
    "ValueProblem",
    "Wave",
    "apply",
    "click_name",
    "declaration",
    "declarations",
    "declared",
    "degree_pitch",
    "describe",
    "free_id",
    "get",
    "inverse",
    "known_wave",
    "lookup",
    "movable",
    "movement_text",
    "note_name",
    "number",
    "partners",
    "phrase_of",
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
    "wave_name",
    "write",
]
