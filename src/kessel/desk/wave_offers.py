"""A wave that is about to be cut from a file: shown as it would be, before it is taken."""

from __future__ import annotations

from dataclasses import dataclass

from ..intake import WaveCut, WaveFile, cut, wave_of_cut, ways_for
from ..patch import Wave


@dataclass(frozen=True)
class WaveOffer:
    """A file for the oscillator at ``path``, the ways to cut a wave from it, and how it is cut now."""

    path: str
    file: WaveFile
    ways: tuple[str, ...]
    made: WaveCut

    def again(self, way: str, length: int = 0) -> WaveOffer:
        """The file cut another way. Raises ValueProblem."""
        return WaveOffer(self.path, self.file, self.ways, cut(self.file, way, length))

    @property
    def wave(self) -> Wave:
        """What it makes."""
        return wave_of_cut(self.file, self.made)


def offered(path: str, file: WaveFile) -> WaveOffer:
    """A file cut in the most likely way. Raises ValueProblem."""
    return WaveOffer(path, file, tuple(ways_for(file)), cut(file))
