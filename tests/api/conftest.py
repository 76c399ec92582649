"""The application without workers, a shoot with a picture in it, and runs carried out on the spot."""

import shutil
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import imagecodecs
import numpy as np
import pytest
from fastapi.testclient import TestClient
from numpy.typing import NDArray

from keen_sweep.api.app import make_app
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Run
from keen_sweep.store.words import RunState
from keen_sweep.studio.running import ahead
from keen_sweep.studio.running.carry_out import carry_out
from tests.support.idle import no_queues

# An application in the tests' own process loads nothing beside them: Python 3.11 fails where two threads parse at once
# ("AST constructor recursion depth mismatch"), and pytest parses what it imports.
ahead.load()


@pytest.fixture
def nobody_works(monkeypatch: pytest.MonkeyPatch) -> None:
    no_queues(monkeypatch)


@pytest.fixture
def client(library: Library, nobody_works: None) -> Iterator[TestClient]:
    with TestClient(make_app(library)) as made:
        yield made


@pytest.fixture
def frame(client: TestClient, photograph: NDArray[Any], request: pytest.FixtureRequest) -> dict[str, Any]:
    if "filled" in request.fixturenames:
        return dict(client.get("/api/frames/1").json()["frame"])
    return add_roof(client, photograph)


def add_roof(client: TestClient, photograph: NDArray[Any]) -> dict[str, Any]:
    shoot = client.post("/api/shoots", json={"name": "Roofs"}).json()
    data = bytes(imagecodecs.png_encode(np.ascontiguousarray(photograph[150:300, 200:400])))
    return dict(client.post(f"/api/shoots/{shoot['id']}/frames", params={"name": "roof.png"}, content=data).json())


@pytest.fixture
def here(frame: dict[str, Any]) -> str:
    """Where the picture's desk is."""
    return f"/api/frames/{frame['id']}"


@pytest.fixture
def work_on(library: Library) -> Callable[[int], None]:
    """Does what a worker would do for a run."""
    return lambda run_id: work(library, run_id)


def work(library: Library, run_id: int) -> None:
    with library.session() as session:
        run = session.get_one(Run, run_id)
        run.state = RunState.RUNNING
        session.add(run)
    carry_out(library, run_id)


@pytest.fixture
def filled(client: TestClient, here: str) -> dict[str, Any]:
    """The desk with one sweep that has two takes."""
    return dict(client.get(here).json())


@pytest.fixture
def library(tmp_path: Path, request: pytest.FixtureRequest) -> Iterator[Library]:
    """A copy of an empty library, or of the filled one for tests that ask for what is in it."""
    made_once = request.getfixturevalue("filled_library" if "filled" in request.fixturenames else "empty_library")
    made = Library(Path(shutil.copytree(made_once, tmp_path / "library")))
    yield made
    made.close()


@pytest.fixture(scope="session")
def filled_library(tmp_path_factory: pytest.TempPathFactory, photograph: NDArray[Any]) -> Path:
    """The folder of a library with one picture whose one sweep has two takes, made once."""
    library = Library(tmp_path_factory.mktemp("filled") / "library")
    with pytest.MonkeyPatch.context() as patch:
        no_queues(patch)
        with TestClient(make_app(library)) as client:
            here = f"/api/frames/{add_roof(client, photograph)['id']}"
            stroke = {"kind": "stroke", "points": [[60, 50], [80, 50]], "size": 14}
            sweep = client.post(f"{here}/sweeps", json={"shapes": [stroke]}).json()["sweep_id"]
            asked = client.post(f"{here}/sweeps/{sweep}/fill", json={"takes": 2, "quality": "fast"}).json()
            work(library, asked["runs"][0]["id"])
    library.close()
    return library.folder
