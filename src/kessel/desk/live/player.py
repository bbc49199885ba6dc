"""The player of a stream: the engine, and what is heard beside it or instead of it, quantum by quantum."""

from __future__ import annotations

import logging
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ...engine import QUANTUM, Engine, NoteEvent
from ...patch import Patch
from .backing_mix import BackingMix
from .listening import Monitor

_log = logging.getLogger(__name__)
_Real = NDArray[np.float64]
_ACROSS = (np.arange(QUANTUM) + 0.5) / QUANTUM
_GRAIN = 4 * QUANTUM
_GRAIN_WINDOW = 0.5 - 0.5 * np.cos(2 * np.pi * (np.arange(_GRAIN) + 0.5) / _GRAIN)


class Player:
    """Plays a patch. Only the live thread calls it.

    loop: the rendered loop, (2, n), once there is one. timed: gives a patch at the tempo it is played at. listen:
    stereo, mono or side. held: a beat whose sound is held, instead of playing on.
    """

    def __init__(
        self,
        patch: Patch,
        backing: BackingMix,
        monitor: Monitor,
        loop: Callable[[], NDArray[Any] | None],
        timed: Callable[[Patch], Patch] = lambda patch: patch,
    ) -> None:
        self.patch = patch
        self.engine = Engine(timed(patch), loop=False)
        self.backing, self.monitor = backing, monitor
        self.listen = "stereo"
        self.held: float | None = None
        self._loop, self._timed = loop, timed
        self._once = False
        self._left: int | None = None
        self._heard: _FromLoop | None = None
        self._tape: Callable[[_Real], None] | None = None

    # transport

    def start(self, beat: float = 0.0, joins: bool = False) -> None:
        """Play the phrase from a beat. joins: notes that began before it sound too."""
        engine = self.engine
        at = round(beat % engine.patch.phrase.beats / engine.patch.phrase.beats * engine.schedule.length)
        engine.restart(at, joins)
        engine.loop = True
        self._left = engine.schedule.length - at if self._once else None

    def stop(self) -> None:
        """Stop the phrase."""
        self.engine.loop = False
        self.engine.silence()

    def retime(self) -> None:
        """Play at another tempo."""
        patch = self._timed(self.patch)
        self.engine.update(patch)
        self.backing.follow(patch)

    def repeat(self, on: bool) -> None:
        """Loop the phrase, or play it once."""
        self._once = not on
        length = self.engine.schedule.length
        plays_on = self._once and self.engine.loop
        self._left = length - self.engine.schedule.position(self.engine.time) if plays_on else None

    def solo(self, layers: frozenset[str], source: tuple[str, str] | None) -> None:
        """Play some layers, or one source of a layer, alone."""
        self.engine.solo, self.engine.solo_source = layers, source

    def note(self, pitch: int, velocity: int) -> None:
        """Begin a note by hand, or end it without a velocity."""
        on = velocity > 0
        self.engine.play(NoteEvent(self.engine.time, on, f"hand-{pitch}", pitch, max(velocity, 1)))

    def control(self, what: str, value: float) -> None:
        """Move a performance controller."""
        self.engine.controller.goal[what] = value

    def tape_to(self, write: Callable[[_Real], None] | None) -> None:
        """Give every quantum that is heard to ``write`` too, or to nobody."""
        self._tape = write

    # position

    @property
    def alone(self) -> bool:
        """Whether something is soloed."""
        return bool(self.engine.solo or self.engine.solo_source)

    @property
    def beat(self) -> float:
        """The beat of the phrase at the next quantum; -1 while it stands."""
        return self._beats(self.engine.schedule.position(self.engine.time)) if self.engine.loop else -1.0

    def beat_before(self, samples: int) -> float:
        """The beat so many samples ago, since the phrase began."""
        if not self.engine.loop:
            return 0.0
        return self._beats(self.engine.time - samples - self.engine.schedule.origin)

    def _beats(self, samples: int) -> float:
        return samples / self.engine.schedule.length * self.engine.patch.phrase.beats

    # sound

    def take(self, patch: Patch | None, commands: Iterable[Callable[[Player], None]]) -> bool:
        """Apply another patch and commands. Failures are logged. Returns whether the patch can be played."""
        can = True
        try:
            if patch is not None:
                self.patch = patch
                self.engine.update(self._timed(patch))
        except Exception:
            _log.exception("the engine can't play a patch")
            can = False
        for act in commands:
            try:
                act(self)
            except Exception:
                _log.exception("a command to the engine failed")
        return can

    def quantum(self, fed: bool) -> tuple[_Real, bool]:
        """The next quantum as it is heard, (2, QUANTUM), and whether the phrase ended with it.

        fed: from the rendered loop, because the engine can't keep up.
        """
        engine, at = self.engine, self.engine.time
        x = self._next(fed)
        if engine.loop and self.backing.run.tracks:
            beside = self.backing.run.quantum(at - engine.latency, engine.schedule, engine.patch.phrase.beats)
            x = x if beside is None else x + beside
        x = self._listened(self.monitor.quantum(x))
        if self._tape is not None:
            self._tape(x)
        return x, self._ends()

    def _listened(self, x: _Real) -> _Real:
        if self.listen == "stereo":
            return x
        one = x[:1] + x[1:] if self.listen == "mono" else x[:1] - x[1:]
        return np.repeat(0.5 * one, 2, axis=0)

    def _ends(self) -> bool:
        """Count a phrase that is played once down. Returns whether it has ended."""
        if self._left is None or not self.engine.loop:
            return False
        self._left -= QUANTUM
        if self._left > 0:
            return False
        self._left = None
        self.stop()
        return True

    def _next(self, fed: bool) -> _Real:
        """The next quantum, from the engine or from the loop. A change between them is crossfaded over it."""
        engine, at = self.engine, self.engine.time
        before, now = self._heard, self._source(fed)
        self._heard = now
        live = None
        if before is None or now is None:
            if before is not None:
                # notes held when the engine was left have ended since
                engine.silence()
            live = engine.quantum()
        else:
            engine.time += QUANTUM
        x = _sound_of(now, live, at)
        if before is now or (before is not None and now is not None and before.same(now)):
            return x
        old = _sound_of(before, live, at)
        return np.asarray(old + _ACROSS * (x - old))

    def _source(self, fed: bool) -> _FromLoop | None:
        """What the next quantum is taken from; None: the engine."""
        if self.held is None and not fed:
            return None
        engine, loop = self.engine, self._loop()
        if self.held is not None:
            # a clock's tempo is not that of the loop
            length = engine.schedule.length if loop is None else loop.shape[1]
            return _FromLoop(loop, round(self.held / engine.patch.phrase.beats * length), held=True)
        return _FromLoop(loop if engine.loop else None, engine.schedule.origin)


