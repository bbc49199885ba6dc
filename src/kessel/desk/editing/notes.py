"""Edits of the phrase: notes and lanes."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from ...formats import ReadMidi
from ...patch import (
    IDIOMS,
    LANES,
    MOST_NOTES,
    Edit,
    Note,
    Patch,
    Phrase,
    Point,
    ValueProblem,
    free_id,
    note_name,
    number,
    phrase_of,
    pitch_of,
    read,
    write,
)

Step = tuple[list[Edit], str]
"""Edits, and a label that says what they do."""

SHORTEST = 1.0 / 16.0
SNAPS: tuple[tuple[str, float], ...] = (
    ("1/4", 1.0),
    ("1/8", 0.5),
    ("1/8t", 1.0 / 3.0),
    ("1/16", 0.25),
    ("1/16t", 1.0 / 6.0),
    ("1/32", 0.125),
    ("off", 0.0),
)
"""Names of the grids and their step in beats."""


def grid_of(name: str) -> float:
    """The step of a grid in beats. 0 if there is none."""
    return dict(SNAPS).get(name, 0.25)


def _snapped(beat: float, snap: float) -> float:
    return round(round(beat / snap) * snap, 6) if snap > 0 else round(beat, 6)


def _chosen(phrase: Phrase, ids: Sequence[str]) -> list[Note]:
    found = [n for n in phrase.notes if n.id in set(ids)]
    if not found:
        raise ValueProblem("no note is selected: click one, or draw one")
    return found


def _with(phrase: Phrase, changed: Sequence[Note]) -> list[Edit]:
    new = {n.id: n for n in changed}
    return [Edit("phrase.notes", [new.get(n.id, n).model_dump() for n in phrase.notes])]


def _which(notes: Sequence[Note]) -> str:
    return note_name(notes[0].pitch) if len(notes) == 1 else f"{len(notes)} notes"


def draw_note(patch: Patch, pitch: int, start: float, length: float | None, snap: float, velocity: int = 100) -> Step:
    """Add a note. It starts on the grid at or before ``start`` and is one step long by default."""
    phrase = patch.phrase
    at = (start // snap) * snap if snap > 0 else start
    at = round(min(max(at, 0.0), phrase.beats - SHORTEST), 6)
    long = length if length is not None else (snap or 0.25)
    if length is not None and snap > 0:
        long = max(snap, _snapped(at + length, snap) - at)
    note = Note(
        id=free_id("n", [n.id for n in phrase.notes]),
        pitch=min(max(pitch, 0), 127),
        start=at,
        length=round(min(max(long, SHORTEST), 32.0), 6),
        velocity=velocity,
    )
    return [Edit("phrase.notes", [*(n.model_dump() for n in phrase.notes), note.model_dump()])], (
        f"Draw {note_name(note.pitch)}"
    )


def move_notes(patch: Patch, ids: Sequence[str], beats: float, semitones: int, snap: float) -> Step:
    """Move notes together. The first of them is put on the grid."""
    phrase = patch.phrase
    notes = _chosen(phrase, ids)
    first = min(notes, key=lambda n: n.start)
    by = 0.0
    if beats:
        lowest, highest = -first.start, phrase.beats - SHORTEST - max(n.start for n in notes)
        by = min(max(_snapped(first.start + beats, snap) - first.start, lowest), highest)
    up = min(max(semitones, -min(n.pitch for n in notes)), 127 - max(n.pitch for n in notes))
    moved = [n.model_copy(update={"start": round(n.start + by, 6), "pitch": n.pitch + up}) for n in notes]
    return _with(phrase, moved), f"Move {_which(notes)}"


def stretch_notes(patch: Patch, ids: Sequence[str], beats: float, snap: float) -> Step:
    """Change the length of notes. The end of the first is put on the grid."""
    notes = _chosen(patch.phrase, ids)
    first = notes[0]
    end = _snapped(first.start + first.length + beats, snap)
    by = end - first.start - first.length
    longest = min(32.0, patch.phrase.beats)
    moved = [
        n.model_copy(update={"length": round(min(max(n.length + by, snap or SHORTEST), longest), 6)}) for n in notes
    ]
    return _with(patch.phrase, moved), f"Length of {_which(notes)}"


def set_velocity(patch: Patch, ids: Sequence[str], by: int = 0, to: int | None = None) -> Step:
    """Set the velocity of notes."""
    notes = _chosen(patch.phrase, ids)
    moved = [n.model_copy(update={"velocity": min(max(n.velocity + by if to is None else to, 1), 127)}) for n in notes]
    return _with(patch.phrase, moved), f"Velocity of {_which(notes)} {moved[0].velocity}"


def set_exactly(patch: Patch, ids: Sequence[str], what: str, text: str) -> Step:
    """Set the pitch, start, length or velocity of notes to a typed value.

    A pitch is a note's name or its MIDI number. A start counts beats from 1, off any grid. A length is a note value or
    beats. Raises ValueProblem.
    """
    notes = _chosen(patch.phrase, ids)
    if what == "pitch":
        named = pitch_of(text)
        value, low, high = float(read(text, "count") if named is None else named), 0.0, 127.0
    elif what == "start":
        value, low, high = read(text, "count") - 1.0, 0.0, patch.phrase.beats - SHORTEST
    elif what == "length":
        value, low, high = read(text, "beats"), SHORTEST, min(32.0, patch.phrase.beats)
    elif what == "velocity":
        value, low, high = read(text, "count"), 1.0, 127.0
    else:
        raise ValueProblem("a note has a pitch, a start, a length and a velocity")
    first = 1.0 if what == "start" else 0.0
    if not low <= value <= high:
        raise ValueProblem(f"the {what} goes from {low + first:g} to {high + first:g}, not {value + first:g}")
    whole = what in ("pitch", "velocity")
    if whole and value != round(value):
        raise ValueProblem(f"the {what} takes whole numbers, not {text.strip()[:24]}")
    moved = [n.model_copy(update={what: int(value) if whole else round(value, 6)}) for n in notes]
    shown = note_name(int(value)) if what == "pitch" else f"{value + first:g}"
    return _with(patch.phrase, moved), f"{what.capitalize()} of {_which(notes)} {shown}"


def delete_notes(patch: Patch, ids: Sequence[str]) -> Step:
    """Delete notes."""
    notes = _chosen(patch.phrase, ids)
    gone = {n.id for n in notes}
    return [Edit("phrase.notes", [n.model_dump() for n in patch.phrase.notes if n.id not in gone])], (
        f"Delete {_which(notes)}"
    )


def double_notes(patch: Patch, ids: Sequence[str], snap: float) -> Step:
    """Repeat notes right after themselves."""
    phrase = patch.phrase
    notes = _chosen(phrase, ids)
    first, last = min(n.start for n in notes), max(n.start + n.length for n in notes)
    step = max(snap or 0.25, _snapped(last - first, snap))
    taken = [n.id for n in phrase.notes]
    added: list[Note] = []
    for n in notes:
        if n.start + step < phrase.beats:
            made = n.model_copy(update={"id": free_id("n", taken), "start": round(n.start + step, 6)})
            taken.append(made.id)
            added.append(made)
    if not added:
        raise ValueProblem("there is no room after these notes: make the phrase longer first")
    return [Edit("phrase.notes", [n.model_dump() for n in (*phrase.notes, *added)])], f"Double {_which(notes)}"


def transpose(patch: Patch, semitones: int) -> Step:
    """Transpose the whole phrase."""
    phrase = patch.phrase
    if not phrase.notes:
        raise ValueProblem("there is no note to transpose: draw one first")
    pitches = [n.pitch + semitones for n in phrase.notes]
    if min(pitches) < 0 or max(pitches) > 127:
        raise ValueProblem("the phrase can't be transposed further")
    moved = [n.model_copy(update={"pitch": n.pitch + semitones}) for n in phrase.notes]
    return _with(phrase, moved), f"Phrase {write(semitones, 'st')}"


def stroke_lane(patch: Patch, lane: str, points: Sequence[tuple[float, float]]) -> Step:
    """Draw a stroke over a lane. It replaces what was under it."""
    _known(lane)
    phrase = patch.phrase
    low = -1.0 if lane == "bend" else 0.0
    stroke = sorted((min(max(b, 0.0), phrase.beats), min(max(v, low), 1.0)) for b, v in points)
    if not stroke:
        raise ValueProblem("the line has no points")
    thin: list[tuple[float, float]] = []
    for beat, value in stroke:
        if thin and beat - thin[-1][0] < 1.0 / 64.0:
            thin[-1] = (thin[-1][0], value)
        else:
            thin.append((beat, value))
    first, last = thin[0][0], thin[-1][0]
    kept = [p for p in getattr(phrase, lane) if not first <= p.beat <= last]
    new = [Point(beat=round(b, 5), value=round(v, 4)) for b, v in thin]
    merged = sorted([*kept, *new], key=lambda p: p.beat)
    if len(merged) > MOST_NOTES:
        merged = merged[:: -(-len(merged) // MOST_NOTES)]
    return [Edit(f"phrase.{lane}", [p.model_dump() for p in merged])], f"Draw the {lane} lane"


def set_point(patch: Patch, lane: str, beat: str, value: str) -> Step:
    """Set a lane to a typed value at a typed beat, counted from 1; in per cent. Raises ValueProblem."""
    _known(lane)
    at, share = read(beat, "count") - 1.0, read(value, "%") / 100.0
    low = -1.0 if lane == "bend" else 0.0
    if not 0.0 <= at <= patch.phrase.beats:
        raise ValueProblem(f"the beats go from 1 to {patch.phrase.beats + 1:g}, not {at + 1:g}")
    if not low <= share <= 1.0:
        raise ValueProblem(f"the {lane} goes from {100 * low:g} % to 100 %, not {100 * share:g} %")
    edits, _ = stroke_lane(patch, lane, [(at, share)])
    return edits, f"{lane.capitalize()} at beat {at + 1:g}: {100 * share:g} %"


SHAPES: dict[str, tuple[tuple[float, float], ...]] = {
    "hold": ((0.0, 1.0), (1.0, 1.0)),
    "ramp": ((0.0, 0.0), (1.0, 1.0)),
    "swell": ((0.0, 0.0), (0.5, 1.0), (1.0, 0.0)),
}
"""Shapes of a lane: place in the phrase and value, 0..1."""


def shape_lane(patch: Patch, lane: str, shape: str) -> Step:
    """Draw a whole lane as one of SHAPES. Raises ValueProblem."""
    _known(lane)
    if shape not in SHAPES:
        raise ValueProblem(f"the shapes are {', '.join(SHAPES)}")
    points = [Point(beat=at * patch.phrase.beats, value=value) for at, value in SHAPES[shape]]
    return [Edit(f"phrase.{lane}", [p.model_dump() for p in points])], f"{shape.capitalize()} in the {lane} lane"


def _known(lane: str) -> None:
    if lane not in LANES:
        raise ValueProblem(f"the lanes are {', '.join(LANES)}")


def clear_lane(patch: Patch, lane: str) -> Step:
    """Clear a lane."""
    _known(lane)
    return [Edit(f"phrase.{lane}", [])], f"Clear the {lane} lane"


def use_idiom(patch: Patch, slug: str) -> Step:
    """Replace the phrase by a built-in one in the patch's key."""
    idiom = next((i for i in IDIOMS if i.slug == slug), None)
    if idiom is None:
        raise ValueProblem("there is no such phrase: choose one of the list")
    return [Edit("phrase", phrase_of(idiom, patch.phrase).model_dump())], f"Phrase “{idiom.name}”"


