"""Audio files of a data folder, named by the digest of their content."""

from __future__ import annotations

import re
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from .audio import LONGEST_SAMPLE, AudioProblem, mapped

_WORD = re.compile(r"^[0-9a-f]{32}$")


def audio_file(folder: Path, word: str) -> Path | None:
    """Path of the audio of a digest. None if it is no digest."""
    return folder / "audio" / f"{word}.wav" if _WORD.match(word) else None


def find_audio(folder: Path, word: str) -> NDArray[np.floating[Any]] | None:
    """The audio of a digest, (1 or 2, n) at 48 kHz. None if it is missing.

    float64; a long recording is float32 and memory-mapped.
    """
    path = audio_file(folder, word)
    if path is None or not path.is_file():
        return None
    try:
        found = mapped(path)
        return found if found.shape[1] > LONGEST_SAMPLE * 48000 else np.ascontiguousarray(found, dtype=np.float64)
    except AudioProblem:
        return None
