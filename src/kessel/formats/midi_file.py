"""Standard MIDI files: import and export of a phrase."""

from __future__ import annotations

import io
from collections.abc import Callable
from dataclasses import dataclass
from itertools import pairwise

import mido

from ..patch import LANES, MOST_NOTES, Note, Phrase, Point
from .reading import FileProblem, file_name, reading

TICKS = 480
LARGEST_MIDI = 2_000_000
MOST_POINTS = MOST_NOTES
MOST_BARS = 8
_KEYS = {"minor": "m", "major": ""}


class MidiProblem(FileProblem):
    """A MIDI file that can't be read. Its text says what to do."""


@dataclass(frozen=True)
class ReadMidi:
    """The content of a MIDI file: the phrase, its tempo if there is one, and what was left out, as text."""

    phrase: Phrase
    tempo: float | None
    left_out: str


def phrase_from_midi(data: bytes, name: str, like: Phrase) -> ReadMidi:
    """The phrase of a standard MIDI file of any type, all tracks merged. Key and scale are those of ``like``.

    Raises MidiProblem.
    """
    name = file_name(name)
    if len(data) > LARGEST_MIDI:
        raise MidiProblem(f"{name} is too large for a phrase (2 MB at most)")
    with reading(MidiProblem, f"{name} can't be read: give a standard MIDI file"):
        return _read(mido.MidiFile(file=io.BytesIO(data), clip=True), name, like)


class _Heard:
    """What the messages of all tracks add up to. Times are in beats."""

    def __init__(self) -> None:
        self.tempo: float | None = None
        self.notes: list[tuple[float, float, int, int]] = []
        """Start, length, pitch, velocity."""
        self.lanes: dict[str, list[tuple[float, float]]] = {lane: [] for lane in LANES}
        self.whole = 0.0
        self._open: dict[tuple[int, int], list[tuple[float, int]]] = {}
        self._handlers: dict[str, Callable[[float, mido.Message], None]] = {
            "set_tempo": self._tempo,
            "note_on": self._note_on,
            "note_off": self._note_off,
            "pitchwheel": lambda beat, m: self._lane("bend", beat, max(m.pitch / 8191.0, -1.0)),
            "control_change": lambda beat, m: self._lane("wheel", beat, m.value / 127.0) if m.control == 1 else None,
            "aftertouch": lambda beat, m: self._lane("pressure", beat, m.value / 127.0),
        }

    def take(self, beat: float, message: mido.Message) -> None:
        """Take one message. Those that say nothing here only make the file longer."""
        self.whole = max(self.whole, beat)
        handler = self._handlers.get(message.type)
        if handler is not None:
            handler(beat, message)

    def _tempo(self, beat: float, m: mido.Message) -> None:
        if self.tempo is None and m.tempo > 0:
            self.tempo = float(mido.tempo2bpm(m.tempo))

    def _note_on(self, beat: float, m: mido.Message) -> None:
        if m.velocity > 0:
            self._open.setdefault((m.channel, m.note), []).append((beat, m.velocity))
        else:
            self._note_off(beat, m)

    def _note_off(self, beat: float, m: mido.Message) -> None:
        begun = self._open.get((m.channel, m.note))
        if begun:
            start, velocity = begun.pop(0)
            self.notes.append((start, beat - start, m.note, velocity))

    def _lane(self, lane: str, beat: float, value: float) -> None:
        self.lanes[lane].append((beat, min(value, 1.0)))


def _read(file: mido.MidiFile, name: str, like: Phrase) -> ReadMidi:
    if file.ticks_per_beat <= 0:
        raise MidiProblem(f"{name} counts its time in film frames: save it with beats")
    heard = _Heard()
    for track in file.tracks:
        tick = 0
        for message in track:
            tick += message.time
            heard.take(tick / file.ticks_per_beat, message)
    if not heard.notes:
        raise MidiProblem(f"{name} holds no notes: nothing was changed")
    return _phrase(sorted(heard.notes), heard.lanes, heard.tempo, like, heard.whole)


