"""Routes of drawn waves and audio: strokes, harmonics, frames, import and export."""

from __future__ import annotations

from typing import Annotated, Literal

from fastapi import APIRouter, Form, Query
from fastapi.responses import Response
from pydantic import BaseModel, ConfigDict, Field

from ...desk import OpenPatch, WaveOffer, offered
from ...desk.editing import waves as wave_edits
from ...formats import frames_bytes
from ...patch import Cabinet, Edit, Patch, Sample, Space, ValueProblem, Vocoder, get
from ..answers import changed, said
from ..dependencies import DeskOf, Opened
from ..receiving import SentFile

router = APIRouter()
_Path = Annotated[str, Form(max_length=200)]
_Stroke = tuple[float, float, float, float]


class WaveGesture(BaseModel):
    """An edit of a wave. Strokes: x from, y from, x to, y to. Harmonics count from 1."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)

    do: Literal["stroke", "bars", "step", "touch", "frames", "use"]
    path: str = Field(max_length=200)
    frame: int = Field(default=0, ge=0, le=999)
    strokes: list[_Stroke] = Field(default_factory=list, max_length=4000)
    levels: list[tuple[int, float]] = Field(default_factory=list, max_length=200)
    phases: list[tuple[int, float]] = Field(default_factory=list, max_length=200)
    harmonic: int = Field(default=1, ge=1, le=200)
    by: float = Field(default=0.0, ge=-100, le=100)
    what: str = Field(default="", max_length=20)
    count: int = Field(default=0, ge=0, le=512)
    to: int = Field(default=0, ge=0, le=999)
    word: str = Field(default="", max_length=64)


def _step(patch: Patch, hand: WaveGesture) -> wave_edits.Step:
    if hand.do == "stroke":
        return wave_edits.stroke(patch, hand.path, hand.frame, hand.strokes)
    if hand.do == "bars":
        return wave_edits.set_bars(patch, hand.path, hand.frame, hand.levels, hand.phases)
    if hand.do == "step":
        return wave_edits.step_bar(patch, hand.path, hand.frame, hand.harmonic, hand.by)
    if hand.do == "touch":
        return wave_edits.touch(patch, hand.path, hand.frame, hand.what, hand.count)
    if hand.do == "frames":
        return wave_edits.change_frames(patch, hand.path, hand.what, hand.frame, hand.to)
    return wave_edits.use_wave(patch, hand.path, hand.word)


@router.post("/patch/{slug}/wave")
def wave(open_patch: Opened, hand: WaveGesture) -> Response:
    """Edit a drawn wave."""
    edited = open_patch.edit(*_step(open_patch.patch, hand))
    after = {"duplicate": hand.frame + 1, "insert": hand.frame + 1, "delete": max(0, hand.frame - 1)}
    if hand.do == "frames" and hand.what in after:
        return changed(edited, frame=str(after[hand.what]))
    return changed(edited, frame="0") if hand.do == "use" else changed(edited)


@router.post("/patch/{slug}/import-wave")
def import_wave(desk: DeskOf, open_patch: Opened, path: _Path, sent: SentFile) -> Response:
    """Offer a drawn wave from an audio file: how it would be cut is shown."""
    wave_edits.wave_of(open_patch.patch, path)
    open_patch.offer = offered(path, desk.read_wave(sent.data, sent.name, sent.ticket))
    return said(f"{sent.name}: look at how it is cut, then take it", "redrawn")


def _offer(open_patch: OpenPatch) -> WaveOffer:
    if open_patch.offer is None:
        raise ValueProblem("no file is being cut: import one first")
    return open_patch.offer


@router.post("/patch/{slug}/cut-wave")
def cut_wave(
    open_patch: Opened,
    way: Annotated[str, Form(max_length=20)] = "",
    length: Annotated[str, Form(max_length=12)] = "",
) -> Response:
    """Cut the offered file another way, or into frames of another length in samples."""
    samples = length.strip()
    if (samples and not samples.isascii()) or (samples and not samples.isdigit()):
        raise ValueProblem(f"a frame is a whole number of samples, such as 2048, not “{samples}”")
    open_patch.offer = _offer(open_patch).again(way, int(samples or 0))
    return said(None, "redrawn")


@router.post("/patch/{slug}/take-wave")
def take_wave(open_patch: Opened) -> Response:
    """Take the wave that is offered."""
    offer = _offer(open_patch)
    edited = open_patch.edit(*wave_edits.put_wave(open_patch.patch, offer.path, offer.wave))
    open_patch.offer = None
    return changed(edited, frame="0")


@router.post("/patch/{slug}/leave-wave")
def leave_wave(open_patch: Opened) -> Response:
    """Take nothing from the offered file."""
    open_patch.offer = None
    return said("Nothing was taken from the file", "redrawn")


@router.get("/patch/{slug}/wave.wav")
def export_wave(open_patch: Opened, path: Annotated[str, Query(max_length=200)]) -> Response:
    """Export the frames of a drawn wave as a WAV file."""
    made = wave_edits.wave_of(open_patch.patch, path)
    return Response(
        frames_bytes(wave_edits.wave_audio(made)),
        media_type="audio/wav",
        headers={"Content-Disposition": f'attachment; filename="{made.id}.wav"'},
    )


@router.post("/patch/{slug}/import-audio")
def import_audio(desk: DeskOf, open_patch: Opened, path: _Path, sent: SentFile) -> Response:
    """Import an audio file into a sample source, or as the response of an effect."""
    source = get(open_patch.patch, path)
    if isinstance(source, Cabinet | Space | Vocoder):
        card = desk.take_audio(sent.data, sent.name, sent.ticket)
        edits = [Edit(f"{path}.audio", card.word), Edit(f"{path}.mode", "recorded")]
        return changed(open_patch.edit(edits, f"{source.name} uses {card.name}"))
    if not isinstance(source, Sample):
        raise ValueProblem("audio goes into a sample, a cabinet, a space or a vocoder: add one first")
    card = desk.take_audio(sent.data, sent.name, sent.ticket)
    new = source.model_copy(update={"audio": card.word, "title": card.name[:60], "start": 0.0, "end": 60000.0})
    if card.root is not None:
        new = new.model_copy(update={"root": min(max(round(card.root, 3), 10.0), 4000.0)})
    return changed(open_patch.edit([Edit(path, new.model_dump())], f"{source.name} plays {card.name}"))
