"""Libraries of older versions are brought up to date with all that is in them."""

import json
import sqlite3
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from alembic import command
from alembic.config import Config
from sqlalchemy import create_engine

import keen_sweep.store
from keen_sweep.core.box import Box
from keen_sweep.core.errors import Conflict, LibraryTrouble
from keen_sweep.core.mask.stroke import Stroke
from keen_sweep.document.mark import shapes_of
from keen_sweep.store.files import Files
from keen_sweep.studio import history
from keen_sweep.studio.finding.finds import finds
from keen_sweep.studio.gathering.frames import add_frame
from keen_sweep.studio.gathering.shoots import make_shoot
from keen_sweep.studio.marking.draw import add_shapes, new_sweep
from keen_sweep.studio.open_frame import open_frame
from keen_sweep.studio.originals import originals_of
from keen_sweep.studio.stacks import _kept
from tests.studio.conftest import photo_file
from tests.support.masks import mask_of_strokes

__all__ = ["photo_file"]
from keen_sweep.api.desk.schemas import MadeOut, SweepOut, TakeOut
from keen_sweep.store.library import NEWEST_REVISION, Library
from keen_sweep.store.snapshot import copies_of
from keen_sweep.store.tables import Run, Shoot, Take
from keen_sweep.studio import desk
from keen_sweep.studio.models.register import models

STACK = {
    "version": 1,
    "layers": [
        {
            "kind": "sweep",
            "id": "a",
            "name": "Old sweep",
            "mark": {"shapes": [{"kind": "stroke", "points": [[5, 5], [20, 20]], "size": 6}]},
            "method": "auto",
            "pick": "0" * 64,
        }
    ],
}


def older(folder: Path, revision: str) -> None:
    """A library as a version of that revision left it: a shoot with a frame, a sweep, a run and a take."""
    upgrade(folder, revision)
    at = "2026-01-02 03:04:05"
    with sqlite3.connect(folder / "library.db") as db:
        db.execute("insert into shoot (id, name, made_at) values (1, 'Old', ?)", (at,))
        db.execute(
            "insert into frame (id, shoot_id, name, original, format, width, height, depth, added_at, revision_id) "
            "values (1, 1, 'old.png', 'x', 'png', 40, 30, 8, ?, 1)",
            (at,),
        )
        db.execute(
            "insert into revision (id, frame_id, title, stack, made_at) values (1, 1, 'pick take', ?, ?)",
            (json.dumps(STACK), at),
        )
        db.execute(
            "insert into run (id, frame_id, sweep_id, state, request, progress, doing, attempts, asked_at) "
            "values (1, 1, 'a', 'done', '{\"revision\": 1}', 1, '', 1, ?)",
            (at,),
        )
        db.execute(
            "insert into take (id, frame_id, sweep_id, run_id, patch, method, seed, quality, energy, seconds, x, y, "
            "width, height, parts, made_at) values (1, 1, 'a', 1, ?, 'auto', 0, 'fine', 1, 2, 3, 3, 20, 20, '[]', ?)",
            ("0" * 64, at),
        )


@pytest.mark.parametrize("revision", ["0001", "0002", "0003", "0004"])
def test_everything_of_an_older_library_is_there_and_reads(tmp_path: Path, revision: str) -> None:
    older(tmp_path / "library", revision)
    library = Library(tmp_path / "library")
    with library.session() as session:
        shoot, run, take = session.get_one(Shoot, 1), session.get_one(Run, 1), session.get_one(Take, 1)
    assert (shoot.name, shoot.budget) == ("Old", None)
    assert (run.state, run.remedy) == ("done", None)
    assert take.made == {}
    assert TakeOut.of(take).made == MadeOut()
    (sweep,) = desk.desk(library, 1).sweeps
    told = SweepOut.of(sweep)
    assert (told.name, told.state, told.pick, told.hint, told.model) == ("Old sweep", "kept", 1, "", None)
    expected = Stroke(points=((5.0, 5.0), (20.0, 20.0)), size=6.0)
    mask = open_frame(library, 1).mask("a")
    assert np.array_equal(mask.full(40, 30), mask_of_strokes([expected], 40, 30))
    assert (told.shapes, mask.box) == (1, expected.box.grow(1, Box(x=0, y=0, width=40, height=30)))
    assert models(library) == []
    library.close()


def upgrade(folder: Path, revision: str) -> None:
    """An empty library as a version of that revision makes it."""
    folder.mkdir()
    config = Config()
    config.set_main_option("script_location", str(Path(keen_sweep.store.__file__).parent / "migrations"))
    engine = create_engine(f"sqlite:///{folder / 'library.db'}")
    with engine.begin() as connection:
        config.attributes["connection"] = connection
        config.attributes["keep"] = None
        command.upgrade(config, revision)
    engine.dispose()


def test_a_new_library_has_the_schema_of_the_last_migration(tmp_path: Path) -> None:
    upgrade(tmp_path / "library", "head")
    with sqlite3.connect(tmp_path / "library" / "library.db") as db:
        assert db.execute("select version_num from alembic_version").fetchall() == [(NEWEST_REVISION,)]


