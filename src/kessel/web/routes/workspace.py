"""Routes of the workspaces and their fragments."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Any

from fastapi import APIRouter, Depends, Query, Request
from fastapi.responses import HTMLResponse, JSONResponse
from pydantic import BaseModel, Field

from ...desk import ControlChange, Desk, OpenPatch, Picture, apply_change
from ...patch import NoSuchPath, Oscillator, ValueProblem, apply, get
from ..dependencies import DeskOf, Opened
from ..pages import page
from ..views.checks import checks_view, topics_of
from ..views.editor import VIEWS, Editor, Selection, editor_view, source_drawing
from ..views.finding import finder
from ..views.frame import STOPPED, WAITS, Header, bound_controls, header_view, rail_view, strip_row
from ..views.layers import phrase_view, sheet_view
from ..views.movement import moving_view
from ..views.shaping import shaping_view

router = APIRouter()
_WAIT = 25.0
_Word = Annotated[str, Field(max_length=64)]
_Item = Annotated[str, Field(max_length=160)]


class Asked(BaseModel):
    """The selection in the address of a page."""

    layer: _Word = ""
    tab: _Word = ""
    item: _Item = ""
    group: _Word = ""
    frame: int = Field(0, ge=0, le=999)
    view: _Word = "layers"
    what: _Word = ""
    curve: _Word = ""
    sort: _Word = "target"
    only: _Word = ""
    zoom: _Word = ""
    topic: _Word = ""
    pick: _Item = ""
    spot: _Word = ""


def asked_of(asked: Annotated[Asked, Query()]) -> Selection:
    """The selection that the page asks for."""
    found = Selection(**asked.model_dump())
    return found if found.view in VIEWS else replace(found, view=VIEWS[0])


AskedOf = Annotated[Selection, Depends(asked_of)]


def _editor(desk: Desk, open_patch: OpenPatch, asked: Selection) -> Editor:
    audio = [(a.word, a.name) for a in desk.library.audio.all()]
    return editor_view(open_patch.patch, open_patch.measuring.picture, asked, audio, desk.clipboard, open_patch.offer)


@router.get("/player")
def player(request: Request) -> JSONResponse:
    """Where the process that plays has its sockets. It may be elsewhere when Kessel is started again."""
    return JSONResponse({"port": request.app.state.live_port})


@router.get("/patch/{slug}")
def layers(slug: str, desk: DeskOf, open_patch: Opened, asked: AskedOf) -> HTMLResponse:
    """A whole workspace."""
    open_patch.measure()
    patch, picture = open_patch.patch, open_patch.measuring.picture
    editor = _editor(desk, open_patch, asked)
    return page(
        "frame/workspace.html",
        slug=slug,
        version=open_patch.version,
        patch=patch,
        header=_header(open_patch, picture),
        drawing=_drawing(desk, open_patch, asked, editor.layer, picture, open_patch.version),
        rail=rail_view(open_patch.measuring.measured, open_patch.version, {}),
        editor=editor,
        strip=strip_row(patch, picture),
        bindings=bound_controls(patch),
        rooms=[(r.id, r.name) for r in desk.library.checks.rooms()],
        phrase=phrase_view(patch, picture),
        words={"waits": WAITS, "stopped": STOPPED},
    )


def _drawing(
    desk: Desk,
    open_patch: OpenPatch,
    asked: Selection,
    layer: str,
    picture: Picture | None,
    version: int,
    fresh: bool = False,
) -> dict[str, Any]:
    """The main drawing of a workspace. ``fresh``: it may wait for slow parts."""
    patch = open_patch.patch
    shown = _known(open_patch, picture)
    if asked.view == "movement":
        return shown | {"moving": moving_view(patch, picture, asked, open_patch.slug, version)}
    if asked.view == "checks":
        return shown | {"checking": checks_view(desk, open_patch, replace(asked, layer=layer), fresh)}
    if asked.view == "shaping":
        return shown | {"shaping": shaping_view(open_patch, picture, replace(asked, layer=layer), version, fresh)}
    return shown | {"sheet": sheet_view(patch, picture, layer, version)}


def _known(open_patch: OpenPatch, picture: Picture | None) -> dict[str, Any]:
    """The version of the shown picture (or -1), whether a newer one comes by itself, and a text until then."""
    comes = open_patch.measuring.problem is None
    return {
        "version": picture.version if picture is not None else -1,
        "comes": comes,
        "waits": WAITS if comes else STOPPED,
    }


def _header(open_patch: OpenPatch, picture: Picture | None) -> Header:
    return header_view(open_patch.patch, picture, open_patch.measuring.problem is None)


@router.get("/patch/{slug}/sheet")
def sheet(
    slug: str, desk: DeskOf, open_patch: Opened, asked: AskedOf, now: Annotated[bool, Query()] = False
) -> HTMLResponse:
    """The main drawing with the header's figures and the phrase. ``now``: as it is known, without waiting."""
    measuring = open_patch.measuring
    if measuring.problem is None:
        open_patch.measure()
    picture = measuring.picture if now else measuring.wait_picture(open_patch.version, _WAIT)
    version = 0 if measuring.problem else open_patch.version
    return page(
        "frame/sheet_answer.html",
        slug=slug,
        patch=open_patch.patch,
        drawing=_drawing(desk, open_patch, asked, asked.layer, picture, version, not now),
        header=_header(open_patch, picture),
        phrase=phrase_view(open_patch.patch, picture),
        rooms=[(r.id, r.name) for r in desk.library.checks.rooms()],
    )


