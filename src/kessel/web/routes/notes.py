"""Routes of the phrase: its panel, edits of notes and lanes, MIDI import and export."""

from __future__ import annotations

from typing import Annotated, Literal

from fastapi import APIRouter, Form, Query
from fastapi.responses import Response
from pydantic import BaseModel, ConfigDict, Field

from ...desk.editing import notes as note_edits
from ...formats import midi_bytes
from ...patch import Patch, ValueProblem
from ..answers import changed
from ..dependencies import DeskOf, Opened
from ..pages import page
from ..receiving import SentFile
from ..views.layers import phrase_panel

router = APIRouter()
_Word = Annotated[str, Query(max_length=20)]


@router.get("/patch/{slug}/phrase-panel")
def panel(slug: str, open_patch: Opened, snap: _Word = "1/16", lane: _Word = "velocity", shown: _Word = "") -> Response:
    """The note editor. Empty if the page shows it already."""
    patch = open_patch.patch
    found = phrase_panel(patch, snap, lane)
    if shown == found.stamp:
        return Response(status_code=204)
    return page("layers/phrase_panel.html", slug=slug, patch=patch, panel=found)


class PhraseGesture(BaseModel):
    """An edit of the phrase. beats and pitch are as dragged; the grid is applied here."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)

    do: Literal[
        "draw", "move", "stretch", "velocity", "delete", "double", "transpose", "in-time", "exact", "idiom",
        "lane", "clear-lane", "point", "shape",
    ]  # fmt: skip
    ids: list[Annotated[str, Field(max_length=40)]] = Field(default_factory=list, max_length=512)
    pitch: int = Field(default=36, ge=0, le=127)
    start: float = Field(default=0.0, ge=0, le=64)
    length: float | None = Field(default=None, gt=0, le=64)
    beats: float = Field(default=0.0, ge=-64, le=64)
    semitones: int = Field(default=0, ge=-127, le=127)
    times: float = Field(default=2.0, ge=0.5, le=2.0)
    by: int = Field(default=0, ge=-127, le=127)
    to: int | None = Field(default=None, ge=1, le=127)
    snap: str = Field(default="1/16", max_length=10)
    lane: str = Field(default="", max_length=10)
    points: list[tuple[float, float]] = Field(default_factory=list, max_length=2000)
    slug: str = Field(default="", max_length=40)
    what: str = Field(default="", max_length=10)
    text: str = Field(default="", max_length=40)
    at: str = Field(default="", max_length=40)


def _step(patch: Patch, hand: PhraseGesture) -> note_edits.Step:
    snap = note_edits.grid_of(hand.snap)
    if hand.do == "draw":
        return note_edits.draw_note(patch, hand.pitch, hand.start, hand.length, snap)
    if hand.do == "move":
        return note_edits.move_notes(patch, hand.ids, hand.beats, hand.semitones, snap)
    if hand.do == "stretch":
        return note_edits.stretch_notes(patch, hand.ids, hand.beats, snap)
    if hand.do == "velocity":
        return note_edits.set_velocity(patch, hand.ids, hand.by, hand.to)
    if hand.do == "delete":
        return note_edits.delete_notes(patch, hand.ids)
    if hand.do == "double":
        return note_edits.double_notes(patch, hand.ids, snap)
    if hand.do == "transpose":
        return note_edits.transpose(patch, hand.semitones)
    if hand.do == "in-time":
        return note_edits.in_time(patch, hand.times)
    if hand.do == "lane":
        return note_edits.stroke_lane(patch, hand.lane, hand.points)
    if hand.do == "exact":
        return note_edits.set_exactly(patch, hand.ids, hand.what, hand.text)
    if hand.do == "point":
        return note_edits.set_point(patch, hand.lane, hand.at, hand.text)
    if hand.do == "shape":
        return note_edits.shape_lane(patch, hand.lane, hand.what)
    if hand.do == "clear-lane":
        return note_edits.clear_lane(patch, hand.lane)
    return note_edits.use_idiom(patch, hand.slug)


@router.post("/patch/{slug}/notes")
def notes(open_patch: Opened, hand: PhraseGesture) -> Response:
    """Edit the phrase."""
    return changed(open_patch.edit(*_step(open_patch.patch, hand)))


@router.post("/patch/{slug}/repeat-phrase")
def repeat(open_patch: Opened, bars: Annotated[int, Form(ge=1, le=16)]) -> Response:
    """Repeat the phrase until it fills a number of bars."""
    return changed(open_patch.edit(*note_edits.repeated(open_patch.patch, bars)))


@router.post("/patch/{slug}/midi")
def take_midi(desk: DeskOf, open_patch: Opened, sent: SentFile) -> Response:
    """Import a MIDI file as the phrase."""
    read = desk.take_midi(sent.data, sent.name, open_patch.patch.phrase, sent.ticket)
    edits, label = note_edits.use_midi(open_patch.patch, read, sent.name)
    return changed(open_patch.edit(edits, f"{label}; {read.left_out}" if read.left_out else label))


@router.get("/patch/{slug}/phrase.mid")
def give_midi(slug: str, open_patch: Opened) -> Response:
    """Export the phrase as a MIDI file."""
    patch = open_patch.patch
    if not patch.phrase.notes:
        raise ValueProblem("there is no note to export: draw one first")
    return Response(
        midi_bytes(patch.phrase, patch.tempo, patch.name),
        media_type="audio/midi",
        headers={"Content-Disposition": f'attachment; filename="{slug}.mid"'},
    )
