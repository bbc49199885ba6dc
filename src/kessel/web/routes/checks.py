"""Checks: limits, aligning, the keys, rooms, neighbours, the reference, the whole set."""

from __future__ import annotations

import json
from dataclasses import replace
from typing import Annotated, Any

import numpy as np
from fastapi import APIRouter, Form, Query, Request
from fastapi.responses import JSONResponse, Response

from ...checks.playback import level_by_key
from ...desk import ControlChange, apply_change, changed_room, copied_room
from ...formats import LONGEST_SECONDS, png_bytes
from ...library import Reference
from ...patch import Edit, NoSuchPath, ValueProblem, apply, read
from ..pages import desk_of
from ..receiving import RowId, SentFile
from ..views.checks import foreseen
from .edits import changed

router = APIRouter()
_Name = Annotated[str, Form(max_length=40)]
_Text = Annotated[str, Form(max_length=80)]
_Key = Annotated[int, Form(ge=0, le=127)]
_LOW_TOP_DB, _LOW_BOTTOM_DB = -6.0, -72.0
_STRETCH = {"start": ("From", 0.0, 3600.0), "seconds": ("Length", 0.2, 60.0), "tempo": ("Tempo", 40.0, 240.0)}


def _said(label: str, **chosen: str) -> Response:
    """Something about the checks has changed, the patch has not."""
    trigger: dict[str, Any] = {"rejudged": {}}
    if chosen:
        trigger = {"chosen": chosen, **trigger}
    return JSONResponse({"label": label}, headers={"HX-Trigger": json.dumps(trigger)})


@router.post("/patch/{slug}/limit")
def limit(request: Request, slug: str, name: _Name, value: _Text) -> Response:
    """Another limit for the set of a patch."""
    return _said(desk_of(request).open(slug).put_limit(name, value))


@router.post("/patch/{slug}/align")
def align(
    request: Request, slug: str, version: Annotated[int, Form()], key: Annotated[str, Form(max_length=160)] = ""
) -> Response:
    """Align one pair, or all that keep step."""
    return changed(desk_of(request).open(slug).align(key or None, version))


@router.get("/patch/{slug}/foreseen")
def vectors(
    request: Request,
    slug: str,
    key: Annotated[str, Query(max_length=160)],
    path: Annotated[str, Query(max_length=200)],
    at: Annotated[float | None, Query(ge=-1, le=2)] = None,
    steps: Annotated[float | None, Query(ge=-1000, le=1000)] = None,
) -> JSONResponse:
    """The vectors of a pair with one control turned but not kept, for a hand that is still turning."""
    open_patch = desk_of(request).open(slug)
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
def sweep(request: Request, slug: str, first: _Key, last: _Key) -> Response:
    """Strike every key of a range in the background."""
    if not first <= last <= first + 60:
        raise ValueProblem("a range of keys goes up, over five octaves at most")
    open_patch = desk_of(request).open(slug)
    open_patch.checking.sweep.start(open_patch.patch, open_patch.limits, first, last)
    return _said("Striking the keys")


@router.post("/patch/{slug}/sweep-cancel")
def cancel_sweep(request: Request, slug: str) -> Response:
    """Give it up; what is known stays."""
    desk_of(request).open(slug).checking.sweep.cancel()
    return _said("Stopped; the keys that were struck are kept")


@router.post("/patch/{slug}/even-keys")
def even_keys(request: Request, slug: str, first: _Key, last: _Key) -> Response:
    """Even the loudness out along the keys, as one step."""
    open_patch = desk_of(request).open(slug)
    known = [k for k in open_patch.checking.sweep.keys_of(open_patch.patch) if first <= k.pitch <= last]
    if len(known) < last - first + 1:
        raise ValueProblem("strike all keys first: only then is it known how the level goes")
    edits = level_by_key(open_patch.patch, known)
    if not edits:
        raise ValueProblem("the level by key can't be evened: it is even, or a fader has no way left")
    edited = open_patch.edit(edits, "Even the level by key")
    # what it came to is measured at once
    open_patch.checking.sweep.start(open_patch.patch, open_patch.limits, first, last)
    return changed(edited)


# rooms


@router.post("/patch/{slug}/room")
def room(request: Request, slug: str, room: _Name, name: _Name, value: _Text) -> Response:
    """Another value for a room."""
    store = desk_of(request).library.checks
    new = changed_room(store.room(room), name, value)
    store.put_room(new)
    return _said(f"{new.name} is changed")


@router.post("/patch/{slug}/room-add")
def add_room(request: Request, slug: str, room: _Name) -> Response:
    """A room of one's own that begins as another."""
    store = desk_of(request).library.checks
    rooms = store.rooms()
    if len(rooms) >= 24:
        raise ValueProblem("there are 24 rooms at most: remove one first")
    new = copied_room(store.room(room), rooms)
    store.put_room(new)
    return _said(f"{new.name} is added", pick=new.id)


@router.post("/patch/{slug}/room-drop")
def drop_room(request: Request, slug: str, room: _Name) -> Response:
    """Take a room off the list."""
    store = desk_of(request).library.checks
    if len(store.rooms()) == 1:
        raise ValueProblem("one room has to stay")
    gone = store.room(room)
    store.drop_room(room)
    return _said(f"{gone.name} is gone", pick="")


@router.post("/patch/{slug}/rooms-restore")
def restore_rooms(request: Request, slug: str) -> Response:
    """The rooms that come with Kessel, as they came."""
    desk_of(request).library.checks.restore_rooms()
    return _said("The six rooms are as they came")


# neighbours


