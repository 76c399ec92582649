"""The second look: snags of takes; how a take was judged, and whether it is a favourite."""

import sqlalchemy as sa
from alembic import op

revision = "0003"
down_revision = "0002"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("take", sa.Column("review", sa.Float(), nullable=True))
    op.add_column("take", sa.Column("favourite", sa.Boolean(), nullable=False, server_default=sa.false()))
    op.create_table(
        "snag",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("frame_id", sa.Integer(), sa.ForeignKey("frame.id", ondelete="CASCADE"), nullable=False),
        sa.Column("sweep_id", sa.String(), nullable=False),
        sa.Column("take_id", sa.Integer(), sa.ForeignKey("take.id", ondelete="CASCADE"), nullable=False),
        sa.Column("kind", sa.String(), nullable=False),
        sa.Column("strength", sa.Float(), nullable=False),
        sa.Column("why", sa.String(), nullable=False),
        sa.Column("visible", sa.Float(), nullable=False),
        sa.Column("mend", sa.String(), nullable=False),
        sa.Column("area", sa.JSON(), nullable=False),
        sa.Column("dismissed", sa.Boolean(), nullable=False),
    )
    op.create_index("ix_snag_frame_id", "snag", ["frame_id"])
    op.create_index("ix_snag_sweep_id", "snag", ["sweep_id"])
    op.create_index("ix_snag_take_id", "snag", ["take_id"])
