"""Carrying over by the interface: the series, what was asked for, what came of it, and what cannot be."""

from collections.abc import Callable
from typing import Any

import cv2
import imagecodecs
import numpy as np
import pytest
from fastapi.testclient import TestClient
from numpy.typing import NDArray
from sqlmodel import col, select

from keen_sweep.store.library import Library
from keen_sweep.store.tables import Carrying
from keen_sweep.store.words import RunState
from keen_sweep.studio.running.carriers import carry_out

ROD = {"kind": "stroke", "points": [[300, 200], [390, 224]], "size": 17}


@pytest.fixture
def frames(client: TestClient, photograph: NDArray[Any]) -> list[dict[str, Any]]:
    """A rod before a roof, the same from a little aside, and without the rod."""
    shoot = client.post("/api/shoots", json={"name": "Roofs"}).json()

    def rod(at: tuple[int, int]) -> NDArray[Any]:
        out = photograph.copy()
        cv2.line(out, at, (at[0] + 90, at[1] + 24), (25, 20, 30), 7)
        return out

    pictures = (rod((340, 220))[20:380, 40:560], rod((340, 220))[29:389, 54:574], photograph[24:384, 46:566])
    out = []
    for k, pixels in enumerate(pictures, start=1):
        data = bytes(imagecodecs.png_encode(np.ascontiguousarray(pixels)))
        name = {"name": f"roof-{k}.png"}
        out.append(client.post(f"/api/shoots/{shoot['id']}/frames", params=name, content=data).json())
    return out


@pytest.fixture
def here(frames: list[dict[str, Any]]) -> str:
    return f"/api/frames/{frames[0]['id']}"


@pytest.fixture
def rod(client: TestClient, here: str) -> str:
    return str(client.post(f"{here}/sweeps", json={"shapes": [ROD], "name": "Rod"}).json()["sweep_id"])


@pytest.fixture
def carried(library: Library) -> Callable[[], None]:
    """Does what a carrier would do for everything that waits."""

    def work() -> None:
        with library.session() as session:
            rows = list(
                session.exec(select(Carrying).where(col(Carrying.state).in_([RunState.WAITING, RunState.RUNNING])))
            )
            for row in rows:
                row.state = RunState.RUNNING
                session.add(row)
        for row in rows:
            carry_out(library, row.id)

    return work


def test_a_series_tells_what_landed_where(
    client: TestClient, here: str, frames: list[dict[str, Any]], rod: str, carried: Callable[[], None]
) -> None:
    before = client.get(f"{here}/series").json()
    assert [(each["name"], each["state"], each["carrying"]) for each in before] == [
        ("roof-1.png", "marked", None),
        ("roof-2.png", "untouched", None),
        ("roof-3.png", "untouched", None),
    ]
    asked = client.post(f"{here}/carry", json={"sweeps": [rod]})
    assert asked.status_code == 202
    assert [each["carrying"] for each in asked.json()] == [None, "waiting", "waiting"]
    carried()
    _, second, third = client.get(f"{here}/series").json()
    assert [each["verdict"] for each in second["landed"]] == ["landed"]
    assert [each["verdict"] for each in third["landed"]] == ["not there"]
    box = second["landed"][0]["box"]
    assert abs(box["x"] + 14 - 300 + 8.5) < 6
    assert second["marked"] == [second["landed"][0]["made"]]
    desk = client.get(f"/api/frames/{frames[1]['id']}").json()
    assert desk["sweeps"][0]["carried"]["name"] == "roof-1.png"
    assert desk["sweeps"][0]["state"] == "marked"
    # Asked for once more, it is told once.
    client.post(f"{here}/carry", json={"sweeps": [rod], "frames": [frames[1]["id"]]})
    carried()
    again = client.get(f"{here}/series").json()[1]
    assert len(again["landed"]) == 1
    assert len(client.get(f"/api/frames/{frames[1]['id']}").json()["sweeps"]) == 1
    # Deleted there it is as if it had never come; brought back it is there again.
    there = f"/api/frames/{frames[1]['id']}"
    client.delete(f"{there}/sweeps/{again['landed'][0]['made']}")
    assert client.get(f"{here}/series").json()[1]["landed"] == []
    client.post(f"{there}/undo")
    assert client.get(f"{here}/series").json()[1]["landed"] == again["landed"]


def test_all_is_filled_and_judged(
    client: TestClient,
    here: str,
    frames: list[dict[str, Any]],
    rod: str,
    carried: Callable[[], None],
    work_on: Callable[[int], None],
) -> None:
    second = frames[1]["id"]
    client.post(f"{here}/carry", json={"frames": [second], "fill": True})
    carried()
    desk = client.get(f"/api/frames/{second}").json()
    assert desk["sweeps"][0]["state"] == "waiting"
    busy = client.get(f"{here}/series").json()[1]
    assert (busy["state"], len(busy["filling"]), busy["marked"]) == ("doubtful", 1, [])
    refused = client.post(f"{here}/series/approve", json={"frames": [second], "good": False})
    assert refused.status_code == 409
    assert "still being filled" in refused.json()["detail"]
    work_on(desk["sweeps"][0]["run"]["id"])
    assert client.get(f"/api/frames/{second}").json()["sweeps"][0]["state"] == "kept"
    good = client.post(f"{here}/series/approve", json={"frames": [second], "good": True}).json()
    assert good[1]["state"] == "done"
    bad = client.post(f"{here}/series/approve", json={"frames": [second], "good": False}).json()
    assert bad[1]["state"] == "doubtful"
    settled = client.post(f"/api/frames/{second}/sweeps/{bad[1]['doubtful'][0]}/settle").json()
    assert (settled["sweeps"][0]["state"], settled["sweeps"][0]["carried"]["doubtful"]) == ("choose", False)