def _phrase(
    notes: list[tuple[float, float, int, int]],
    lanes: dict[str, list[tuple[float, float]]],
    tempo: float | None,
    like: Phrase,
    whole: float,
) -> ReadMidi:
    # a part that begins later in a song is moved to its own first bar
    away = 4.0 * (notes[0][0] // 4.0)
    moved = [(s - away, d, p, v) for s, d, p, v in notes]
    end = max(s + d for s, d, _, _ in moved)
    if end < whole - away <= 4.0 * MOST_BARS:
        end = whole - away
    bars = min(MOST_BARS, max(1, -int(-(end - 1e-3) // 4)))
    beats = 4.0 * bars
    kept = [n for n in moved if n[0] < beats - 1e-6][:MOST_NOTES]
    left = len(moved) - len(kept)
    made = [
        Note(
            id=f"n{i + 1}", pitch=p, start=round(s, 6), length=round(min(max(d, 0.01), 32.0), 6),
            velocity=min(max(v, 1), 127),
        )
        for i, (s, d, p, v) in enumerate(kept)
    ]  # fmt: skip
    points = {lane: _points([(b - away, v) for b, v in found], beats) for lane, found in lanes.items()}
    phrase = Phrase(bars=bars, root=like.root, scale=like.scale, notes=made, **points)
    words = f"{left} note{'' if left == 1 else 's'} after bar {bars} left out" if left else ""
    kept_tempo = None if tempo is None else min(max(round(tempo, 2), 40.0), 240.0)
    return ReadMidi(phrase, kept_tempo, words)


def _points(found: list[tuple[float, float]], beats: float) -> list[Point]:
    """Points of a lane. Steps are written as steps; a lane that stays at rest has no points."""
    inside = sorted((b, v) for b, v in found if 0.0 <= b <= beats)
    if not any(v for _, v in inside):
        return []
    every = max(1, -(-len(inside) // MOST_POINTS))
    return [Point(beat=round(b, 6), value=round(v, 5)) for b, v in inside[::every]]


def midi_bytes(phrase: Phrase, tempo: float, name: str) -> bytes:
    """A phrase as a standard MIDI file of type 0, 480 ticks a beat, with its lanes as bend, wheel and pressure."""
    events: list[tuple[int, int, mido.Message]] = []
    for n in phrase.notes:
        start = round(n.start * TICKS)
        end = max(start + 1, round((n.start + n.length) * TICKS))
        events.append((start, 2, mido.Message("note_on", note=n.pitch, velocity=n.velocity)))
        events.append((end, 0, mido.Message("note_off", note=n.pitch, velocity=0)))
    for lane in LANES:
        for tick, value in _line(getattr(phrase, lane), phrase.beats):
            events.append((tick, 1, _lane_message(lane, value)))
    events.sort(key=lambda e: (e[0], e[1]))
    track = mido.MidiTrack()
    track.append(mido.MetaMessage("track_name", name=name.encode("ascii", "replace").decode()))
    track.append(mido.MetaMessage("set_tempo", tempo=mido.bpm2tempo(tempo)))
    track.append(mido.MetaMessage("time_signature", numerator=4, denominator=4))
    if phrase.scale in _KEYS:
        track.append(mido.MetaMessage("key_signature", key=_key(phrase.root, phrase.scale)))
    at = 0
    for tick, _, message in events:
        track.append(message.copy(time=tick - at))
        at = tick
    track.append(mido.MetaMessage("end_of_track", time=max(0, round(phrase.beats * TICKS) - at)))
    file = mido.MidiFile(type=0, ticks_per_beat=TICKS)
    file.tracks.append(track)
    out = io.BytesIO()
    file.save(file=out)
    return out.getvalue()


def _key(root: str, scale: str) -> str:
    minor = {"C#": "C#", "Eb": "Eb", "F#": "F#", "Ab": "G#", "Bb": "Bb"}
    major = {"C#": "Db", "Eb": "Eb", "F#": "F#", "Ab": "Ab", "Bb": "Bb"}
    return (minor if scale == "minor" else major).get(root, root) + _KEYS[scale]


def _line(points: list[Point], beats: float) -> list[tuple[int, float]]:
    """Values of a lane every 20 ticks where it changes, and at its points."""
    if not points:
        return []
    found: dict[int, float] = {0: points[0].value}
    for a, b in pairwise(points):
        first, last = round(a.beat * TICKS), round(b.beat * TICKS)
        for tick in range(first, last, 20):
            found[tick] = a.value + (b.value - a.value) * (tick - first) / (last - first)
        found[last] = b.value
    end = round(beats * TICKS)
    return sorted((t, v) for t, v in found.items() if t < end or t == 0)


def _lane_message(lane: str, value: float) -> mido.Message:
    if lane == "bend":
        return mido.Message("pitchwheel", pitch=min(max(round(value * 8191), -8192), 8191))
    level = min(max(round(value * 127), 0), 127)
    if lane == "wheel":
        return mido.Message("control_change", control=1, value=level)
    return mido.Message("aftertouch", value=level)
