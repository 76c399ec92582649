"""What a photographer picks: the terms of takes, which was picked of several, what was learned from that."""

import sqlalchemy as sa
from alembic import op

revision = "0010"
down_revision = "0009"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("take", sa.Column("terms", sa.JSON(), nullable=True))
    op.create_table(
        "picked",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("sweep_id", sa.String(), nullable=False),
        sa.Column("picked", sa.JSON(), nullable=False),
        sa.Column("others", sa.JSON(), nullable=False),
        sa.Column("at", sa.DateTime(), nullable=False),
    )
    op.create_index("ix_picked_sweep_id", "picked", ["sweep_id"], unique=True)
    op.create_table(
        "taste",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("followed", sa.Boolean(), nullable=False),
        sa.Column("weights", sa.JSON(), nullable=True),
    )
