"""Which file of a frame each of its revisions is of, and each take was made for: a frame may get newer ones."""

import sqlalchemy as sa
from alembic import op

revision = "0008"
down_revision = "0007"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("revision", sa.Column("version", sa.JSON(), nullable=False, server_default="{}"))
    op.add_column("take", sa.Column("original", sa.String(), nullable=False, server_default=""))
    op.execute(
        "UPDATE revision SET version = (SELECT json_object('original', frame.original, 'format', frame.format, "
        "'width', frame.width, 'height', frame.height, 'depth', frame.depth) FROM frame "
        "WHERE frame.id = revision.frame_id)"
    )
    op.execute("UPDATE take SET original = (SELECT frame.original FROM frame WHERE frame.id = take.frame_id)")
