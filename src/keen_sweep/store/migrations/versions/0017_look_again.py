"""Scouts that look again search the picture as it stands, finds know which takes it showed, and takes know which ones
they were filled on."""

import sqlalchemy as sa
from alembic import op

revision = "0017"
down_revision = "0016"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("scouting", sa.Column("again", sa.Boolean(), nullable=False, server_default="0"))
    op.add_column("find", sa.Column("seen_past", sa.JSON(), nullable=False, server_default="[]"))
    op.add_column("take", sa.Column("below", sa.JSON(), nullable=True))
