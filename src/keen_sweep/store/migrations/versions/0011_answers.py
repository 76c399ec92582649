"""Answers that are kept for whoever asks again under the same key."""

import sqlalchemy as sa
from alembic import op

revision = "0011"
down_revision = "0010"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "answered",
        sa.Column("key", sa.String(), primary_key=True),
        sa.Column("asked", sa.String(), nullable=False),
        sa.Column("body", sa.JSON(), nullable=True),
        sa.Column("place", sa.String(), nullable=True),
        sa.Column("at", sa.DateTime(), nullable=False),
    )
    op.create_index("ix_answered_at", "answered", ["at"])
