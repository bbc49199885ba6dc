"""Twelve built-in phrases in degrees of a scale, so that they fit any key."""

from __future__ import annotations

from dataclasses import dataclass

from .phrase import ROOTS, SCALES, Note, Phrase, Point

_Step = tuple[float, float, int, int]
"""Start and length in beats, degree of the scale (0 is the root, negative is below it), velocity."""


@dataclass(frozen=True)
class Idiom:
    """A phrase in degrees of a scale. bend: points (beat, value)."""

    slug: str
    name: str
    tempo: float
    bars: int
    steps: tuple[_Step, ...]
    bend: tuple[tuple[float, float], ...] = ()


def _row(starts: str, length: float, degrees: tuple[int, ...], velocity: int = 100) -> tuple[_Step, ...]:
    """Sixteenths marked x (plain) or X (accented), with degrees in turn."""
    found: list[_Step] = []
    for i, mark in enumerate(starts.replace(" ", "")):
        if mark in "xX":
            hard = min(127, velocity + 20) if mark == "X" else velocity
            found.append((i / 4.0, length, degrees[len(found) % len(degrees)], hard))
    return tuple(found)


IDIOMS: tuple[Idiom, ...] = (
    Idiom("held-root", "Held root", 120, 2, ((0, 7.9, 0, 100),)),
    Idiom("four-plucks", "Plucks between the kicks", 124, 2, _row("..x...x...x...X. ..x...x...x..xX.", 0.35, (0, 0, 0, 2, 0, 0, 4, 3, 2))),
    Idiom("square-bounce", "Square bounce", 126, 2, _row("X..x..x.X..x..x. X..x..x.X.x.x.x.", 0.22, (0, 0, 7, 0, 0, -1))),
    Idiom("sixteenths", "Driving sixteenths", 132, 1, _row(".xxx.xxx.xxx.xxX", 0.2, (0,))),
    Idiom("half-step", "Half-step hits", 140, 2, ((0, 1.5, 0, 120), (2.5, 0.5, 0, 90), (4, 1.0, -1, 110), (5.5, 0.25, 0, 90), (6, 1.75, 2, 120))),
    Idiom("half-step-talk", "Half-step, slow talk", 140, 4, ((0, 3.5, 0, 115), (4, 1.5, 0, 100), (6, 1.5, 1, 105), (8, 3.5, 0, 115), (12, 0.75, 4, 110), (13, 0.75, 3, 105), (14, 1.75, 1, 115))),
    Idiom("rolling", "Rolling", 174, 2, ((0, 0.7, 0, 115), (0.75, 0.7, 0, 95), (1.5, 0.9, 2, 105), (2.5, 0.4, 0, 90), (3, 0.9, -1, 110), (4, 0.7, 0, 115), (4.75, 0.7, 0, 95), (5.5, 0.9, 4, 105), (6.5, 1.4, 3, 110))),
    Idiom("long-slides", "Long slides", 86, 2, ((0, 2.2, 0, 105), (2, 1.2, 4, 100), (3, 1.6, 3, 95), (4.5, 1.7, 0, 110), (6, 2.0, -2, 100))),
    Idiom("slow-sub", "Slow sub under chords", 84, 4, ((0, 3.75, 0, 105), (4, 3.5, -2, 100), (8, 2.5, 3, 105), (10.5, 1.25, 2, 95), (12, 3.75, 1, 105))),
    Idiom("drone-pulse", "Drone with a pulse", 128, 2, ((0, 8.0, 0, 100), (2.5, 0.3, 7, 70), (6.5, 0.3, 7, 70))),
    Idiom("call-answer", "Call and answer", 110, 2, ((0, 0.45, 0, 118), (0.75, 0.2, 0, 95), (1.5, 0.9, 4, 112), (4, 0.45, 0, 118), (4.75, 0.2, 0, 95), (5.5, 0.4, 2, 105), (6, 0.4, 1, 105), (6.5, 1.2, 0, 112))),
    Idiom("falling-bends", "Falling bends", 100, 2, ((0, 1.9, 0, 115), (2, 1.9, 2, 110), (4, 2.9, 0, 115), (7, 0.9, -1, 105)), ((0, 0.0), (1.2, 0.0), (1.9, -1.0), (2.0, 0.0), (3.2, 0.0), (3.9, -1.0), (4.0, 0.0), (5.8, 0.0), (6.9, -1.0), (7.0, 0.0), (8.0, 0.0))),
)  # fmt: skip
"""All built-in phrases."""


def degree_pitch(root: str, scale: str, degree: int, lowest: int = 26) -> int:
    """MIDI pitch of a degree. The root is the first one from ``lowest`` (D1) up."""
    first = lowest + (ROOTS.index(root) - lowest) % 12
    steps = SCALES[scale]
    octave, step = divmod(degree, len(steps))
    return first + 12 * octave + steps[step]


def phrase_of(idiom: Idiom, like: Phrase) -> Phrase:
    """The idiom in the key and scale of ``like``. Idioms have seven degrees per octave; other scales are fitted."""
    count = len(SCALES[like.scale])
    notes = []
    for i, (start, length, degree, velocity) in enumerate(idiom.steps):
        octave, step = divmod(degree, 7)
        fitted = octave * count + min(round(step * count / 7.0), count - 1)
        pitch = degree_pitch(like.root, like.scale, fitted)
        notes.append(Note(id=f"n{i + 1}", pitch=pitch, start=start, length=length, velocity=velocity))
    bend = [Point(beat=b, value=v) for b, v in idiom.bend]
    return Phrase(bars=idiom.bars, root=like.root, scale=like.scale, notes=notes, bend=bend)
