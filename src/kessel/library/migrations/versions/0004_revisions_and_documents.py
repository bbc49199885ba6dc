"""Revisions, times as times, JSON as JSON; steps as differences of documents, sittings, whole states.

The edits of older steps are taken over as they are; ``upgrade.py`` makes differences of them, as that takes the rules
of a patch.
"""

import json
from collections.abc import Callable, Iterable
from datetime import UTC, datetime, timedelta
from typing import Any

import sqlalchemy as sa
from alembic import op

revision = "0004"
down_revision = "0003"
branch_labels = None
depends_on = None

BREAK = timedelta(minutes=45)


def _time(text: str | None) -> datetime | None:
    if text is None:
        return None
    return datetime.fromisoformat(text).astimezone(UTC).replace(tzinfo=None)


def _json(text: str) -> Any:
    try:
        return json.loads(text)
    except ValueError:
        # damaged: left as it is, so that it can be examined
        return text


def _remake(name: str, columns: list[Any], convert: Callable[[dict[str, Any]], dict[str, Any]]) -> None:
    """A table with other columns; ``convert`` makes a new row, as a dict, of an old one."""
    bind = op.get_bind()
    new: Any = op.create_table(f"new_{name}", *columns)
    rows = [convert(dict(row)) for row in bind.execute(sa.text(f"SELECT * FROM {name}")).mappings()]
    for first in range(0, len(rows), 500):
        op.bulk_insert(new, rows[first : first + 500])
    op.drop_table(name)
    op.rename_table(f"new_{name}", name)


def _patch_id() -> Any:
    return sa.Column("patch_id", sa.Integer, sa.ForeignKey("patches.id", ondelete="CASCADE"), nullable=False)


