"""A patch as a JSON file."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any, NoReturn

from pydantic import ValidationError

from ..patch import Patch, plain
from .whole import write_whole

LARGEST_PATCH = 2_000_000
"""Bytes; a patch with everything in it has about 300,000."""


class PatchProblem(ValueError):
    """A file that is no patch; its text says what to do."""


def _refuse(word: str) -> NoReturn:
    raise PatchProblem(f"the file holds {word}, which is no number")


def load_patch(data: bytes | str) -> Patch:
    """A patch from JSON text. Raises PatchProblem with one plain line."""
    if len(data) > LARGEST_PATCH:
        raise PatchProblem("the file is too large for a patch (2 MB at most)")
    try:
        found: Any = json.loads(data, parse_constant=_refuse)
    except PatchProblem:
        raise
    except (ValueError, RecursionError):
        raise PatchProblem("the file is no JSON: give a patch file that Kessel wrote") from None
    if not isinstance(found, dict) or found.get("format") != "kessel-patch":
        raise PatchProblem("the file is JSON but no patch: its “format” has to be “kessel-patch”")
    if found.get("version") != 1:
        raise PatchProblem(
            f"the patch has format version {str(found.get('version'))[:20]}; this Kessel reads version 1"
        )
    try:
        return Patch.model_validate(found)
    except ValidationError as problem:
        raise PatchProblem(f"the file is no valid patch: {plain(problem)}") from None


def dump_patch(patch: Patch) -> str:
    """The patch as JSON text, each control on a line of its own."""
    return json.dumps(patch.model_dump(), indent=1, ensure_ascii=False) + "\n"


def read_patch(path: Path) -> Patch:
    """A patch from a file. Raises PatchProblem."""
    try:
        if path.stat().st_size > LARGEST_PATCH:
            raise PatchProblem(f"{path.name} is too large for a patch (2 MB at most)")
        data = path.read_bytes()
    except OSError:
        raise PatchProblem(f"there is no file {path} that can be read") from None
    return load_patch(data)


def write_patch(path: Path, patch: Patch) -> None:
    """Write a patch file. Raises PatchProblem; an old file stays when it fails."""
    try:
        write_whole(path, dump_patch(patch).encode())
    except OSError as problem:
        raise PatchProblem(f"{path} can't be written: {problem.strerror or problem}") from None
