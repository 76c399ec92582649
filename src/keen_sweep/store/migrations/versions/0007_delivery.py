"""How a shoot was delivered last, to be repeated by one key."""

import sqlalchemy as sa
from alembic import op

revision = "0007"
down_revision = "0006"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("shoot", sa.Column("delivery", sa.JSON(), nullable=True))
