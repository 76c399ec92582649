"""A copy of a library, made while it is worked in: the database by SQLite's backup interface, files by their content.

What is there already is not copied again. Opening the copy is all there is to restoring it.
"""

from __future__ import annotations

import os
import shutil
import sqlite3
from dataclasses import dataclass
from pathlib import Path

from keen_sweep.core.errors import BadRequest, LibraryTrouble
from keen_sweep.core.photo.write import PARTIAL_PREFIX
from keen_sweep.core.sentences import sentence
from keen_sweep.store.library import Library
from keen_sweep.store.snapshot import snapshot

DATABASE_NAME = "library.db"


@dataclass(frozen=True)
class Copied:
    """What a backup did: files that were copied, and files that were there."""

    copied: int
    there: int


def backup(library: Library, target: Path) -> Copied:
    """Copy a library into a folder. Raises BadRequest where the folder is the library itself or holds something else,
    LibraryTrouble when it cannot be written: the copy that was there is as it was then, but for added files."""
    target = target.expanduser().absolute()
    if target == library.folder or library.folder in target.parents:
        raise BadRequest(sentence("The backup has to be outside the library folder."))
    if target.is_dir() and any(target.iterdir()) and not (target / DATABASE_NAME).is_file():
        raise BadRequest(sentence("The folder {target} is not a backup: choose another folder.", target=target))
    part = target / f"{PARTIAL_PREFIX}{DATABASE_NAME}"
    try:
        (target / "files").mkdir(parents=True, exist_ok=True)
        # The database first: all that it refers to is there by now, and files never change.
        snapshot(library.folder / DATABASE_NAME, part)
        copied = present = 0
        for source in library.files.folder.rglob("*"):
            if not source.is_file() or source.name.startswith(PARTIAL_PREFIX):
                continue
            place = target / "files" / source.relative_to(library.files.folder)
            if place.is_file() and place.stat().st_size == source.stat().st_size:
                present += 1
                continue
            place.parent.mkdir(exist_ok=True)
            _copy(source, place)
            copied += 1
        for old in ("-wal", "-shm"):
            (target / f"{DATABASE_NAME}{old}").unlink(missing_ok=True)
        os.replace(part, target / DATABASE_NAME)
    except (OSError, sqlite3.Error) as error:
        part.unlink(missing_ok=True)
        raise LibraryTrouble(
            sentence("The backup {target} cannot be written: {error}.", target=target, error=error)
        ) from error
    return Copied(copied, present)


def _copy(source: Path, place: Path) -> None:
    """A file that is there whole or not at all."""
    part = place.with_name(f"{PARTIAL_PREFIX}{place.name}")
    shutil.copyfile(source, part)
    os.replace(part, place)
