"""A snag says what must be done to the picture for it to show."""

import sqlalchemy as sa
from alembic import op

revision = "0019"
down_revision = "0018"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("snag", sa.Column("grading", sa.String(), nullable=True))
