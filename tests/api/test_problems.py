"""Every error of the family is answered as what it is: none as a failure of the program."""

import errno
import importlib
import pkgutil
from collections.abc import Iterator

import pytest
from fastapi import FastAPI
from fastapi.testclient import TestClient

import keen_sweep
from keen_sweep.api.problems import install
from keen_sweep.core.errors import KeenSweepError, ModelTrouble, NoWeights
from keen_sweep.store.library import Library

# What asks for packages that a set-up without extras does not have, and what runs when it is imported.
APART = ("keen_sweep.__main__",)


def family(of: type[KeenSweepError] = KeenSweepError) -> Iterator[type[KeenSweepError]]:
    yield of
    for each in of.__subclasses__():
        yield from family(each)


@pytest.fixture(scope="module")
def everyone() -> list[type[KeenSweepError]]:
    for module in pkgutil.walk_packages(keen_sweep.__path__, "keen_sweep."):
        if module.name not in APART:
            importlib.import_module(module.name)
    return [each for each in family() if each.__module__.startswith("keen_sweep.")]


def answer(error: KeenSweepError) -> dict[str, object]:
    app = FastAPI()
    install(app)

    @app.get("/")
    def fails() -> None:
        raise error

    found = TestClient(app, raise_server_exceptions=False).get("/")
    assert found.headers["content-type"] == "application/problem+json"
    body = found.json()
    assert body["status"] == found.status_code
    return dict(body)


def test_every_error_of_the_family_is_answered_as_what_it_is(everyone: list[type[KeenSweepError]]) -> None:
    assert len(everyone) >= 10
    for each in everyone:
        body = answer(each("The reason."))
        assert body["detail"] == "The reason."
        status = body["status"]
        assert isinstance(status, int)
        assert 400 <= status < 600, each
        assert status != 500, each
        assert body["title"]
    kinds = [each.kind for each in everyone]
    assert len(set(kinds)) == len(kinds), "each has a name of its own"


def test_what_helps_is_said_with_the_problem() -> None:
    assert answer(NoWeights("The networks are missing."))["remedy"] == "set-up"
    assert answer(ModelTrouble("Too large.", "smaller"))["remedy"] == "smaller"
    assert "remedy" not in answer(ModelTrouble("It broke off."))


def status_of(error: Exception) -> int:
    app = FastAPI()
    install(app)

    @app.get("/")
    def fails() -> None:
        raise error

    return int(TestClient(app, raise_server_exceptions=False).get("/").status_code)


@pytest.mark.parametrize(
    ("error", "status"),
    [
        (OverflowError("Python int too large to convert to SQLite INTEGER"), 404),
        (OverflowError("cannot convert float infinity to integer"), 500),
        (OSError(errno.ENOSPC, "No space left on device"), 507),
        (FileNotFoundError(errno.ENOENT, "No such file"), 500),
        (ConnectionRefusedError(errno.ECONNREFUSED, "refused"), 500),
        (TimeoutError("too long"), 500),
    ],
)
def test_what_is_a_fault_of_ours_is_not_said_to_be_the_machines(error: Exception, status: int) -> None:
    assert status_of(error) == status


@pytest.mark.parametrize(("there", "status"), [(True, 500), (False, 507)])
def test_a_missing_file_is_the_librarys_trouble_only_where_the_library_is_gone(
    library: Library, there: bool, status: int
) -> None:
    app = FastAPI()
    app.state.library = library
    install(app)

    @app.get("/")
    def fails() -> None:
        raise FileNotFoundError(errno.ENOENT, "No such file")

    if not there:
        library.database.rename(library.database.with_name("elsewhere.db"))
    assert TestClient(app, raise_server_exceptions=False).get("/").status_code == status


def test_all_that_is_wrong_with_a_request_is_told_at_once(client: TestClient, here: str) -> None:
    body = {"shapes": [{"kind": "stroke", "points": [], "size": -1, "softness": 7}]}
    told = client.post(f"{here}/sweeps", json=body)
    assert told.status_code == 422
    for part in ("points", "size", "softness"):
        assert part in told.json()["detail"]
