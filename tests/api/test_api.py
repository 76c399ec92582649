"""The HTTP interface: what goes in, what comes out, and every error as a problem (RFC 9457)."""

import io
import json
import re
from collections.abc import Callable
from pathlib import Path
from typing import Any, Protocol

import imagecodecs
import numpy as np
import pytest
import tifffile
from anyio.from_thread import start_blocking_portal
from fastapi import Request
from fastapi.testclient import TestClient
from numpy.typing import NDArray
from PIL import Image

from keen_sweep.api.events.routes import _messages, listen
from keen_sweep.store.library import Library
from tests.core.photo.test_photo import BAD
from tests.support.strokes import STROKE
from tests.support.sure import sure


class Answer(Protocol):
    """What the client of the tests gives, whichever package it is of."""

    @property
    def content(self) -> bytes: ...


def pixels(answer: Answer) -> NDArray[Any]:
    return np.asarray(Image.open(io.BytesIO(answer.content)))


def test_the_journey(
    client: TestClient,
    library: Library,
    frame: dict[str, Any],
    work_on: Callable[[int], None],
    photograph: NDArray[Any],
) -> None:
    here = f"/api/frames/{frame['id']}"
    made = client.post(f"{here}/sweeps", json={"shapes": [STROKE], "name": "Chimney"})
    assert made.status_code == 201
    sweep = f"{here}/sweeps/{made.json()['sweep_id']}"
    assert client.post(f"{sweep}/shapes", json={"shapes": [{**STROKE, "erase": True, "size": 2}]}).status_code == 201
    mask = pixels(client.get(f"{sweep}/mask"))
    assert mask.shape == (150, 200)
    assert mask[50, 70] == 0
    assert mask[45, 70] == 255
    asked = client.post(f"{sweep}/fill", json={"takes": 2, "quality": "fast"})
    assert asked.status_code == 202
    (run,) = asked.json()["runs"]
    assert asked.json()["desk"]["sweeps"][0]["state"] == "waiting"
    work_on(run["id"])
    desk = client.get(here).json()
    (on_desk,) = desk["sweeps"]
    assert (on_desk["state"], on_desk["name"], len(on_desk["takes"])) == ("provisional", "Chimney", 2)
    assert on_desk["takes"][0]["parts"][0]["why"]
    picked = client.patch(sweep, json={"pick": on_desk["best"]}).json()
    state = {"revision": picked["revision"], "provisional": picked["frame"]["provisional"]}
    tile = client.get(f"{here}/tiles/0/0/0", params=state)
    assert "immutable" in tile.headers["cache-control"]
    delivered = pixels(client.get(f"{here}/delivery"))
    assert np.array_equal(pixels(tile), delivered)
    assert np.array_equal(delivered[mask == 0], photograph[150:300, 200:400][mask == 0])
    assert np.array_equal(pixels(client.get(f"{here}/tiles/0/0/0?shot=true")), photograph[150:300, 200:400])
    tiff = client.get(f"{here}/delivery", params={"kind": "tiff"})
    assert "roof-swept.tif" in tiff.headers["content-disposition"]
    assert np.array_equal(tifffile.imread(io.BytesIO(tiff.content)), delivered)
    for step in ("undo", "undo", "undo"):
        assert client.post(f"{here}/{step}").status_code == 200
    assert client.post(f"{here}/undo").status_code == 409
    client.post(f"{here}/redo")
    assert client.patch(sweep, json={"shown": False}).status_code == 200
    assert client.delete(sweep).status_code == 200
    assert client.get(here).json()["sweeps"] == []