@router.get("/patch/{slug}/rail")
def rail(
    slug: str,
    open_patch: Opened,
    asked: AskedOf,
    stage: Annotated[int, Query(ge=0, le=2)] = 0,
    now: Annotated[bool, Query()] = False,
) -> HTMLResponse:
    """The findings, once enough of them are known. ``now``: as they are known, without waiting.

    The answer also carries the header's figures and, in Checks, the verdicts of the topics.
    """
    measuring = open_patch.measuring
    if measuring.problem is None:
        open_patch.measure()
    measured = measuring.measured if now else measuring.wait_findings(open_patch.version, _WAIT, stage)
    return page(
        "frame/rail.html",
        slug=slug,
        rail=rail_view(measured, open_patch.version, open_patch.before, measuring.problem),
        answered=True,
        header=_header(open_patch, measuring.picture),
        drawing=_known(open_patch, measuring.picture),
        topics=topics_of(open_patch, asked) if asked.view == "checks" else (),
    )


@router.get("/patch/{slug}/editor")
def editor(slug: str, desk: DeskOf, open_patch: Opened, asked: AskedOf) -> HTMLResponse:
    """The controls of one layer or of the output."""
    view = _editor(desk, open_patch, asked)
    header = _header(open_patch, open_patch.measuring.picture)
    return page("editor/editor_answer.html", slug=slug, editor=view, header=header)


@router.get("/patch/{slug}/drawing")
def drawing(
    open_patch: Opened,
    layer: _Word,
    source: _Word,
    path: Annotated[str, Query(max_length=200)],
    at: Annotated[float | None, Query(ge=-1, le=2)] = None,
    steps: Annotated[float | None, Query(ge=-1000, le=1000)] = None,
) -> JSONResponse:
    """A source's drawing while one of its controls is dragged."""
    patch = open_patch.patch
    try:
        patch = apply(patch, apply_change(patch, ControlChange(path, at=at, steps=steps)))
        found = get(patch, f"layers.{layer}.sources.{source}")
    except (ValueProblem, NoSuchPath):
        return JSONResponse({})
    if not isinstance(found, Oscillator):
        return JSONResponse({})
    drawn = source_drawing(found, patch, patch.layer(layer))
    answer: dict[str, Any] = {"line": drawn.lines[0], "bars": [h for _, h in drawn.bars]}
    return JSONResponse(answer)


@router.get("/patch/{slug}/find")
def find(
    desk: DeskOf,
    open_patch: Opened,
    words: Annotated[str, Query(max_length=80)] = "",
    view: Annotated[str, Query(max_length=20)] = "layers",
) -> HTMLResponse:
    """Controls, parts, commands and patches whose names have the words."""
    patches = [(c.slug, c.name) for c in desk.library.patches()]
    found = finder(open_patch.patch, view if view in VIEWS else VIEWS[0], words, patches)
    return page("finding/found.html", found=found, words=words.strip())
