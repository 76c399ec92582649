"""Payments know which run asked for the painting, so that a run that is resumed knows what it has paid; requests under
an idempotency key have a state, so that no transaction stays open while they are worked on."""

import sqlalchemy as sa
from alembic import op

revision = "0015"
down_revision = "0014"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("payment", sa.Column("run_id", sa.Integer(), nullable=True))
    op.create_index("ix_payment_run_id", "payment", ["run_id"])
    op.add_column("answered", sa.Column("state", sa.String(), nullable=False, server_default="done"))
