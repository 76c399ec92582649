"""Marking over the interface: each edit answers with the desk, and what cannot be is said and changes nothing."""

import io
from pathlib import Path
from typing import Any

import imagecodecs
import numpy as np
import pytest
from fastapi.testclient import TestClient
from numpy.typing import NDArray
from PIL import Image

from keen_sweep.core.mask.rings import rings_of
from keen_sweep.store.library import Library
from keen_sweep.studio.open_frame import open_frame
from tests.support.strokes import STROKE

FAR = {"kind": "stroke", "points": [[150, 100], [170, 100]], "size": 12}
OUTLINE = {"kind": "outline", "points": [[20, 20], [50, 20], [50, 50], [20, 50]]}


def mask_of(client: TestClient, here: str, sweep: str) -> NDArray[Any]:
    return np.asarray(Image.open(io.BytesIO(client.get(f"{here}/sweeps/{sweep}/mask").content)))


@pytest.fixture
def marked(client: TestClient, here: str) -> str:
    return str(client.post(f"{here}/sweeps", json={"shapes": [STROKE, FAR], "name": "Two"}).json()["sweep_id"])


def test_areas_are_split_and_joined_again(client: TestClient, here: str, marked: str) -> None:
    whole = mask_of(client, here, marked)
    apart = client.post(f"{here}/sweeps/{marked}/split").json()["sweeps"]
    assert [each["name"] for each in apart] == ["Two 1", "Two 2"]
    assert [each["shapes"] for each in apart] == [1, 1]
    both = [each["id"] for each in apart]
    joined = client.post(f"{here}/sweeps/join", json={"sweeps": both}).json()["sweeps"]
    assert [(each["id"], each["together"]) for each in joined] == [(marked, True)]
    assert np.array_equal(mask_of(client, here, marked), whole)
    assert client.post(f"{here}/sweeps/join", json={"sweeps": [marked, "none"]}).status_code == 400
    assert client.get(here).json()["sweeps"] == joined


def test_rims_are_those_of_the_mask_and_of_a_fit_that_is_tried(
    client: TestClient, library: Library, here: str, frame: dict[str, Any], marked: str
) -> None:
    told = client.get(f"{here}/sweeps/{marked}/rings").json()["rings"]
    assert told == rings_of(open_frame(library, frame["id"]).mask(marked))
    before = client.get(here).json()
    wider = client.get(f"{here}/sweeps/{marked}/rings", params={"margin": 6, "feather": 2}).json()["rings"]
    assert max(max(ring) for ring in wider) > max(max(ring) for ring in told)
    assert client.get(here).json() == before, "it was only tried"
    too_much = client.get(f"{here}/sweeps/{marked}/rings", params={"margin": 9_000})
    assert too_much.status_code == 400
    assert "500" in too_much.json()["detail"]
    assert client.get(f"{here}/sweeps/none/rings").status_code == 404


def test_a_mask_comes_in_as_a_file_and_one_of_another_size_does_not(
    client: TestClient, here: str, marked: str, library: Library
) -> None:
    cover = np.zeros((150, 200), np.uint8)
    cover[100:120, 20:60] = 255
    data = bytes(imagecodecs.png_encode(cover))
    made = client.post(f"{here}/sweeps/from-mask", content=data).json()
    assert np.array_equal(mask_of(client, here, made["sweep_id"]), cover)
    added = client.post(f"{here}/sweeps/from-mask", params={"sweep_id": marked}, content=data).json()
    assert added["sweep_id"] == marked
    assert mask_of(client, here, marked)[110, 40] == 255
    before = client.get(here).json()["revision"]
    for wrong, status in ((bytes(imagecodecs.png_encode(cover[:99])), 422), (b"no picture", 422)):
        assert client.post(f"{here}/sweeps/from-mask", content=wrong).status_code == status
    assert client.get(here).json()["revision"] == before
    assert list(Path(library.incoming).iterdir()) == []


def test_a_mask_that_is_black_on_white_is_known_and_can_be_flipped(client: TestClient, here: str) -> None:
    cover = np.full((150, 200), 255, np.uint8)
    cover[60:90, 80:120] = 0
    made = client.post(f"{here}/sweeps/from-mask", content=bytes(imagecodecs.png_encode(cover))).json()
    assert made["seems_flipped"]
    client.post(f"{here}/sweeps/{made['sweep_id']}/flip").raise_for_status()
    assert np.array_equal(mask_of(client, here, made["sweep_id"]), 255 - cover)
    client.post(f"{here}/undo").raise_for_status()
    assert np.array_equal(mask_of(client, here, made["sweep_id"]), cover)
    white = client.post(f"{here}/sweeps/from-mask", content=bytes(imagecodecs.png_encode(255 - cover))).json()
    assert not white["seems_flipped"]
    assert client.post(f"{here}/sweeps/none/flip").status_code == 404


def test_many_areas_are_split_on_request(client: TestClient, here: str) -> None:
    dots = [{"kind": "stroke", "points": [[12 * k + 10, 40]], "size": 3} for k in range(15)]
    made = client.post(f"{here}/sweeps", json={"shapes": dots}).json()["sweep_id"]
    assert len(client.post(f"{here}/sweeps/{made}/split").json()["sweeps"]) == 15


def test_what_is_under_the_pointer_is_protected(client: TestClient, here: str) -> None:
    desk = client.post(f"{here}/guard/under", json={"x": 60, "y": 50, "size": 8}).json()
    assert desk["guard"]
    guarded = client.get(f"{here}/guard/rings").json()["rings"]
    assert guarded
    assert client.post(f"{here}/guard/under", json={"x": -900, "y": 50}).status_code == 422


