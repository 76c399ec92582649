"""Bringing a library's database to the newest schema; loaded only where there is something to do."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from alembic import command
from alembic.config import Config
from alembic.script import ScriptDirectory
from sqlalchemy import Connection

MIGRATIONS_FOLDER = Path(__file__).parent / "migrations"


def knows(revision: str) -> bool:
    """Whether a revision of the schema is one of ours."""
    return revision in {each.revision for each in ScriptDirectory.from_config(_config()).walk_revisions()}


def upgrade(connection: Connection, keep: Callable[[bytes], str]) -> None:
    """Carry out what is missing in the connection's transaction. keep: puts bytes among the library's files and gives
    their hash, for what a migration takes out of the database."""
    config = _config()
    config.attributes["keep"] = keep
    config.attributes["connection"] = connection
    command.upgrade(config, "head")


def _config() -> Config:
    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS_FOLDER).replace("%", "%%"))
    return config
