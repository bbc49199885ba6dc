"""Upgrade of the content of a database to the newest version of the patch file: patches, histories, parts.

Documents are upgraded one by one, and the steps between them are recomputed, so that undo stays exact across versions.
"""

from __future__ import annotations

import json
import logging
from pathlib import Path
from typing import Any

from sqlalchemy import Text, select, type_coerce, update
from sqlalchemy.orm import Session

from ..formats import PatchProblem, climb, climb_edit, document_of, newest, patch_from
from ..patch import VERSION, Edit, NoSuchPath, ValueProblem, apply, patched
from .database import Sessions
from .history import Damaged, body_of, drop_loose_states, rewrite
from .migrate import backup
from .tables import PartTable, PatchTable, StepTable

_log = logging.getLogger(__name__)


def upgrade(sessions: Sessions, folder: Path) -> None:
    """Upgrade everything of an older version. Raises NotKept or OSError."""
    with sessions.read() as s:
        old = list(s.execute(select(PatchTable.id, PatchTable.format).where(PatchTable.format < VERSION)))
    if old and any(version for _, version in old):
        backup(folder, f"format-{min(v for _, v in old)}")
    for patch_id, version in old:
        with sessions.write() as s:
            _upgrade_patch(s, patch_id, version)
    with sessions.write() as s:
        _upgrade_parts(s)
        drop_loose_states(s)


def _upgrade_patch(s: Session, patch_id: int, version: int) -> None:
    row = s.get_one(PatchTable, patch_id)
    steps = list(s.scalars(select(StepTable).where(StepTable.patch_id == patch_id).order_by(StepTable.id)))
    try:
        body = body_of(s, patch_id, row.slug)
        done = sum(step.id <= row.head for step in steps)
        behind = _documents if version else _documents_of_edits
        documents = behind(body, steps, done)
        rewrite(s, patch_id, documents, steps)
        values: dict[str, Any] = {"body": documents[done], "name": str(documents[done]["name"])[:60]}
    except (Damaged, ValueError, KeyError, TypeError) as problem:
        # leave a damaged row as it is; the library shows it as damaged
        _log.warning("patch %s can't be brought to version %d: %s", row.slug, VERSION, problem)
        values = {}
    s.execute(update(PatchTable).where(PatchTable.id == patch_id).values(format=VERSION, **values))


def _documents(body: Any, steps: list[StepTable], done: int) -> list[Any]:
    """All documents of a history of differences, upgraded."""
    found = [body]
    for step in reversed(steps[:done]):
        found.insert(0, patched(found[0], step.back))
    for step in steps[done:]:
        found.append(patched(found[-1], step.there))
    return [newest(document) for document in found]


def _documents_of_edits(body: Any, steps: list[StepTable], done: int) -> list[Any]:
    """All documents of a history of edits. A step whose edits can't be applied changes nothing."""
    found = [document_of(patch_from(body))]
    for step in reversed(steps[:done]):
        found.insert(0, _after_edits(found[0], step.back))
    for step in steps[done:]:
        found.append(_after_edits(found[-1], step.there))
    return found


def _after_edits(document: Any, kept: Any) -> Any:
    try:
        edits = [Edit(*climb_edit(document, path, value)) for path, value in kept["edits"]]
        return document_of(apply(patch_from(document), edits))
    except (ValueProblem, NoSuchPath, PatchProblem, KeyError, TypeError, ValueError) as problem:
        _log.warning("an older step can't be taken back: %s", problem)
        return document


def _upgrade_parts(s: Session) -> None:
    """Upgrade the parts on the shelf. A damaged one is left as it is."""
    for part_id, text in s.execute(select(PartTable.id, type_coerce(PartTable.body, Text))).all():
        try:
            body = json.loads(text)
            version = int(body.get("version", 1))
        except (ValueError, AttributeError, TypeError):
            continue
        if version < VERSION:
            body = climb(body, version) | {"version": VERSION}
            s.execute(update(PartTable).where(PartTable.id == part_id).values(body=body))
