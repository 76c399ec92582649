"""Models over HTTP: what goes in, what comes out, and the key that never does."""

from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient

from keen_sweep.bench.tiny import tiny_onnx
from keen_sweep.store.library import Library
from tests.support.strokes import STROKE

KEY = "not-to-be-seen"


@pytest.fixture(autouse=True)
def own_keys(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    monkeypatch.setenv("KEEN_SWEEP_KEYS", str(tmp_path / "keys.json"))
    return tmp_path / "keys.json"


def test_a_key_goes_in_and_never_out(client: TestClient, own_keys: Path) -> None:
    body = {"name": "Shed", "kind": "service", "place": "http://127.0.0.1:9"}
    made = client.post("/api/models", json=body)
    assert made.status_code == 201
    assert made.json()["has_key"] is False
    here = f"/api/models/{made.json()['id']}"
    answers = [
        client.put(f"{here}/key", json={"key": KEY}),
        client.get("/api/models"),
        client.post(f"{here}/try"),
        client.patch(here, json={"name": "Paint Shed"}),
        client.put(f"{here}/key", json={"key": f"{KEY} with a space"}),
        client.put(f"{here}/key", json={"key": KEY * 1_000}),
        client.put(f"{here}/key", json={"wrong": KEY}),
    ]
    assert [answer.status_code for answer in answers] == [200, 200, 200, 200, 400, 422, 422]
    assert all(KEY not in answer.text for answer in answers)
    assert answers[0].json()["has_key"] is True
    assert "cannot be reached" in answers[2].json()["trial"]
    assert KEY in own_keys.read_text()
    assert client.delete(here).status_code == 204
    assert KEY not in own_keys.read_text()
    assert client.delete(here).json()["type"] == "/problems/not-found"


def test_limits_are_set_and_taken_away(client: TestClient, tmp_path: Path) -> None:
    place = str(tiny_onnx(tmp_path / "tiny.onnx", 64))
    made = client.post("/api/models", json={"name": "Tiny", "kind": "onnx", "place": place}).json()
    here = f"/api/models/{made['id']}"
    changed = client.patch(here, json={"largest": 512, "most_credits": 3, "for_auto": True}).json()
    assert (changed["largest"], changed["most_credits"], changed["for_auto"]) == (512, 3, True)
    changed = client.patch(here, json={"largest": 0, "most_credits": 0, "for_auto": False}).json()
    assert (changed["largest"], changed["most_credits"], changed["for_auto"]) == (None, None, False)
    assert client.post(f"{here}/try").json()["trial_good"] is True
    wrong = client.post("/api/models", json={"name": "Tiny", "kind": "onnx", "place": "relative"})
    assert (wrong.status_code, wrong.json()["type"]) == (400, "/problems/bad-request")


def test_a_sweep_is_set_priced_and_filled_by_a_model(
    client: TestClient, library: Library, frame: dict[str, Any], work_on: Callable[[int], None], tmp_path: Path
) -> None:
    place = str(tiny_onnx(tmp_path / "tiny.onnx", 64))
    model = client.post("/api/models", json={"name": "Tiny", "kind": "onnx", "place": place}).json()
    here = f"/api/frames/{frame['id']}"
    sweep = f"{here}/sweeps/{client.post(f'{here}/sweeps', json={'shapes': [STROKE]}).json()['sweep_id']}"
    assert client.get(f"{sweep}/quote").json()["model"] is None
    for change in ({"model": model["id"]}, {"hint": " plain  roof "}, {"avoid": "sky"}, {"knobs": {"steps": 4}}):
        assert client.patch(sweep, json=change).status_code == 200
    two = client.patch(sweep, json={"hint": "a", "avoid": "b"})
    assert two.status_code == 400
    assert "one property" in two.json()["detail"]
    assert client.patch(sweep, json={"model": 99}).status_code == 404
    (on_desk,) = client.get(here).json()["sweeps"]
    assert (on_desk["method"], on_desk["hint"], on_desk["avoid"], on_desk["knobs"]["steps"]) == (
        "model",
        "plain roof",
        "sky",
        4,
    )
    quoted = client.get(f"{sweep}/quote", params={"takes": 2}).json()
    assert (quoted["model"], quoted["paintings"], quoted["credits"], quoted["service"]) == ("Tiny", 2, 0, False)
    (run,) = client.post(f"{sweep}/fill", json={"takes": 1}).json()["runs"]
    work_on(run["id"])
    (take,) = client.get(here).json()["sweeps"][0]["takes"]
    assert take["made"]["model"] == "Tiny"
    assert take["made"]["hint"] == "plain roof"
    assert client.get("/api/models/words").json() == {"hints": ["plain roof"], "avoids": ["sky"]}
    client.patch(sweep, json={"hint": "erase the roof"})
    assert client.get(f"{sweep}/words").json()["text"].startswith("Read as the background.")
    (run,) = client.post(f"{sweep}/fill", json={"takes": 1}).json()["runs"]
    work_on(run["id"])
    made = client.get(here).json()["sweeps"][0]["takes"][-1]["made"]
    assert (made["model"], made["hint"]) == ("Tiny", "")
    box = {"x": 10, "y": 10, "width": 50, "height": 40}
    assert client.put(f"{sweep}/ground", json={"ground": {"box": box}}).status_code == 200
    assert client.get(here).json()["sweeps"][0]["ground"]["box"] == box
    assert client.put(f"{sweep}/ground", json={"ground": None}).status_code == 200


def test_a_budget_is_set_and_taken_away(client: TestClient, frame: dict[str, Any]) -> None:
    here = f"/api/shoots/{frame['shoot_id']}/budget"
    assert client.put(here, json={"credits": 12.5}).status_code == 204
    (shoot,) = client.get("/api/shoots").json()
    assert (shoot["budget"], shoot["spent"]) == (12.5, 0)
    assert client.put(here, json={"credits": None}).status_code == 204
    assert client.get("/api/shoots").json()[0]["budget"] is None
    assert client.put(here, json={"credits": -1}).status_code == 422
    assert client.put("/api/shoots/99/budget", json={"credits": 1}).status_code == 404