@pytest.mark.parametrize("case", [case for case in BAD if BAD[case][0] is not None])
def test_bad_uploads_get_a_clear_message_and_leave_no_trace(client: TestClient, library: Library, case: str) -> None:
    data, words = BAD[case]
    shoot = client.post("/api/shoots", json={"name": "Bad"}).json()["id"]
    answer = client.post(f"/api/shoots/{shoot}/frames", params={"name": "holiday.jpg"}, content=bytes(data or b""))
    assert answer.status_code == 422
    assert answer.headers["content-type"] == "application/problem+json"
    problem = answer.json()
    assert problem.keys() == {"type", "title", "status", "detail"}
    assert re.search(words, problem["detail"])
    assert client.get("/api/shoots").json()[0]["frames"] == []
    left = [path for folder in (library.files.folder, library.views, library.incoming) for path in folder.rglob("*")]
    assert left == []


def test_every_error_is_a_problem_with_a_sentence(client: TestClient, frame: dict[str, Any]) -> None:
    here = f"/api/frames/{frame['id']}"
    for answer, status in [
        (client.get("/api/nothing/here"), 404),
        (client.get("/api/frames/999"), 404),
        (client.get("/api/frames/words"), 422),
        (client.delete("/api/shoots/999"), 404),
        (client.post("/api/shoots", json={"name": "  "}), 400),
        (client.post("/api/shoots", json={}), 422),
        (client.post("/api/shoots", content=b"{"), 422),
        (client.post(f"{here}/sweeps", json={"shapes": [{**STROKE, "size": -1}]}), 422),
        (client.post(f"{here}/sweeps", json={"shapes": [{**STROKE, "erase": True}]}), 400),
        (client.post(f"{here}/undo"), 409),
        (client.patch(f"{here}/sweeps/none", json={}), 400),
        (client.post(f"{here}/sweeps/none/fill", json={}), 404),
        (client.get(f"{here}/delivery", params={"kind": "gif"}), 422),
        (client.post("/api/runs/7/cancel"), 404),
    ]:
        assert answer.status_code == status, answer.text
        assert answer.headers["content-type"] == "application/problem+json"
        assert answer.json()["status"] == status
        assert answer.json()["detail"]


def test_pages_from_elsewhere_are_turned_away(client: TestClient) -> None:
    assert client.get("/api/shoots", headers={"origin": "http://elsewhere.example"}).status_code == 403
    assert client.get("http://elsewhere.example/api/shoots").status_code == 403


@pytest.mark.parametrize("odd", ["\u00b2", "\u0663", "-1", "1e3", "9" * 40, " 7", ""])
def test_a_window_that_heard_of_no_such_number_hears_what_is_new(library: Library, odd: str) -> None:
    # In a thread of its own: a browser that another test drives has a loop in this one.
    with start_blocking_portal() as portal:
        stream = portal.call(listen, library, Request({"type": "http"}), odd)
    assert stream.media_type == "text/event-stream"


def test_events_tell_every_window_and_skip_what_was_overtaken(
    client: TestClient, library: Library, frame: dict[str, Any], work_on: Callable[[int], None]
) -> None:
    here = f"/api/frames/{frame['id']}"
    start = int(sure(_messages(library, 0)[-1].id))
    sweep = client.post(f"{here}/sweeps", json={"shapes": [STROKE]}).json()["sweep_id"]
    run = client.post(f"{here}/sweeps/{sweep}/fill", json={"takes": 2, "quality": "fast"}).json()["runs"][0]["id"]
    work_on(run)
    told = [json.loads(sure(message.data)) for message in _messages(library, start)]
    assert [event["kind"] for event in told] == ["frame", "take", "take", "run"]
    assert told[-1]["run"]["state"] == "done"


