"""The command that renders a patch to a file."""

from __future__ import annotations

import argparse

import numpy as np

from ..engine import RenderCache, render_bars, render_loop, through_room
from ..formats import write_wav
from ..patch import stock_rooms
from .command import Problem
from .patches import patch_named

FLAT = "flat"


def render(given: argparse.Namespace) -> int:
    """Render the loop, or a layer of it, to a file."""
    rooms = {r.id: r for r in stock_rooms()}
    if given.room is not None:
        given.room = given.room.strip().lower().replace(" ", "-") or FLAT
    if given.room is not None and given.room not in (FLAT, *rooms):
        raise Problem(f"there is no room “{given.room[:40]}”: take {', '.join((FLAT, *rooms))}")
    if given.bars is not None and not 1 <= given.bars <= 256:
        raise Problem(f"--bars goes from 1 to 256, not {given.bars}")
    if not given.out.parent.is_dir():
        raise Problem(f"there is no folder {given.out.parent} to write to")
    patch = patch_named(given.patch)
    cache = RenderCache()
    if given.layer is not None:
        ids = [layer.id for layer in patch.layers]
        if given.layer not in ids:
            raise Problem(f"there is no layer “{given.layer[:40]}”: take {', '.join(ids)}")
        x = render_loop(patch, cache).layers[given.layer]
        if given.bars is not None:
            n = round(x.shape[1] * given.bars / patch.phrase.bars)
            x = np.tile(x, (1, -(-n // x.shape[1])))[:, :n]
    elif given.bars is not None:
        x = render_bars(patch, given.bars, cache)
    else:
        x = render_loop(patch, cache).sum
    if given.room not in (None, FLAT):
        x = through_room(rooms[given.room], x)
    if given.mono:
        x = np.repeat(0.5 * (x[:1] + x[1:]), 2, axis=0)
    write_wav(given.out, x)
    return 0
