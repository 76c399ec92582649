"""How much room a library takes, shoot by shoot, and what of it can be made again."""

from __future__ import annotations

import shutil
from dataclasses import dataclass
from pathlib import Path

from keen_sweep.core.photo.write import PARTIAL_PREFIX
from keen_sweep.store.files import Files
from keen_sweep.store.library import Library
from keen_sweep.store.rows import names_in, rows_of


@dataclass(frozen=True)
class Room:
    """Bytes of the pictures of a shoot as they came in, of all that was made of them (marks, takes, touch-ups, every
    version of them), and of what can be made again (pyramids, alignments). What two shoots share counts in both."""

    originals: int = 0
    work: int = 0
    views: int = 0


def room_of_shoots(library: Library) -> dict[int, Room]:
    """The room of every shoot that is there."""
    with library.engine.connect() as connection:
        shoot_ids = [row[0] for row in connection.exec_driver_sql("SELECT id FROM shoot WHERE gone_at IS NULL")]
        shoots = dict(tuple(row) for row in connection.exec_driver_sql("SELECT id, shoot_id FROM frame"))
    originals: dict[int, set[str]] = {shoot: set() for shoot in shoot_ids}
    made: dict[int, set[str]] = {shoot: set() for shoot in shoot_ids}
    for table, row in rows_of(library):
        shoot = shoots.get(row["id"] if table == "frame" else row.get("frame_id"))
        if shoot not in made:
            continue
        if table == "frame":
            originals[shoot].add(row["original"])
        made[shoot] |= names_in(row)
    return {
        shoot: Room(
            originals=_files(library.files, names),
            work=_files(library.files, made[shoot] - names),
            views=sum(size_of(library.views / name) for name in names),
        )
        for shoot, names in originals.items()
    }


def names_by_shoot(library: Library) -> dict[int, set[str]]:
    """The names of all files that the rows of each shoot mention, deleted ones included."""
    with library.engine.connect() as connection:
        shoots = dict(tuple(row) for row in connection.exec_driver_sql("SELECT id, shoot_id FROM frame"))
    out: dict[int, set[str]] = {}
    for table, row in rows_of(library):
        shoot = shoots.get(row["id"] if table == "frame" else row.get("frame_id"))
        if shoot is not None:
            out.setdefault(shoot, set()).update(names_in(row))
    return out


def room_of_gone(library: Library) -> int:
    """Bytes that will be free once everything that was deleted is forgotten: files that nothing else mentions, and what
    was made of them."""
    with library.engine.connect() as connection:
        gone = {row[0] for row in connection.exec_driver_sql("SELECT id FROM shoot WHERE gone_at IS NOT NULL")}
    if not gone:
        return 0
    names = names_by_shoot(library)
    kept: set[str] = set().union(*(each for shoot, each in names.items() if shoot not in gone))
    going = set().union(*(each for shoot, each in names.items() if shoot in gone)) - kept
    return _files(library.files, going) + sum(size_of(library.views / name) for name in going)


def free_files(library: Library, names: set[str]) -> int:
    """Delete those of some files that no row mentions any more, with their views; how many bytes that was."""
    unused = names - {name for _, row in rows_of(library) for name in names_in(row)}
    freed = library.files.free(unused)
    for name in unused:
        view = library.views / name
        if not library.files.size(name) and view.is_dir():
            freed += size_of(view)
            shutil.rmtree(view, ignore_errors=True)
    return freed


def size_of(folder: Path) -> int:
    """Bytes of all files in a folder; none if there is no such folder, or what goes away meanwhile."""
    total = 0
    for each in folder.rglob("*"):
        try:
            total += each.stat().st_size if each.is_file() else 0
        except OSError:
            continue
    return total


def drop_views(library: Library) -> int:
    """Give back the room of what can be made again, pyramids and alignments; how many bytes that was. What is being
    made just now is left."""
    size = 0
    for each in library.views.iterdir():
        if PARTIAL_PREFIX in each.name:
            continue
        size += size_of(each)
        shutil.rmtree(each, ignore_errors=True)
    return size


def free_room(library: Library) -> int:
    """Bytes that are left where the library is."""
    return shutil.disk_usage(library.folder).free


def _files(files: Files, names: set[str]) -> int:
    return sum(files.size(name) for name in names)
