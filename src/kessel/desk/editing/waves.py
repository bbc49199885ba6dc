"""Edits of drawn waves: strokes, harmonics, frames, and waves cut from audio."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np
from numpy.typing import NDArray

from ...dsp.sources.waves import (
    BARS,
    HIGHEST,
    LOWEST,
    TOUCHES,
    bars_of,
    draw,
    frame_points,
    frame_text,
    frames_of,
    from_bars,
    keep_first,
    morph,
    with_frames,
)
from ...patch import (
    FRAME_POINTS,
    MOST_FRAMES,
    STOCK_PREFIX,
    Edit,
    Oscillator,
    Patch,
    ValueProblem,
    Wave,
    free_id,
    get,
    known_wave,
    wave_name,
)

_Real = NDArray[np.float64]
Step = tuple[list[Edit], str]


def _source(patch: Patch, path: str) -> Oscillator:
    found = get(patch, path)
    if not isinstance(found, Oscillator):
        raise ValueProblem("only oscillators play drawn waves")
    return found


def wave_of(patch: Patch, path: str) -> Wave:
    """The wave of an oscillator. Of a built-in wave, a copy that is not in the patch yet."""
    word = _source(patch, path).wave
    if word.startswith(STOCK_PREFIX):
        new = free_id(word.removeprefix(STOCK_PREFIX), [w.id for w in patch.waves])
        return Wave(id=new, name=wave_name(patch.waves, word), frames=[frame_text(frame_points(word))])
    return next(w for w in patch.waves if w.id == word)


def _put(patch: Patch, path: str, wave: Wave, label: str) -> Step:
    """Edits that store the wave in the patch and let the oscillator play it."""
    there = any(w.id == wave.id for w in patch.waves)
    waves = [wave if w.id == wave.id else w for w in patch.waves] if there else [*patch.waves, wave]
    edits = [Edit("waves", [w.model_dump() for w in waves])]
    source = _source(patch, path)
    if source.wave != wave.id:
        edits.append(Edit(f"{path}.wave", wave.id))
    if source.shape != "drawn":
        edits.append(Edit(f"{path}.shape", "drawn"))
    return edits, label


def _frame(wave: Wave, frame: int) -> int:
    return min(max(frame, 0), len(wave.frames) - 1)


def change_frame(patch: Patch, path: str, frame: int, deed: Callable[[_Real], _Real], label: str) -> Step:
    """Edits that apply ``deed`` to one frame of an oscillator's wave."""
    wave = wave_of(patch, path)
    at = _frame(wave, frame)
    frames = list(wave.frames)
    frames[at] = frame_text(deed(frame_points(frames[at])))
    return _put(patch, path, wave.model_copy(update={"frames": frames}), f"{label} {wave.name}")


def stroke(patch: Patch, path: str, frame: int, strokes: Sequence[tuple[float, float, float, float]]) -> Step:
    """Draw straight strokes over the cycle: (x from, y from, x to, y to), x 0..1, y -1..1."""

    def deed(y: _Real) -> _Real:
        for s in strokes:
            y = draw(y, *s)
        return y

    return change_frame(patch, path, frame, deed, "Draw on")


_APPEARS = -49.0


def set_bars(
    patch: Patch, path: str, frame: int, levels: Sequence[tuple[int, float]], phases: Sequence[tuple[int, float]]
) -> Step:
    """Set harmonics by number from 1: levels in dB and sine phases in degrees."""

    def deed(y: _Real) -> _Real:
        db, degrees = bars_of(y)
        for k, level in levels:
            if 1 <= k <= BARS:
                db[k - 1] = min(max(level, LOWEST), HIGHEST)
        for k, phase in phases:
            if 1 <= k <= BARS:
                degrees[k - 1] = phase % 360.0
        return from_bars(y, db, degrees)

    return change_frame(patch, path, frame, deed, "Harmonics of")


def step_bar(patch: Patch, path: str, frame: int, harmonic: int, by: float) -> Step:
    """Change the level of a harmonic by so many dB. One that is not there appears at -49 dB."""

    def deed(y: _Real) -> _Real:
        db, degrees = bars_of(y)
        if 1 <= harmonic <= BARS:
            level = db[harmonic - 1] if db[harmonic - 1] > LOWEST + 0.1 else _APPEARS
            db[harmonic - 1] = min(max(level + by, LOWEST), HIGHEST)
        return from_bars(y, db, degrees)

    return change_frame(patch, path, frame, deed, "Harmonics of")


def touch(patch: Patch, path: str, frame: int, what: str, count: int = 0) -> Step:
    """One operation: reverse, invert, normalise, remove DC, smooth, soften highs, or keep the first harmonics."""
    if what == "keep-first":
        return change_frame(patch, path, frame, lambda y: keep_first(y, count), f"Keep {count} harmonics of")
    if what not in TOUCHES:
        raise ValueProblem("there is no such operation")
    name, deed = TOUCHES[what]
    return change_frame(patch, path, frame, deed, name)


def change_frames(patch: Patch, path: str, what: str, frame: int, to: int = 0) -> Step:
    """Duplicate, insert (a sine), delete or morph frames. A morph goes from ``frame`` to ``to``."""
    wave = wave_of(patch, path)
    frames = frames_of(wave)
    at = _frame(wave, frame)
    if what in ("duplicate", "insert"):
        if len(frames) >= MOST_FRAMES:
            raise ValueProblem(f"a wave has {MOST_FRAMES} frames at most")
        plain = np.sin(2 * np.pi * np.arange(FRAME_POINTS) / FRAME_POINTS)
        frames.insert(at + 1, frames[at].copy() if what == "duplicate" else plain)
    elif what == "delete":
        if len(frames) == 1:
            raise ValueProblem("a wave keeps at least one frame")
        del frames[at]
    elif what == "morph":
        a, b = sorted((at, _frame(wave, to)))
        if b - a < 2:
            raise ValueProblem("a morph needs a frame between its ends: duplicate one first")
        for i in range(a + 1, b):
            frames[i] = morph(frames[a], frames[b], (i - a) / (b - a))
    else:
        raise ValueProblem("frames can be duplicated, inserted, deleted and morphed")
    word = {"duplicate": "Duplicate a frame of", "insert": "Insert a frame in", "delete": "Delete a frame of"}
    return _put(patch, path, with_frames(wave, frames), f"{word.get(what, 'Morph frames of')} {wave.name}")


def use_wave(patch: Patch, path: str, word: str) -> Step:
    """Let an oscillator play a wave of the patch or a built-in one."""
    if not known_wave(patch.waves, word):
        raise ValueProblem("there is no such wave: choose one of the list")
    source = _source(patch, path)
    edits = [Edit(f"{path}.wave", word)]
    if source.shape != "drawn":
        edits.append(Edit(f"{path}.shape", "drawn"))
    return edits, f"{source.name} plays {wave_name(patch.waves, word)}"


def put_wave(patch: Patch, path: str, wave: Wave) -> Step:
    """Store a wave in the patch under a free id, and let an oscillator play it."""
    new = wave.model_copy(update={"id": free_id(wave.name, [w.id for w in patch.waves])})
    return _put(patch, path, new, f"Insert {wave.name}")


def wave_audio(wave: Wave) -> _Real:
    """The frames of a wave, (frames, points), for a WAV file."""
    return np.stack(frames_of(wave))
