"""Commands that read patches without sound: list, schema."""

from __future__ import annotations

import argparse
import json
from pathlib import Path

from ..demo import demo_patch, demo_patches
from ..formats import read_patch
from ..patch import Patch, with_signs
from .command import Problem


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
        key = f"{with_signs(patch.phrase.root)} {patch.phrase.scale}"
        print(f"{slug:<14} {patch.name:<14} {patch.tempo:>5.1f} BPM  {key:<10} {patch.note}")
    return 0


def schema(given: argparse.Namespace) -> int:
    """The patch's JSON Schema."""
    print(json.dumps(Patch.model_json_schema(), indent=1, ensure_ascii=False))
    return 0
