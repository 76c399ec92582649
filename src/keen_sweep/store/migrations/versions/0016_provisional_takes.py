"""Which take of a sweep stands before one is picked, and whether any does."""

import sqlalchemy as sa
from alembic import op

revision = "0016"
down_revision = "0015"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("frame", sa.Column("provisional", sa.Integer(), nullable=False, server_default="0"))
    op.create_table(
        "provisional",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("frame_id", sa.Integer(), sa.ForeignKey("frame.id", ondelete="CASCADE"), nullable=False),
        sa.Column("sweep_id", sa.String(), nullable=False),
        sa.Column("original", sa.String(), nullable=False),
        sa.Column("take_id", sa.Integer(), sa.ForeignKey("take.id", ondelete="CASCADE"), nullable=False),
        sa.Column("mark", sa.String(), nullable=False),
        sa.Column("settled", sa.Boolean(), nullable=False),
        sa.UniqueConstraint("frame_id", "sweep_id", "original"),
    )
    op.create_index("ix_provisional_frame_id", "provisional", ["frame_id"])
    op.create_index("ix_provisional_take_id", "provisional", ["take_id"])
    op.create_table(
        "preferences",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("strict", sa.Boolean(), nullable=False),
    )
