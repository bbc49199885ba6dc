"""What is heard, kept for a file: every quantum as it goes to the page."""

from __future__ import annotations

import tempfile
import threading
from collections.abc import Iterator

import numpy as np
from numpy.typing import NDArray

from ..engine import RATE

LONGEST = 30 * 60 * RATE
"""Frames after which a tape is full: half an hour, 660 MB."""
_FRAME = 8
_BLOCK = 1 << 16


class Tape:
    """Stereo sound in a temporary file, which goes with it. One thread writes; others read what is there."""

    def __init__(self) -> None:
        # closed, and so gone, with the tape
        self._file = tempfile.TemporaryFile()  # noqa: SIM115
        self._lock = threading.Lock()
        self.frames = 0
        self.peak = 0.0
        self.problem: str | None = None

    @property
    def seconds(self) -> float:
        """Its length."""
        return self.frames / RATE

    def write(self, x: NDArray[np.float64]) -> None:
        """Append x, (2, n). Once it is full, or the disk is, nothing more is taken, and ``problem`` says why."""
        if self.problem is not None:
            return
        if self.frames >= LONGEST:
            self.problem = "the recording is half an hour long: it ends here"
            return
        try:
            with self._lock:
                self._file.seek(_FRAME * self.frames)
                self._file.write(np.ascontiguousarray(x.T, dtype="<f4").tobytes())
        except OSError as problem:
            self.problem = f"the recording ends here: {problem.strerror or problem}"
            return
        self.frames += x.shape[1]
        self.peak = max(self.peak, float(np.abs(x).max()))

    def blocks(self) -> Iterator[NDArray[np.float32]]:
        """The sound in blocks, (2, n)."""
        for first in range(0, self.frames, _BLOCK):
            with self._lock:
                self._file.seek(_FRAME * first)
                data = self._file.read(_FRAME * min(_BLOCK, self.frames - first))
            yield np.frombuffer(data, dtype="<f4").reshape(-1, 2).T
