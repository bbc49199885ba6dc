"""Open formats in and out: WAV and FLAC, patch JSON."""

from .audio import AudioProblem, read_audio, wav_bytes, write_wav
from .patch_file import LARGEST_PATCH, PatchProblem, dump_patch, load_patch, read_patch, write_patch
from .whole import write_whole

__all__ = [
    "LARGEST_PATCH",
    "AudioProblem",
    "PatchProblem",
    "dump_patch",
    "load_patch",
    "read_audio",
    "read_patch",
    "wav_bytes",
    "write_patch",
    "write_wav",
    "write_whole",
]
