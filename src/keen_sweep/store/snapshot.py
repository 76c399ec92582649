"""Copies of a library's database: made by SQLite's backup interface, kept before upgrades, brought back on request."""

from __future__ import annotations

import os
import sqlite3
from contextlib import closing
from pathlib import Path

from keen_sweep.core.errors import LibraryTrouble, NotFound
from keen_sweep.core.photo.write import PARTIAL_PREFIX
from keen_sweep.core.sentences import sentence
from keen_sweep.store.moment import now

# Copies made before an upgrade are named library.db.before-NEW-from-OLD-DATE.
COPY_INFIX = ".before-"
# Number of copies made before upgrades that are kept.
MAX_COPIES = 2


def snapshot(source: Path, place: Path) -> None:
    """Copy a database, whoever else reads or writes it. Raises OSError, sqlite3.Error."""
    place.unlink(missing_ok=True)
    with closing(sqlite3.connect(source, timeout=30)) as own, closing(sqlite3.connect(place)) as copy:
        own.backup(copy)
        copy.execute("PRAGMA journal_mode=DELETE")


def copy_before_upgrade(database: Path, old: str, new: str) -> Path:
    """Copy a database beside itself before it is upgraded from one revision to another; the last two copies are kept.

    Raises LibraryTrouble when there is no room for it: without a copy nothing is upgraded.
    """
    stamp = now().strftime("%Y%m%dT%H%M%S%f")
    place = database.with_name(f"{database.name}{COPY_INFIX}{new}-from-{old}-{stamp}")
    part = place.with_name(PARTIAL_PREFIX + place.name)
    try:
        snapshot(database, part)
        with part.open("rb") as written:
            os.fsync(written.fileno())
        os.replace(part, place)
    except (OSError, sqlite3.Error) as error:
        part.unlink(missing_ok=True)
        raise LibraryTrouble(
            sentence(
                "The database cannot be copied before the upgrade: {error}. Free some disk space first.", error=error
            )
        ) from error
    for each in copies_of(database)[MAX_COPIES:]:
        each.unlink(missing_ok=True)
    return place


def copies_of(database: Path) -> list[Path]:
    """The copies of before upgrades, the latest first."""
    found = database.parent.glob(f"{database.name}{COPY_INFIX}*")
    return sorted(found, key=lambda each: each.name.rsplit("-", 1)[-1], reverse=True)


def restore_copy(database: Path) -> tuple[Path, Path]:
    """Put the latest copy of before an upgrade in the place of a database that nobody has open.

    Returns the copy and where the database is now that was replaced. Raises NotFound when there is no copy,
    LibraryTrouble when it cannot be done; the database is then as it was.
    """
    copies = copies_of(database)
    if not copies:
        raise NotFound(sentence("There is no copy of this library's database from before an upgrade."))
    aside, part = (
        database.with_name(f"{database.name}.replaced"),
        database.with_name(f"{PARTIAL_PREFIX}{database.name}"),
    )
    try:
        snapshot(copies[0], part)
        # With all that is still in its journal.
        snapshot(database, aside)
        for journal in ("-wal", "-shm"):
            database.with_name(database.name + journal).unlink(missing_ok=True)
        os.replace(part, database)
    except (OSError, sqlite3.Error) as error:
        part.unlink(missing_ok=True)
        raise LibraryTrouble(sentence("The copy cannot be restored: {error}.", error=error)) from error
    return copies[0], aside
