"""Scouts: what was looked for in a frame, and the finds."""

import sqlalchemy as sa
from alembic import op

revision = "0002"
down_revision = "0001"
branch_labels = None
depends_on = None


def upgrade() -> None:
    frame = sa.ForeignKey("frame.id", ondelete="CASCADE")
    op.create_table(
        "scouting",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("frame_id", sa.Integer(), frame, nullable=False),
        sa.Column("kind", sa.String(), nullable=False),
        sa.Column("small", sa.Boolean(), nullable=False),
        sa.Column("state", sa.String(), nullable=False),
        sa.Column("progress", sa.Float(), nullable=False),
        sa.Column("doing", sa.String(), nullable=False),
        sa.Column("error", sa.String(), nullable=True),
        sa.Column("seconds", sa.Float(), nullable=True),
        sa.Column("attempts", sa.Integer(), nullable=False),
    )
    op.create_index("ix_scouting_frame_id", "scouting", ["frame_id"])
    op.create_index("ix_scouting_state", "scouting", ["state"])
    op.create_table(
        "find",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("frame_id", sa.Integer(), sa.ForeignKey("frame.id", ondelete="CASCADE"), nullable=False),
        sa.Column("kind", sa.String(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("shapes", sa.JSON(), nullable=False),
        sa.Column("also", sa.JSON(), nullable=False),
        sa.Column("with_also", sa.JSON(), nullable=False),
        sa.Column("confidence", sa.Float(), nullable=False),
        sa.Column("reason", sa.String(), nullable=False),
        sa.Column("subject", sa.Boolean(), nullable=False),
        sa.Column("goes", sa.Boolean(), nullable=False),
        sa.Column("dropped", sa.Boolean(), nullable=False),
        sa.Column("sweep_id", sa.String(), nullable=True),
    )
    op.create_index("ix_find_frame_id", "find", ["frame_id"])
