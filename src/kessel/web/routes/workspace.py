"""The Layers workspace and its fragments."""

from __future__ import annotations

from typing import Annotated, Any

from fastapi import APIRouter, Depends, Query, Request
from fastapi.responses import HTMLResponse, JSONResponse

from ...desk import Desk, OpenPatch, Turn, turned
from ...patch import NoSuchPath, Oscillator, ValueProblem, apply, get
from ..pages import desk_of, page
from ..views.editor import Asked, Editor, editor_view
from ..views.header import header_view
from ..views.phrase import phrase_view
from ..views.rail import rail_view
from ..views.sheet import sheet_view
from ..views.source_panel import source_drawing

router = APIRouter()
_WAIT = 25.0
_Word = Annotated[str, Query(max_length=64)]
_Frame = Annotated[int, Query(ge=0, le=999)]


def _asked(layer: _Word = "", tab: _Word = "sources", item: _Word = "", group: _Word = "", frame: _Frame = 0) -> Asked:
    return Asked(layer, tab, item, group, frame)


_Asked = Annotated[Asked, Depends(_asked)]


def _editor(desk: Desk, open_patch: OpenPatch, asked: Asked) -> Editor:
    audio = [(a.word, a.name) for a in desk.library.audio.all()]
    return editor_view(open_patch.patch, open_patch.measuring.picture, asked, audio, desk.clipboard)


@router.get("/patch/{slug}")
def layers(request: Request, slug: str, asked: _Asked) -> HTMLResponse:
    """The whole workspace."""
    desk = desk_of(request)
    open_patch = desk.open(slug)
    open_patch.measure()
    patch, picture = open_patch.patch, open_patch.measuring.picture
    editor = _editor(desk, open_patch, asked)
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
def editor(request: Request, slug: str, asked: _Asked) -> HTMLResponse:
    """The controls of one layer or of the output."""
    desk = desk_of(request)
    open_patch = desk.open(slug)
    view = _editor(desk, open_patch, asked)
    header = header_view(open_patch.patch, open_patch.measuring.picture)
    return page("editor_answer.html", slug=slug, editor=view, header=header)


@router.get("/patch/{slug}/drawing")
def drawing(
    request: Request,
    slug: str,
    layer: _Word,
    source: _Word,
    path: Annotated[str, Query(max_length=200)],
    at: Annotated[float | None, Query(ge=-1, le=2)] = None,
    steps: Annotated[float | None, Query(ge=-1000, le=1000)] = None,
) -> JSONResponse:
    """A source's drawing with one control turned but not kept, for a hand that is still turning."""
    patch = desk_of(request).open(slug).patch
    try:
        patch = apply(patch, [turned(patch, Turn(path, at=at, steps=steps))])
        found = get(patch, f"layers.{layer}.sources.{source}")
    except (ValueProblem, NoSuchPath):
        return JSONResponse({})
    if not isinstance(found, Oscillator):
        return JSONResponse({})
    drawn = source_drawing(patch, patch.layer(layer), found)
    answer: dict[str, Any] = {"line": drawn.lines[0], "bars": [h for _, h in drawn.bars]}
    return JSONResponse(answer)
