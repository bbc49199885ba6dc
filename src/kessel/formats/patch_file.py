"""A patch as a JSON file."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any, NoReturn

from pydantic import ValidationError

from ..patch import FORMAT, VERSION, Patch, plain
from .ladder import climb
from .reading import FileProblem, reading, shown
from .whole import write_whole

LARGEST_PATCH = 2_000_000
"""Bytes; a patch with every feature in use has about 300,000."""


class PatchProblem(FileProblem):
    """A file that is no valid patch. Its text says what to do."""


def _refuse(word: str) -> NoReturn:
    raise PatchProblem(f"the file holds {word}, which is no number")


def load_patch(data: bytes | str) -> Patch:
    """A patch of any version from JSON text. Raises PatchProblem with one line."""
    if len(data) > LARGEST_PATCH:
        raise PatchProblem("the file is too large for a patch (2 MB at most)")
    try:
        found: Any = json.loads(data, parse_constant=_refuse)
    except PatchProblem:
        raise
    except (ValueError, RecursionError):
        raise PatchProblem("the file is no JSON: give a patch file that Kessel wrote") from None
    return patch_from(found)


def patch_from(document: Any) -> Patch:
    """A patch of any version from plain JSON data. Raises PatchProblem with one line."""
    with reading(PatchProblem, "the file is no valid patch: give one that Kessel wrote"):
        try:
            return Patch.model_validate(newest(document))
        except ValidationError as problem:
            raise PatchProblem(f"the file is no valid patch: {shown(plain(problem))}") from None


def newest(document: Any) -> Any:
    """A patch document of any version, not validated, upgraded to the newest. Raises PatchProblem."""
    if not isinstance(document, dict) or document.get("format") != FORMAT:
        raise PatchProblem(f"the file is JSON but no patch: its “format” has to be “{FORMAT}”")
    version = document.get("version")
    if type(version) is not int or not 1 <= version <= VERSION:
        raise PatchProblem(
            f"the patch has format version {shown(str(version)[:20])}; this Kessel reads versions 1 to {VERSION}: "
            "open it with the Kessel that wrote it, or a newer one"
        )
    return document if version == VERSION else climb(document, version)


def document_of(patch: Patch) -> Any:
    """The patch as plain JSON data, as it is read from a file."""
    return json.loads(json.dumps(patch.model_dump(), ensure_ascii=False))


def dump_patch(patch: Patch) -> str:
    """The patch as JSON text, one line per control."""
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
    """Write a patch file. Raises PatchProblem; an existing file is kept if it fails."""
    try:
        write_whole(path, dump_patch(patch).encode())
    except OSError as problem:
        raise PatchProblem(f"{path} can't be written: {problem.strerror or problem}") from None
