"""Carrying over: which sweeps of a frame go to which other, and what became of them."""

import sqlalchemy as sa
from alembic import op

revision = "0006"
down_revision = "0005"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "carrying",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("frame_id", sa.Integer(), sa.ForeignKey("frame.id", ondelete="CASCADE"), nullable=False),
        sa.Column("to_id", sa.Integer(), sa.ForeignKey("frame.id", ondelete="CASCADE"), nullable=False),
        sa.Column("sweeps", sa.JSON(), nullable=False),
        sa.Column("sensor", sa.Boolean(), nullable=False),
        sa.Column("wide", sa.Boolean(), nullable=False),
        sa.Column("fill", sa.Boolean(), nullable=False),
        sa.Column("state", sa.String(), nullable=False),
        sa.Column("attempts", sa.Integer(), nullable=False),
        sa.Column("error", sa.String(), nullable=True),
        sa.Column("landed", sa.JSON(), nullable=False),
    )
    op.create_index("ix_carrying_frame_id", "carrying", ["frame_id"])
    op.create_index("ix_carrying_to_id", "carrying", ["to_id"])
    op.create_index("ix_carrying_state", "carrying", ["state"])