@dataclass(frozen=True, eq=False)
class _FromLoop:
    """Sound from the rendered loop, (2, n), or silence without one.

    place: the engine's time at its beginning, or the sample whose surroundings are held.
    """

    loop: NDArray[Any] | None
    place: int
    held: bool = False

    def same(self, other: _FromLoop) -> bool:
        """Whether the other one goes on as this one does."""
        return self.loop is other.loop and self.place == other.place and self.held == other.held

    def quantum(self, time: int) -> _Real:
        """The quantum at ``time``."""
        if self.loop is None:
            return np.zeros((2, QUANTUM))
        if not self.held:
            return np.asarray(self.loop[:, (time - self.place + np.arange(QUANTUM)) % self.loop.shape[1]])
        # overlapping windows over the same stretch
        total = np.zeros((2, QUANTUM))
        half = (time // QUANTUM) % 2 * QUANTUM
        for place in (half, half + _GRAIN // 2):
            at = self.place - _GRAIN // 2 + place + np.arange(QUANTUM)
            total += self.loop[:, at % self.loop.shape[1]] * _GRAIN_WINDOW[place : place + QUANTUM]
        return total


def _sound_of(source: _FromLoop | None, live: _Real | None, time: int) -> _Real:
    if source is not None:
        return source.quantum(time)
    assert live is not None
    return live
