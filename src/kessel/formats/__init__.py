"""Open formats in and out: WAV, FLAC, AIFF, MIDI, patch files."""

from .audio import (
    LONGEST_SAMPLE,
    LONGEST_SECONDS,
    AudioProblem,
    Copied,
    audio_from,
    copy_audio,
    frames_bytes,
    mapped,
    read_as_it_is,
    read_at_own_rate,
    read_audio,
    wav_bytes,
    word_of_sound,
    write_sound,
    write_wav,
)
from .bundle import LARGEST_BUNDLE, Bundle, dump_bundle, load_bundle, words_of
from .kept_audio import audio_file, find_audio
from .ladder import climb, climb_edit
from .midi_file import LARGEST_MIDI, MidiProblem, ReadMidi, midi_bytes, phrase_from_midi
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
from .reading import FileProblem, file_name, reading
from .whole import write_whole

__all__ = [
    "LARGEST_BUNDLE",
    "LARGEST_MIDI",
    "LARGEST_PATCH",
    "LONGEST_SAMPLE",
    "LONGEST_SECONDS",
    "AudioProblem",
    "Bundle",
    "Copied",
    "FileProblem",
    "MidiProblem",
    "PatchProblem",
    "ReadMidi",
    "audio_file",
    "audio_from",
    "climb",
    "climb_edit",
    "copy_audio",
    "document_of",
    "dump_bundle",
    "dump_patch",
    "file_name",
    "find_audio",
    "frames_bytes",
    "load_bundle",
    "load_patch",
    "mapped",
    "midi_bytes",
    "newest",
    "patch_from",
    "phrase_from_midi",
    "png_bytes",
    "read_as_it_is",
    "read_at_own_rate",
    "read_audio",
    "read_patch",
    "reading",
    "wav_bytes",
    "word_of_sound",
    "words_of",
    "write_patch",
    "write_sound",
    "write_wav",
    "write_whole",
]
