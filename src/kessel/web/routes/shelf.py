"""Routes of the library: sets, new, duplicate, rename, delete, import and export."""

from __future__ import annotations

import tempfile
from pathlib import Path
from typing import Annotated, Literal

from fastapi import APIRouter, Form, Query, Request
from fastapi import Path as InPath
from fastapi.responses import FileResponse, HTMLResponse, JSONResponse, RedirectResponse, Response
from starlette.background import BackgroundTask

from ...desk import STARTS, Desk
from ...engine import audio_of
from ...formats import AudioProblem, FileProblem, dump_bundle, dump_patch, wav_bytes, words_of, write_sound
from ...patch import ValueProblem
from ..answers import said
from ..dependencies import DeskOf, Opened
from ..pages import page
from ..receiving import SentFile
from ..views.library import card_view, shelf_view

router = APIRouter()
_WAIT = 20.0
_Ticket = Annotated[str, InPath(max_length=40, pattern="^[a-z0-9-]+$")]


@router.get("/")
def start() -> RedirectResponse:
    """Redirect to the library."""
    return RedirectResponse("/library", 303)


@router.get("/library")
def library(desk: DeskOf, gone: Annotated[str, Query(max_length=80)] = "") -> HTMLResponse:
    """All sets and their patches. ``gone``: a patch that was just deleted."""
    store = desk.library
    card = store.card(gone) if gone else None
    deleted = card if card is not None and card.deleted else None
    return page("library/library.html", shelf=shelf_view(store), gone=deleted, problem=None, starts=STARTS)


def _shelf(desk: Desk, gone: str | None = None, problem: str | None = None) -> HTMLResponse:
    card = desk.library.card(gone) if gone else None
    return page("library/shelf.html", shelf=shelf_view(desk.library), gone=card, problem=problem)


@router.get("/patch/{slug}/card")
def card(request: Request, slug: str, desk: DeskOf) -> HTMLResponse:
    """The measured part of a patch's row. It is measured once per revision."""
    cards = request.app.state.cards
    revision, against = desk.library.card(slug).revision, desk.library.set_of(slug).limits
    known = cards.get(slug)
    if known is not None and known[:2] == (revision, against):
        return page("library/card.html", card=known[2])
    patch = desk.open(slug)
    patch.measure()
    found = card_view(slug, patch.measuring.wait_findings(patch.version, _WAIT, 0))
    measured = patch.measuring.measured
    if found.measured and measured is not None and measured.version == patch.version == revision:
        cards[slug] = revision, against, found
    return page("library/card.html", card=found)


@router.get("/patch/{slug}/damaged")
def damaged(slug: str, desk: DeskOf) -> HTMLResponse:
    """The options for a patch whose row can't be read."""
    library = desk.library
    return page("library/damaged.html", slug=slug, card=library.card(slug), states=library.good_states(slug))


@router.post("/patch/{slug}/mend")
def mend(slug: str, desk: DeskOf, state: Annotated[int, Form(ge=0, le=99)]) -> Response:
    """Replace a damaged patch by a good state of its history."""
    desk.mend(slug, state)
    return RedirectResponse(f"/patch/{slug}", 303)


@router.post("/patch/{slug}/delete-damaged")
def delete_damaged(slug: str, desk: DeskOf) -> Response:
    """Delete a damaged patch; it can be restored."""
    desk.delete(slug)
    return RedirectResponse(f"/library?gone={slug}", 303)


@router.get("/patch/{slug}/as-it-is")
def as_it_is(slug: str, desk: DeskOf) -> Response:
    """The row of the patch, as it is."""
    library = desk.library
    return _attached(library.raw(slug), f"{library.card(slug).slug}-damaged.txt", "application/octet-stream")


@router.post("/library/new")
def new(desk: DeskOf, start: Annotated[str, Form(max_length=100)] = "sine") -> Response:
    """Create and open a patch from a starting point or from another patch (patch:SLUG)."""
    slug = desk.new_from(start.removeprefix("patch:")) if start.startswith("patch:") else desk.new(start)
    return Response(status_code=204, headers={"HX-Redirect": f"/patch/{slug}"})


