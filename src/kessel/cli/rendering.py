"""The command that renders a patch to a file."""

from __future__ import annotations

import argparse

import numpy as np
from numpy.typing import NDArray

from ..engine import RenderCache, render_bars, render_loop, through_room
from ..formats import write_wav
from ..patch import Patch, stock_rooms
from .command import Problem
from .patches import patch_named

FLAT = "flat"


def render(given: argparse.Namespace) -> int:
    """Render the loop, or a layer of it, to a file."""
    rooms = {r.id: r for r in stock_rooms()}
    name = FLAT if given.room is None else given.room.strip().lower().replace(" ", "-") or FLAT
    if name not in (FLAT, *rooms):
        raise Problem(f"there is no room “{given.room[:40]}”: take {', '.join((FLAT, *rooms))}")
    if given.bars is not None and not 1 <= given.bars <= 256:
        raise Problem(f"--bars goes from 1 to 256, not {given.bars}")
    if not given.out.parent.is_dir():
        raise Problem(f"there is no folder {given.out.parent} to write to")
    x = _sound(patch_named(given.patch), given.layer, given.bars)
    if name != FLAT:
        x = through_room(rooms[name], x)
    if given.mono:
        x = np.repeat(0.5 * (x[:1] + x[1:]), 2, axis=0)
    write_wav(given.out, x)
    return 0


def _sound(patch: Patch, layer: str | None, bars: int | None) -> NDArray[np.float64]:
    """The sum or a layer, (2, n): the loop, or some bars of the running loop. Raises Problem."""
    cache = RenderCache(shares=True)
    if layer is None:
        return render_loop(patch, cache).sum if bars is None else render_bars(patch, bars, cache)
    ids = [x.id for x in patch.layers]
    if layer not in ids:
        raise Problem(f"there is no layer “{layer[:40]}”: take {', '.join(ids)}")
    x = render_loop(patch, cache).layers[layer]
    if bars is None:
        return x
    n = round(x.shape[1] * bars / patch.phrase.bars)
    return np.tile(x, (1, -(-n // x.shape[1])))[:, :n]