def use_midi(patch: Patch, read: ReadMidi, name: str) -> Step:
    """Replace the phrase by that of a MIDI file, with its tempo."""
    edits = [Edit("phrase", read.phrase.model_dump())]
    if read.tempo is not None:
        edits.append(Edit("tempo", read.tempo))
    return edits, f"Phrase from {name[:40]}"


def resized(patch: Patch, bars: int) -> list[Edit]:
    """The phrase with another number of bars. Notes after its end are removed."""
    phrase = patch.phrase
    beats = 4.0 * bars
    new: dict[str, Any] = phrase.model_dump() | {"bars": bars}
    new["notes"] = [n for n in new["notes"] if n["start"] < beats]
    for lane in LANES:
        new[lane] = [p for p in new[lane] if p["beat"] <= beats]
    return [Edit("phrase", new)]


def repeated(patch: Patch, bars: int) -> Step:
    """The phrase with its lanes, repeated to fill a number of bars, and the step as text."""
    phrase = patch.phrase
    if bars <= phrase.bars:
        raise ValueProblem(f"the phrase has {phrase.bars} bars already")
    beats, whole = phrase.beats, 4.0 * bars
    new: dict[str, Any] = phrase.model_dump() | {"bars": bars, "notes": []} | {lane: [] for lane in LANES}
    taken: list[str] = []
    for turn in range(-(-bars // phrase.bars)):
        for n in phrase.notes:
            if n.start + turn * beats < whole:
                made = n.model_dump() | {"id": free_id(n.id, taken), "start": n.start + turn * beats}
                taken.append(made["id"])
                new["notes"].append(made)
        for lane in LANES:
            points = [p.model_dump() | {"beat": p.beat + turn * beats} for p in getattr(phrase, lane)]
            new[lane] += [p for p in points if p["beat"] <= whole]
    if len(new["notes"]) > MOST_NOTES:
        raise ValueProblem(f"that would be over {MOST_NOTES} notes: repeat it over fewer bars")
    return [Edit("phrase", new)], f"Repeat the phrase to {bars} bars"


def in_time(patch: Patch, times: float) -> Step:
    """The phrase with its lanes, ``times`` as long: 2 or 0.5. Returns the step as text too.

    A phrase of an odd number of bars keeps them at half its length, and is played twice.
    """
    phrase = patch.phrase
    if times not in (0.5, 2.0):
        raise ValueProblem("the phrase is stretched to twice its length, or to half of it")
    bars = round(phrase.bars * times) if times > 1.0 or phrase.bars % 2 == 0 else phrase.bars
    most = number(patch, "phrase.bars").high
    if bars > most:
        raise ValueProblem(f"a phrase has {most:.0f} bars at most: make it shorter first")
    new: dict[str, Any] = phrase.model_dump() | {"bars": bars}
    for n in new["notes"]:
        n |= {"start": n["start"] * times, "length": n["length"] * times}
    for lane in LANES:
        new[lane] = [p | {"beat": p["beat"] * times} for p in new[lane]]
    if bars == phrase.bars:
        again = [n | {"id": "", "start": n["start"] + phrase.beats * times} for n in new["notes"]]
        taken = [n["id"] for n in new["notes"]]
        for old, n in zip(phrase.notes, again, strict=True):
            n["id"] = free_id(old.id, taken)
            taken.append(n["id"])
        new["notes"] += again
        for lane in LANES:
            new[lane] += [p | {"beat": p["beat"] + phrase.beats * times} for p in new[lane]]
    if len(new["notes"]) > MOST_NOTES:
        raise ValueProblem(f"that would be over {MOST_NOTES} notes: repeat it over fewer bars")
    return [Edit("phrase", new)], "Phrase half as fast" if times > 1.0 else "Phrase twice as fast"


def record(
    patch: Patch,
    notes: Sequence[tuple[int, float, float, int]],
    lanes: dict[str, list[tuple[float, float]]],
    snap: float,
) -> Step:
    """Add recorded notes, (pitch, start, length, velocity), and strokes of lanes to the phrase."""
    phrase = patch.phrase
    taken = [n.id for n in phrase.notes]
    added = [n.model_dump() for n in phrase.notes]
    for pitch, start, length, velocity in notes[: MOST_NOTES - len(added)]:
        at = _snapped(start, snap) % phrase.beats
        made = Note(
            id=free_id("n", taken), pitch=pitch, start=min(at, phrase.beats - SHORTEST),
            length=round(min(max(length, SHORTEST), phrase.beats), 6), velocity=velocity,
        )  # fmt: skip
        taken.append(made.id)
        added.append(made.model_dump())
    edits = [Edit("phrase.notes", added)] if notes else []
    for lane, points in lanes.items():
        if points:
            edits += stroke_lane(patch, lane, points)[0]
    if not edits:
        raise ValueProblem("nothing was played while recording")
    return edits, f"Record {len(notes)} note" + ("" if len(notes) == 1 else "s")
