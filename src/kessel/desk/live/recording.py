"""Recording into the phrase, at the position that was heard."""

from __future__ import annotations

from dataclasses import dataclass, field

from ..editing import SHORTEST


@dataclass
class Recording:
    """Notes and lane points that are recorded while the phrase plays. Beats continue over the passes."""

    beats: float
    snap: float = 0.25
    notes: list[tuple[int, float, float, int]] = field(default_factory=list)
    lanes: dict[str, list[tuple[float, float]]] = field(default_factory=dict)
    macros: dict[str, list[tuple[float, float]]] = field(default_factory=dict)
    _open: dict[int, tuple[float, int]] = field(default_factory=dict)

    def note(self, beat: float, pitch: int, velocity: int) -> None:
        """A key is pressed (velocity above 0) or released at a beat."""
        begun = self._open.pop(pitch, None)
        if begun is not None:
            start, hard = begun
            self.notes.append((pitch, start % self.beats, max(beat - start, SHORTEST), hard))
        if velocity > 0:
            self._open[pitch] = (beat, velocity)

    def lane(self, beat: float, name: str, value: float) -> None:
        """A bend, wheel or pressure at a beat."""
        self.lanes.setdefault(name, []).append((round(beat % self.beats, 4), value))

    def macro(self, beat: float, name: str, value: float) -> None:
        """The value of a macro at a beat, 0..1. Its automation may be longer than the phrase."""
        self.macros.setdefault(name, []).append((round(beat, 4), value))

    def finish(self, beat: float) -> None:
        """End the notes that are still held."""
        for pitch in list(self._open):
            self.note(beat, pitch, 0)
