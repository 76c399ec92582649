"""A carrying says by itself that the other frame shows another place; its error said so in words before."""

import sqlalchemy as sa
from alembic import op

revision = "0018"
down_revision = "0017"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("carrying", sa.Column("elsewhere", sa.Boolean(), nullable=False, server_default="0"))
    op.execute("UPDATE carrying SET elsewhere = 1 WHERE error LIKE '%does not show the same place%'")
