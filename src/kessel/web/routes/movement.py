"""Routes of movements, drawn curves, macros, stances, pins, and the loop in time."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from fastapi import APIRouter, Form, Query
from fastapi.responses import HTMLResponse, Response
from pydantic import BaseModel, ConfigDict, Field

from ...desk import (
    add_movement,
    aim,
    bind,
    clear_lost,
    keep_stance,
    mirror,
    pin,
    take_stance,
    tie,
    turn_round,
    unbind,
    untie,
)
from ...desk.editing import curves as curve_edits
from ...patch import HIGHEST_CONTROLLER, Patch, ValueProblem
from ..answers import changed
from ..dependencies import Opened
from ..pages import page
from ..pictures import Content, drawn
from ..views.editor import control_menu
from ..views.frame import bound_controls, strip_row
from ..views.movement import moment_view, moving_view
from ..views.shaping import shaped_curve
from .workspace import AskedOf

router = APIRouter()
_Path = Annotated[str, Form(max_length=200)]
_Controller = Annotated[int, Form(ge=0, le=HIGHEST_CONTROLLER)]
_Word = Annotated[str, Form(max_length=64)]
TOP_DB, BOTTOM_DB = -6.0, -84.0
"""Levels in dB of the two ends of a spectrogram's scale."""


# movements


@router.post("/patch/{slug}/let-move")
def let_move(open_patch: Opened, mover: _Path, target: _Path) -> Response:
    """Let a mover drive a control. ``new:KIND`` adds a mover first."""
    before = {m.id for m in open_patch.patch.movers}
    edited = open_patch.edit(*add_movement(open_patch.patch, mover, target))
    new = next((m for m in edited.patch.movers if m.id not in before), None)
    if new is None:
        return changed(edited)
    drawn = {"curve": new.id} if new.kind in ("curve", "macro") else {}
    return changed(edited, **drawn)


@router.post("/patch/{slug}/mirror")
def opposite(open_patch: Opened, movement: _Word, target: _Path) -> Response:
    """Let the same mover drive another control the opposite way."""
    return changed(open_patch.edit(*mirror(open_patch.patch, movement, target)))


@router.post("/patch/{slug}/aim")
def aim_at(open_patch: Opened, movement: _Word, target: _Path) -> Response:
    """Give a movement another target."""
    return changed(open_patch.edit(*aim(open_patch.patch, movement, target)))


@router.post("/patch/{slug}/turn-round")
def round_about(open_patch: Opened, movement: _Word) -> Response:
    """Swap the start and the end of a movement."""
    return changed(open_patch.edit(*turn_round(open_patch.patch, movement)))


@router.post("/patch/{slug}/tie-to")
def tie_to(open_patch: Opened, path: _Path, other: _Path) -> Response:
    """Tie a frequency to another."""
    return changed(open_patch.edit(*tie(open_patch.patch, path, other)))


@router.post("/patch/{slug}/untie-from")
def let_go(open_patch: Opened, tie: _Word) -> Response:
    """Untie two frequencies."""
    return changed(open_patch.edit(*untie(open_patch.patch, tie)))


@router.post("/patch/{slug}/clear-lost")
def clear(open_patch: Opened) -> Response:
    """Remove the movements whose target is gone."""
    return changed(open_patch.edit(*clear_lost(open_patch.patch)))


@router.get("/patch/{slug}/control-menu")
def menu(slug: str, open_patch: Opened, path: Annotated[str, Query(max_length=200)]) -> HTMLResponse:
    """The menu of one control."""
    return page(
        "editor/control_menu.html", slug=slug, menu=control_menu(open_patch.patch, path, open_patch.measuring.picture)
    )


# drawn curves


