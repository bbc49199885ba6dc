"""What is heard, kept for a file: every quantum as it goes to the page."""

from __future__ import annotations

import os
import tempfile
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..engine import RATE

LONGEST = 30 * 60 * RATE
"""Frames after which a tape is full: half an hour, 660 MB."""
_FRAME = 8
_BLOCK = 1 << 16


class Tape:
    """Stereo sound in a temporary file, which goes with it. One thread writes; others read what is there.

    Another process gets the same tape by pickling: it writes on to the same file, and leaves it there.
    """

    def __init__(self, path: str | None = None) -> None:
        # closed, and so gone, with the tape that made it
        made = tempfile.NamedTemporaryFile(prefix="kessel-") if path is None else None  # noqa: SIM115
        self._file: Any = made or Path(str(path)).open("r+b")  # noqa: SIM115
        self.frames = 0
        self.peak = 0.0
        self.problem: str | None = None

    def __reduce__(self) -> tuple[Callable[..., Tape], tuple[str, int, float]]:
        return _again, (self._file.name, self.frames, self.peak)

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
        data = np.ascontiguousarray(x.T, dtype="<f4").tobytes()
        try:
            if os.pwrite(self._file.fileno(), data, _FRAME * self.frames) < len(data):
                self.problem = "the recording ends here: the disk is full"
                return
        except OSError as problem:
            self.problem = f"the recording ends here: {problem.strerror or problem}"
            return
        self.frames += x.shape[1]
        self.peak = max(self.peak, float(np.abs(x).max()))

    def look(self) -> None:
        """Find out from the file how far its writer came."""
        self.frames = os.fstat(self._file.fileno()).st_size // _FRAME
        self.peak = max((float(np.abs(x).max()) for x in self.blocks()), default=0.0)

    def blocks(self) -> Iterator[NDArray[np.float32]]:
        """The sound in blocks, (2, n)."""
        for first in range(0, self.frames, _BLOCK):
            data = os.pread(self._file.fileno(), _FRAME * min(_BLOCK, self.frames - first), _FRAME * first)
            yield np.frombuffer(data, dtype="<f4").reshape(-1, 2).T


def _again(path: str, frames: int, peak: float) -> Tape:
    tape = Tape(path)
    tape.frames, tape.peak = frames, peak
    return tape
