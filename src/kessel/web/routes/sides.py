"""Routes of the side panels: the history, the part shelf, the backing."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Form, Query
from fastapi.responses import HTMLResponse, Response

from ...patch import BackingLoop, BackingPatch, Edit, ValueProblem, free_id
from ..answers import changed, said
from ..dependencies import DeskOf, Opened
from ..pages import page
from ..receiving import SentFile
from ..views.frame import backing_view, history_view, shelf_view

router = APIRouter()


@router.get("/patch/{slug}/side/history")
def history(slug: str, open_patch: Opened, most: Annotated[int, Query(ge=1, le=1_000_000)] = 200) -> HTMLResponse:
    """The newest steps of the history."""
    steps = open_patch.steps(most)
    return page("frame/history.html", slug=slug, steps=history_view(steps), most=most, more=len(steps) == most)


@router.post("/patch/{slug}/go-to")
def go_to(open_patch: Opened, step: Annotated[int, Form(ge=0, le=2**63 - 1)]) -> Response:
    """Go to a step of the history."""
    wanted = next((s for s in open_patch.steps(5000) if s.id == step), None)
    open_patch.go_to(step)
    name = f"“{wanted.label}”" if wanted is not None else "the start"
    label = f"{'Forward' if wanted is not None and wanted.undone else 'Back'} to {name}"
    return said(label, "edited", "redrawn", version=open_patch.version)


@router.get("/patch/{slug}/side/parts")
def parts(slug: str, desk: DeskOf, kind: Annotated[str, Query(max_length=20)] = "") -> HTMLResponse:
    """The part shelf."""
    return page("frame/part_shelf.html", slug=slug, shelf=shelf_view(desk.shelf(kind or None), kind))


@router.get("/patch/{slug}/side/backing")
def backing(slug: str, desk: DeskOf, open_patch: Opened) -> HTMLResponse:
    """The backing."""
    others = [(c.slug, c.name) for c in desk.library.patches() if c.slug != slug]
    return page("frame/backing.html", slug=slug, backing=backing_view(open_patch.patch, others))


@router.post("/patch/{slug}/backing/loop")
def add_loop(desk: DeskOf, open_patch: Opened, sent: SentFile) -> Response:
    """Import a loop as backing. Its tempo is computed from its length in whole bars."""
    card = desk.take_audio(sent.data, sent.name, sent.ticket)
    patch = open_patch.patch
    taken = [p.id for p in (*patch.backing.loops, *patch.backing.patches)] + ["beat"]  # type: ignore[attr-defined]
    tempo = _tempo_of(card.seconds, patch.tempo)
    new = BackingLoop(id=free_id(card.name, taken), name=card.name, audio=card.word, tempo=tempo)
    kept = [p.model_dump() for p in patch.backing.loops]
    edited = open_patch.edit([Edit("backing.loops", [*kept, new.model_dump()])], f"Backing: {card.name}")
    return changed(edited, beside=f"loop:{new.id}")


def _tempo_of(seconds: float, near: float) -> float:
    """The tempo, nearest to a given one, at which a recording is a whole number of beats."""
    beats = max(1, round(seconds * near / 60.0))
    return min(max(round(beats * 60.0 / seconds, 1), 40.0), 240.0)


@router.post("/patch/{slug}/backing/patch")
def add_patch(slug: str, desk: DeskOf, open_patch: Opened, other: Annotated[str, Form(max_length=80)]) -> Response:
    """Add another patch as backing."""
    patch = open_patch.patch
    card = desk.library.card(other)
    if other == slug:
        raise ValueProblem("a patch can't play beside itself: choose another")
    taken = [p.id for p in (*patch.backing.loops, *patch.backing.patches)] + ["beat"]  # type: ignore[attr-defined]
    new = BackingPatch(id=free_id(card.name, taken), name=card.name, slug=other)
    kept = [p.model_dump() for p in patch.backing.patches]
    edited = open_patch.edit([Edit("backing.patches", [*kept, new.model_dump()])], f"Backing: {card.name}")
    return changed(edited, beside=f"patch:{new.id}")
