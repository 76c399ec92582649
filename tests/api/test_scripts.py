"""What a script needs: runs that it can wait for, single shoots, and a document that tells what is sent."""

import errno
import io
import sqlite3
import threading
import zipfile
from collections.abc import Callable
from datetime import timedelta
from functools import partial
from typing import Any

import imagecodecs
import numpy as np
import pytest
from fastapi.testclient import TestClient

from keen_sweep.store.library import Library
from keen_sweep.store.tables import Answered, Frame
from keen_sweep.store.words import AnswerState
from keen_sweep.studio.delivering.into import MISSING_NAME
from keen_sweep.studio.marking import cling

STROKE = {"kind": "stroke", "points": [[60, 50], [80, 50]], "size": 14}


@pytest.fixture
def asked(client: TestClient, here: str) -> dict[str, Any]:
    """A fill that was asked for: where its run is, and its number."""
    sweep = client.post(f"{here}/sweeps", json={"shapes": [STROKE]}).json()["sweep_id"]
    answer = client.post(f"{here}/sweeps/{sweep}/fill", json={"takes": 1, "quality": "fast"})
    assert answer.status_code == 202
    return {"at": answer.headers["Location"], "run": answer.json()["runs"][0]["id"]}


def test_a_fill_says_where_its_run_is(
    client: TestClient, asked: dict[str, Any], work_on: Callable[[int], None]
) -> None:
    before = client.get(asked["at"], params={"wait": 0.2}).json()
    assert (before["id"], before["state"]) == (asked["run"], "waiting")
    work_on(asked["run"])
    after = client.get(asked["at"], params={"wait": 30}).json()
    assert (after["state"], after["progress"]) == ("done", 1.0)


def test_whoever_waits_for_a_run_hears_when_it_has_ended(client: TestClient, asked: dict[str, Any]) -> None:
    heard: list[dict[str, Any]] = []
    listener = threading.Thread(target=lambda: heard.append(client.get(asked["at"], params={"wait": 60}).json()))
    listener.start()
    client.post(f"{asked['at']}/cancel")
    listener.join(timeout=30)
    assert [each["state"] for each in heard] == ["cancelled"]


def test_a_run_that_is_not_there(client: TestClient) -> None:
    answer = client.get("/api/runs/12345")
    assert answer.status_code == 404
    assert answer.headers["content-type"] == "application/problem+json"
    assert client.get("/api/runs/1", params={"wait": 1e9}).status_code == 422


def test_a_single_shoot(client: TestClient, frame: dict[str, Any]) -> None:
    (listed,) = client.get("/api/shoots").json()
    assert client.get(f"/api/shoots/{frame['shoot_id']}").json() == listed
    assert client.patch(f"/api/shoots/{frame['shoot_id']}", json={"name": "Eaves"}).json()["frames"] == listed["frames"]
    client.delete(f"/api/shoots/{frame['shoot_id']}")
    assert client.get(f"/api/shoots/{frame['shoot_id']}").status_code == 404


def test_the_document_tells_how_problems_are_sent(client: TestClient) -> None:
    document = client.get("/api/openapi.json").json()
    for operations in document["paths"].values():
        for operation in operations.values():
            problems = {status: answer for status, answer in operation["responses"].items() if not status < "3"}
            assert {"default", "400", "403", "422", "507"} <= problems.keys()
            for answer in (
                document["components"]["responses"][each["$ref"].split("/")[-1]] for each in problems.values()
            ):
                assert list(answer["content"]) == ["application/problem+json"]
                assert answer["content"]["application/problem+json"]["schema"]["$ref"].endswith("/Problem")
    assert "404" in document["paths"]["/api/runs/{run_id}"]["get"]["responses"]
    assert "Problem" in document["components"]["schemas"]


def test_files_are_what_the_document_says(client: TestClient, here: str, filled: dict[str, Any]) -> None:
    document = client.get("/api/openapi.json").json()["paths"]
    sweep = filled["sweeps"][0]["id"]
    frame = "/api/frames/{frame_id}"
    for path, at in (
        (f"{frame}/tiles/{{level}}/{{column}}/{{row}}", f"{here}/tiles/0/0/0"),
        (f"{frame}/crop", f"{here}/crop?x=0&y=0&width=50&height=50"),
        (f"{frame}/sweeps/{{sweep_id}}/mask", f"{here}/sweeps/{sweep}/mask"),
        (f"{frame}/pieces/{{size}}", f"{here}/pieces/large"),
        (f"{frame}/delivery", f"{here}/delivery"),
        ("/api/deliveries/zip", "/api/deliveries/zip?frames=1"),
        ("/api/ledger.csv", "/api/ledger.csv?frames=1"),
        ("/api/ledger.html", "/api/ledger.html?frames=1"),
    ):
        answer = client.get(at)
        assert answer.status_code == 200, at
        sent = answer.headers["content-type"].split(";")[0]
        assert sent in document[path]["get"]["responses"]["200"]["content"], at


