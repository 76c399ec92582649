"""Libraries of older versions are brought up to date with all that is in them."""

import json
import sqlite3
from pathlib import Path

import pytest
from alembic import command
from alembic.config import Config
from sqlalchemy import create_engine

import keen_sweep.store
from keen_sweep.api.desk.schemas import MadeOut, SweepOut, TakeOut
from keen_sweep.store.library import Library
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
    folder.mkdir()
    config = Config()
    config.set_main_option("script_location", str(Path(keen_sweep.store.__file__).parent / "migrations"))
    engine = create_engine(f"sqlite:///{folder / 'library.db'}")
    with engine.begin() as connection:
        config.attributes["connection"] = connection
        command.upgrade(config, revision)
    engine.dispose()
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


@pytest.mark.parametrize("revision", ["0001", "0002", "0003"])
def test_everything_of_an_older_library_is_there_and_reads(tmp_path: Path, revision: str) -> None:
    older(tmp_path / "library", revision)
    library = Library(tmp_path / "library")
    with library.session() as session:
        shoot, run, take = session.get(Shoot, 1), session.get(Run, 1), session.get(Take, 1)
    assert (shoot.name, shoot.budget) == ("Old", None)
    assert (run.state, run.remedy) == ("done", None)
    assert take.made == {}
    assert TakeOut.of(take).made == MadeOut()
    (sweep,) = desk.desk(library, 1).sweeps
    told = SweepOut.of(sweep)
    assert (told.name, told.state, told.pick, told.hint, told.model) == ("Old sweep", "kept", 1, "", None)
    assert models(library) == []
    library.close()


def test_a_library_of_now_is_left_alone(tmp_path: Path) -> None:
    Library(tmp_path / "library").close()
    before = sqlite3.connect(tmp_path / "library" / "library.db").execute("select sql from sqlite_master").fetchall()
    Library(tmp_path / "library").close()
    after = sqlite3.connect(tmp_path / "library" / "library.db").execute("select sql from sqlite_master").fetchall()
    assert before == after
