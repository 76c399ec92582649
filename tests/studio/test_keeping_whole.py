"""A library is checked and repaired, and copied while it is worked in."""

import sqlite3
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from numpy.typing import NDArray

from keen_sweep.core.errors import BadRequest, LibraryTrouble
from keen_sweep.core.mask.shape import Shape
from keen_sweep.core.mask.stroke import Stroke
from keen_sweep.store.backup import backup
from keen_sweep.store.check import check, repair
from keen_sweep.store.library import Library
from keen_sweep.store.room import drop_views
from keen_sweep.store.tables import Frame
from keen_sweep.studio.desk import desk
from keen_sweep.studio.history import undo
from keen_sweep.studio.marking.draw import new_sweep
from keen_sweep.studio.originals import Originals

MARK: list[Shape] = [Stroke(points=((20.0, 30.0), (60.0, 40.0)), size=8.0)]


@pytest.fixture
def marked(library: Library, frame: Frame) -> Frame:
    """A frame with a mark, and one that was taken back: its file is still needed, for it can be done again."""
    new_sweep(library, frame.id or 0, MARK, "Rod")
    new_sweep(library, frame.id or 0, [Stroke(points=((90.0, 90.0),), size=12.0)], "Spot")
    undo(library, frame.id or 0)
    return frame


def file_of(library: Library, name: str) -> Path:
    path = library.files.path(name)
    path.chmod(0o644)
    return path


def level(library: Library, frame: Frame) -> NDArray[Any]:
    """The picture, by a reader of its own: nothing is remembered of the last one."""
    return np.array(Originals(library).pyramid(frame.original).level(0))


def test_a_library_that_was_worked_in_is_clean(library: Library, marked: Frame) -> None:
    report = check(library)
    assert report.clean
    assert report.files == len([each for each in library.files.folder.rglob("*") if each.is_file()]) > 2


def test_what_is_missing_is_told_with_who_needs_it(library: Library, marked: Frame) -> None:
    file_of(library, marked.original).unlink()
    report = check(library)
    assert report.missing == {marked.original: f"frame {marked.id}"} or marked.original in report.missing
    assert report.lost
    repair(library, report)
    assert marked.original in check(library).missing, "no repair makes a photograph"


def test_every_file_but_one_may_be_gone_and_each_is_told(library: Library, marked: Frame) -> None:
    there = {each.name for each in library.files.folder.rglob("*") if each.is_file()}
    for name in there:
        file_of(library, name).unlink()
    assert set(check(library).missing) == there


def test_a_changed_byte_is_found_and_put_aside(library: Library, marked: Frame) -> None:
    path = file_of(library, marked.original)
    data = bytearray(path.read_bytes())
    data[len(data) // 2] ^= 1
    path.write_bytes(data)
    report = check(library)
    assert report.damaged == [path]
    repair(library, report)
    assert not path.exists()
    assert (library.folder / "damaged" / path.name).read_bytes() == data


def test_what_nothing_needs_is_taken_away_and_nothing_else(
    library: Library, originals: Originals, marked: Frame
) -> None:
    needed = {each for each in library.files.folder.rglob("*") if each.is_file()}
    orphan = library.files.path(library.files.add(b"nobody's"))
    part = orphan.parent / ".part-killed"
    part.write_bytes(b"half")
    (library.incoming / "upload").write_bytes(b"half a picture")
    (library.views / ("0" * 64)).mkdir()
    report = check(library)
    assert (report.orphans, report.lost) == ([orphan], False)
    assert {each.name for each in report.leftovers} == {".part-killed", "upload"}
    repair(library, report)
    assert check(library).clean
    assert {each for each in library.files.folder.rglob("*") if each.is_file()} == needed


def test_a_damaged_database_is_told(library: Library, marked: Frame) -> None:
    with sqlite3.connect(library.folder / "library.db") as direct:
        direct.execute("PRAGMA foreign_keys=OFF")
        direct.execute("UPDATE frame SET shoot_id = 999")
    direct.close()
    assert any("shoot" in line for line in check(library).database)


def test_room_is_given_back_and_views_are_made_again(library: Library, marked: Frame) -> None:
    before = level(library, marked)
    assert any(library.views.iterdir())
    assert drop_views(library) > 0
    assert list(library.views.iterdir()) == []
    assert np.array_equal(level(library, marked), before)


def test_a_copy_is_a_library_and_is_brought_up_to_date(library: Library, marked: Frame, tmp_path: Path) -> None:
    target = tmp_path / "copy"
    first = backup(library, target)
    assert (first.there, first.copied) == (0, check(library).files)
    new_sweep(library, marked.id or 0, [Stroke(points=((100.0, 20.0),), size=9.0)], "Later")
    second = backup(library, target)
    assert (second.there, second.copied) == (first.copied, check(library).files - first.copied)
    opened = Library(target)
    assert check(opened).clean
    told = [(each.sweep.name, each.sweep.mark) for each in desk(opened, marked.id or 0).sweeps]
    assert told == [(each.sweep.name, each.sweep.mark) for each in desk(library, marked.id or 0).sweeps]
    opened.close()


def test_a_copy_holds_one_moment_while_somebody_writes(library: Library, marked: Frame, tmp_path: Path) -> None:
    with library.session(write=True) as session:
        session.add(
            Frame(
                shoot_id=marked.shoot_id,
                name="half",
                original=marked.original,
                format="tiff",
                width=1,
                height=1,
                depth=8,
            )
        )
        session.flush()
        backup(library, tmp_path / "copy")
        session.rollback()
    opened = Library(tmp_path / "copy")
    assert check(opened).clean
    opened.close()


def test_a_copy_goes_nowhere_where_it_would_harm(library: Library, marked: Frame, tmp_path: Path) -> None:
    with pytest.raises(BadRequest, match="outside"):
        backup(library, library.folder / "copy")
    (tmp_path / "letters").mkdir()
    (tmp_path / "letters" / "dear.txt").write_text("Dear")
    with pytest.raises(BadRequest, match="is not a backup"):
        backup(library, tmp_path / "letters")
    assert [each.name for each in (tmp_path / "letters").iterdir()] == ["dear.txt"]
    with pytest.raises(LibraryTrouble, match="cannot be written"):
        backup(library, Path("/proc/nowhere"))