def test_what_waits_to_be_chosen_is_shown_and_picked_by_a_yes(
    client: TestClient,
    here: str,
    frames: list[dict[str, Any]],
    rod: str,
    carried: Callable[[], None],
    work_on: Callable[[int], None],
) -> None:
    second = frames[1]["id"]
    at = f"/api/frames/{second}"
    client.post(f"{here}/carry", json={"frames": [second]})
    carried()
    assert client.get(f"{here}/series").json()[1]["offered"] == []
    client.post(f"{here}/series/fill", json={"frames": [second], "how": {"takes": 2, "quality": "fast"}})
    assert client.get(f"{here}/series").json()[1]["offered"] == []
    work_on(client.get(at).json()["sweeps"][0]["run"]["id"])
    (sweep,) = client.get(at).json()["sweeps"]
    told = client.get(f"{here}/series").json()[1]
    assert (told["state"], told["offered"]) == ("to choose", [sweep["best"]])
    box = {**sweep["box"], "across": 200}
    plain, shown, same = (
        client.get(f"{at}/crop", params={"revision": told["revision"], **look, **box}).content
        for look in ({}, {"takes": told["offered"]}, {"sweep": sweep["id"], "take": sweep["best"]})
    )
    assert shown == same == plain, "it stands before it is approved"
    yes = client.post(f"{here}/series/approve", json={"frames": [second], "good": True}).json()[1]
    assert (yes["state"], yes["offered"]) == ("done", [])
    assert client.get(at).json()["sweeps"][0]["pick"] == sweep["best"]


def test_what_is_marked_in_chosen_frames_is_filled(
    client: TestClient, here: str, frames: list[dict[str, Any]], rod: str
) -> None:
    shoot = frames[0]["shoot_id"]
    told = client.get(f"/api/shoots/{shoot}/standings").json()
    assert [(each["state"], each["marked"]) for each in told] == [("marked", 1), ("untouched", 0), ("untouched", 0)]
    nothing = client.post(f"/api/shoots/{shoot}/fill", json={"frames": [frames[2]["id"]]})
    assert nothing.status_code == 400
    asked = client.post(f"/api/shoots/{shoot}/fill", json={"frames": [each["id"] for each in frames]})
    assert asked.json() == {"asked": 1, "refused": []}
    assert client.get(f"/api/shoots/{shoot}/standings").json()[0]["state"] == "filling"
    series = client.post(f"{here}/series/fill", json={})
    assert series.status_code == 400


def test_what_makes_no_sense_is_said(client: TestClient, here: str, frames: list[dict[str, Any]], rod: str) -> None:
    assert client.post("/api/frames/999/carry", json={}).status_code == 404
    assert client.post(f"{here}/carry", json={"frames": [999]}).status_code == 404
    assert client.post(f"{here}/carry", json={"sweeps": ["none"]}).status_code == 404
    empty = client.post(f"/api/frames/{frames[1]['id']}/carry", json={})
    assert empty.status_code == 400
    assert "Nothing is marked" in empty.json()["detail"]
    assert client.post(f"{here}/series/approve", json={"frames": [], "good": True}).status_code == 422
    assert client.post(f"{here}/sweeps/none/settle").status_code == 404


def test_a_take_says_whose_pixels_it_has(
    client: TestClient, here: str, rod: str, work_on: Callable[[int], None]
) -> None:
    client.patch(f"{here}/sweeps/{rod}", json={"method": "borrow"})
    asked = client.post(f"{here}/sweeps/{rod}/fill", json={"takes": 1}).json()
    work_on(asked["runs"][0]["id"])
    (sweep,) = client.get(here).json()["sweeps"]
    (take,) = sweep["takes"]
    assert take["method"] == "borrow"
    # The rod stands in the second frame too.
    assert take["made"]["sisters"] == ["roof-3"]
    assert take["made"]["borrowed"] > 0.9
    assert sweep["best"] == take["id"]


def test_a_shoot_of_one_has_nobody_to_borrow_from(client: TestClient, work_on: Callable[[int], None]) -> None:
    shoot = client.post("/api/shoots", json={"name": "One"}).json()
    data = bytes(imagecodecs.png_encode(np.random.default_rng(1).integers(0, 255, (120, 160, 3)).astype(np.uint8)))
    frame = client.post(f"/api/shoots/{shoot['id']}/frames", params={"name": "one.png"}, content=data).json()
    at = f"/api/frames/{frame['id']}"
    sweep = client.post(f"{at}/sweeps", json={"shapes": [{**ROD, "points": [[60, 60]]}]}).json()["sweep_id"]
    client.patch(f"{at}/sweeps/{sweep}", json={"method": "borrow"})
    asked = client.post(f"{at}/sweeps/{sweep}/fill", json={"takes": 1}).json()
    work_on(asked["runs"][0]["id"])
    (failed,) = client.get(at).json()["sweeps"]
    assert failed["state"] == "failed"
    assert "only one picture" in failed["run"]["error"]
