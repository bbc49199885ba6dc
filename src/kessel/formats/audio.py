"""WAV, FLAC and AIFF, read to 48 kHz and written as 32-bit float.

Limits count what is decoded, block by block, not what the header claims.
"""

from __future__ import annotations

import hashlib
import io
import re
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Any, BinaryIO

import numpy as np
import soundfile
import soxr
from numpy.typing import NDArray

from .reading import FileProblem, file_name, reading
from .whole import write_whole

RATE = 48000
LONGEST_SECONDS = 1800
LONGEST_SAMPLE = 60
LOWEST_RATE, HIGHEST_RATE = 8000, 384000
_LEAST_KEPT = 44100
_BLOCK = 65536

File = Path | BinaryIO | io.BytesIO


class AudioProblem(FileProblem):
    """Audio that can't be read. Its text says what to do."""


@dataclass(frozen=True)
class Copied:
    """Audio that was written to a file: its digest, channels, and samples at 48 kHz."""

    word: str
    channels: int
    frames: int


def read_audio(path: Path, longest: float = LONGEST_SECONDS) -> NDArray[np.float64]:
    """A file's audio at 48 kHz, (1 or 2, n) float64. Raises AudioProblem."""
    if not path.is_file():
        raise AudioProblem(f"there is no file {path}")
    return _read(path, path.name, longest)


def read_at_own_rate(path: Path) -> tuple[NDArray[np.float64], int]:
    """A file's audio, (1 or 2, n) float64, at its own rate, and that rate in Hz. Raises AudioProblem.

    What holds more samples than the longest file at 48 kHz is brought to 48 kHz, and so is what has a lower rate than
    44.1 kHz, which loses nothing: there the weighting of loudness is too near to half the rate.
    """
    if not path.is_file():
        raise AudioProblem(f"there is no file {path}")
    with reading(AudioProblem, f"{file_name(path.name)} can't be read as audio: give a WAV, FLAC or AIFF file"):
        about = soundfile.info(path)
    kept = about.samplerate >= _LEAST_KEPT and about.frames <= LONGEST_SECONDS * RATE
    rate = about.samplerate if kept else RATE
    return _read(path, path.name, LONGEST_SECONDS, rate), rate


def read_as_it_is(path: Path, name: str, longest: float) -> tuple[NDArray[np.float64], int, int]:
    """A file's audio, (1 or 2, n) float64, at its own rate, that rate in Hz, and the length of frames that its comment
    tells, in samples, or 0. Raises AudioProblem.

    What holds more samples than ``longest`` seconds at 48 kHz is brought to 48 kHz.
    """
    with (
        reading(AudioProblem, f"{file_name(name)} can't be read as audio: give a WAV, FLAC or AIFF file"),
        soundfile.SoundFile(path) as f,
    ):
        rate = f.samplerate if f.frames <= longest * RATE else RATE
        told = re.fullmatch(r"frame length (\d{1,6})", f.comment.strip())
    return _read(path, name, longest, rate), rate, int(told[1]) if told else 0


def audio_from(data: bytes, name: str, longest_seconds: float = LONGEST_SAMPLE) -> NDArray[np.float64]:
    """The audio of a file's bytes at 48 kHz, (1 or 2, n) float64. Raises AudioProblem."""
    return _read(io.BytesIO(data), name, longest_seconds)


def _read(file: File, name: str, longest: float, to: int = RATE) -> NDArray[np.float64]:
    blocks = [block for block, _ in sound_of(file, name, longest, to)]
    with reading(AudioProblem, f"{file_name(name)} can't be read as audio: give a WAV, FLAC or AIFF file"):
        return np.ascontiguousarray(np.concatenate(blocks).T)


def sound_of(file: File, name: str, longest: float, to: int = RATE) -> Iterator[tuple[NDArray[np.float64], float]]:
    """The audio of a file at ``to`` Hz in blocks, (n, 1 or 2), with the share of the file that is read, 0..1.

    Raises AudioProblem as soon as a limit is exceeded.
    """
    name = file_name(name)
    with (
        reading(AudioProblem, f"{name} can't be read as audio: give a WAV, FLAC or AIFF file"),
        soundfile.SoundFile(file) as f,
    ):
        rate = f.samplerate
        if f.channels > 2:
            raise AudioProblem(f"{name} has {f.channels} channels: bring it down to one or two")
        if not LOWEST_RATE <= rate <= HIGHEST_RATE:
            raise AudioProblem(f"{name} has a sample rate of {rate} Hz: 8 to 384 kHz can be read")
        most = round(longest * rate)
        if f.frames > most:
            raise AudioProblem(_too_long(name, longest))
        stream = soxr.ResampleStream(rate, to, f.channels, dtype="float64", quality="VHQ") if rate != to else None
        got = given = 0
        while True:
            x = f.read(_BLOCK, dtype="float64", always_2d=True)
            got += x.shape[0]
            if got > most:
                raise AudioProblem(_too_long(name, longest))
            if not np.isfinite(x).all():
                raise AudioProblem(f"{name} holds values that are no numbers: render it again")
            last = x.shape[0] < _BLOCK
            y = x if stream is None else stream.resample_chunk(x, last=last)
            if last and stream is not None:
                # the resampler may round its length up or down
                wanted = max(0, round(got * to / rate) - given)
                y = np.pad(y[:wanted], ((0, max(0, wanted - y.shape[0])), (0, 0)))
            given += y.shape[0]
            if y.shape[0]:
                yield y, min(1.0, got / max(f.frames, 1))
            if last:
                break
        if got == 0:
            raise AudioProblem(f"{name} is empty: there is nothing in it")


