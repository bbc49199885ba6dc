"""Audio kept in the data folder: one file each, named by its content, so that a name always means the same sound."""

from __future__ import annotations

import hashlib
import re
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray
from sqlalchemy import select

from ..formats import AudioProblem, read_audio, wav_bytes, write_whole
from .database import Sessions
from .records import AudioCard
from .tables import AudioTable, now

_WORD = re.compile(r"^[0-9a-f]{32}$")


def audio_file(folder: Path, word: str) -> Path | None:
    """Where the audio of a word stands; None when the word is none."""
    return folder / "audio" / f"{word}.wav" if _WORD.match(word) else None


def find_audio(folder: Path, word: str) -> NDArray[np.float64] | None:
    """The audio of a word, (1 or 2, n) at 48 kHz; None when it is not there."""
    path = audio_file(folder, word)
    if path is None or not path.is_file():
        return None
    try:
        return read_audio(path)
    except AudioProblem:
        return None


class AudioStore:
    """The audio of one data folder."""

    def __init__(self, sessions: Sessions, folder: Path) -> None:
        self._sessions, self._folder = sessions, folder

    def keep(self, x: NDArray[np.floating[Any]], name: str, root: float | None) -> AudioCard:
        """Keep audio, (1 or 2, n) at 48 kHz; what is there already is not kept twice. Raises OSError."""
        data = wav_bytes(x)
        word = hashlib.sha256(x.astype("<f4").tobytes() + str(x.shape).encode()).hexdigest()[:32]
        path = audio_file(self._folder, word)
        assert path is not None
        path.parent.mkdir(parents=True, exist_ok=True)
        if not path.exists():
            write_whole(path, data)
        with self._sessions.write() as s:
            row = s.get(AudioTable, word)
            if row is None:
                row = AudioTable(
                    word=word, name=name[:60], seconds=x.shape[1] / 48000.0, channels=x.shape[0], root=root,
                    made=now(),
                )  # fmt: skip
                s.add(row)
                s.flush()
            return _card(row)

    def card(self, word: str) -> AudioCard | None:
        """One piece's record."""
        with self._sessions.read() as s:
            row = s.get(AudioTable, word)
            return _card(row) if row is not None else None

    def all(self) -> list[AudioCard]:
        """All pieces, the newest first."""
        with self._sessions.read() as s:
            return [_card(r) for r in s.scalars(select(AudioTable).order_by(AudioTable.made.desc()))]


def _card(r: AudioTable) -> AudioCard:
    return AudioCard(r.word, r.name, r.seconds, r.channels, r.root)
