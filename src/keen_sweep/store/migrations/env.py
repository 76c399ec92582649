"""Alembic runs this to bring a library's database up to date."""

from alembic import context
from sqlmodel import SQLModel

from keen_sweep.store import tables

assert tables
context.configure(
    connection=context.config.attributes["connection"],
    target_metadata=SQLModel.metadata,
    render_as_batch=True,
)
with context.begin_transaction():
    context.run_migrations()
