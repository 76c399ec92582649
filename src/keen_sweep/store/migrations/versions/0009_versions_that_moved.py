"""Which version of the picture a find was found in, for one that was cropped has it elsewhere; folders that are watched
for newer versions; kinds of things that always go; what is gone for a while, and what was delivered."""

import sqlalchemy as sa
from alembic import op

revision = "0009"
down_revision = "0008"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("find", sa.Column("original", sa.String(), nullable=False, server_default=""))
    op.execute("UPDATE find SET original = (SELECT frame.original FROM frame WHERE frame.id = find.frame_id)")
    op.add_column("shoot", sa.Column("watched", sa.String(), nullable=True))
    op.create_table(
        "watchedfile",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("shoot_id", sa.Integer(), sa.ForeignKey("shoot.id", ondelete="CASCADE"), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("size", sa.Integer(), nullable=False),
        sa.Column("written", sa.Integer(), nullable=False),
        sa.Column("frame_id", sa.Integer(), nullable=True),
        sa.Column("left", sa.String(), nullable=True),
    )
    op.add_column("shoot", sa.Column("gone_at", sa.DateTime(), nullable=True))
    op.add_column("shoot", sa.Column("part_of", sa.Integer(), nullable=True))
    op.add_column("frame", sa.Column("delivered", sa.Integer(), nullable=True))
    op.add_column("find", sa.Column("what", sa.String(), nullable=False, server_default=""))
    op.create_table("alwaysticked", sa.Column("what", sa.String(), primary_key=True))
    op.create_index("ix_watchedfile_shoot_id", "watchedfile", ["shoot_id"])
