"""Rooms that were changed or added, references, and verdicts over the history."""

import sqlalchemy as sa
from alembic import op

revision = "0003"
down_revision = "0002"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "rooms",
        sa.Column("id", sa.String(32), primary_key=True),
        sa.Column("body", sa.Text, nullable=False),
        sa.Column("made", sa.String(40), nullable=False),
    )
    op.create_table(
        "reference_stretches",
        sa.Column("patch_id", sa.Integer, sa.ForeignKey("patches.id", ondelete="CASCADE"), primary_key=True),
        sa.Column("audio", sa.String(80), nullable=False),
        sa.Column("start", sa.Float, nullable=False),
        sa.Column("seconds", sa.Float, nullable=False),
        sa.Column("tempo", sa.Float, nullable=False),
    )
    op.create_table(
        "verdicts",
        sa.Column("patch_id", sa.Integer, sa.ForeignKey("patches.id", ondelete="CASCADE"), primary_key=True),
        sa.Column("step", sa.Integer, primary_key=True),
        sa.Column("body", sa.Text, nullable=False),
    )


def downgrade() -> None:
    for name in ("verdicts", "reference_stretches", "rooms"):
        op.drop_table(name)
