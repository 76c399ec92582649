"""Libraries that earlier versions of the program made, one for each version of the database, open in this one.

Each was made by the program as it was then: a shoot with two pictures, the first with two sweeps, one of them filled
(two takes) and picked, a guard drawn and taken back; beside it lies the PNG that the program delivered then.
"""

import errno
import json
import sqlite3
import zipfile
from pathlib import Path
from typing import Any

import imagecodecs
import numpy as np
import pytest
from alembic import command
from numpy.typing import NDArray

from keen_sweep.core.errors import LibraryTrouble
from keen_sweep.core.mask.stroke import Stroke
from keen_sweep.store.check import check
from keen_sweep.store.library import Library
from keen_sweep.store.snapshot import copies_of
from keen_sweep.studio.delivering.deliver import deliver
from keen_sweep.studio.delivering.wanted import Kind, Wanted
from keen_sweep.studio.desk import desk
from keen_sweep.studio.gathering.shoots import shoots
from keen_sweep.studio.history import redo, undo
from keen_sweep.studio.marking.draw import new_sweep
from keen_sweep.studio.open_frame import open_frame
from tests.support.shell import keen_sweep

KEPT = sorted((Path(__file__).parent / "libraries").glob("*.zip"))
VERSIONS = sorted((Path(__file__).parents[2] / "src/keen_sweep/store/migrations/versions").glob("0*.py"))


@pytest.fixture(params=KEPT, ids=lambda each: each.stem)
def old(request: pytest.FixtureRequest, tmp_path: Path) -> Path:
    with zipfile.ZipFile(request.param) as packed:
        packed.extractall(tmp_path)
    return tmp_path


def version_of(folder: Path) -> str:
    with sqlite3.connect(folder / "library.db") as db:
        return str(db.execute("select version_num from alembic_version").fetchone()[0])


def delivered(library: Library, frame_id: int) -> NDArray[Any]:
    return np.asarray(imagecodecs.png_decode(deliver(library, frame_id, Wanted(kind=Kind.PNG, ledger=False)).data))


def test_there_is_one_of_every_version() -> None:
    assert [each.stem for each in KEPT] == [each.name[:4] for each in VERSIONS]


def test_everything_is_there_and_the_picture_is_the_same(old: Path) -> None:
    library = Library(old / "library")
    assert version_of(library.folder) == KEPT[-1].stem
    ((shoot, frames),) = shoots(library)
    assert shoot.name.startswith("Shoot of version ")
    assert [each.name for each in frames] == ["more patches.png", "patches.png"]
    frame = frames[1]
    first, second = desk(library, frame.id).sweeps
    assert (first.sweep.name, len(first.takes), second.sweep.name) == ("Left rod", 2, "Sweep 2")
    assert first.sweep.pick == first.takes[0].patch
    then = np.asarray(imagecodecs.png_decode((old / "delivered.png").read_bytes()))
    assert np.array_equal(delivered(library, frame.id), then)
    assert check(library).clean
    library.close()


def test_it_is_worked_in_and_its_past_is_undone(old: Path) -> None:
    library = Library(old / "library")
    frame = shoots(library)[0][1][1]
    before = delivered(library, frame.id)
    assert not open_frame(library, frame.id).stack.guard
    redo(library, frame.id)
    assert open_frame(library, frame.id).stack.guard, "the guard that was taken back"
    undo(library, frame.id)
    new_sweep(library, frame.id, [Stroke(points=((50.0, 50.0),), size=6)], "New")
    assert [each.sweep.name for each in desk(library, frame.id).sweeps] == ["Left rod", "Sweep 2", "New"]
    for _ in range(2):
        undo(library, frame.id)
    # Without its pick; the same take may have stood before that.
    stood = open_frame(library, frame.id).stack.sweeps[0].provisional
    assert np.array_equal(delivered(library, frame.id), before) == stood
    assert not check(library).lost
    library.close()


def test_a_migration_that_is_interrupted_leaves_it_as_it_was(old: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    folder = old / "library"
    was = version_of(folder)
    if was == KEPT[-1].stem:
        pytest.skip("nothing is migrated")
    upgrade = command.upgrade

    def interrupted(*given: object) -> None:
        upgrade(*given)  # type: ignore[arg-type]
        raise KeyboardInterrupt

    with monkeypatch.context() as broken:
        broken.setattr(command, "upgrade", interrupted)
        with pytest.raises(KeyboardInterrupt):
            Library(folder)
    assert version_of(folder) == was
    library = Library(folder)
    assert len(desk(library, shoots(library)[0][1][1].id).sweeps) == 2
    library.close()


def test_the_database_is_copied_before_it_is_upgraded_and_brought_back(old: Path) -> None:
    folder = old / "library"
    was = version_of(folder)
    Library(folder).close()
    copies = copies_of(folder / "library.db")
    if was == KEPT[-1].stem:
        assert copies == []
        return
    (copy,) = copies
    assert f"from-{was}" in copy.name
    with sqlite3.connect(copy) as db:
        assert db.execute("pragma integrity_check").fetchone() == ("ok",)
    done = keen_sweep("restore-copy", folder)
    assert (done.returncode, copy.name in done.stdout) == (0, True)
    assert version_of(folder) == was
    # Opened again it is upgraded again; only two copies are kept.
    for _ in range(2):
        Library(folder).close()
        keen_sweep("restore-copy", folder)
    assert len(copies_of(folder / "library.db")) == 2
    library = Library(folder)
    assert check(library).clean
    library.close()


def test_nothing_is_upgraded_without_a_copy(old: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    folder = old / "library"
    was = version_of(folder)
    if was == KEPT[-1].stem:
        pytest.skip("nothing is upgraded")

    def full(*_: object) -> None:
        raise OSError(errno.ENOSPC, "No space left on device")

    monkeypatch.setattr("keen_sweep.store.snapshot.snapshot", full)
    with pytest.raises(LibraryTrouble, match="cannot be copied before the upgrade"):
        Library(folder)
    assert version_of(folder) == was
    assert copies_of(folder / "library.db") == []


def test_there_is_nothing_to_bring_back(library: Library) -> None:
    library.close()
    done = keen_sweep("restore-copy", library.folder)
    assert (done.returncode, "no copy" in done.stderr) == (2, True)


def test_what_was_agreed_to_is_called_consent(old: Path) -> None:
    db = old / "library" / "library.db"
    was = requests_in(db)
    Library(old / "library").close()
    assert [each["consent"] for each in requests_in(db)] == [each.get("consent") or each["yes"] for each in was]
    assert not any("yes" in each for each in requests_in(db))


def requests_in(db: Path) -> list[dict[str, Any]]:
    """What was asked for of the runs of a library that kept it."""
    with sqlite3.connect(db) as open_db:
        told = [json.loads(each) for (each,) in open_db.execute("select request from run order by id")]
    return [each for each in told if "yes" in each or "consent" in each]


def test_a_library_of_a_newer_version_is_refused_in_a_sentence(library: Library) -> None:
    library.close()
    with sqlite3.connect(library.folder / "library.db") as db:
        db.execute("update alembic_version set version_num = '0999'")
    with pytest.raises(LibraryTrouble, match=r"newer version of Keen Sweep \(0999\)"):
        Library(library.folder)
    assert version_of(library.folder) == "0999"
