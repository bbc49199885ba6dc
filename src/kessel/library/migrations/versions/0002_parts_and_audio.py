"""The part shelf, and audio kept beside the database."""

import sqlalchemy as sa
from alembic import op

revision = "0002"
down_revision = "0001"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "parts",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("kind", sa.String(20), nullable=False),
        sa.Column("name", sa.String(60), nullable=False),
        sa.Column("body", sa.Text, nullable=False),
        sa.Column("made", sa.String(40), nullable=False),
    )
    op.create_table(
        "audio",
        sa.Column("word", sa.String(80), primary_key=True),
        sa.Column("name", sa.String(60), nullable=False),
        sa.Column("seconds", sa.Float, nullable=False),
        sa.Column("channels", sa.Integer, nullable=False),
        sa.Column("root", sa.Float),
        sa.Column("made", sa.String(40), nullable=False),
    )


def downgrade() -> None:
    op.drop_table("audio")
    op.drop_table("parts")
