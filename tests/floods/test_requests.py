"""Requests made up from the API's own description: whatever is sent, no answer is a fault of the server's.

They go to one library, each sees what those before it left. A short run; KEEN_SWEEP_FLOOD says how many requests of
each operation a long one has (make flood).
"""

import json
import os
from collections.abc import Iterator
from pathlib import Path
from typing import Any, cast

import psutil
import pytest
import requests
import schemathesis
from fastapi.testclient import TestClient
from hypothesis import HealthCheck, Phase, given, settings
from hypothesis import strategies as st
from schemathesis import GenerationMode

from keen_sweep.api.app import make_app
from keen_sweep.store.check import check
from keen_sweep.store.library import Library
from tests.support.idle import NoQueue
from tests.support.journey import picture

pytestmark = pytest.mark.slow

EACH = int(os.environ.get("KEEN_SWEEP_FLOOD", "4"))
# Streams end with whoever listens, not by themselves.
LEFT_OUT = {"/api/events"}
# Faults that are the machine's or a service's, in words: none is a fault of the server's.
IN_WORDS = {502, 503, 507}
MOST_GROWTH = 200_000_000


@pytest.fixture(scope="module")
def flooded(tmp_path_factory: pytest.TempPathFactory) -> Iterator[tuple[TestClient, Library, dict[str, Any]]]:
    """An application without workers, and the names of what is there."""
    folder = tmp_path_factory.mktemp("flooded")
    before = Path.cwd()
    os.chdir(folder)
    (folder / "delivered").mkdir()
    with pytest.MonkeyPatch.context() as patch:
        for each in ("api.app.Queue", "studio.running.background.Scouts", "studio.running.background.Carriers"):
            patch.setattr(f"keen_sweep.{each}", NoQueue)
        patch.setenv("KEEN_SWEEP_KEYS", str(folder / "keys.json"))
        library = Library(folder / "library")
        with TestClient(make_app(library), raise_server_exceptions=False) as client:
            shoot = client.post("/api/shoots", json={"name": "Flooded"}).json()["id"]
            frames = [
                client.post(f"/api/shoots/{shoot}/frames", params={"name": f"{k}.png"}, content=picture(k)).json()["id"]
                for k in range(3)
            ]
            shape = {"kind": "stroke", "points": [[20, 20], [60, 40]], "size": 9}
            sweep = client.post(f"/api/frames/{frames[0]}/sweeps", json={"shapes": [shape]}).json()["sweep_id"]
            yield client, library, {"frame_id": frames, "shoot_id": [shoot], "sweep_id": [sweep]}
        library.close()
    os.chdir(before)


def operations() -> list[tuple[str, str]]:
    """All of the API, what takes something away last."""
    paths = json.loads((Path(__file__).parents[2] / "openapi.json").read_text())["paths"]
    found = [(path, method) for path, item in paths.items() for method in item if path not in LEFT_OUT]
    return sorted(found, key=lambda each: each[1] == "delete")


@pytest.fixture(scope="module")
def described(flooded: tuple[TestClient, Library, dict[str, Any]]) -> Any:
    made = schemathesis.openapi.from_dict(flooded[0].get("/api/openapi.json").json())
    made.config.generation.update(modes=[GenerationMode.POSITIVE, GenerationMode.NEGATIVE])
    return made


@pytest.mark.parametrize(("path", "method"), operations())
def test_no_request_is_answered_by_a_fault(
    flooded: tuple[TestClient, Library, dict[str, Any]], described: Any, path: str, method: str
) -> None:
    client, _, there = flooded
    cases = described[path][method].as_strategy()

    @settings(
        max_examples=EACH,
        deadline=None,
        derandomize=True,
        database=None,
        phases=[Phase.generate],
        suppress_health_check=list(HealthCheck),
    )
    @given(case=cases, known=st.floats(0, 1), which=st.integers(0, 2))
    def send(case: Any, known: float, which: int) -> None:
        if known < 0.8:
            # What is there is found more often than by guessing numbers.
            for name in set(case.path_parameters or {}) & set(there):
                case.path_parameters[name] = there[name][which % len(there[name])]
        body = case.body if isinstance(case.body, dict) else {}
        if "folder" in body:
            case.body["folder"] = str(Path.cwd() / "delivered")
        asked = requests.Request(**case.as_transport_kwargs(base_url="http://testserver")).prepare()
        answer = client.request(
            str(asked.method),
            str(asked.url),
            headers={name: str(value) for name, value in asked.headers.items()},
            content=cast("bytes | str | None", asked.body),
        )
        assert answer.status_code < 500 or answer.status_code in IN_WORDS, (case.as_curl_command(), answer.text)

    send()


def test_after_the_flood_the_library_is_whole_and_memory_is_as_before(
    flooded: tuple[TestClient, Library, dict[str, Any]],
) -> None:
    client, library, there = flooded
    assert client.get("/api/health").status_code == 200
    report = check(library)
    assert not report.lost, report
    assert not report.leftovers, report
    before = psutil.Process().memory_info().rss
    for _ in range(300):
        client.get(f"/api/frames/{there['frame_id'][0]}")
    assert psutil.Process().memory_info().rss - before < MOST_GROWTH
