"""Voice allocation: mono, legato, polyphonic, or a drone."""

from __future__ import annotations

from collections.abc import Callable

from ...dsp import QUANTUM, RATE
from ...patch import Play
from ..clock import NoteEvent
from ..modulation import Voice

SLOTS = 14
"""Voices that sound together, including those that are fading out."""
DRONE = "drone"

StartVoice = Callable[[Voice, NoteEvent, int], None]


class VoiceAllocator:
    """Gives each note a voice. ``begun`` is called for each voice that starts, with its event and sample in the
    quantum.
    """

    def __init__(self, play: Play, begun: StartVoice) -> None:
        self.play = play
        self.adds = False
        """Whether new notes have a partner at the added interval."""
        self.voices: list[Voice] = []
        self.held: list[NoteEvent] = []
        self.current: Voice | None = None
        self.last_pitch: float | None = None
        self._begun = begun

    def note(self, event: NoteEvent, start: int) -> None:
        """Handle an event of the quantum that starts at ``start``."""
        at = min(max(event.at - start, 0), QUANTUM - 1)
        if event.on:
            self._on(event, at)
        else:
            self._off(event, at)

    def _glide(self, overlap: bool) -> int:
        if self.play.glide <= 0 or (self.play.glide_when == "overlap" and not overlap):
            return 0
        return max(1, round(self.play.glide * RATE / 1000.0))

    def _slot(self) -> Voice:
        found = next((v for v in self.voices if v.idle), None)
        if found is None and len(self.voices) < SLOTS:
            found = Voice()
            self.voices.append(found)
        if found is None:
            found = max((v for v in self.voices if v is not self.current), key=lambda v: v.choking or 0)
        return found

    def _on(self, event: NoteEvent, at: int) -> None:
        overlap = bool(self.held)
        self.held = [h for h in self.held if h.note != event.note] + [event]
        current = self.current
        sounding = current is not None and current.active and not current.released
        if sounding and overlap and self.play.mode in ("legato", "drone"):
            assert current is not None
            current.bend_to(at, event, self._glide(True))
            self.last_pitch = float(event.pitch)
            return
        self._make_room(event, at)
        origin, glide = self._origin(event, overlap)
        fresh = self._slot()
        fresh.partner = (fresh.partner or Voice()) if self.adds else None
        for voice in fresh.both():
            voice.tension = self.play.glide_curve * 0.06
            voice.shift = 0.0 if voice is fresh else self.play.interval
            voice.begin(at, event, origin, glide)
        self._begun(fresh, event, at)
        self.current = fresh
        self.last_pitch = float(event.pitch)

    def _origin(self, event: NoteEvent, overlap: bool) -> tuple[float, int]:
        """The pitch from which a new note glides, and the samples that it takes."""
        if self.last_pitch is None:
            return float(event.pitch), 0
        glide = self._glide(overlap)
        current = self.current
        if current is not None and current.active and glide and self.play.mode != "voices":
            return current.sounding_pitch(), glide
        return self.last_pitch, glide

    def _make_room(self, event: NoteEvent, at: int) -> None:
        """End the voices that a new note replaces.

        With several voices at once, one is stolen if all are in use: first one of the same note, then a released one,
        then the oldest.
        """
        if self.play.mode != "voices":
            for voice in self.voices:
                if not voice.idle:
                    voice.choke(at)
            return
        sounding = [v for v in self.voices if not v.idle and v.choking is None]
        for voice in sounding:
            if voice.note == event.note and not voice.released:
                voice.release(at)
        if len(sounding) >= self.play.voices:
            min(sounding, key=lambda v: (not v.released, v.began)).choke(at)

    def _off(self, event: NoteEvent, at: int) -> None:
        top = bool(self.held) and self.held[-1].note == event.note
        self.held = [h for h in self.held if h.note != event.note]
        if self.play.mode == "voices":
            for voice in self.voices:
                if voice.active and voice.note == event.note and not voice.released:
                    voice.release(at)
            return
        current = self.current
        if not top or current is None or not current.active:
            return
        if self.held:
            # return to the note that is still held
            current.bend_to(at, self.held[-1], self._glide(True))
            self.last_pitch = float(self.held[-1].pitch)
        else:
            current.release(at)

    def all_off(self) -> None:
        """Release all held notes at the start of the next quantum."""
        self.held = []
        for voice in self.voices:
            if voice.active and not voice.released:
                voice.release(0)

    def drone(self, start: int, on: bool, pitch: int) -> None:
        """Keep the lowest note of the phrase sounding under all others while the phrase runs."""
        there = any(h.note == DRONE for h in self.held)
        if on and not there:
            self.held = [NoteEvent(start, True, DRONE, pitch, 127), *self.held]
            if len(self.held) == 1:
                self.held = []
                self._on(NoteEvent(start, True, DRONE, pitch, 127), 0)
        elif there and not on:
            self._off(NoteEvent(start, False, DRONE, pitch, 0), 0)