@router.post("/library/import")
def take_in(desk: DeskOf, sent: SentFile) -> HTMLResponse:
    """Import a patch file as a new patch."""
    try:
        desk.take_in(sent.data, sent.name, sent.ticket)
    except (FileProblem, ValueProblem) as problem:
        text = str(problem)
        return _shelf(desk, problem=f"{text}." if "not imported" in text else f"{sent.name} was not imported: {text}.")
    return _shelf(desk)


@router.get("/imports/{ticket}")
def progress(desk: DeskOf, ticket: _Ticket) -> JSONResponse:
    """Progress of an import."""
    found = desk.intake.progress(ticket)
    if found is None:
        return JSONResponse({"share": 0.0, "known": False})
    return JSONResponse({"share": round(found.share, 4), "known": True, "over": found.over, "name": found.name})


@router.post("/imports/{ticket}/cancel")
def cancel(desk: DeskOf, ticket: _Ticket) -> Response:
    """Cancel an import."""
    desk.intake.cancel(ticket)
    return said("Cancelled")


@router.post("/patch/{slug}/duplicate")
def duplicate(slug: str, desk: DeskOf) -> HTMLResponse:
    """Duplicate a patch."""
    desk.duplicate(slug)
    return _shelf(desk)


@router.post("/patch/{slug}/rename")
def rename(slug: str, desk: DeskOf, name: Annotated[str, Form(max_length=200)]) -> HTMLResponse:
    """Rename a patch. Its address stays."""
    desk.rename(slug, name)
    return _shelf(desk)


@router.post("/patch/{slug}/delete")
def delete(slug: str, desk: DeskOf) -> HTMLResponse:
    """Delete a patch; it can be restored."""
    desk.delete(slug)
    return _shelf(desk, gone=slug)


@router.post("/patch/{slug}/put-back")
def put_back(slug: str, desk: DeskOf) -> HTMLResponse:
    """Restore a deleted patch."""
    desk.put_back(slug)
    return _shelf(desk)


def _attached(data: bytes, name: str, kind: str) -> Response:
    return Response(data, media_type=kind, headers={"Content-Disposition": f'attachment; filename="{name}"'})


@router.get("/patch/{slug}/patch.json")
def export(slug: str, open_patch: Opened) -> Response:
    """The patch file."""
    return _attached(dump_patch(open_patch.patch).encode(), f"{slug}.json", "application/json")


@router.get("/patch/{slug}/export")
def export_whole(request: Request, slug: str, open_patch: Opened) -> Response:
    """The patch file, in a zip with its audio if it has any."""
    patch = open_patch.patch
    if not words_of(patch):
        return export(slug, open_patch)
    return _attached(dump_bundle(patch, audio_of), f"{slug}.zip", "application/zip")


@router.get("/patch/{slug}/heard.{kind}")
def heard(slug: str, open_patch: Opened, kind: Literal["wav", "flac"]) -> Response:
    """What was heard and kept last: WAV of 32-bit float, or FLAC of 24 bits."""
    tape = open_patch.tape
    if tape is None:
        raise ValueProblem("nothing that was heard is kept: press To file while it plays, then again to end it")
    with tempfile.NamedTemporaryFile(suffix=f".{kind}", delete=False) as out:
        path = Path(out.name)
    try:
        write_sound(path, tape.blocks(), kind == "flac")
    except AudioProblem:
        path.unlink(missing_ok=True)
        raise
    gone = BackgroundTask(path.unlink, missing_ok=True)
    return FileResponse(path, media_type=f"audio/{kind}", filename=f"{slug}-heard.{kind}", background=gone)


@router.get("/patch/{slug}/loop.wav")
def loop_wav(slug: str, open_patch: Opened) -> Response:
    """The loop as a WAV file, 48 kHz, 32-bit float."""
    open_patch.measure()
    picture = open_patch.measuring.wait_picture(open_patch.version, _WAIT)
    if picture is None or picture.version < open_patch.version:
        raise ValueProblem("the loop is still being rendered: try again in a moment")
    return _attached(wav_bytes(picture.loop), f"{slug}.wav", "audio/wav")
