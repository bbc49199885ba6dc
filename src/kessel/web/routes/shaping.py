"""Routes of chains: starting settings, branches, and two settings side by side."""

from __future__ import annotations

from typing import Annotated, Literal

from fastapi import APIRouter, Form
from fastapi.responses import Response

from ...desk import OpenPatch, SettingsPair, branch_around, same_bands, start_from
from ...patch import ValueProblem
from ..answers import changed, said
from ..dependencies import Opened

router = APIRouter()
_Path = Annotated[str, Form(max_length=200)]
_Setting = Annotated[Literal["A", "B"], Form()]


@router.post("/patch/{slug}/start-from")
def start(open_patch: Opened, path: _Path, name: Annotated[str, Form(max_length=60)]) -> Response:
    """Apply a starting setting to an effect."""
    return changed(open_patch.edit(*start_from(open_patch.patch, path, name)))


@router.post("/patch/{slug}/same-bands")
def same(open_patch: Opened, path: _Path) -> Response:
    """Copy one band of a multiband to all bands."""
    return changed(open_patch.edit(*same_bands(open_patch.patch, path)))


@router.post("/patch/{slug}/branch")
def branch(open_patch: Opened, path: _Path) -> Response:
    """Put an item into a branch."""
    edits, new_id, label = branch_around(open_patch.patch, path)
    return changed(open_patch.edit(edits, label), new_id)


def _pair(open_patch: OpenPatch, place: str) -> SettingsPair:
    found = open_patch.pairs.get(place)
    if found is None:
        raise ValueProblem("store two settings of this chain first, one as A and one as B")
    return found


@router.post("/patch/{slug}/hold-setting")
def hold(open_patch: Opened, place: _Path, which: _Setting) -> Response:
    """Store the present chain as one of two settings."""
    pair = open_patch.pairs.setdefault(place, SettingsPair())
    pair.hold(which, open_patch.patch, place, open_patch.levels())
    return said(f"Stored as {which}", "chosen", "redrawn")


@router.post("/patch/{slug}/take-setting")
def take(open_patch: Opened, place: _Path, which: _Setting) -> Response:
    """Apply a stored setting to the chain."""
    return changed(open_patch.edit(*_pair(open_patch, place).edits(place, which)))


@router.post("/patch/{slug}/blind")
def blind(open_patch: Opened, place: _Path) -> Response:
    """Begin a blind test of three rounds."""
    _pair(open_patch, place).begin()
    return said("Round 1 of 3: listen to 1 and 2, and choose the better", "chosen", "redrawn")


@router.post("/patch/{slug}/pick-setting")
def pick(open_patch: Opened, place: _Path, which: Annotated[Literal["1", "2"], Form()]) -> Response:
    """Pick the better of the two."""
    pair = _pair(open_patch, place)
    pair.pick(which)
    assert pair.blind is not None
    return said(pair.tally if pair.blind.over else f"Round {pair.blind.round} of 3", "chosen", "redrawn")
