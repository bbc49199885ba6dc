"""The reading process: one file after the other, in bounded memory."""

from __future__ import annotations

import os
from collections.abc import Callable
from contextlib import suppress
from functools import singledispatch
from multiprocessing.connection import Connection
from pathlib import Path
from typing import Any

import numpy as np

from ..formats import (
    LARGEST_BUNDLE,
    LARGEST_MIDI,
    FileProblem,
    PatchProblem,
    ReadMidi,
    audio_from,
    copy_audio,
    load_bundle,
    mapped,
    phrase_from_midi,
    read_as_it_is,
    reading,
    wav_bytes,
    word_of_sound,
)
from ..measure import detect_pitch
from ..patch import ValueProblem
from ..processes import Tell, bound_memory, serve_jobs
from .cycles import WaveFile
from .jobs import IntakeJob, KeptSound, ReadAudio, ReadBundle, ReadMidiFile, ReadWave, TakenBundle

MOST_MEMORY = 230 * 1024 * 1024
"""Most bytes of memory for reading one file."""
_NICE = 5
_PITCHED_SECONDS = 61
_LONGEST_WAVE = 60.0


def serve(wire: Connection) -> None:
    """Read files until the wire closes."""
    with suppress(OSError, AttributeError):
        os.nice(_NICE)
    # load now what the first file would load, so that the memory limit counts files only
    audio_from(wav_bytes(np.zeros((1, 480)) + 0.1), "warm", 1.0)
    bound_memory(MOST_MEMORY)
    serve_jobs(wire, act, (FileProblem, ValueProblem))


def act(job: IntakeJob, tell: Tell) -> Any:
    """Read one file. Raises FileProblem or ValueProblem."""
    with reading(FileProblem, f"{job.name} can't be read: it is damaged, or not a file of this kind"):
        try:
            return _read(job, tell)
        except ValueProblem as problem:
            raise FileProblem(str(problem)) from None


@singledispatch
def _read(job: IntakeJob, tell: Tell) -> Any:
    raise TypeError(f"no reader for {type(job).__name__}")


def _sound(job: IntakeJob, longest: float, tell: Callable[[float], None]) -> KeptSound:
    out = job.path.with_name("sound.wav")
    copied = copy_audio(job.path, job.name, out, longest, tell)
    seconds = copied.frames / 48000.0
    root = None
    if seconds <= _PITCHED_SECONDS:
        root = detect_pitch(np.ascontiguousarray(mapped(out), dtype=np.float64))
    return KeptSound(out, copied.word, copied.channels, seconds, root)


@_read.register
def _(job: ReadAudio, tell: Tell) -> KeptSound:
    return _sound(job, job.longest, tell)


@_read.register
def _(job: ReadWave, tell: Tell) -> WaveFile:
    x, rate, told = read_as_it_is(job.path, job.name, _LONGEST_WAVE)
    return WaveFile(job.name, np.ascontiguousarray(x.mean(axis=0)), rate, told)


@_read.register
def _(job: ReadMidiFile, tell: Tell) -> ReadMidi:
    return phrase_from_midi(_bytes(job.path, LARGEST_MIDI), job.name, job.like)


@_read.register
def _(job: ReadBundle, tell: Tell) -> TakenBundle:
    bundle = load_bundle(_bytes(job.path, LARGEST_BUNDLE))
    sounds: dict[str, KeptSound] = {}
    for word, x in bundle.audio.items():
        out = job.path.with_name(f"{word}.wav")
        out.write_bytes(wav_bytes(x))
        sounds[word] = KeptSound(out, word_of_sound(x), x.shape[0], x.shape[1] / 48000.0, detect_pitch(x))
        tell(len(sounds) / len(bundle.audio))
    return TakenBundle(bundle.patch, sounds)


def _bytes(path: Path, most: int) -> bytes:
    if path.stat().st_size > most:
        raise PatchProblem(f"the file is too large: {most // 1_000_000} MB at most")
    return path.read_bytes()
