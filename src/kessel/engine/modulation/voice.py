"""A voice: one note with its pitch, gates and stage states."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from ...dsp import QUANTUM
from ...dsp.delays.in_place import delay_in_place
from ...dsp.envelopes import IDLE, SUSTAIN
from ...dsp.nonlinear.halfband import LINE
from ..clock import NoteEvent
from .parameters import Array

CHOKE = 240
"""Samples over which a voice fades out when the next note takes over: 5 ms."""

HELD = [(0, QUANTUM, False)]
"""A quantum without events for a voice; shared, must not be changed."""
LEVEL = "level"
"""Name of a voice's level envelope among its gates."""
_FALL = 0.5 + 0.5 * np.cos(np.pi * (np.arange(CHOKE) + 1) / CHOKE)


class Voice:
    """One voice slot, which holds at most one note. A partner plays the same notes at an added interval."""

    def __init__(self) -> None:
        self.active = False
        self.note = ""
        self.pitch = 0.0
        self.shift = 0.0
        self.velocity = 1.0
        self.began = 0
        self.start = 0
        self.released = False
        self.partner: Voice | None = None
        self.gates: dict[str, Array] = {}
        self.shapes: dict[str, Any] = {}
        self.turned: dict[str, float] = {}
        self.let_go: int | None = None
        self.spans: list[tuple[int, int, bool]] = []
        self.stage_states: dict[str, Any] = {}
        self.down: Array = np.zeros((2, LINE))
        self._level_line: Array = np.zeros((1, 0))
        self._past_line: Array = np.zeros((1, 0))
        self.marks: list[tuple[int, str, float]] = []
        self.choking: int | None = None
        self.glide_from = 0.0
        self.glide_pos = 0
        self.glide_length = 0
        self.tension = 0.0
        self._glide_next = 0

    @property
    def idle(self) -> bool:
        """Whether nothing sounds in it or in its partner."""
        return not self.active and (self.partner is None or not self.partner.active)

    def both(self) -> list[Voice]:
        """The voice, and its partner if it has one."""
        return [self] if self.partner is None else [self, self.partner]

    def begin(self, at: int, event: NoteEvent, pitch_from: float, glide: int) -> None:
        """Start a note at sample ``at`` of the quantum. glide: samples of the glide from ``pitch_from``."""
        self.active, self.note, self.released = True, event.note, False
        self.pitch = float(event.pitch)
        self.began, self.start = event.at, at
        self.velocity = event.velocity / 127.0
        self.choking = None
        self.marks = []
        self.gates, self.shapes, self.turned = {}, {}, {}
        self.let_go = None
        self.stage_states = {}
        self.down = np.zeros((2, LINE))
        self._level_line = np.zeros((1, 0))
        self._past_line = np.zeros((1, 0))
        self.glide_from, self.glide_pos, self.glide_length = pitch_from, 0, glide
        if glide == 0:
            self.glide_from = self.pitch

    def bend_to(self, at: int, event: NoteEvent, glide: int) -> None:
        """Go to another note without a new attack."""
        for v in self.both():
            v.note = event.note
            v.marks.append((at, "pitch", float(event.pitch)))
            v._glide_next = glide

    def release(self, at: int) -> None:
        """Release the note at a sample of the quantum."""
        for v in self.both():
            v.released = True
            v.marks.append((at, "off", 0.0))

    def choke(self, at: int) -> None:
        """Fade out for the next note."""
        for v in self.both():
            if v.choking is None:
                v.choking = -at

    def _gone(self, pos: Array | float) -> Array | float:
        """Share of the glide that is done ``pos`` samples into it."""
        t = pos / self.glide_length
        if abs(self.tension) < 1e-3:
            return t
        return (1.0 - np.exp(-self.tension * t)) / (1.0 - math.exp(-self.tension))

    def sounding_pitch(self) -> float:
        """Present pitch of a glide in semitones, without the partner's interval."""
        if self.glide_pos >= self.glide_length:
            return self.pitch
        return self.glide_from + (self.pitch - self.glide_from) * float(self._gone(float(self.glide_pos)))

    def pitches(self, a: int) -> tuple[Array | float, bool]:
        """Pitch in semitones over samples a.. of the quantum, and whether it changes."""
        if not self.marks and self.glide_pos >= self.glide_length:
            return self.pitch + self.shift, False
        pitch_marks = [(m[0], m[2]) for m in self.marks if m[1] == "pitch"]
        if not pitch_marks and self.glide_pos >= self.glide_length:
            return self.pitch + self.shift, False
        out = np.full(QUANTUM, self.pitch)
        at = a
        for mark, goal in [*pitch_marks, (QUANTUM, None)]:
            self._glide(out, at, mark)
            if goal is not None:
                self.glide_from = self.sounding_pitch()
                self.pitch, self.glide_pos, self.glide_length = goal, 0, self._glide_next
                if self._glide_next == 0:
                    self.glide_from = goal
            at = mark
        return out + self.shift, True

    def _glide(self, out: Array, a: int, b: int) -> None:
        n = min(b - a, max(0, self.glide_length - self.glide_pos))
        if n > 0:
            gone = self._gone(self.glide_pos + np.arange(n, dtype=np.float64))
            out[a : a + n] = self.glide_from + (self.pitch - self.glide_from) * gone
            self.glide_pos += n
        out[a + max(n, 0) : b] = self.pitch

    def delay_level(self, level: Array, past: Array | None, late: int, stages: int) -> None:
        """Delay the level by the latency of sources and stages, and what bypasses the stages by theirs, in place.

        The voice stays active until all is out.
        """
        if late == 0:
            return
        if self._level_line.shape[1] != late:
            self._level_line = np.zeros((1, late))
        delay_in_place(level.reshape(1, -1), 0, QUANTUM, self._level_line)
        self.active = self.active or bool(self._level_line.any())
        if stages and past is not None:
            if self._past_line.shape != (past.shape[0], stages):
                self._past_line = np.zeros((past.shape[0], stages))
            delay_in_place(past, 0, QUANTUM, self._past_line)

    def begin_quantum(self, start: int, a: int) -> None:
        """Prepare the quantum at sample ``start``; the voice sounds from its sample ``a`` on.

        ``spans``: first and last sample, and whether the note is released at the end.
        """
        if not self.marks:
            self.spans = HELD if a == 0 else [(a, QUANTUM, False)]
            return
        self.spans = []
        at = a
        for mark, what, _ in sorted(self.marks, key=lambda m: m[0]):
            if what != "off":
                continue
            mark = max(mark, at)
            self.spans.append((at, mark, True))
            self.let_go = start + mark
            at = mark
        self.spans.append((at, QUANTUM, False))
        self.marks = []

    def end_quantum(self, level: Array) -> None:
        """Apply the fade of a stolen voice to the level, and end the voice once it is silent."""
        if self.choking is not None:
            first, gone = max(0, -self.choking), max(0, self.choking)
            n = max(0, min(CHOKE - gone, QUANTUM - first))
            level[first : first + n] *= _FALL[gone : gone + n]
            level[first + n :] = 0.0
            self.choking += QUANTUM
        state = self.gates.get(LEVEL)
        if state is None or state[0] == IDLE or (self.choking is not None and self.choking >= CHOKE):
            self.active = False

    def silent(self, level: Array) -> bool:
        """Whether its level, (QUANTUM,), has settled at zero."""
        state = self.gates.get(LEVEL)
        rests = state is None or state[0] == IDLE or state[0] >= SUSTAIN
        return rests and not level.any() and not self._level_line.any()

    @property
    def spent(self) -> bool:
        """Whether its level envelope has ended."""
        state = self.gates.get(LEVEL)
        return not self.active or state is None or state[0] == IDLE