def test_a_fill_that_is_asked_for_again_under_its_key_is_made_once(client: TestClient, here: str) -> None:
    sweep = client.post(f"{here}/sweeps", json={"shapes": [STROKE]}).json()["sweep_id"]
    at, how = f"{here}/sweeps/{sweep}/fill", {"takes": 1, "quality": "fast"}
    key = {"Idempotency-Key": "night 4, frame 17"}
    first, again = (client.post(at, json=how, headers=key) for _ in range(2))
    assert (first.status_code, again.status_code) == (202, 202)
    assert again.json() == first.json()
    assert again.headers["Location"] == first.headers["Location"]
    assert client.get("/api/runs/2").status_code == 404
    other = client.post(at, json={**how, "takes": 2}, headers=key)
    assert other.status_code == 400
    assert "used for another request" in other.json()["detail"]
    assert client.post(at, json=how, headers={"Idempotency-Key": "x" * 201}).status_code == 422


def test_what_was_refused_may_be_asked_for_again(client: TestClient, here: str) -> None:
    """Only what was done is kept."""
    key = {"Idempotency-Key": "k"}
    at = f"{here}/sweeps/none/fill"
    assert client.post(at, json={"takes": 1}, headers=key).status_code == 404
    made = client.post("/api/shoots", json={"name": "Eaves"}, headers=key)
    assert made.status_code == 201
    assert client.post("/api/shoots", json={"name": "Eaves"}, headers=key).json() == made.json()
    assert [each["name"] for each in client.get("/api/shoots").json()] == ["Eaves", "Roofs"]


def test_a_key_is_forgotten_after_a_day(client: TestClient, library: Library, here: str) -> None:
    key = {"Idempotency-Key": "k"}
    one = client.post("/api/shoots", json={"name": "Eaves"}, headers=key).json()
    with library.session(write=True) as session:
        row = session.get_one(Answered, "k")
        row.at -= timedelta(days=1, minutes=1)
        session.add(row)
    other = client.post("/api/shoots", json={"name": "Eaves"}, headers=key)
    assert (other.status_code, other.json()["id"]) == (201, one["id"] + 1)


