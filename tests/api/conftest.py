"""The application without workers, a shoot with a picture in it, and runs carried out on the spot."""

from collections.abc import Callable, Iterator

import imagecodecs
import numpy as np
import pytest
from fastapi.testclient import TestClient

from keen_sweep.api.app import make_app
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Run
from keen_sweep.store.words import RunState
from keen_sweep.studio.running import ahead
from keen_sweep.studio.running.carry_out import carry_out

# An application in the tests' own process loads nothing beside them: Python 3.11 fails where two threads parse at once
# ("AST constructor recursion depth mismatch"), and pytest parses what it imports.
ahead.load()


class NoQueue:
    alive, busy = True, 0

    def __init__(self, *_: object) -> None: ...
    def start(self) -> None: ...
    def stop(self) -> None: ...


@pytest.fixture
def nobody_works(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("keen_sweep.api.app.Queue", NoQueue)
    monkeypatch.setattr("keen_sweep.studio.running.house.Scouts", NoQueue)
    monkeypatch.setattr("keen_sweep.studio.running.house.Carriers", NoQueue)


@pytest.fixture
def client(library: Library, nobody_works: None) -> Iterator[TestClient]:
    with TestClient(make_app(library)) as made:
        yield made


@pytest.fixture
def frame(client: TestClient, photograph: np.ndarray) -> dict:
    shoot = client.post("/api/shoots", json={"name": "Roofs"}).json()
    data = bytes(imagecodecs.png_encode(np.ascontiguousarray(photograph[150:300, 200:400])))
    return client.post(f"/api/shoots/{shoot['id']}/frames", params={"name": "roof.png"}, content=data).json()


@pytest.fixture
def here(frame: dict) -> str:
    """Where the picture's desk is."""
    return f"/api/frames/{frame['id']}"


@pytest.fixture
def work_on(library: Library) -> Callable[[int], None]:
    """Does what a worker would do for a run."""

    def work(run_id: int) -> None:
        with library.session() as session:
            run = session.get_one(Run, run_id)
            run.state = RunState.RUNNING
            session.add(run)
        carry_out(library, run_id)

    return work


@pytest.fixture
def filled(client: TestClient, here: str, work_on: Callable[[int], None]) -> dict:
    """The desk with one sweep that has two takes."""
    stroke = {"kind": "stroke", "points": [[60, 50], [80, 50]], "size": 14}
    sweep = client.post(f"{here}/sweeps", json={"shapes": [stroke]}).json()["sweep_id"]
    asked = client.post(f"{here}/sweeps/{sweep}/fill", json={"takes": 2, "quality": "fast"}).json()
    work_on(asked["runs"][0]["id"])
    return client.get(here).json()
