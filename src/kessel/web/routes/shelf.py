"""The library: the set, new, duplicate, rename, delete, import and export."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Form, Query, Request
from fastapi import Path as InPath
from fastapi.responses import HTMLResponse, JSONResponse, RedirectResponse, Response

from ...desk import STARTS
from ...engine import audio_of
from ...formats import FileProblem, dump_bundle, dump_patch, wav_bytes, words_of
from ...patch import ValueProblem
from ..pages import desk_of, page
from ..receiving import SentFile
from ..views.library import card_view, shelf_view

router = APIRouter()
_WAIT = 20.0
_Ticket = Annotated[str, InPath(max_length=40, pattern="^[a-z0-9-]+$")]


@router.get("/")
def start() -> RedirectResponse:
    """The library is the way in."""
    return RedirectResponse("/library", 303)


@router.get("/library")
def library(request: Request, gone: Annotated[str, Query(max_length=80)] = "") -> HTMLResponse:
    """All sets and their patches; ``gone``: one that was deleted just now."""
    store = desk_of(request).library
    card = store.card(gone) if gone else None
    deleted = card if card is not None and card.deleted else None
    return page("library/library.html", shelf=shelf_view(store), gone=deleted, problem=None, starts=STARTS)


def _shelf(request: Request, gone: str | None = None, problem: str | None = None) -> HTMLResponse:
    desk = desk_of(request)
    card = desk.library.card(gone) if gone else None
    return page("library/shelf.html", shelf=shelf_view(desk.library), gone=card, problem=problem)


@router.get("/patch/{slug}/card")
def card(request: Request, slug: str) -> HTMLResponse:
    """The measured part of a patch's row; what was measured of the same revision is not measured again."""
    desk, cards = desk_of(request), request.app.state.cards
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
def damaged(request: Request, slug: str) -> HTMLResponse:
    """What can be done about a patch whose row can't be read."""
    library = desk_of(request).library
    return page("library/damaged.html", slug=slug, card=library.card(slug), states=library.good_states(slug))


@router.post("/patch/{slug}/mend")
def mend(request: Request, slug: str, state: Annotated[int, Form(ge=0, le=99)]) -> Response:
    """A good state of its history in the place of a damaged patch."""
    desk_of(request).mend(slug, state)
    return RedirectResponse(f"/patch/{slug}", 303)


@router.post("/patch/{slug}/delete-damaged")
def delete_damaged(request: Request, slug: str) -> Response:
    """A damaged patch off the shelf, with a way back."""
    desk_of(request).delete(slug)
    return RedirectResponse(f"/library?gone={slug}", 303)


@router.get("/patch/{slug}/as-it-is")
def as_it_is(request: Request, slug: str) -> Response:
    """What the row of a patch holds, just as it is."""
    library = desk_of(request).library
    return _attached(library.raw(slug), f"{library.card(slug).slug}-damaged.txt", "application/octet-stream")


@router.post("/library/new")
def new(request: Request, start: Annotated[str, Form(max_length=100)] = "sine") -> Response:
    """A new patch from a starting point or a kept patch (patch:SLUG), opened."""
    desk = desk_of(request)
    slug = desk.new_from(start.removeprefix("patch:")) if start.startswith("patch:") else desk.new(start)
    return Response(status_code=204, headers={"HX-Redirect": f"/patch/{slug}"})


@router.post("/library/import")
def take_in(request: Request, sent: SentFile) -> HTMLResponse:
    """A patch file, kept as a new patch."""
    try:
        desk_of(request).take_in(sent.data, sent.name, sent.ticket)
    except (FileProblem, ValueProblem) as problem:
        said = str(problem)
        return _shelf(
            request, problem=f"{said}." if "not taken in" in said else f"{sent.name} was not taken in: {said}."
        )
    return _shelf(request)


@router.get("/imports/{ticket}")
def progress(request: Request, ticket: _Ticket) -> JSONResponse:
    """How far an import is."""
    found = desk_of(request).intake.progress(ticket)
    if found is None:
        return JSONResponse({"share": 0.0, "known": False})
    return JSONResponse({"share": round(found.share, 4), "known": True, "over": found.over, "name": found.name})


@router.post("/imports/{ticket}/cancel")
def cancel(request: Request, ticket: _Ticket) -> JSONResponse:
    """Give an import up."""
    desk_of(request).intake.cancel(ticket)
    return JSONResponse({"label": "Cancelled"})


@router.post("/patch/{slug}/duplicate")
def duplicate(request: Request, slug: str) -> HTMLResponse:
    """A copy beside it."""
    desk_of(request).duplicate(slug)
    return _shelf(request)


@router.post("/patch/{slug}/rename")
def rename(request: Request, slug: str, name: Annotated[str, Form(max_length=200)]) -> HTMLResponse:
    """Another name; the address stays."""
    desk_of(request).rename(slug, name)
    return _shelf(request)


@router.post("/patch/{slug}/delete")
def delete(request: Request, slug: str) -> HTMLResponse:
    """Off the shelf, with a way back."""
    desk_of(request).delete(slug)
    return _shelf(request, gone=slug)


@router.post("/patch/{slug}/put-back")
def put_back(request: Request, slug: str) -> HTMLResponse:
    """Onto the shelf again."""
    desk_of(request).put_back(slug)
    return _shelf(request)


def _attached(data: bytes, name: str, kind: str) -> Response:
    return Response(data, media_type=kind, headers={"Content-Disposition": f'attachment; filename="{name}"'})


@router.get("/patch/{slug}/patch.json")
def export(request: Request, slug: str) -> Response:
    """The patch file."""
    return _attached(dump_patch(desk_of(request).open(slug).patch).encode(), f"{slug}.json", "application/json")


@router.get("/patch/{slug}/export")
def export_whole(request: Request, slug: str) -> Response:
    """The patch file; with its audio in a zip file when it has any."""
    patch = desk_of(request).open(slug).patch
    if not words_of(patch):
        return export(request, slug)
    return _attached(dump_bundle(patch, audio_of), f"{slug}.zip", "application/zip")


@router.get("/patch/{slug}/loop.wav")
def loop_wav(request: Request, slug: str) -> Response:
    """The loop once, 48 kHz, 32-bit float."""
    patch = desk_of(request).open(slug)
    patch.measure()
    picture = patch.measuring.wait_picture(patch.version, _WAIT)
    if picture is None or picture.version < patch.version:
        raise ValueProblem("the loop is still being rendered: try again in a moment")
    return _attached(wav_bytes(picture.loop), f"{slug}.wav", "audio/wav")
