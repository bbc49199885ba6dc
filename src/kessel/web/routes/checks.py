"""Routes of the checks: limits, alignment, keys, rooms, neighbours, the reference, the whole set."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Any

import numpy as np
from fastapi import APIRouter, Form, Query
from fastapi.responses import JSONResponse, Response

from ...checks.playback import level_by_key
from ...desk import ControlChange, Desk, OpenPatch, apply_change, changed_room, copied_room
from ...formats import LONGEST_SECONDS
from ...library import Reference
from ...patch import Edit, NoSuchPath, ValueProblem, apply, read
from ..answers import changed, said
from ..dependencies import DeskOf, Opened
from ..pictures import Content, drawn
from ..receiving import RowId, SentFile
from ..views.checks import foreseen

router = APIRouter()
_Name = Annotated[str, Form(max_length=40)]
_Text = Annotated[str, Form(max_length=80)]
_Key = Annotated[int, Form(ge=0, le=127)]
_LOW_TOP_DB, _LOW_BOTTOM_DB = -6.0, -72.0
_STRETCH = {"start": ("From", 0.0, 3600.0), "seconds": ("Length", 0.2, 60.0), "tempo": ("Tempo", 40.0, 240.0)}


@router.post("/patch/{slug}/limit")
def limit(open_patch: Opened, name: _Name, value: _Text) -> Response:
    """Change a limit of the patch's set."""
    return said(open_patch.put_limit(name, value), "rejudged")


@router.post("/patch/{slug}/align")
def align(
    open_patch: Opened, version: Annotated[int, Form()], key: Annotated[str, Form(max_length=160)] = ""
) -> Response:
    """Align one pair, or all pairs with a fixed phase."""
    return changed(open_patch.align(key or None, version))


@router.get("/patch/{slug}/foreseen")
def vectors(
    open_patch: Opened,
    key: Annotated[str, Query(max_length=160)],
    path: Annotated[str, Query(max_length=200)],
    at: Annotated[float | None, Query(ge=-1, le=2)] = None,
    steps: Annotated[float | None, Query(ge=-1000, le=1000)] = None,
) -> JSONResponse:
    """The vectors of a pair while one control is dragged."""
    known = open_patch.known("pairs") or ()
    detail = next((d for d in known if d.pair.key == key), None)
    try:
        patch = open_patch.patch
        new = apply(patch, apply_change(patch, ControlChange(path, at=at, steps=steps)))
        return JSONResponse(foreseen(patch, new, detail, path) if detail is not None else [])
    except (ValueProblem, NoSuchPath):
        return JSONResponse([])


# over the keys


@router.post("/patch/{slug}/sweep")
def sweep(open_patch: Opened, first: _Key, last: _Key) -> Response:
    """Measure every key of a range in the background."""
    if not first <= last <= first + 60:
        raise ValueProblem("a range of keys goes up, over five octaves at most")
    open_patch.checking.sweep.start(open_patch.patch, open_patch.limits, first, last)
    return said("Playing all keys", "rejudged")


@router.post("/patch/{slug}/sweep-cancel")
def cancel_sweep(open_patch: Opened) -> Response:
    """Cancel the sweep. Known keys stay."""
    open_patch.checking.sweep.cancel()
    return said("Stopped; the keys measured so far stay", "rejudged")


@router.post("/patch/{slug}/even-keys")
def even_keys(open_patch: Opened, first: _Key, last: _Key) -> Response:
    """Even the loudness over the keys, as one step."""
    known = [k for k in open_patch.checking.sweep.keys_of(open_patch.patch) if first <= k.pitch <= last]
    if len(known) < last - first + 1:
        raise ValueProblem("measure all keys first: the level by key is not known yet")
    edits = level_by_key(open_patch.patch, known)
    if not edits:
        raise ValueProblem("the level by key can't be evened: it is even, or a fader is at its end")
    edited = open_patch.edit(edits, "Even the level by key")
    # measure the result at once
    open_patch.checking.sweep.start(open_patch.patch, open_patch.limits, first, last)
    return changed(edited)


# rooms


@router.post("/patch/{slug}/room")
def room(slug: str, desk: DeskOf, room: _Name, name: _Name, value: _Text) -> Response:
    """Change a value of a room."""
    store = desk.library.checks
    new = changed_room(store.room(room), name, value)
    store.put_room(new)
    return said(f"{new.name} is changed", "rejudged")


@router.post("/patch/{slug}/room-add")
def add_room(slug: str, desk: DeskOf, room: _Name) -> Response:
    """Copy a room."""
    store = desk.library.checks
    rooms = store.rooms()
    if len(rooms) >= 24:
        raise ValueProblem("there are 24 rooms at most: remove one first")
    new = copied_room(store.room(room), rooms)
    store.put_room(new)
    return said(f"{new.name} is added", "rejudged", pick=new.id)


@router.post("/patch/{slug}/room-drop")
def drop_room(slug: str, desk: DeskOf, room: _Name) -> Response:
    """Remove a room."""
    store = desk.library.checks
    if len(store.rooms()) == 1:
        raise ValueProblem("one room must stay")
    gone = store.room(room)
    store.drop_room(room)
    return said(f"{gone.name} is removed", "rejudged", pick="")


@router.post("/patch/{slug}/rooms-restore")
def restore_rooms(slug: str, desk: DeskOf) -> Response:
    """Restore the built-in rooms."""
    desk.library.checks.restore_rooms()
    return said("The six built-in rooms are restored", "rejudged")


# neighbours


