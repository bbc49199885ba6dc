"""Commands about a patch: list, render, schema."""

from __future__ import annotations

import argparse
import json
from pathlib import Path

import numpy as np

from ..demo import demo_patch, demo_patches
from ..engine import RenderCache, render_bars, render_loop, through_room
from ..formats import read_patch, write_wav
from ..patch import Patch, stock_rooms
from .command import Problem

FLAT = "flat"


def patch_named(word: str) -> Patch:
    """A demo patch by its slug, or a patch file. Raises Problem or PatchProblem."""
    found = demo_patch(word)
    if found is not None:
        return found
    path = Path(word)
    if path.suffix or path.exists():
        return read_patch(path)
    raise Problem(f"there is no patch “{word[:60]}”: `kessel list` names them, or give a patch file")


def list_patches(given: argparse.Namespace) -> int:
    """One patch a line, slug first."""
    for slug, patch in demo_patches().items():
        key = f"{patch.phrase.root} {patch.phrase.scale}"
        print(f"{slug:<14} {patch.name:<14} {patch.tempo:>5.1f} BPM  {key:<10} {patch.note}")
    return 0


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
    takes = RenderCache()
    if given.layer is not None:
        ids = [layer.id for layer in patch.layers]
        if given.layer not in ids:
            raise Problem(f"there is no layer “{given.layer[:40]}”: take {', '.join(ids)}")
        x = render_loop(patch, takes).layers[given.layer]
        if given.bars is not None:
            n = round(x.shape[1] * given.bars / patch.phrase.bars)
            x = np.tile(x, (1, -(-n // x.shape[1])))[:, :n]
    elif given.bars is not None:
        x = render_bars(patch, given.bars, takes)
    else:
        x = render_loop(patch, takes).sum
    if given.room not in (None, FLAT):
        x = through_room(rooms[given.room], x)
    if given.mono:
        x = np.repeat(0.5 * (x[:1] + x[1:]), 2, axis=0)
    write_wav(given.out, x)
    return 0


def schema(given: argparse.Namespace) -> int:
    """The patch's JSON Schema."""
    print(json.dumps(Patch.model_json_schema(), indent=1, ensure_ascii=False))
    return 0