def upgrade() -> None:
    bind = op.get_bind()
    _remake(
        "sets",
        [
            sa.Column("id", sa.Integer, primary_key=True),
            sa.Column("name", sa.String(60), nullable=False),
            sa.Column("limits", sa.JSON, nullable=False),
            sa.Column("demo", sa.Boolean, nullable=False),
        ],
        lambda r: r | {"limits": _json(r["limits"]), "demo": bool(r["demo"])},
    )
    standing = sa.text("SELECT patch_id, MAX(id) FROM steps WHERE NOT undone GROUP BY patch_id")
    heads = {int(row[0]): int(row[1]) for row in bind.execute(standing)}
    _remake(
        "patches",
        [
            sa.Column("id", sa.Integer, primary_key=True),
            sa.Column("set_id", sa.Integer, sa.ForeignKey("sets.id", ondelete="CASCADE"), nullable=False),
            sa.Column("slug", sa.String(80), nullable=False, unique=True),
            sa.Column("name", sa.String(60), nullable=False),
            sa.Column("body", sa.JSON, nullable=False),
            sa.Column("format", sa.Integer, nullable=False),
            sa.Column("revision", sa.Integer, nullable=False),
            sa.Column("head", sa.Integer, nullable=False),
            sa.Column("demo", sa.String(80)),
            sa.Column("created", sa.DateTime, nullable=False),
            sa.Column("edited", sa.DateTime, nullable=False),
            sa.Column("deleted", sa.DateTime),
        ],
        lambda r: (
            r
            | {"body": _json(r["body"]), "format": 0, "revision": 0, "head": heads.get(r["id"], 0)}
            | {name: _time(r[name]) for name in ("created", "edited", "deleted")}
        ),
    )
    op.create_index("ix_patches_format", "patches", ["format"])
    op.create_table(
        "states",
        sa.Column("word", sa.String(32), primary_key=True),
        sa.Column("body", sa.JSON, nullable=False),
    )
    sittings: Any = op.create_table(
        "sittings",
        sa.Column("id", sa.Integer, primary_key=True),
        _patch_id(),
        sa.Column("began", sa.DateTime, nullable=False),
        sa.Column("ended", sa.DateTime, nullable=False),
        sa.Column("state", sa.String(32), sa.ForeignKey("states.word")),
    )
    op.create_index("sittings_by_patch", "sittings", ["patch_id", "id"])
    found, of_step = _sittings(bind.execute(sa.text("SELECT id, patch_id, made FROM steps ORDER BY patch_id, id")))
    if found:
        op.bulk_insert(sittings, found)
    _remake(
        "steps",
        [
            sa.Column("id", sa.Integer, primary_key=True),
            _patch_id(),
            sa.Column("sitting_id", sa.Integer, sa.ForeignKey("sittings.id")),
            sa.Column("label", sa.String(400), nullable=False),
            sa.Column("there", sa.JSON, nullable=False),
            sa.Column("back", sa.JSON, nullable=False),
            sa.Column("before", sa.String(32), nullable=False),
            sa.Column("after", sa.String(32), nullable=False),
            sa.Column("state", sa.String(32), sa.ForeignKey("states.word")),
            sa.Column("since", sa.Integer, nullable=False),
            sa.Column("made", sa.DateTime, nullable=False),
        ],
        lambda r: {
            "id": r["id"], "patch_id": r["patch_id"], "sitting_id": of_step[r["id"]], "label": r["label"][:400],
            "there": {"edits": _json(r["there"])}, "back": {"edits": _json(r["back"])},
            "before": "", "after": "", "state": None, "since": 0, "made": _time(r["made"]),
        },
    )  # fmt: skip
    op.create_index("steps_by_patch", "steps", ["patch_id", "id"])
    op.create_index("steps_by_state", "steps", ["state"])
    op.create_index("steps_with_state", "steps", ["patch_id", "id"], sqlite_where=sa.text("state IS NOT NULL"))
    _remake(
        "parts",
        [
            sa.Column("id", sa.Integer, primary_key=True),
            sa.Column("kind", sa.String(20), nullable=False),
            sa.Column("name", sa.String(60), nullable=False),
            sa.Column("body", sa.JSON, nullable=False),
            sa.Column("made", sa.DateTime, nullable=False),
        ],
        lambda r: r | {"body": _json(r["body"]), "made": _time(r["made"])},
    )
    _remake(
        "audio",
        [
            sa.Column("word", sa.String(80), primary_key=True),
            sa.Column("name", sa.String(60), nullable=False),
            sa.Column("seconds", sa.Float, nullable=False),
            sa.Column("channels", sa.Integer, nullable=False),
            sa.Column("root", sa.Float),
            sa.Column("made", sa.DateTime, nullable=False),
        ],
        lambda r: r | {"made": _time(r["made"])},
    )
    _remake(
        "rooms",
        [
            sa.Column("id", sa.String(32), primary_key=True),
            sa.Column("body", sa.JSON, nullable=False),
            sa.Column("made", sa.DateTime, nullable=False),
        ],
        lambda r: r | {"body": _json(r["body"]) if r["body"] else None, "made": _time(r["made"])},
    )
    _remake(
        "verdicts",
        [
            _patch_id(),
            sa.Column("step", sa.Integer, nullable=False),
            sa.Column("body", sa.JSON, nullable=False),
            sa.PrimaryKeyConstraint("patch_id", "step"),
        ],
        lambda r: r | {"body": _json(r["body"])},
    )


def _sittings(steps: Iterable[Any]) -> tuple[list[dict[str, Any]], dict[int, int]]:
    """Rows of sittings, and the sitting of every step: one ends where nothing is done for 45 minutes."""
    found: list[dict[str, Any]] = []
    of_step: dict[int, int] = {}
    for step, patch, made in steps:
        at = _time(made)
        last = found[-1] if found else None
        if last is None or last["patch_id"] != patch or at - last["ended"] > BREAK:
            last = {"id": len(found) + 1, "patch_id": patch, "began": at, "ended": at, "state": None}
            found.append(last)
        last["ended"] = at
        of_step[step] = last["id"]
    return found, of_step


def downgrade() -> None:
    raise RuntimeError("there is no way back from here: put back the copy that was made before it")