@router.post("/patch/{slug}/duck-kick")
def duck(
    open_patch: Opened, depth: Annotated[float, Form(ge=0, le=60)], hold: Annotated[float, Form(ge=0, le=500)]
) -> Response:
    """Duck the patch under the kick."""
    edits = [
        Edit("output.duck.on", True),
        Edit("output.duck.depth", round(depth, 1)),
        Edit("output.duck.attack", 0.5),
        Edit("output.duck.hold", round(hold)),
    ]
    return changed(open_patch.edit(edits, f"Duck {depth:.1f} dB under the kick"))


@router.post("/patch/{slug}/tune-kick")
def tune(open_patch: Opened, hz: Annotated[float, Form(ge=30, le=120)]) -> Response:
    """Change the pitch of the backing beat's kick."""
    edits = [Edit("backing.beat.kick_pitch", round(hz, 1))]
    return changed(open_patch.edit(edits, f"Tune the kick to {hz:.0f} Hz"))


# reference


@router.post("/patch/{slug}/reference/file")
def reference_file(slug: str, desk: DeskOf, open_patch: Opened, sent: SentFile) -> Response:
    """Import a reference recording."""
    card = desk.take_audio(sent.data, sent.name, sent.ticket, LONGEST_SECONDS)
    return _hold(slug, desk, open_patch, card.word)


@router.post("/patch/{slug}/reference")
def reference(slug: str, desk: DeskOf, open_patch: Opened, word: _Text) -> Response:
    """Use imported audio as the reference."""
    return _hold(slug, desk, open_patch, word)


def _hold(slug: str, desk: Desk, open_patch: OpenPatch, word: str) -> Response:
    card = desk.library.audio.card(word)
    if card is None:
        raise ValueProblem("that audio no longer exists: import it again")
    seconds = min(card.seconds, 16.0)
    desk.library.checks.put_reference(slug, Reference(word, 0.0, round(seconds, 2), open_patch.patch.tempo))
    return said(f"{card.name} is the reference", "rejudged")


@router.post("/patch/{slug}/reference/stretch")
def stretch(slug: str, desk: DeskOf, name: _Name, value: _Text) -> Response:
    """Change the stretch of the recording that counts, or its tempo."""
    store = desk.library.checks
    kept = store.reference(slug)
    if kept is None or name not in _STRETCH:
        raise ValueProblem("choose a reference first")
    title, low, high = _STRETCH[name]
    text = value.strip()
    number = read(text, "BPM") if name == "tempo" else read(text, "ms") / 1000.0 if "s" in text else float_of(text)
    if not low <= number <= high:
        raise ValueProblem(f"{title} goes from {low:g} to {high:g}, not {value.strip()[:24]}")
    card = desk.library.audio.card(kept.audio)
    if name == "start" and card is not None and number > card.seconds - 0.2:
        raise ValueProblem(f"the recording is {card.seconds:.1f} s long: begin earlier")
    new: dict[str, Any] = {name: number}
    store.put_reference(slug, replace(kept, **new))
    return said(f"Reference: {title.lower()} {number:g}", "rejudged")


@router.post("/patch/{slug}/reference/whole-stretch")
def whole_stretch(
    slug: str,
    desk: DeskOf,
    start: Annotated[float, Form(ge=0, le=3600)],
    seconds: Annotated[float, Form(ge=0, le=3600)],
) -> Response:
    """Set the stretch by dragging: half a second to a minute."""
    store = desk.library.checks
    kept = store.reference(slug)
    if kept is None:
        raise ValueProblem("choose a reference first")
    store.put_reference(slug, replace(kept, start=round(start, 2), seconds=round(min(max(seconds, 0.5), 60.0), 2)))
    return said(f"Reference: from {start:.1f} s on", "rejudged")


def float_of(text: str) -> float:
    """A plain number of seconds. Raises ValueProblem."""
    try:
        return float(text.replace(",", "."))
    except ValueError:
        raise ValueProblem(f"type seconds, such as 12.5 s, not {text[:24]}") from None


@router.post("/patch/{slug}/reference/drop")
def drop_reference(slug: str, desk: DeskOf) -> Response:
    """Clear the reference."""
    desk.library.checks.put_reference(slug, None)
    return said("Reference removed", "rejudged")


# the whole set


@router.post("/set/{set_id}/check")
def check_set(desk: DeskOf, set_id: RowId) -> Response:
    """Check every patch of a set."""
    desk.set_check(set_id).start()
    return said("Checking the set", "rejudged")


@router.post("/set/{set_id}/check-cancel")
def cancel_set(desk: DeskOf, set_id: RowId) -> Response:
    """Cancel the check. Known findings stay."""
    desk.set_check(set_id).cancel()
    return said("Stopped; the patches checked so far stay", "rejudged")


# pictures


@router.get("/patch/{slug}/scope.png")
def scope(open_patch: Opened, of: Content = "") -> Response:
    """Distribution of the loop over middle (up) and side (across), as a PNG."""
    patch = open_patch.patch
    return drawn(open_patch.find("mono").scope, patch, of)


@router.get("/patch/{slug}/low.png")
def low(open_patch: Opened, of: Content = "") -> Response:
    """Levels from 20 to 250 Hz over the loop, as a PNG."""
    patch = open_patch.patch
    levels = open_patch.find("low").levels
    share = np.clip((levels[::-1] - _LOW_BOTTOM_DB) / (_LOW_TOP_DB - _LOW_BOTTOM_DB), 0.0, 1.0)
    return drawn(share**1.6, patch, of)
