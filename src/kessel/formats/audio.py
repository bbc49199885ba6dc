"""WAV, FLAC and AIFF, read to 48 kHz and written as 32-bit float."""

from __future__ import annotations

import io
from pathlib import Path
from typing import Any

import numpy as np
import soundfile
import soxr
from numpy.typing import NDArray

from .whole import write_whole

RATE = 48000
LONGEST_SECONDS = 1800
LONGEST_SAMPLE = 60
_RATES = (4000, 768000)


class AudioProblem(ValueError):
    """Audio that can't be taken; its text says what to do."""


def read_audio(path: Path) -> NDArray[np.float64]:
    """A file's audio at 48 kHz, (1 or 2, n) float64. Raises AudioProblem."""
    if not path.is_file():
        raise AudioProblem(f"there is no file {path}")
    return _read(path, path.name, LONGEST_SECONDS)


def audio_from(data: bytes, name: str, longest_seconds: float = LONGEST_SAMPLE) -> NDArray[np.float64]:
    """The audio of a file's bytes at 48 kHz, (1 or 2, n) float64. Raises AudioProblem."""
    return _read(io.BytesIO(data), name, longest_seconds)


def _read(file: Path | io.BytesIO, name: str, longest: float) -> NDArray[np.float64]:
    try:
        with soundfile.SoundFile(file) as f:
            if f.channels > 2:
                raise AudioProblem(f"{name} has {f.channels} channels: bring it down to one or two")
            if not _RATES[0] <= f.samplerate <= _RATES[1]:
                raise AudioProblem(f"{name} has an odd sample rate of {f.samplerate} Hz: 4 to 768 kHz can be read")
            if f.frames > longest * f.samplerate:
                limit = f"{longest / 60:.0f} minutes" if longest >= 120 else f"{longest:.0f} seconds"
                raise AudioProblem(f"{name} is longer than {limit}: cut it first")
            rate = f.samplerate
            x = f.read(dtype="float64", always_2d=True)
    except (soundfile.SoundFileError, OSError, RuntimeError) as problem:
        raise AudioProblem(f"{name} can't be read as audio: give a WAV, FLAC or AIFF file") from problem
    if x.shape[0] == 0:
        raise AudioProblem(f"{name} is empty: there is nothing in it")
    if not np.isfinite(x).all():
        raise AudioProblem(f"{name} holds values that are no numbers: render it again")
    if rate != RATE:
        x = soxr.resample(x, rate, RATE, "VHQ")
    return np.ascontiguousarray(x.T)


def wav_bytes(x: NDArray[np.floating[Any]]) -> bytes:
    """x, (channels, n), as a 48 kHz WAV file of 32-bit float."""
    out = io.BytesIO()
    soundfile.write(out, x.T.astype(np.float32), RATE, format="WAV", subtype="FLOAT")
    return out.getvalue()


def write_wav(path: Path, x: NDArray[np.float64]) -> None:
    """Write x, (channels, n), as a 48 kHz WAV file. Raises AudioProblem; an old file stays when it fails."""
    try:
        write_whole(path, wav_bytes(x))
    except OSError as problem:
        raise AudioProblem(f"{path} can't be written: {problem.strerror or problem}") from None
