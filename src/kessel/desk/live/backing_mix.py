"""The tracks of a patch's backing, prepared off the live thread."""

from __future__ import annotations

import threading
from typing import Any

from ...engine import BackingPlayer, Track, audio_of, beat_track, gain_of, loop_track
from ...library import NoSuchPatch
from ...patch import Backing, BackingLoop, BackingPatch, Patch, ValueProblem
from .played import PlayedPatch


def gains_of(backing: Backing) -> dict[str, float]:
    """Linear gain of every track."""
    found = {"beat": gain_of(backing.beat.level) if backing.beat.on else 0.0}
    parts: list[BackingLoop | BackingPatch] = [*backing.loops, *backing.patches]
    found |= {p.id: gain_of(p.level) if p.on else 0.0 for p in parts}
    return found


def _content(patch: Patch) -> tuple[Any, ...]:
    """What the tracks depend on, without faders."""
    backing = patch.backing
    beat = backing.beat.model_copy(update={"on": True, "level": 0.0}) if backing.beat.on else None
    loops = tuple((p.id, p.audio, p.tempo, p.offset) for p in backing.loops if p.on)
    patches = tuple((p.id, p.slug) for p in backing.patches if p.on)
    return beat, loops, patches, patch.tempo


class BackingMix:
    """Keeps the tracks of a running stream up to date with a patch."""

    def __init__(self, played: PlayedPatch) -> None:
        self._played = played
        self._lock = threading.Lock()
        self._wanted: tuple[Any, ...] | None = None
        self.run = BackingPlayer()
        self.problem: str | None = None

    def follow(self, patch: Patch, wait: bool = False) -> None:
        """Apply a patch's backing: faders at once, tracks when they are ready. wait: prepare them now."""
        self.run.gains = gains_of(patch.backing)
        content = _content(patch)
        with self._lock:
            if content == self._wanted:
                return
            self._wanted = content
        if not any(content[:3]):
            self.run.tracks = ()
            return
        if wait:
            self._make(patch, content)
        else:
            threading.Thread(target=self._make, args=(patch, content), name="backing", daemon=True).start()

    def _make(self, patch: Patch, content: tuple[Any, ...]) -> None:
        backing, tempo = patch.backing, patch.tempo
        tracks: list[Track] = []
        if content[0] is not None:
            tracks.append(beat_track(content[0], tempo))
        problems = []
        for loop in backing.loops:
            if loop.on:
                x = audio_of(loop.audio)
                if x is None:
                    problems.append(f"the audio of {loop.name} is missing: import it again")
                else:
                    tracks.append(loop_track(loop.id, x, loop.tempo, tempo, loop.offset))
        for part in backing.patches:
            if part.on:
                try:
                    tracks.append(Track(part.id, *self._played.beside(part.slug, tempo)))
                except (NoSuchPatch, ValueProblem) as problem:
                    problems.append(str(problem))
        with self._lock:
            if content == self._wanted:
                self.run.tracks = tuple(tracks)
                self.problem = "; ".join(problems) or None