def _too_long(name: str, longest: float) -> str:
    limit = f"{longest / 60:.0f} minutes" if longest >= 120 else f"{longest:.0f} seconds"
    return f"{name} is longer than {limit}: cut it first"


def copy_audio(file: File, name: str, out: Path, longest: float, tell: Callable[[float], None]) -> Copied:
    """Write the audio of a file as a 48 kHz WAV file of 32-bit float, block by block. ``tell`` receives the progress.

    Raises AudioProblem, also if ``out`` can't be written.
    """
    channels = frames = 0
    written: soundfile.SoundFile | None = None
    try:
        for block, share in sound_of(file, name, longest):
            if written is None:
                channels = block.shape[1]
                written = soundfile.SoundFile(out, "w", RATE, channels, "FLOAT", format="WAV")
            written.write(block.astype(np.float32))
            frames += block.shape[0]
            tell(share)
    except soundfile.SoundFileError as problem:
        raise AudioProblem("the disk does not take the sound: free some space, then do it again") from problem
    finally:
        if written is not None:
            written.close()
    if written is None:
        raise AudioProblem(f"{file_name(name)} is empty: there is nothing in it")
    return Copied(word_of_sound(mapped(out)), channels, frames)


def mapped(path: Path) -> NDArray[np.float32]:
    """The audio of a WAV file that Kessel wrote, (channels, n) float32, memory-mapped.

    Raises AudioProblem.
    """
    with (
        reading(AudioProblem, f"{path.name} can't be read as audio: import it again"),
        path.open("rb") as f,
        soundfile.SoundFile(f) as sound,
    ):
        if (sound.samplerate, sound.subtype) != (RATE, "FLOAT"):
            raise AudioProblem(f"{path.name} is no sound that Kessel wrote: import it again")
        channels, frames = sound.channels, sound.frames
        f.seek(0)
        at = f.read(4096).find(b"data")
        if at < 0:
            raise AudioProblem(f"{path.name} is no sound that Kessel wrote: import it again")
        whole = np.memmap(path, dtype="<f4", mode="r", offset=at + 8, shape=(frames, channels))
    return whole.T


def word_of_sound(x: NDArray[np.floating[Any]]) -> str:
    """A digest of audio, (channels, n)."""
    word = hashlib.sha256()
    for channel in x:
        for first in range(0, channel.shape[0], _BLOCK):
            word.update(np.ascontiguousarray(channel[first : first + _BLOCK], dtype="<f4").tobytes())
    word.update(str(x.shape).encode())
    return word.hexdigest()[:32]


def wav_bytes(x: NDArray[np.floating[Any]], comment: str = "") -> bytes:
    """x, (channels, n), as a 48 kHz WAV file of 32-bit float."""
    out = io.BytesIO()
    with soundfile.SoundFile(out, "w", RATE, x.shape[0], "FLOAT", format="WAV") as file:
        if comment:
            file.comment = comment
        file.write(x.T.astype(np.float32))
    return out.getvalue()


def frames_bytes(frames: NDArray[np.floating[Any]]) -> bytes:
    """Frames of a wave, (count, points), as a WAV file whose comment says how long each is."""
    return wav_bytes(frames.reshape(1, -1), f"frame length {frames.shape[1]}")


def write_sound(path: Path, blocks: Iterable[NDArray[np.floating[Any]]], flac: bool = False) -> None:
    """Write blocks of stereo sound, each (2, n), as a 48 kHz file: WAV of 32-bit float, or FLAC of 24 bits.

    Raises AudioProblem.
    """
    kind, subtype = ("FLAC", "PCM_24") if flac else ("WAV", "FLOAT")
    try:
        with soundfile.SoundFile(path, "w", RATE, 2, subtype, format=kind) as out:
            for x in blocks:
                out.write(np.clip(x.T, -1.0, 1.0) if flac else x.T)
    except (soundfile.SoundFileError, OSError) as problem:
        raise AudioProblem(f"the sound can't be written: {' '.join(str(problem).split())}") from None


def write_wav(path: Path, x: NDArray[np.float64]) -> None:
    """Write x, (channels, n), as a 48 kHz WAV file. Raises AudioProblem; an existing file is kept if it fails."""
    try:
        write_whole(path, wav_bytes(x))
    except OSError as problem:
        raise AudioProblem(f"{path} can't be written: {problem.strerror or problem}") from None
