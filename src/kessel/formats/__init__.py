"""Open formats in and out: WAV and FLAC, patch JSON."""

from .audio import LONGEST_SAMPLE, AudioProblem, audio_from, read_audio, wav_bytes, write_wav
from .bundle import LARGEST_BUNDLE, Bundle, dump_bundle, load_bundle, words_of
from .ladder import climb
from .midi_file import MidiProblem, ReadMidi, midi_bytes, phrase_from_midi
from .patch_file import (
    LARGEST_PATCH,
    PatchProblem,
    document_of,
    dump_patch,
    load_patch,
    newest,
    patch_from,
    read_patch,
    write_patch,
)
from .png import png_bytes
from .whole import write_whole

__all__ = [
    "LARGEST_BUNDLE",
    "LARGEST_PATCH",
    "LONGEST_SAMPLE",
    "AudioProblem",
    "Bundle",
    "MidiProblem",
    "PatchProblem",
    "ReadMidi",
    "audio_from",
    "climb",
    "document_of",
    "dump_bundle",
    "dump_patch",
    "load_bundle",
    "load_patch",
    "midi_bytes",
    "newest",
    "patch_from",
    "phrase_from_midi",
    "png_bytes",
    "read_audio",
    "read_patch",
    "wav_bytes",
    "words_of",
    "write_patch",
    "write_wav",
    "write_whole",
]