@router.post("/patch/{slug}/duck-kick")
def duck(
    request: Request, slug: str, depth: Annotated[float, Form(ge=0, le=60)], hold: Annotated[float, Form(ge=0, le=500)]
) -> Response:
    """Turn the patch down under the kick."""
    edits = [
        Edit("output.duck.on", True),
        Edit("output.duck.depth", round(depth, 1)),
        Edit("output.duck.attack", 0.5),
        Edit("output.duck.hold", round(hold)),
    ]
    return changed(desk_of(request).open(slug).edit(edits, f"Duck {depth:.1f} dB under the kick"))


@router.post("/patch/{slug}/tune-kick")
def tune(request: Request, slug: str, hz: Annotated[float, Form(ge=30, le=120)]) -> Response:
    """Give the backing beat's kick another pitch."""
    edits = [Edit("backing.beat.kick_pitch", round(hz, 1))]
    return changed(desk_of(request).open(slug).edit(edits, f"Tune the kick to {hz:.0f} Hz"))


# reference


@router.post("/patch/{slug}/reference/file")
def reference_file(request: Request, slug: str, sent: SentFile) -> Response:
    """A recording to hold the patch against."""
    desk = desk_of(request)
    desk.open(slug)
    card = desk.take_audio(sent.data, sent.name, sent.ticket, LONGEST_SECONDS)
    return _hold(request, slug, card.word)


@router.post("/patch/{slug}/reference")
def reference(request: Request, slug: str, word: _Text) -> Response:
    """Audio that is here already."""
    return _hold(request, slug, word)


def _hold(request: Request, slug: str, word: str) -> Response:
    desk = desk_of(request)
    open_patch = desk.open(slug)
    card = desk.library.audio.card(word)
    if card is None:
        raise ValueProblem("that audio is not there any more: import it again")
    seconds = min(card.seconds, 16.0)
    desk.library.checks.put_reference(slug, Reference(word, 0.0, round(seconds, 2), open_patch.patch.tempo))
    return _said(f"{card.name} is the reference")


@router.post("/patch/{slug}/reference/stretch")
def stretch(request: Request, slug: str, name: _Name, value: _Text) -> Response:
    """Which stretch of the recording counts, and its tempo."""
    store = desk_of(request).library.checks
    kept = store.reference(slug)
    if kept is None or name not in _STRETCH:
        raise ValueProblem("choose a reference first")
    title, low, high = _STRETCH[name]
    text = value.strip()
    number = read(text, "BPM") if name == "tempo" else read(text, "ms") / 1000.0 if "s" in text else float_of(text)
    if not low <= number <= high:
        raise ValueProblem(f"{title} goes from {low:g} to {high:g}, not {value.strip()[:24]}")
    card = desk_of(request).library.audio.card(kept.audio)
    if name == "start" and card is not None and number > card.seconds - 0.2:
        raise ValueProblem(f"the recording is {card.seconds:.1f} s long: begin earlier")
    new: dict[str, Any] = {name: number}
    store.put_reference(slug, replace(kept, **new))
    return _said(f"Reference: {title.lower()} {number:g}")


@router.post("/patch/{slug}/reference/whole-stretch")
def whole_stretch(
    request: Request,
    slug: str,
    start: Annotated[float, Form(ge=0, le=3600)],
    seconds: Annotated[float, Form(ge=0, le=3600)],
) -> Response:
    """A stretch that was drawn with the hand: half a second to a minute of it."""
    store = desk_of(request).library.checks
    kept = store.reference(slug)
    if kept is None:
        raise ValueProblem("choose a reference first")
    store.put_reference(slug, replace(kept, start=round(start, 2), seconds=round(min(max(seconds, 0.5), 60.0), 2)))
    return _said(f"Reference: from {start:.1f} s on")


def float_of(text: str) -> float:
    """A plain number of seconds. Raises ValueProblem."""
    try:
        return float(text.replace(",", "."))
    except ValueError:
        raise ValueProblem(f"say it in seconds, as 12.5 s, not {text[:24]}") from None


@router.post("/patch/{slug}/reference/drop")
def drop_reference(request: Request, slug: str) -> Response:
    """Hold the patch against nothing."""
    desk_of(request).library.checks.put_reference(slug, None)
    return _said("No reference any more")


# the whole set


@router.post("/set/{set_id}/check")
def check_set(request: Request, set_id: RowId) -> Response:
    """Check every patch of a set."""
    desk_of(request).set_check(set_id).start()
    return _said("Checking the set")


@router.post("/set/{set_id}/check-cancel")
def cancel_set(request: Request, set_id: RowId) -> Response:
    """Give it up; what is known stays."""
    desk_of(request).set_check(set_id).cancel()
    return _said("Stopped; what was checked is kept")


# pictures


def _picture(grey: np.ndarray[Any, np.dtype[np.float64]]) -> Response:
    data = png_bytes((255.0 * (1.0 - grey)).astype(np.uint8))
    return Response(data, media_type="image/png", headers={"Cache-Control": "private, max-age=600"})


@router.get("/patch/{slug}/scope.png")
def scope(request: Request, slug: str, version: Annotated[int, Query()] = 0) -> Response:
    """How often the loop stands at each place of middle (up) and side (across)."""
    return _picture(desk_of(request).open(slug).find("mono").scope)


@router.get("/patch/{slug}/low.png")
def low(request: Request, slug: str, version: Annotated[int, Query()] = 0) -> Response:
    """Levels from 20 to 250 Hz over the loop."""
    levels = desk_of(request).open(slug).find("low").levels
    share = np.clip((levels[::-1] - _LOW_BOTTOM_DB) / (_LOW_TOP_DB - _LOW_BOTTOM_DB), 0.0, 1.0)
    return _picture(share**1.6)
