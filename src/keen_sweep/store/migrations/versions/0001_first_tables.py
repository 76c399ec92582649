"""First tables: shoots, frames, revisions, takes, runs, events."""

import sqlalchemy as sa
from alembic import op

revision = "0001"
down_revision = None
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "shoot",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("made_at", sa.DateTime(), nullable=False),
    )
    op.create_table(
        "frame",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("shoot_id", sa.Integer(), sa.ForeignKey("shoot.id", ondelete="CASCADE"), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("original", sa.String(), nullable=False),
        sa.Column("format", sa.String(), nullable=False),
        sa.Column("width", sa.Integer(), nullable=False),
        sa.Column("height", sa.Integer(), nullable=False),
        sa.Column("depth", sa.Integer(), nullable=False),
        sa.Column("added_at", sa.DateTime(), nullable=False),
        sa.Column("revision_id", sa.Integer(), nullable=True),
    )
    op.create_index("ix_frame_shoot_id", "frame", ["shoot_id"])
    op.create_table(
        "revision",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("frame_id", sa.Integer(), sa.ForeignKey("frame.id", ondelete="CASCADE"), nullable=False),
        sa.Column("parent_id", sa.Integer(), nullable=True),
        sa.Column("title", sa.String(), nullable=False),
        sa.Column("stack", sa.String(), nullable=False),
        sa.Column("made_at", sa.DateTime(), nullable=False),
    )
    op.create_index("ix_revision_frame_id", "revision", ["frame_id"])
    op.create_index("ix_revision_parent_id", "revision", ["parent_id"])
    op.create_table(
        "take",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("frame_id", sa.Integer(), sa.ForeignKey("frame.id", ondelete="CASCADE"), nullable=False),
        sa.Column("sweep_id", sa.String(), nullable=False),
        sa.Column("run_id", sa.Integer(), nullable=False),
        sa.Column("patch", sa.String(), nullable=False),
        sa.Column("method", sa.String(), nullable=False),
        sa.Column("seed", sa.Integer(), nullable=False),
        sa.Column("quality", sa.String(), nullable=False),
        sa.Column("energy", sa.Float(), nullable=False),
        sa.Column("seconds", sa.Float(), nullable=False),
        sa.Column("x", sa.Integer(), nullable=False),
        sa.Column("y", sa.Integer(), nullable=False),
        sa.Column("width", sa.Integer(), nullable=False),
        sa.Column("height", sa.Integer(), nullable=False),
        sa.Column("parts", sa.JSON(), nullable=False),
        sa.Column("made_at", sa.DateTime(), nullable=False),
    )
    for column in ("frame_id", "sweep_id", "patch"):
        op.create_index(f"ix_take_{column}", "take", [column])
    op.create_table(
        "run",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("frame_id", sa.Integer(), sa.ForeignKey("frame.id", ondelete="CASCADE"), nullable=False),
        sa.Column("sweep_id", sa.String(), nullable=False),
        sa.Column("state", sa.String(), nullable=False),
        sa.Column("request", sa.JSON(), nullable=False),
        sa.Column("progress", sa.Float(), nullable=False),
        sa.Column("doing", sa.String(), nullable=False),
        sa.Column("seconds_left", sa.Float(), nullable=True),
        sa.Column("attempts", sa.Integer(), nullable=False),
        sa.Column("error", sa.String(), nullable=True),
        sa.Column("asked_at", sa.DateTime(), nullable=False),
        sa.Column("started_at", sa.DateTime(), nullable=True),
        sa.Column("ended_at", sa.DateTime(), nullable=True),
    )
    for column in ("frame_id", "sweep_id", "state"):
        op.create_index(f"ix_run_{column}", "run", [column])
    # AUTOINCREMENT: numbers of events are never used again, so that a window can ask for all after one.
    op.create_table(
        "event",
        sa.Column("id", sa.Integer(), primary_key=True, autoincrement=True),
        sa.Column("kind", sa.String(), nullable=False),
        sa.Column("shoot_id", sa.Integer(), nullable=True),
        sa.Column("frame_id", sa.Integer(), nullable=True),
        sa.Column("run_id", sa.Integer(), nullable=True),
        sqlite_autoincrement=True,
    )


def downgrade() -> None:
    for table in ("event", "run", "take", "revision", "frame", "shoot"):
        op.drop_table(table)