def test_an_answer_that_cannot_be_kept_is_given_all_the_same(
    client: TestClient, here: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    sweep = client.post(f"{here}/sweeps", json={"shapes": [STROKE]}).json()["sweep_id"]
    at, how = f"{here}/sweeps/{sweep}/fill", {"takes": 1, "quality": "fast"}
    with monkeypatch.context() as patch:

        def full(*_: object) -> None:
            raise OSError(errno.ENOSPC, "No space left on device")

        patch.setattr("keen_sweep.api.idempotency.keep_answer", full)
        assert client.post(at, json=how, headers={"Idempotency-Key": "k"}).status_code == 202
    again = client.post(at, json=how, headers={"Idempotency-Key": "k"})
    assert (again.status_code, "part of it may be done" in again.json()["detail"]) == (409, True)
    assert client.get("/api/runs/2").status_code == 404, "and nothing was done twice"


@pytest.mark.parametrize(("state", "status"), [(AnswerState.PENDING, 201), (AnswerState.BEGUN, 409)])
def test_after_a_kill_nothing_is_done_twice(
    client: TestClient, library: Library, state: AnswerState, status: int
) -> None:
    """What was written of a request is known by its row: nothing yet, or at least some of it."""
    key = {"Idempotency-Key": "k"}
    client.post("/api/shoots", json={"name": "Eaves"}, headers=key)
    with library.session(write=True) as session:
        row = session.get_one(Answered, "k")
        row.state = state
        session.add(row)
    assert client.post("/api/shoots", json={"name": "Eaves"}, headers=key).status_code == status


def test_others_write_while_a_request_under_a_key_is_worked_on(
    client: TestClient, library: Library, here: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    """A cling that takes a minute holds up no progress of a fill."""
    wrote: list[str] = []

    def slow(*given: Any) -> Any:
        with sqlite3.connect(library.database, timeout=0) as other:
            other.execute("BEGIN IMMEDIATE")
            wrote.append("progress")
        return thing_under(*given)

    thing_under = cling.thing_under
    monkeypatch.setattr(cling, "thing_under", slow)
    answer = client.post(f"{here}/cling", json={"shape": STROKE}, headers={"Idempotency-Key": "k"})
    assert (answer.status_code, wrote) == (201, ["progress"])


def test_an_edit_of_what_was_changed_meanwhile_is_refused(client: TestClient, here: str) -> None:
    """Two clients look at a frame, both edit it: the second one hears that it went on, and nothing of the first is
    lost."""
    at_first = client.get(here)
    seen = {"If-Match": at_first.headers["ETag"]}
    assert seen["If-Match"] == f'"{at_first.json()["revision"]}"'
    one = client.post(f"{here}/sweeps", json={"shapes": [STROKE]}, headers=seen)
    assert one.status_code == 201
    sweep = f"{here}/sweeps/{one.json()['sweep_id']}"
    now = client.get(here)
    edits: list[Callable[[], Any]] = [
        lambda: client.post(f"{here}/sweeps", json={"shapes": [STROKE]}, headers=seen),
        lambda: client.patch(sweep, json={"name": "Kite"}, headers=seen),
        lambda: client.post(f"{sweep}/fill", json={"takes": 1}, headers=seen),
        lambda: client.delete(sweep, headers=seen),
        lambda: client.post(f"{here}/undo", headers=seen),
        lambda: client.post(f"{here}/history/{at_first.json()['revision']}", headers=seen),
        lambda: client.post(f"{here}/guard", json={"shapes": [STROKE]}, headers=seen),
    ]
    for edit in edits:
        refused = edit()
        assert (refused.status_code, refused.json()["type"]) == (412, "/problems/outdated"), refused.text
        assert f"revision {now.json()['revision']}" in refused.json()["detail"]
    assert client.get(here).json() == now.json()
    # Whoever has looked anew goes on; what is only read needs nothing, and several will do.
    either = {"If-Match": f"{seen['If-Match']}, {now.headers['ETag']}"}
    assert client.get(here, headers=seen).status_code == 200
    assert client.patch(sweep, json={"name": "Kite"}, headers=either).json()["sweeps"][0]["name"] == "Kite"
    assert client.post(f"{here}/undo", headers={"If-Match": "*"}).status_code == 200


def test_what_is_done_in_several_steps_has_seen_its_own(client: TestClient, here: str) -> None:
    """A fill of two areas parts the sweep first, which makes a revision."""
    apart = [STROKE, {**STROKE, "points": [[60, 90], [80, 90]]}]
    sweep = client.post(f"{here}/sweeps", json={"shapes": apart}).json()["sweep_id"]
    seen = {"If-Match": client.get(here).headers["ETag"]}
    made = client.post(f"{here}/sweeps/{sweep}/fill", json={"takes": 1, "quality": "fast"}, headers=seen)
    assert (made.status_code, len(made.json()["runs"])) == (202, 2)


@pytest.mark.parametrize("said", ["17", '"seventeen"', '"1" "2"', 'W/"1"', '"1",'])
def test_a_revision_that_makes_no_sense_is_refused(client: TestClient, here: str, said: str) -> None:
    answer = client.post(f"{here}/undo", headers={"If-Match": said})
    assert (answer.status_code, answer.json()["type"]) == (400, "/problems/bad-request")


def test_every_edit_of_a_frame_heeds_what_was_seen(client: TestClient) -> None:
    """To deliver a frame is no edit of it."""
    document = client.get("/api/openapi.json").json()
    heeding: set[tuple[str, str]] = set()
    not_heeding: set[tuple[str, str]] = set()
    for path, operations in document["paths"].items():
        for method, operation in operations.items():
            if path.startswith("/api/frames/{frame_id}"):
                named = {each["name"] for each in operation.get("parameters", [])}
                (heeding if "If-Match" in named else not_heeding).add((method, path))
                assert ("If-Match" in named) == ("412" in operation["responses"])
    assert {each for each in not_heeding if each[0] != "get"} == {("post", "/api/frames/{frame_id}/delivery")}
    assert not {each for each in heeding if each[0] == "get"}


def pages(client: TestClient, address: str, limit: int) -> list[list[Any]]:
    """All pages of a list, each got from where the one before says that the next one is."""
    out, there = [], f"{address}?limit={limit}"
    while there:
        answer = client.get(there)
        assert answer.status_code == 200, answer.text
        out.append(answer.json())
        link = answer.headers.get("Link", "")
        assert link == "" or link.endswith('>; rel="next"')
        there = link[1:].split(">")[0]
    return out


def test_long_lists_come_by_pages(client: TestClient, here: str) -> None:
    for name in ("Eaves", "Gables", "Ridges"):
        client.post("/api/shoots", json={"name": name})
    for _ in range(4):
        client.post(f"{here}/sweeps", json={"shapes": [STROKE]})
    for address, many in (("/api/shoots", 4), (f"{here}/history", 5), (f"{here}/series", 1)):
        whole = client.get(address)
        assert "Link" not in whole.headers
        for limit in (1, 2, many, 100):
            found = pages(client, address, limit)
            assert [each for page in found for each in page] == whole.json()
            assert [len(page) for page in found[:-1]] == [limit] * (len(found) - 1)
            assert len(found) == -(-many // limit)
    # What is added meanwhile moves nothing.
    (first, *_) = pages(client, "/api/shoots", 2)
    client.post("/api/shoots", json={"name": "Valleys"})
    rest = client.get("/api/shoots", params={"after": first[-1]["id"]}).json()
    assert [each["name"] for each in (*first, *rest)] == ["Ridges", "Gables", "Eaves", "Roofs"]
    assert client.get("/api/shoots", params={"after": 999}).status_code == 404
    assert client.get("/api/shoots", params={"limit": 0}).status_code == 422


def test_former_names_are_answered_as_before_and_say_that_they_go(client: TestClient, here: str) -> None:
    """Whatever is marked as deprecated is named in the header of its answer (RFC 9745), and does what its heir does."""
    document = client.get("/api/openapi.json").json()
    former = {
        (method, path)
        for path, operations in document["paths"].items()
        for method, operation in operations.items()
        if operation.get("deprecated")
    }
    assert len(former) == 8
    assert all(method == "post" for method, _ in former)
    sweeps = [client.post(f"{here}/sweeps", json={"shapes": [STROKE]}).json()["sweep_id"] for _ in range(2)]
    answer = client.post(f"{here}/sweeps/{sweeps[0]}/reorder", params={"by": 1})
    assert [each["id"] for each in answer.json()["sweeps"]] == sweeps[::-1]
    assert answer.headers["Deprecation"].startswith("@")
    answer = client.patch(f"{here}/sweeps/{sweeps[0]}", json={"later": -1})
    assert [each["id"] for each in answer.json()["sweeps"]] == sweeps
    assert "Deprecation" not in answer.headers
    dab = {"brush": "heal", "stroke": {"points": [[60, 50]], "size": 8}}
    touch = client.post(f"{here}/touches", json=dab).json()["touch_id"]
    these = {"touches": [touch]}
    for hide in (
        partial(client.post, f"{here}/touches/show", params={"shown": False}, json=these),
        partial(client.patch, f"{here}/touches", json={**these, "shown": False}),
    ):
        assert [each["shown"] for each in hide().json()["touches"]] == [False]
        assert [each["shown"] for each in client.post(f"{here}/undo").json()["touches"]] == [True]
    for delete in (
        partial(client.post, f"{here}/touches/delete", json=these),
        partial(client.patch, f"{here}/touches", json={**these, "deleted": True}),
    ):
        assert delete().json()["touches"] == []
        client.post(f"{here}/undo")
    assert client.post(f"{here}/let-go").status_code == 200
    assert client.post(f"{here}/version-updates", json={"fills": "drop"}).json()["done"] == 0


def test_to_fetch_a_file_changes_nothing_and_whoever_kept_it_says_so(
    client: TestClient, library: Library, here: str, frame: dict[str, Any]
) -> None:
    def state() -> str:
        (only,) = client.get(f"/api/shoots/{frame['shoot_id']}/standings").json()
        return str(only["state"])

    assert client.get(f"{here}/delivery").status_code == 200
    assert client.get("/api/deliveries/zip", params={"frames": frame["id"]}).status_code == 200
    assert state() == "untouched"
    assert client.post("/api/deliveries/made", json={"frames": [frame["id"]]}).status_code == 204
    assert state() == "delivered"
    assert client.post("/api/deliveries/made", json={"frames": [4711]}).status_code == 404


def test_a_zip_is_whole_though_a_picture_cannot_be_delivered(
    client: TestClient, library: Library, here: str, frame: dict[str, Any]
) -> None:
    shoot = f"/api/shoots/{frame['shoot_id']}/frames"
    black = bytes(imagecodecs.png_encode(np.zeros((9, 9, 3), np.uint8)))
    other = client.post(shoot, params={"name": "other.png"}, content=black).json()["id"]
    with library.session() as session:
        library.files.path(session.get_one(Frame, other).original).unlink()
    answer = client.get("/api/deliveries/zip", params={"frames": [other, frame["id"]]})
    with zipfile.ZipFile(io.BytesIO(answer.content)) as packed:
        assert packed.testzip() is None
        names = packed.namelist()
        assert len(names) == 2
        assert names[1] == MISSING_NAME
        assert packed.read(MISSING_NAME).decode().startswith(f"frame {other}: ")