def worked_on(folder: Path, strokes: int, at_once: int) -> list[list[dict[str, Any]]]:
    """A library of version 4 in which so many strokes were drawn, so many at once, into two sweeps in turn; the
    shapes of both after each revision."""
    upgrade(folder, "0004")
    at = "2026-01-02 03:04:05"
    random = np.random.default_rng(5)
    marks: list[list[dict[str, Any]]] = [[], []]
    past = []
    with sqlite3.connect(folder / "library.db") as db:
        db.execute("insert into shoot (id, name, made_at) values (1, 'Old', ?)", (at,))
        for number in range(strokes // at_once + 1):
            if number:
                for _ in range(at_once):
                    points = (random.random((20, 2)) * 400).round(2).tolist()
                    drawn = {"kind": "stroke", "points": points, "size": 9.0, "softness": 0.0, "erase": False}
                    marks[number % 2].append({**drawn, "pressure": None})
            layers = [
                {"kind": "sweep", "id": name, "name": name, "mark": {"shapes": shapes, "fit": {}}, "pick": None}
                for name, shapes in zip("ab", marks, strict=True)
            ]
            stack = json.dumps({"version": 1, "layers": layers, "guard": marks[0][:1]})
            db.execute(
                "insert into revision (id, frame_id, parent_id, title, stack, made_at) values (?, 1, ?, 'mark', ?, ?)",
                (number + 1, number or None, stack, at),
            )
            past.append([dict(each) for shapes in marks for each in shapes])
        db.execute(
            "insert into frame (id, shoot_id, name, original, format, width, height, depth, added_at, revision_id) "
            "values (1, 1, 'old.png', 'x', 'png', 400, 400, 8, ?, ?)",
            (at, strokes // at_once + 1),
        )
        db.execute(
            "insert into find (id, frame_id, kind, name, shapes, also, with_also, confidence, reason, subject, goes, "
            "dropped) values (1, 1, 'people', 'Person 1', ?, '[]', '[]', 1, '', 0, 1, 0)",
            (json.dumps(marks[1][:1]),),
        )
    return past


def size_of(folder: Path) -> int:
    return sum(file.stat().st_size for file in folder.glob("library.db*"))


@pytest.mark.slow
def test_three_thousand_strokes_are_all_there_and_undone_one_by_one(tmp_path: Path) -> None:
    folder = tmp_path / "library"
    past = worked_on(folder, 3_000, 60)
    before = size_of(folder)
    library = Library(folder)
    (copy,) = copies_of(folder / "library.db")
    assert size_of(folder) - copy.stat().st_size < before / 20
    shelf = originals_of(library)

    def drawn() -> list[dict[str, Any]]:
        stack = open_frame(library, 1).stack
        shapes = [shape for sweep in stack.sweeps for shape in shapes_of(sweep.mark.shapes, shelf)]
        assert stack.guard == stack.sweeps[0].mark.shapes[:1]
        return [shape.model_dump(mode="json") for shape in shapes]

    assert drawn() == past.pop()
    while past:
        history.undo(library, 1)
        assert drawn() == past.pop()
    with pytest.raises(Conflict):
        history.undo(library, 1)
    for _ in range(50):
        history.redo(library, 1)
    assert len(open_frame(library, 1).stack.sweeps[1].mark.shapes) == 1_500
    (find,) = finds(library, 1)
    assert find.find.name == "Person 1"
    assert find.rings
    library.close()


def test_a_migration_that_breaks_off_leaves_the_library_as_it_was(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    folder = tmp_path / "library"
    past = worked_on(folder, 40, 10)

    def full(self: Files, data: bytes) -> str:
        raise LibraryTrouble("The library cannot be written: No space left on device.")

    with monkeypatch.context() as broken:
        broken.setattr(Files, "add", full)
        with pytest.raises(LibraryTrouble, match="No space"):
            Library(folder)
    with sqlite3.connect(folder / "library.db") as db:
        assert db.execute("select version_num from alembic_version").fetchone() == ("0004",)
        assert "points" in db.execute("select stack from revision where id = 5").fetchone()[0]
    library = Library(folder)
    stack = open_frame(library, 1).stack
    assert sum(len(sweep.mark.shapes) for sweep in stack.sweeps) == len(past[-1]) == 40
    library.close()


def test_a_history_grows_by_what_was_done(library: Library, photo_file: Path) -> None:
    shoot = make_shoot(library, "Long")
    incoming = library.incoming / "upload"
    incoming.write_bytes(photo_file.read_bytes())
    frame = add_frame(library, shoot.id, "roof.tif", incoming)
    sweep, _ = new_sweep(library, frame.id, [Stroke(points=((20.0, 20.0),), size=8)])
    lengths = []
    for number in range(120):
        _, revision = sweep, add_shapes(library, frame.id, sweep, [Stroke(points=((20.0 + number, 60.0),), size=8)])
        lengths.append(len(revision.stack))
    # Every now and then a stack is written whole; all of them together are no more than twice what was added.
    assert sum(lengths) < 3 * 120 * min(lengths)
    _kept.clear()
    assert len(open_frame(library, frame.id).stack.sweeps[0].mark.shapes) == 121
    documents = history.steps(library, frame.id)
    assert len(documents) == 122


def test_a_library_of_now_is_left_alone(tmp_path: Path) -> None:
    Library(tmp_path / "library").close()
    before = sqlite3.connect(tmp_path / "library" / "library.db").execute("select sql from sqlite_master").fetchall()
    Library(tmp_path / "library").close()
    after = sqlite3.connect(tmp_path / "library" / "library.db").execute("select sql from sqlite_master").fetchall()
    assert before == after