def test_whoever_asked_is_named_in_the_news_and_every_edit_answers_with_the_desk(
    client: TestClient, library: Library, frame: dict[str, Any]
) -> None:
    here = f"/api/frames/{frame['id']}"
    start = int(sure(_messages(library, 0)[-1].id))
    mine, theirs = {"x-window": "mine"}, {"x-window": "theirs"}
    made = client.post(f"{here}/sweeps", json={"shapes": [STROKE]}, headers=mine).json()
    sweep = f"{here}/sweeps/{made['sweep_id']}"
    edits = [
        client.post(f"{sweep}/shapes", json={"shapes": [STROKE]}, headers=theirs),
        client.patch(sweep, json={"name": "Chimney"}, headers=mine),
        client.post(f"{here}/guard", json={"shapes": [STROKE]}),
        client.post(f"{here}/undo", headers=mine),
        client.post(f"{here}/redo", headers=mine),
        client.delete(f"{here}/guard", headers=mine),
        client.post(f"{sweep}/split", headers=mine),
        client.delete(f"{sweep}/shapes", headers=mine),
        client.delete(sweep, headers=mine),
    ]
    for answer in edits:
        assert answer.status_code in (200, 201)
    told = edits[-1].json()
    assert told == client.get(here).json()
    assert [sweep["shapes"] for sweep in edits[0].json()["sweeps"]] == [2]
    news = [json.loads(sure(message.data)) for message in _messages(library, start)]
    assert [each["window"] for each in news[:4]] == ["mine", "theirs", "mine", None]
    assert told["news"] >= int(sure(_messages(library, start)[-1].id))


def test_pixels_finds_and_guard_are_told_apart_by_their_digests(
    client: TestClient, library: Library, frame: dict[str, Any], work_on: Callable[[int], None]
) -> None:
    here = f"/api/frames/{frame['id']}"
    before = client.get(here).json()
    made = client.post(f"{here}/sweeps", json={"shapes": [STROKE]}).json()
    marked = made["desk"]
    assert marked["pixels"] == before["pixels"], "a mark changes no pixel"
    sweep = f"{here}/sweeps/{made['sweep_id']}"
    run = client.post(f"{sweep}/fill", json={"takes": 1, "quality": "fast"}).json()["runs"][0]["id"]
    work_on(run)
    filled = client.get(here).json()
    assert filled["pixels"] != before["pixels"], "a take can be looked at now"
    picked = client.patch(sweep, json={"pick": filled["sweeps"][0]["best"]}).json()
    assert picked["pixels"] == filled["pixels"], "it stood before it was picked"
    shot = client.patch(sweep, json={"pick": None}).json()
    assert shot["pixels"] not in (before["pixels"], filled["pixels"])
    assert client.patch(sweep, json={"pick": filled["sweeps"][0]["best"]}).json()["pixels"] == picked["pixels"]
    assert client.patch(sweep, json={"name": "Chimney"}).json()["pixels"] == picked["pixels"]
    assert client.patch(sweep, json={"amount": 50}).json()["pixels"] != picked["pixels"]
    guarded = client.post(f"{here}/guard", json={"shapes": [STROKE]}).json()
    assert before["guard"] is None
    assert guarded["guard"] is not None
    assert guarded["finds"] == before["finds"]


def test_the_schema_served_is_the_one_the_client_was_made_from(client: TestClient) -> None:
    committed = json.loads((Path(__file__).parents[2] / "openapi.json").read_text())
    assert client.get("/api/openapi.json").json() == committed


def test_names_keep_to_themselves(client: TestClient, frame: dict[str, Any]) -> None:
    shoot = frame["shoot_id"]
    renamed = client.patch(f"/api/shoots/{shoot}", json={"name": "Dächer / 屋根"})
    assert renamed.json()["name"] == "Dächer / 屋根"
    data = bytes(imagecodecs.png_encode(np.zeros((9, 9, 3), np.uint8)))
    added = client.post(
        f"/api/shoots/{shoot}/frames", params={"name": "../../Bild ü.png"}, content=bytes(data or b"")
    ).json()
    assert added["name"] == "Bild ü.png"
    delivery = client.get(f"/api/frames/{added['id']}/delivery")
    assert "Bild%20%C3%BC-swept.png" in delivery.headers["content-disposition"]
    assert client.delete(f"/api/frames/{added['id']}").status_code == 204
