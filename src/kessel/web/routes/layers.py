"""Routes of layers and stored parts: duplicate, split off, tie, freeze, copy, paste, the part shelf."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Form, Query
from fastapi.responses import HTMLResponse, Response

from ...desk import (
    Edited,
    OpenPatch,
    StoredPart,
    carry,
    duplicate_layer,
    freeze,
    put_in,
    split_off,
    take_out,
    tie_split,
    unlink_layer,
    untie_split,
)
from ...patch import HATCHES, ControlPath, Edit, ValueProblem
from ..answers import changed, said
from ..dependencies import DeskOf, Opened
from ..pages import page
from ..receiving import RowId

router = APIRouter()
_Path = Annotated[str, Form(max_length=200)]
_Word = Annotated[str, Form(max_length=64)]


@router.post("/patch/{slug}/duplicate-layer")
def duplicate(open_patch: Opened, layer: _Word) -> Response:
    """Duplicate a layer."""
    edits, label, new = duplicate_layer(open_patch.patch, layer)
    return changed(open_patch.edit(edits, label), layer=new)


@router.post("/patch/{slug}/split-off")
def own_layer(open_patch: Opened, path: _Path) -> Response:
    """Move a source to a layer of its own."""
    edits, label, new = split_off(open_patch.patch, path)
    return changed(open_patch.edit(edits, label), layer=new)


@router.post("/patch/{slug}/tie")
def tie(open_patch: Opened, lower: _Word, upper: _Word) -> Response:
    """Join the edges of two layers at a split."""
    return changed(open_patch.edit(*tie_split(open_patch.patch, lower, upper)))


@router.post("/patch/{slug}/out-of-step")
def go_own_way(open_patch: Opened, layer: _Word) -> Response:
    """Unlink a layer."""
    return changed(open_patch.edit(*unlink_layer(open_patch.patch, layer)))


@router.post("/patch/{slug}/untie")
def untie(open_patch: Opened, split: _Word) -> Response:
    """Separate the edges of a split."""
    return changed(open_patch.edit(*untie_split(open_patch.patch, split)))


@router.post("/patch/{slug}/hatch")
def hatch(open_patch: Opened, layer: _Word, hatch: _Word) -> Response:
    """Change the hatch of a layer."""
    if hatch not in HATCHES:
        raise ValueProblem(f"the hatches are {', '.join(HATCHES)}")
    name = open_patch.patch.layer(layer).name if any(x.id == layer for x in open_patch.patch.layers) else layer
    return changed(open_patch.edit([Edit(f"layers.{layer}.hatch", hatch)], f"{name} hatch {hatch}"))


@router.post("/patch/{slug}/freeze")
def freeze_it(
    slug: str,
    desk: DeskOf,
    open_patch: Opened,
    what: _Word,
    mode: _Word = "phrase",
    into: Annotated[str, Form(max_length=80)] = "",
    bands: Annotated[int, Form(ge=1, le=4)] = 1,
) -> Response:
    """Render a layer, the worked path or the sum into a new sample layer of this or another patch, or one a band."""
    source = open_patch
    target = desk.open(into) if into and into != slug else source
    edited, new = freeze(desk, source, target, what, mode, bands)
    if target is not source:
        return said(f"Frozen into {target.patch.name}", version=source.version)
    return changed(edited, layer=new)


@router.get("/patch/{slug}/freeze-into")
def freeze_into(slug: str, desk: DeskOf, layer: Annotated[str, Query(max_length=80)]) -> HTMLResponse:
    """The other patches that a layer can be frozen into."""
    others = [(c.slug, c.name) for c in desk.library.patches() if c.slug != slug]
    return page("layers/freeze_into.html", slug=slug, layer=layer, others=others)


# parts


@router.post("/patch/{slug}/copy")
def copy(desk: DeskOf, open_patch: Opened, kind: _Word, path: _Path) -> Response:
    """Copy a part to the clipboard."""
    desk.clipboard = take_out(open_patch.patch, kind, path)
    return said(f"Copied {desk.clipboard.name}", "redrawn")


def _put(open_patch: OpenPatch, kept: StoredPart, layer: str, item: str) -> Response:
    ids = [x.id for x in open_patch.patch.layers]
    layer = layer if layer in ids else ids[0]
    edits, label, new = put_in(open_patch.patch, kept, layer, item)
    edited: Edited = open_patch.edit(edits, label)
    if kept.kind == "layer":
        return changed(edited, layer=new)
    if kept.kind == "phrase":
        return changed(edited)
    tabs = {
        "item": "chain",
        "stage": "stages",
        "source": "sources",
        "envelope": "envelope",
        "mover": "movers",
        "wave": "wave",
    }
    if kept.kind in ("item", "chain") and ControlPath(item).root in ("worked", "returns"):
        return changed(edited, new if kept.kind == "item" else "")
    tab = tabs.get(kept.kind, kept.kind)
    return changed(edited, item if kept.kind == "wave" else new, tab=tab)


@router.post("/patch/{slug}/paste")
def paste(desk: DeskOf, open_patch: Opened, layer: _Word = "", item: _Word = "") -> Response:
    """Paste the clipboard into the layer."""
    if desk.clipboard is None:
        raise ValueProblem("nothing has been copied: copy a part first, such as a layer or a source")
    return _put(open_patch, desk.clipboard, layer, item)


@router.post("/patch/{slug}/carry")
def carry_part(
    open_patch: Opened, path: _Path, layer: _Word, kept: Annotated[bool, Form(alias="copy")] = False
) -> Response:
    """Move a part to another layer, or copy it there, and show it."""
    edits, label, new = carry(open_patch.patch, path, layer, kept)
    return changed(open_patch.edit(edits, label), item=new, layer=layer)


@router.post("/patch/{slug}/keep")
def keep(
    desk: DeskOf, open_patch: Opened, kind: _Word, path: _Path, name: Annotated[str, Form(max_length=60)] = ""
) -> Response:
    """Store a part on the part shelf."""
    kept = take_out(open_patch.patch, kind, path)
    desk.keep_part(kept, name or kept.name)
    return said(f"Stored {name or kept.name} on the part shelf", "redrawn")


@router.post("/patch/{slug}/put")
def put(
    desk: DeskOf, open_patch: Opened, part: Annotated[RowId, Form()], layer: _Word = "", item: _Word = ""
) -> Response:
    """Insert a part of the shelf into the layer."""
    return _put(open_patch, desk.part(part), layer, item)


@router.post("/patch/{slug}/parts/{part}/remove")
def remove(slug: str, desk: DeskOf, part: RowId) -> Response:
    """Remove a part from the shelf."""
    desk.library.parts.remove(part)
    return said("Removed from the part shelf", "redrawn")


@router.post("/patch/{slug}/parts/{part}/name")
def rename(slug: str, desk: DeskOf, part: RowId, name: Annotated[str, Form(max_length=60)]) -> Response:
    """Rename a part of the shelf."""
    cleaned = " ".join(name.split())
    if not cleaned:
        raise ValueProblem("a name can't be empty")
    desk.library.parts.rename(part, cleaned)
    return said(f"Named {cleaned}", "redrawn")
