"""The library: the set, new, duplicate, rename, delete, import and export."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, File, Form, Request, UploadFile
from fastapi.responses import HTMLResponse, RedirectResponse, Response

from ...desk import STARTS
from ...engine import audio_of
from ...formats import (
    LARGEST_BUNDLE,
    AudioProblem,
    PatchProblem,
    dump_bundle,
    dump_patch,
    load_bundle,
    wav_bytes,
    words_of,
)
from ...patch import ValueProblem
from ..pages import desk_of, page
from ..views.shelf import card_view, shelf_view

router = APIRouter()
_WAIT = 20.0


@router.get("/")
def start() -> RedirectResponse:
    """The library is the way in."""
    return RedirectResponse("/library", 303)


@router.get("/library")
def library(request: Request) -> HTMLResponse:
    """All sets and their patches."""
    view = shelf_view(desk_of(request).library)
    return page("library.html", shelf=view, gone=None, problem=None, starts=STARTS)


def _shelf(request: Request, gone: str | None = None, problem: str | None = None) -> HTMLResponse:
    desk = desk_of(request)
    card = desk.library.card(gone) if gone else None
    return page("shelf.html", shelf=shelf_view(desk.library), gone=card, problem=problem)


@router.get("/patch/{slug}/card")
def card(request: Request, slug: str) -> HTMLResponse:
    """The measured part of a patch's row."""
    patch = desk_of(request).open(slug)
    patch.measure()
    return page("card.html", card=card_view(slug, patch.measuring.wait_findings(patch.version, _WAIT, 0)))


@router.post("/library/new")
def new(request: Request, start: Annotated[str, Form(max_length=100)] = "sine") -> Response:
    """A new patch from a starting point or a kept patch (patch:SLUG), opened."""
    desk = desk_of(request)
    slug = desk.new_from(start.removeprefix("patch:")) if start.startswith("patch:") else desk.new(start)
    return Response(status_code=204, headers={"HX-Redirect": f"/patch/{slug}"})


@router.post("/library/import")
async def take_in(request: Request, file: Annotated[UploadFile, File()]) -> HTMLResponse:
    """A patch file, kept as a new patch."""
    data = await file.read(LARGEST_BUNDLE + 1)
    try:
        desk_of(request).take_in(load_bundle(data))
    except (PatchProblem, AudioProblem) as problem:
        name = (file.filename or "the file")[:60]
        return _shelf(request, problem=f"{name} was not taken in: {problem}.")
    return _shelf(request)


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
