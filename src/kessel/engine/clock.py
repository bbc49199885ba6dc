"""The clock: when notes and the kicks of the built-in beat fall, in samples and beats."""

from __future__ import annotations

from bisect import bisect_left
from dataclasses import dataclass

from ..dsp import RATE
from ..patch import Phrase


@dataclass(frozen=True)
class NoteEvent:
    """A note begins (``on``) or ends at a sample of the engine's time."""

    at: int
    on: bool
    note: str
    pitch: int
    velocity: int


def samples_per_beat(tempo: float) -> float:
    """Samples per beat at ``tempo`` beats per minute."""
    return 60.0 * RATE / tempo


def loop_samples(phrase: Phrase, tempo: float) -> int:
    """Length of the loop in whole samples."""
    return round(phrase.beats * samples_per_beat(tempo))


class Schedule:
    """The looped phrase as note events.

    Time 0 is the start of the phrase; it repeats in both directions. Every pass has the same whole number of samples.
    """

    def __init__(self, phrase: Phrase, tempo: float, origin: int = 0) -> None:
        self.length = loop_samples(phrase, tempo)
        self.origin = origin
        beat = samples_per_beat(tempo)
        marks: list[tuple[int, int, str, int, int]] = []
        for n in phrase.notes:
            start = round(n.start * beat)
            end = start + max(48, round(min(n.length, phrase.beats) * beat) - 1)
            marks.append((start, 1, n.id, n.pitch, n.velocity))
            marks.append((end, 0, n.id, n.pitch, n.velocity))
        # at the same sample, note-offs come before note-ons
        self._marks = sorted(marks)
        self._times = [m[0] for m in self._marks]
        self._longest = max((m[0] for m in marks), default=0)

    def between(self, start: int, stop: int) -> list[NoteEvent]:
        """Events with start <= time < stop, in order."""
        found: list[NoteEvent] = []
        if not self._marks:
            return found
        first = (start - self.origin - self._longest) // self.length
        last = (stop - 1 - self.origin) // self.length
        for turn in range(first, last + 1):
            base = self.origin + turn * self.length
            if base > stop:
                break
            here = bisect_left(self._times, start - base), bisect_left(self._times, stop - base)
            for at, on, note, pitch, velocity in self._marks[slice(*here)]:
                found.append(NoteEvent(base + at, bool(on), note, pitch, velocity))
        found.sort(key=lambda e: (e.at, e.on))
        return found

    def moves_freely(self, time: int, by: int) -> bool:
        """Whether the phrase can be moved on by so many samples (back, if negative) at a time without skipping an event
        or playing one twice.
        """
        return not self.between(min(time, time + by), max(time, time + by))

    def taken_over(self, before: Schedule, time: int) -> bool:
        """Go on from another tempo of the same phrase, so that the next event is the one that would have come.

        Sets the origin. Returns whether that can be.
        """
        if [m[1:3] for m in self._marks] != [m[1:3] for m in before._marks]:
            return False
        old = before.position(time)
        at = round(old / before.length * self.length)
        # a note may end in the pass after its own
        for turn in range(1 + before._longest // before.length):
            n = bisect_left(before._times, old + turn * before.length)
            since = self._times[n - 1] + 1 if n else 0
            until = self._times[n] if n < len(self._times) else (turn + 1) * self.length
            at = min(max(at, since - turn * self.length), until - turn * self.length)
        self.origin = time - at
        return 0 <= at < self.length

    def position(self, time: int) -> int:
        """Samples since the start of the present pass."""
        return (time - self.origin) % self.length

    def sounding(self, time: int) -> list[NoteEvent]:
        """Starts of the notes that are held at ``time``."""
        held: dict[str, NoteEvent] = {}
        for e in self.between(time - self._longest - 1, time):
            if e.on:
                held[e.note] = e
            else:
                held.pop(e.note, None)
        return list(held.values())


BEAT_BEATS = 8
"""The built-in beat is two bars long."""

PATTERNS: dict[str, tuple[str, str, str]] = {
    "four": (
        "x... x... x... x...  x... x... x... x...",
        ".... x... .... x...  .... x... .... x...",
        "..x. ..x. ..x. ..x.  ..x. ..x. ..x. .xx.",
    ),
    "half-step": (
        "x... .... ..x. ....  x... ...x .... ....",
        ".... .... x... ....  .... .... x... ....",
        "x.x. x.xx x.x. x.x.  x.x. x.xx x.x. xxx.",
    ),
    "broken": (
        "x... ..x. ..x. ....  x..x .... ..x. ....",
        ".... x... .... x...  .... x... .... x..x",
        "x.x. x.x. x.x. x.x.  x.x. x.x. xxx. x.x.",
    ),
    "rolling": (
        "x... .... ..x. ....  x... .... ..x. ..x.",
        ".... x... .... x...  .x.. x... .... x.x.",
        "x.xx x.xx x.xx x.xx  x.xx x.xx x.xx x.xx",
    ),
    "offbeat": (
        "x... .... x... ....  x... .... x... ..x.",
        ".... ..x. .... ..x.  .... ..x. .... ..x.",
        "..x. ..x. ..x. ..x.  ..x. ..x. ..x. ..x.",
    ),
    "slow": (
        "x... .... .... .x..  ..x. .... .... ....",
        ".... .... x... ....  .... .... x... ....",
        "x... x... x... x...  x... x... x..x x...",
    ),
}
"""Kick, snare and hats in sixteenths over two bars."""


def kick_beats(pattern: str) -> list[float]:
    """Positions of the kick, in beats."""
    marks = PATTERNS[pattern][0].replace(" ", "")
    return [i / 4.0 for i, m in enumerate(marks) if m == "x"]
