"""Audio files of the data folder, named by the digest of their content."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray
from sqlalchemy import select

from ..formats import audio_file, wav_bytes, word_of_sound, write_whole
from .database import Sessions, keeping_file
from .records import AudioCard
from .tables import AudioTable, now


class AudioStore:
    """The audio of one data folder."""

    def __init__(self, sessions: Sessions, folder: Path) -> None:
        self._sessions, self._folder = sessions, folder

    def keep(self, x: NDArray[np.floating[Any]], name: str, root: float | None) -> AudioCard:
        """Store audio, (1 or 2, n) at 48 kHz, unless it is stored already. Raises NotKept."""
        word = word_of_sound(x)
        path = self._path(word)
        if not path.exists():
            with keeping_file():
                write_whole(path, wav_bytes(x))
        return self._entered(word, name, x.shape[0], x.shape[1] / 48000.0, root)

    def adopt(self, file: Path, word: str, name: str, channels: int, seconds: float, root: float | None) -> AudioCard:
        """Store a 48 kHz WAV file of 32-bit float by moving it here. Raises NotKept."""
        path = self._path(word)
        if path.exists():
            file.unlink(missing_ok=True)
        else:
            with keeping_file():
                file.chmod(0o644)
                file.replace(path)
        return self._entered(word, name, channels, seconds, root)

    def _path(self, word: str) -> Path:
        path = audio_file(self._folder, word)
        if path is None:
            raise ValueError(word)
        with keeping_file():
            path.parent.mkdir(parents=True, exist_ok=True)
        return path

    def _entered(self, word: str, name: str, channels: int, seconds: float, root: float | None) -> AudioCard:
        with self._sessions.write() as s:
            row = s.get(AudioTable, word)
            if row is None:
                row = AudioTable(word=word, name=name[:60], seconds=seconds, channels=channels, root=root, made=now())
                s.add(row)
                s.flush()
            return _card(row)

    def card(self, word: str) -> AudioCard | None:
        """The record of one piece of audio."""
        with self._sessions.read() as s:
            row = s.get(AudioTable, word)
            return _card(row) if row is not None else None

    def all(self) -> list[AudioCard]:
        """All audio, newest first."""
        with self._sessions.read() as s:
            return [_card(r) for r in s.scalars(select(AudioTable).order_by(AudioTable.made.desc()))]


def _card(r: AudioTable) -> AudioCard:
    return AudioCard(r.word, r.name, r.seconds, r.channels, r.root)
