"""Generative models: where they are, what shoots may spend, how takes were made, what helps when one says no."""

import sqlalchemy as sa
from alembic import op

revision = "0004"
down_revision = "0003"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("shoot", sa.Column("budget", sa.Float(), nullable=True))
    op.add_column("take", sa.Column("made", sa.JSON(), nullable=False, server_default="{}"))
    op.add_column("run", sa.Column("remedy", sa.String(), nullable=True))
    op.create_table(
        "registeredmodel",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("kind", sa.String(), nullable=False),
        sa.Column("place", sa.String(), nullable=False),
        sa.Column("largest", sa.Integer(), nullable=True),
        sa.Column("most_credits", sa.Float(), nullable=True),
        sa.Column("for_auto", sa.Boolean(), nullable=False),
        sa.Column("key", sa.String(), nullable=False),
        sa.Column("trial", sa.String(), nullable=True),
        sa.Column("trial_good", sa.Boolean(), nullable=True),
        sa.Column("tried_at", sa.DateTime(), nullable=True),
        sa.Column("left", sa.Float(), nullable=True),
    )
    op.create_table(
        "payment",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("shoot_id", sa.Integer(), sa.ForeignKey("shoot.id", ondelete="CASCADE"), nullable=False),
        sa.Column("receipt", sa.String(), nullable=False),
        sa.Column("yes", sa.String(), nullable=False),
        sa.Column("credits", sa.Float(), nullable=False),
        sa.Column("made_at", sa.DateTime(), nullable=False),
    )
    op.create_index("ix_payment_shoot_id", "payment", ["shoot_id"])
    op.create_index("ix_payment_receipt", "payment", ["receipt"], unique=True)
    op.create_index("ix_payment_yes", "payment", ["yes"])