def test_a_careless_mark_clings_and_one_beside_the_picture_is_refused(client: TestClient, here: str) -> None:
    answer = client.post(f"{here}/cling", json={"shape": OUTLINE})
    assert answer.status_code == 201
    (sweep,) = answer.json()["desk"]["sweeps"]
    assert sweep["id"] == answer.json()["sweep_id"]
    assert sweep["fit"]["margin"] >= 0
    beside = {"kind": "stroke", "points": [[-900, -900]], "size": 4}
    assert client.post(f"{here}/cling", json={"shape": beside}).status_code == 422
    area = {"kind": "area", "file": "0" * 64, "box": {"x": 0, "y": 0, "width": 4, "height": 4}}
    assert client.post(f"{here}/cling", json={"shape": area}).status_code == 422, "an area clings to nothing"


def test_what_is_shown_under_a_pointer_is_what_a_click_takes(client: TestClient, here: str) -> None:
    before = client.get(here).json()
    shown = client.get(f"{here}/under", params={"x": 60, "y": 50, "size": 8}).json()["rings"]
    assert shown
    assert client.get(here).json() == before, "it was only shown"
    dab = {"kind": "stroke", "points": [[60, 50]], "size": 8}
    made = client.post(f"{here}/cling", json={"shape": dab}).json()["sweep_id"]
    assert client.get(f"{here}/sweeps/{made}/rings", params={"margin": 0}).json()["rings"] == shown
    assert client.get(f"{here}/under", params={"x": -500, "y": 50, "size": 8}).status_code == 422
    wrongs: list[dict[str, str | int]] = [
        {"x": 60, "y": 50},
        {"x": "nan", "y": 50, "size": 8},
        {"x": 60, "y": 50, "size": 0},
    ]
    for wrong in wrongs:
        assert client.get(f"{here}/under", params=wrong).status_code == 422


def test_an_area_that_nobody_kept_is_refused(client: TestClient, here: str, marked: str) -> None:
    box = {"x": 0, "y": 0, "width": 4, "height": 4}
    area = {"kind": "area", "file": "0" * 64, "box": box}
    before = client.get(here).json()
    assert client.post(f"{here}/sweeps/{marked}/shapes", json={"shapes": [area]}).status_code == 404
    assert client.post(f"{here}/guard", json={"shapes": [{**area, "file": "../../etc"}]}).status_code == 404
    kept = client.get(f"{here}/sweeps/{marked}/advice").json()["proposals"]
    for each in kept:
        other = {**each["area"], "box": {**each["area"]["box"], "width": 1}}
        assert client.post(f"{here}/sweeps/{marked}/shapes", json={"shapes": [other]}).status_code == 400
    assert client.get(here).json()["revision"] == before["revision"]


def test_pieces_are_taken_by_their_numbers(client: TestClient, here: str) -> None:
    data = np.asarray(Image.open(io.BytesIO(client.get(f"{here}/pieces/small").content)), np.int64)
    numbers = data[..., 0] + 256 * data[..., 1] + 65_536 * data[..., 2]
    wanted = int(numbers[75, 100])
    made = client.post(f"{here}/pieces/small", json={"numbers": [wanted]}).json()
    mask = mask_of(client, here, made["sweep_id"])
    assert mask[75, 100] == 255
    assert client.post(f"{here}/pieces/small", json={"numbers": [10**6]}).status_code == 400
    assert client.post(f"{here}/pieces/tiny", json={"numbers": [1]}).status_code == 422


def test_the_guard_holds_and_is_lifted(client: TestClient, here: str, marked: str) -> None:
    free = mask_of(client, here, marked)
    guarded = client.post(f"{here}/guard", json={"shapes": [{**STROKE, "size": 6}]}).json()
    assert guarded["guard"]
    held = mask_of(client, here, marked)
    assert held[50, 70] == 0 < free[50, 70]
    assert client.get(f"{here}/guard/rings").json()["rings"]
    all_of_it = {"kind": "stroke", "points": [[100, 75]], "size": 400}
    client.post(f"{here}/guard", json={"shapes": [all_of_it]})
    refused = client.post(f"{here}/sweeps/{marked}/fill", json={})
    assert (refused.status_code, "inside the guard" in refused.json()["detail"]) == (422, True)
    lifted = client.delete(f"{here}/guard").json()
    assert lifted["guard"] is None
    assert np.array_equal(mask_of(client, here, marked), free)


def test_the_mask_of_an_earlier_step_can_still_be_asked_for(client: TestClient, here: str, marked: str) -> None:
    first = client.get(here).json()["revision"]
    before = mask_of(client, here, marked)
    client.post(f"{here}/sweeps/{marked}/shapes", json={"shapes": [OUTLINE]})
    then = client.get(f"{here}/sweeps/{marked}/mask", params={"revision": first})
    assert np.array_equal(np.asarray(Image.open(io.BytesIO(then.content))), before)
    steps = client.get(f"{here}/history").json()
    assert [step["title"] for step in steps] == ["as shot", "Two: new mark", "Two: add to mark"]
    assert [(step["subject"], step["stroke"]) for step in steps] == [("", False), ("Two", False), ("Two", True)]
    assert client.post(f"{here}/history/{first}").json()["revision"] == first
    assert client.post(f"{here}/history/999").status_code == 404
