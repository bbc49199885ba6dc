"""Routes of edits: controls, parts, fixes, undo and redo. Edits are stored before they are answered."""

from __future__ import annotations

from typing import Annotated, Any

from fastapi import APIRouter, Form
from fastapi.responses import JSONResponse, Response
from pydantic import BaseModel, ConfigDict, Field

from ...desk import (
    ControlChange,
    let_through,
    modulate,
    move_octave,
    move_part,
    own_envelope,
    remove_part,
    tap,
    transpose_patch,
    turn_into,
    value_shown,
)
from ...patch import ControlPath, ValueProblem
from ..answers import changed
from ..dependencies import Opened

router = APIRouter()
_Path = Annotated[str, Form(max_length=200)]


class Change(BaseModel):
    """A change of a control: exactly one of text, at, axis, steps or default."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)

    path: str = Field(max_length=200)
    text: str | None = Field(default=None, max_length=200)
    at: float | None = Field(default=None, ge=-1, le=2)
    axis: float | None = Field(default=None, ge=-1, le=2)
    steps: float | None = Field(default=None, ge=-1000, le=1000)
    default: bool = False

    def plain(self) -> ControlChange:
        """The change, as the desk takes it. Raises ValueProblem if it is none or several."""
        forms = (self.text, self.at, self.axis, self.steps, self.default or None)
        if sum(mode is not None for mode in forms) != 1:
            raise ValueProblem("say one of text, at, axis, steps or default")
        return ControlChange(self.path, self.text, self.at, self.axis, self.steps, self.default)


class Turned(Change):
    """A change, and a second one that a hand made at once: both are one step."""

    also: Change | None = None


@router.post("/patch/{slug}/turn")
def turn(open_patch: Opened, turned: Turned) -> JSONResponse:
    """Change one control, or two in one step."""
    also = turned.also
    edited = open_patch.turn(turned.plain(), also.plain() if also is not None else None)

    def found(path: str) -> dict[str, Any]:
        return {"path": path} | vars(value_shown(edited.patch, path))

    both = {"also": found(also.path)} if also is not None else {}
    return JSONResponse({"version": edited.version, "label": edited.label} | found(turned.path) | both)


@router.post("/patch/{slug}/undo")
def undo(open_patch: Opened) -> Response:
    """Undo the last step."""
    return changed(open_patch.undo())


@router.post("/patch/{slug}/redo")
def redo(open_patch: Opened) -> Response:
    """Redo the next step."""
    return changed(open_patch.redo())


@router.post("/patch/{slug}/add")
def add(open_patch: Opened, path: _Path, kind: Annotated[str, Form(max_length=40)]) -> Response:
    """Add a part to a list."""
    edited, new_id = open_patch.add(path, kind)
    if path == "layers":
        return changed(edited, layer=new_id, tab="sources")
    last = ControlPath(path).name
    if last == "returns":
        return changed(edited, what=new_id, tab="returns")
    if last in ("items", "paths"):
        # an item within a branch is named by its path from the chain on
        steps = ControlPath(path).steps
        at = steps.index("paths") - 1
        return changed(edited, ControlPath.of(*steps[at:], new_id))
    return changed(edited, group=new_id) if last == "bands" else changed(edited, new_id)


@router.post("/patch/{slug}/remove")
def remove(open_patch: Opened, path: _Path) -> Response:
    """Remove a part."""
    edits, label = remove_part(open_patch.patch, path)
    return changed(open_patch.edit(edits, label))


@router.post("/patch/{slug}/move")
def move(
    open_patch: Opened,
    path: _Path,
    by: Annotated[int, Form(ge=-12, le=12)] = 0,
    to: Annotated[int | None, Form(ge=0, le=63)] = None,
) -> Response:
    """Move a part in its list, by some places or to a place."""
    edits, label = move_part(open_patch.patch, path, by, to)
    return changed(open_patch.edit(edits, label))


class Taps(BaseModel):
    """When the tempo was tapped, in ms."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)

    times: list[Annotated[float, Field(ge=0, le=1e13)]] = Field(max_length=64)


@router.post("/patch/{slug}/tap")
def tap_tempo(open_patch: Opened, taps: Taps) -> Response:
    """Set the tempo to that of taps."""
    return changed(open_patch.edit(*tap(taps.times)))


@router.post("/patch/{slug}/octave")
def octave(
    open_patch: Opened, layer: Annotated[str, Form(max_length=40)], by: Annotated[int, Form(ge=-1, le=1)]
) -> Response:
    """Transpose a layer by an octave."""
    edits, label = move_octave(open_patch.patch, layer, by)
    return changed(open_patch.edit(edits, label))


@router.post("/patch/{slug}/transpose")
def transpose_all(open_patch: Opened, by: Annotated[int, Form(ge=-48, le=48)]) -> Response:
    """Transpose the whole patch by semitones."""
    return changed(open_patch.edit(*transpose_patch(open_patch.patch, by)))


@router.post("/patch/{slug}/own-envelope")
def own_envelope_of(open_patch: Opened, path: Annotated[str, Form(max_length=200)]) -> Response:
    """Give a source a new amp envelope of its own."""
    edits, label = own_envelope(open_patch.patch, path)
    return changed(open_patch.edit(edits, label))


@router.post("/patch/{slug}/modulate")
def modulate_source(
    open_patch: Opened,
    path: _Path,
    source: Annotated[str, Form(max_length=40)],
    mode: Annotated[str, Form(max_length=10)] = "phase",
) -> Response:
    """Let one source modulate another."""
    edits, label = modulate(open_patch.patch, path, source, mode)
    return changed(open_patch.edit(edits, label))


@router.post("/patch/{slug}/let-through")
def let_turned_up_through(open_patch: Opened, path: _Path) -> Response:
    """Switch the level match of an effect off, so that what is turned up is heard."""
    return changed(open_patch.edit(*let_through(open_patch.patch, path)))


@router.post("/patch/{slug}/turn-into")
def become(open_patch: Opened, path: _Path, kind: Annotated[str, Form(max_length=40)]) -> Response:
    """Turn a stage into another kind."""
    return changed(open_patch.edit(*turn_into(open_patch.patch, path, kind)))


@router.post("/patch/{slug}/cure-all")
def cure_all(open_patch: Opened, version: Annotated[int, Form(ge=0)]) -> Response:
    """Start Cure all."""
    open_patch.cure_all(version)
    return Response(status_code=204)


@router.post("/patch/{slug}/cure-stop")
def cure_stop(open_patch: Opened) -> Response:
    """Cancel Cure all."""
    open_patch.curing.cancel()
    return Response(status_code=204)


@router.post("/patch/{slug}/wanted")
def accept(
    open_patch: Opened, key: Annotated[str, Form(max_length=200)], reason: Annotated[str, Form(max_length=400)] = ""
) -> Response:
    """Accept a finding as wanted, or no longer."""
    return changed(open_patch.accept(key, reason))


@router.post("/patch/{slug}/fix")
def fix(
    open_patch: Opened,
    key: Annotated[str, Form(max_length=200)],
    label: Annotated[str, Form(max_length=400)],
    version: Annotated[int, Form(ge=0)],
) -> Response:
    """Apply a fix of a finding."""
    return changed(open_patch.fix(key, label, version))
