"""How much room a library takes, shoot by shoot, and what of it can be made again."""

from __future__ import annotations

import re
import shutil
from dataclasses import dataclass
from pathlib import Path

from sqlalchemy import text

from keen_sweep.store.files import Files
from keen_sweep.store.library import Library

NAMES = re.compile(r"[0-9a-f]{64}")


@dataclass(frozen=True)
class Room:
    """Bytes of the pictures of a shoot as they came in, of all that was made of them (marks, takes, touch-ups, every
    version of them), and of what can be made again (pyramids, alignments). What two shoots share counts in both."""

    originals: int = 0
    work: int = 0
    views: int = 0


def room_of_shoots(library: Library) -> dict[int, Room]:
    """The room of every shoot that is there."""
    originals: dict[int, set[str]] = {}
    made: dict[int, set[str]] = {}
    with library.engine.connect() as connection:
        for (shoot,) in connection.exec_driver_sql("SELECT id FROM shoot WHERE gone_at IS NULL"):
            originals[shoot], made[shoot] = set(), set()
        shoots = dict(tuple(row) for row in connection.exec_driver_sql("SELECT id, shoot_id FROM frame"))
        tables = [row[0] for row in connection.exec_driver_sql("SELECT name FROM sqlite_master WHERE type = 'table'")]
        for table in tables:
            for row in connection.execute(text(f'SELECT * FROM "{table}"')).mappings():
                shoot = shoots.get(row["id"] if table == "frame" else row.get("frame_id"))
                if shoot not in made:
                    continue
                if table == "frame":
                    originals[shoot].add(row["original"])
                made[shoot].update(
                    name for value in row.values() if isinstance(value, str) for name in NAMES.findall(value)
                )
    return {
        shoot: Room(
            originals=_files(library.files, names),
            work=_files(library.files, made[shoot] - names),
            views=sum(size_of(library.views / name) for name in names),
        )
        for shoot, names in originals.items()
    }


def size_of(folder: Path) -> int:
    """Bytes of all files in a folder; none if there is no such folder, or what goes away meanwhile."""
    total = 0
    for each in folder.rglob("*"):
        try:
            total += each.stat().st_size if each.is_file() else 0
        except OSError:
            continue
    return total


def free_room(library: Library) -> int:
    """Bytes that are left where the library is."""
    return shutil.disk_usage(library.folder).free


def _files(files: Files, names: set[str]) -> int:
    return sum(files.size(name) for name in names)
