"""The latest note, which the movers of a chain follow."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ...dsp import QUANTUM
from ...patch import KEY_TRACK_CENTER
from ..clock import NoteEvent
from .matrix import ModulationMatrix
from .parameters import Array, ModulationValues
from .transport import TransportContext
from .voice import Voice

FADE = 480
"""Samples of the crossfade from the values before a note to those after it: 10 ms."""
_AWAY = 1.0 - (np.arange(QUANTUM + FADE) + 1.0) / FADE
_AWAY[FADE:] = 0.0


@dataclass
class _Gap:
    """The difference between the values before and after a new note, and the samples since."""

    much: float
    since: int


class LastNoteTracker:
    """Restarts the movers of a chain with every note, and crossfades from their values before it."""

    def __init__(self) -> None:
        self.voice = Voice()
        self.voice.began = -(1 << 40)
        self.voice.pitch = KEY_TRACK_CENTER
        self._heard = False
        self._held: list[NoteEvent] = []
        self._gaps: dict[str, _Gap] = {}

    @property
    def begun(self) -> bool:
        """Whether any note has begun yet."""
        return self.voice.began > -(1 << 40)

    def quantum(
        self, events: list[NoteEvent], matrix: ModulationMatrix, now: TransportContext
    ) -> tuple[ModulationValues, Array | float]:
        """Values of the movers over the quantum, and the pitch above C2 in octaves."""
        before = self.voice
        begun: NoteEvent | None = None
        for event in events:
            at = min(max(event.at - now.start, 0), QUANTUM - 1)
            self._held = [h for h in self._held if h.note != event.note]
            if event.on:
                self._held.append(event)
                begun = event
            elif not self._held and begun is None:
                before.release(at)
            elif not self._held:
                self.voice.release(at)
            if event.on:
                self.voice = Voice()
                self.voice.begin(at, event, float(event.pitch), 0)
                self.voice.active = True
        if begun is None:
            before.begin_span(now.start, 0, QUANTUM)
            return self._closed(matrix.values(before, now), float(before.pitch), 0, None)
        at = min(max(begun.at - now.start, 0), QUANTUM - 1)
        before.begin_span(now.start, 0, QUANTUM)
        old, old_pitch = self._closed(matrix.values(before, now), float(before.pitch), 0, None)
        self.voice.begin_span(now.start, at, QUANTUM)
        new = matrix.values(self.voice, now)
        return self._closed(new, float(self.voice.pitch), at, (old, old_pitch))

    def _closed(
        self, new: ModulationValues, pitch: float, at: int, before: tuple[ModulationValues, Array | float] | None
    ) -> tuple[ModulationValues, Array | float]:
        """The new values, crossfaded from the old ones at sample ``at``."""
        octaves = (pitch - KEY_TRACK_CENTER) / 12.0
        if before is not None:
            old, was = before
            found = {i: self._after(i, values, old.get(i), at) for i, values in new.items()}
            return found, self._pitch_after(octaves, was, at)
        if not self._gaps:
            return new, octaves
        found = {i: self._fading(i, values) for i, values in new.items()}
        gap = self._gaps.get("/pitch")
        glide = octaves if gap is None else octaves + gap.much * _AWAY[gap.since : gap.since + QUANTUM]
        self._pass()
        return found, glide

    def _fading(self, name: str, values: Array) -> Array:
        gap = self._gaps.get(name)
        return values if gap is None else values + gap.much * _AWAY[gap.since : gap.since + QUANTUM]

    def _pass(self) -> None:
        for gap in self._gaps.values():
            gap.since += QUANTUM
        self._gaps = {i: g for i, g in self._gaps.items() if g.since < FADE}

    def _after(self, name: str, values: Array, old: Array | None, at: int) -> Array:
        if old is None:
            return values
        out = values.copy()
        out[:at] = old[:at]
        gap = float(old[at - 1] if at else old[0]) - float(values[at])
        if abs(gap) > 1e-12:
            out[at:] += gap * _AWAY[: QUANTUM - at]
            self._keep(name, gap, QUANTUM - at)
        return out

    def _keep(self, name: str, gap: float, since: int) -> None:
        self._gaps.pop(name, None)
        if since < FADE:
            self._gaps[name] = _Gap(gap, since)

    def _pitch_after(self, octaves: float, was: Array | float, at: int) -> Array | float:
        if not self._heard:
            # the first note has no previous pitch to glide from
            self._heard = True
            return octaves
        old = np.full(QUANTUM, was) if isinstance(was, float) else was
        if old[at] == octaves and isinstance(was, float):
            return octaves
        out = np.full(QUANTUM, octaves)
        out[:at] = old[:at]
        gap = float(old[at]) - octaves
        out[at:] += gap * _AWAY[: QUANTUM - at]
        self._keep("/pitch", gap, QUANTUM - at)
        return out