class CurveGesture(BaseModel):
    """An edit of a drawn curve."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)

    mover: str = Field(max_length=200)
    do: Literal["move", "add", "remove", "bend", "stroke", "touch"]
    index: int = Field(default=0, ge=0, le=999)
    at: float = Field(default=0.0, ge=-1, le=2)
    value: float = Field(default=0.0, ge=-2, le=2)
    line: list[tuple[float, float]] = Field(default_factory=list, max_length=2000)
    what: str = Field(default="", max_length=20)


def _drawn(patch: Patch, hand: CurveGesture) -> curve_edits.Step:
    if hand.do == "move":
        return curve_edits.move_point(patch, hand.mover, hand.index, hand.at, hand.value)
    if hand.do == "add":
        return curve_edits.add_point(patch, hand.mover, hand.at, hand.value)
    if hand.do == "remove":
        return curve_edits.remove_point(patch, hand.mover, hand.index)
    if hand.do == "bend":
        return curve_edits.bend_through(patch, hand.mover, hand.index, hand.value)
    if hand.do == "stroke":
        return curve_edits.stroke(patch, hand.mover, hand.line)
    return curve_edits.touch(patch, hand.mover, hand.what)


@router.post("/patch/{slug}/curve")
def curve(open_patch: Opened, hand: CurveGesture) -> Response:
    """Edit a drawn curve."""
    return changed(open_patch.edit(*_drawn(open_patch.patch, hand)))


@router.get("/patch/{slug}/curve-box")
def curve_box(slug: str, open_patch: Opened, asked: AskedOf) -> HTMLResponse:
    """The drawn curve."""
    if asked.view == "shaping":
        return page("movement/curve_box.html", slug=slug, moving=shaped_curve(open_patch.patch, asked))
    moving = moving_view(open_patch.patch, None, asked, slug, 0)
    return page("movement/curve_box.html", slug=slug, moving=moving)


# macros, stances, pins


@router.get("/patch/{slug}/strip-row")
def strip(slug: str, open_patch: Opened) -> HTMLResponse:
    """Macros, stances and pinned controls."""
    return page("frame/strip_row.html", slug=slug, strip=strip_row(open_patch.patch, open_patch.measuring.picture))


@router.post("/patch/{slug}/stance")
def keep(open_patch: Opened, over: _Word = "") -> Response:
    """Store the positions of all macros."""
    return changed(open_patch.edit(*keep_stance(open_patch.patch, over)))


@router.post("/patch/{slug}/take-stance")
def take(open_patch: Opened, stance: _Word) -> Response:
    """Set all macros to a stance."""
    return changed(open_patch.edit(*take_stance(open_patch.patch, stance)))


@router.post("/patch/{slug}/pin")
def pin_it(open_patch: Opened, path: _Path) -> Response:
    """Pin a control to the strip, or unpin it."""
    return changed(open_patch.edit(*pin(open_patch.patch, path)))


@router.get("/patch/{slug}/bindings")
def bindings(slug: str, open_patch: Opened) -> HTMLResponse:
    """What MIDI controllers turn."""
    return page("frame/bindings.html", slug=slug, bindings=bound_controls(open_patch.patch))


@router.post("/patch/{slug}/bind")
def bind_it(open_patch: Opened, controller: _Controller, path: _Path) -> Response:
    """Let a MIDI controller turn a control."""
    return changed(open_patch.edit(*bind(open_patch.patch, controller, path)))


@router.post("/patch/{slug}/unbind")
def unbind_it(open_patch: Opened, controller: _Controller) -> Response:
    """Free a MIDI controller."""
    return changed(open_patch.edit(*unbind(open_patch.patch, controller)))


# the loop in time


def _known(patch: Patch, what: str) -> str:
    layer = what.removeprefix("layer:")
    if what != "sum" and layer not in {x.id for x in patch.layers}:
        raise ValueProblem("choose the sum or a layer of this patch")
    return what


@router.get("/patch/{slug}/spectrogram.png")
def picture(open_patch: Opened, what: Annotated[str, Query(max_length=80)] = "sum", of: Content = "") -> Response:
    """The spectrogram of the loop as a PNG: darker is louder, the highest frequency on top."""
    patch = open_patch.patch
    levels = open_patch.render_worker.audio(patch, f"spectrogram {_known(patch, what)}")
    share = np.clip((levels[::-1] - BOTTOM_DB) / (TOP_DB - BOTTOM_DB), 0.0, 1.0)
    return drawn(share**1.6, patch, of)


@router.get("/patch/{slug}/moment")
def moment(
    slug: str,
    open_patch: Opened,
    at: Annotated[float, Query(ge=0, le=1)],
    what: Annotated[str, Query(max_length=80)] = "sum",
) -> HTMLResponse:
    """The spectrum around one position of the loop, 0..1, on the shared axis."""
    patch = open_patch.patch
    levels = open_patch.render_worker.audio(patch, f"moment {at:.6f} {_known(patch, what)}")
    return page("movement/moment.html", slug=slug, moment=moment_view(patch, levels, open_patch.measuring.picture, at))
