"""First tables: sets, patches, steps."""

import sqlalchemy as sa
from alembic import op

revision = "0001"
down_revision = None
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "sets",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("name", sa.String(60), nullable=False),
        sa.Column("limits", sa.Text, nullable=False),
        sa.Column("demo", sa.Boolean, nullable=False),
    )
    op.create_table(
        "patches",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("set_id", sa.Integer, sa.ForeignKey("sets.id", ondelete="CASCADE"), nullable=False),
        sa.Column("slug", sa.String(80), nullable=False, unique=True),
        sa.Column("name", sa.String(60), nullable=False),
        sa.Column("body", sa.Text, nullable=False),
        sa.Column("demo", sa.String(80)),
        sa.Column("created", sa.String(40), nullable=False),
        sa.Column("edited", sa.String(40), nullable=False),
        sa.Column("deleted", sa.String(40)),
    )
    op.create_table(
        "steps",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("patch_id", sa.Integer, sa.ForeignKey("patches.id", ondelete="CASCADE"), nullable=False),
        sa.Column("label", sa.Text, nullable=False),
        sa.Column("there", sa.Text, nullable=False),
        sa.Column("back", sa.Text, nullable=False),
        sa.Column("undone", sa.Boolean, nullable=False),
        sa.Column("made", sa.String(40), nullable=False),
    )
    op.create_index("steps_by_patch", "steps", ["patch_id", "id"])


def downgrade() -> None:
    op.drop_table("steps")
    op.drop_table("patches")
    op.drop_table("sets")
