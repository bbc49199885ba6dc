"""Commands that read patches without sound: schema."""

from __future__ import annotations

import argparse
import json
from pathlib import Path

from ..demo import demo_patch
from ..formats import read_patch
from ..patch import Patch
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


def schema(given: argparse.Namespace) -> int:
    """The patch's JSON Schema."""
    print(json.dumps(Patch.model_json_schema(), indent=1, ensure_ascii=False))
    return 0
