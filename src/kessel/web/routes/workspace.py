"""The Layers workspace and its fragments."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Query, Request
from fastapi.responses import HTMLResponse

from ..pages import desk_of, page
from ..views.editor import editor_view
from ..views.header import header_view
from ..views.phrase import phrase_view
from ..views.rail import rail_view
from ..views.sheet import sheet_view

router = APIRouter()
_WAIT = 25.0
_Word = Annotated[str, Query(max_length=64)]


@router.get("/patch/{slug}")
def layers(request: Request, slug: str, layer: _Word = "", tab: _Word = "sources", item: _Word = "") -> HTMLResponse:
    """The whole workspace."""
    open_patch = desk_of(request).open(slug)
    open_patch.measure()
    patch, picture = open_patch.patch, open_patch.measuring.picture
    editor = editor_view(patch, picture, layer, tab, item)
    return page(
        "layers.html",
        slug=slug,
        patch=patch,
        header=header_view(patch, picture),
        sheet=sheet_view(patch, picture, editor.layer, open_patch.version),
        rail=rail_view(open_patch.measuring.measured, open_patch.version, {}),
        editor=editor,
        phrase=phrase_view(patch, picture),
    )


@router.get("/patch/{slug}/sheet")
def sheet(request: Request, slug: str, layer: _Word = "") -> HTMLResponse:
    """The strips, measured, with the header's figures and the phrase."""
    open_patch = desk_of(request).open(slug)
    if open_patch.measuring.problem is None:
        open_patch.measure()
    picture = open_patch.measuring.wait_picture(open_patch.version, _WAIT)
    patch = open_patch.patch
    return page(
        "sheet_answer.html",
        slug=slug,
        patch=patch,
        sheet=sheet_view(patch, picture, layer, 0 if open_patch.measuring.problem else open_patch.version),
        header=header_view(patch, picture),
        phrase=phrase_view(patch, picture),
    )


@router.get("/patch/{slug}/rail")
def rail(request: Request, slug: str) -> HTMLResponse:
    """The findings."""
    open_patch = desk_of(request).open(slug)
    measuring = open_patch.measuring
    if measuring.problem is None:
        open_patch.measure()
    measured = measuring.wait_findings(open_patch.version, _WAIT)
    return page(
        "rail.html", slug=slug, rail=rail_view(measured, open_patch.version, open_patch.before, measuring.problem)
    )


@router.get("/patch/{slug}/editor")
def editor(request: Request, slug: str, layer: _Word = "", tab: _Word = "sources", item: _Word = "") -> HTMLResponse:
    """The controls of one layer or of the output."""
    open_patch = desk_of(request).open(slug)
    picture = open_patch.measuring.picture
    return page("editor.html", slug=slug, editor=editor_view(open_patch.patch, picture, layer, tab, item))
