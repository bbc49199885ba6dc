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

HELD: list[tuple[int, int, bool]] = []
"""Quanta without events for a voice; shared, must not be changed."""
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

    def pitches(self, a: int, quanta: int = 1) -> Array | float:
        """Pitch in semitones over samples a.. of so many quanta; an array over those in which it changes."""
        if not self.marks and self.glide_pos >= self.glide_length:
            return self.pitch + self.shift
        pitch_marks = [(m[0], m[2]) for m in self.marks if m[1] == "pitch"]
        if not pitch_marks and self.glide_pos >= self.glide_length:
            return self.pitch + self.shift
        out = np.full(quanta * QUANTUM, self.pitch)
        at = a
        for mark, goal in [*pitch_marks, (out.size, None)]:
            still = at + max(0, self.glide_length - self.glide_pos)
            self._glide(out, at, mark)
            if goal is not None:
                self.glide_from = self.sounding_pitch()
                self.pitch, self.glide_pos, self.glide_length = goal, 0, self._glide_next
                if self._glide_next == 0:
                    self.glide_from = goal
            at = mark
        last = min(quanta, max(1, -(-still // QUANTUM)))
        return out[: last * QUANTUM] + self.shift

    def _glide(self, out: Array, a: int, b: int) -> None:
        n = min(b - a, max(0, self.glide_length - self.glide_pos))
        if n > 0:
            gone = self._gone(self.glide_pos + np.arange(n, dtype=np.float64))
            out[a : a + n] = self.glide_from + (self.pitch - self.glide_from) * gone
            self.glide_pos += n
        out[a + max(n, 0) : b] = self.pitch

    def delay_past(self, past: Array, stages: int) -> None:
        """Delay what bypasses the stages, (channels, n), by their latency, in place."""
        if stages == 0:
            return
        if self._past_line.shape != (past.shape[0], stages):
            self._past_line = np.zeros((past.shape[0], stages))
        delay_in_place(past, 0, past.shape[1], self._past_line)

    def begin_span(self, start: int, a: int, size: int) -> None:
        """Prepare the quanta from sample ``start`` on, ``size`` samples; the voice sounds from their sample a on.

        ``spans``: first and last sample, and whether the note is released at the end.
        """
        if not self.marks:
            self.spans = HELD if a == 0 else [(a, size, False)]
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
        self.spans.append((at, size, False))
        self.marks = []

    def end_span(self, level: Array, ended: int, late: int, may_rest: bool) -> int:
        """End the quanta of its level, (n,), in place. Returns in how many of them the voice is heard.

        ended: sample at which the level's envelope ends. late: latency of sources and stages, by which the level is
        delayed; the voice is heard until all is out. may_rest: a voice that stays silent need not be rendered.
        """
        whole = level.size // QUANTUM
        if self.choking is not None:
            # the fade of a voice that is replaced
            first, gone = max(0, -self.choking), max(0, self.choking)
            n = max(0, min(CHOKE - gone, level.size - first))
            level[first : first + n] *= _FALL[gone : gone + n]
            level[first + n :] = 0.0
            ended = min(ended, CHOKE - self.choking)
            self.choking += level.size
        over = ended <= level.size
        heard = min(whole, max(1, -(-ended // QUANTUM))) if over else whole
        while heard < whole and late and level[heard * QUANTUM - late : heard * QUANTUM].any():
            heard += 1
        state = self.gates.get(LEVEL)
        settled = over or state is None or state[0] >= SUSTAIN
        if may_rest and settled and not level[-1]:
            heard = min(heard, self._last_heard(level, late))
        if over:
            self.active = False
        if late and heard:
            if self._level_line.shape[1] != late:
                self._level_line = np.zeros((1, late))
            delay_in_place(level[: heard * QUANTUM].reshape(1, -1), 0, heard * QUANTUM, self._level_line)
            self.active = self.active or (heard == whole and bool(self._level_line.any()))
        return heard

    def _last_heard(self, level: Array, late: int) -> int:
        """The quanta until nothing is left of a level that has settled at zero."""
        sounding = np.flatnonzero(level)
        if sounding.size:
            return -(-(int(sounding[-1]) + 1 + late) // QUANTUM)
        return 1 if self._level_line.any() else 0

    @property
    def spent(self) -> bool:
        """Whether its level envelope has ended."""
        state = self.gates.get(LEVEL)
        return not self.active or state is None or state[0] == IDLE
