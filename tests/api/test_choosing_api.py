"""Choosing over the interface: takes picked, mixed, judged and mended; sweeps arranged."""

import io
from collections.abc import Callable
from datetime import datetime, timedelta
from typing import Any

import numpy as np
from fastapi.testclient import TestClient
from numpy.typing import NDArray
from PIL import Image

from keen_sweep.core.box import Box
from keen_sweep.core.mask.areas import as_area
from keen_sweep.core.mask.mask import Mask
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Snag
from tests.support.strokes import STROKE


def plant(library: Library, frame: int, sweep: dict[str, Any], count: int) -> None:
    """Snags of the first take of a sweep, as a review keeps them."""
    cover = np.full((6, 6), 255, np.uint8)
    area = as_area(Mask(Box(x=62, y=48, width=6, height=6), cover), library.files.add).model_dump(mode="json")
    where: dict[str, Any] = {"frame_id": frame, "sweep_id": sweep["id"], "take_id": sweep["takes"][0]["id"]}
    rest: dict[str, Any] = {
        "kind": "repeat",
        "strength": 0.5,
        "why": "planted",
        "visible": 1.0,
        "mend": "spot",
        "area": area,
    }
    with library.session() as session:
        for _ in range(count):
            session.add(Snag(**where, **rest))


def tile(client: TestClient, here: str, **look: Any) -> NDArray[Any]:
    answer = client.get(f"{here}/tiles/0/0/0", params=look)
    return np.asarray(Image.open(io.BytesIO(answer.content)), np.int16)


def test_a_take_is_picked_favoured_and_put_back(client: TestClient, here: str, filled: dict[str, Any]) -> None:
    (sweep,) = filled["sweeps"]
    first, second = (take["id"] for take in sweep["takes"])
    at = f"{here}/sweeps/{sweep['id']}"
    picked = client.patch(at, json={"pick": second}).json()
    assert picked["sweeps"][0]["state"] == "kept"
    assert picked["sweeps"][0]["pick"] == second
    assert client.patch(at, json={"pick": 999}).status_code == 404
    liked = client.patch(f"{here}/takes/{first}", json={"favourite": True}).json()
    assert [take["favourite"] for take in liked["sweeps"][0]["takes"]] == [True, False]
    assert client.patch(f"{here}/takes/999", json={"favourite": True}).status_code == 404
    back = client.patch(at, json={"pick": None}).json()
    assert (back["sweeps"][0]["pick"], back["sweeps"][0]["state"]) == (None, "as shot")


def test_the_history_says_of_which_sweep_and_when_by_any_clock(
    client: TestClient, here: str, filled: dict[str, Any]
) -> None:
    (sweep,) = filled["sweeps"]
    at = f"{here}/sweeps/{sweep['id']}"
    client.patch(at, json={"name": "Cables"})
    client.patch(at, json={"pick": sweep["takes"][1]["id"]})
    client.post(f"{here}/guard", json={"shapes": [STROKE]})
    steps = client.get(f"{here}/history").json()
    told = [(step["sweep"], step["title"]) for step in steps[-3:]]
    own = sweep["id"]
    assert told == [(own, "Cables: rename"), (own, "Cables: take 2 picked"), ("", "guard")]
    asked = [each["made_at"] for each in steps]
    assert all(datetime.fromisoformat(each).utcoffset() == timedelta(0) for each in asked)
    assert asked == sorted(asked)


def test_a_mix_shows_each_take_where_it_was_painted(client: TestClient, here: str, filled: dict[str, Any]) -> None:
    (sweep,) = filled["sweeps"]
    take = sweep["takes"][0]["id"]
    left = {"kind": "stroke", "points": [[58, 50]], "size": 16}
    mixed = client.post(f"{here}/sweeps/{sweep['id']}/mix", json={"under": 0, "over": take, "shapes": [left]}).json()
    (after,) = mixed["desk"]["sweeps"]
    assert after["pick"] == mixed["take"]
    assert [each["method"] for each in after["takes"]] == ["auto", "auto", "mix"]
    shot, of_take = tile(client, here, shot=True), tile(client, here, sweep=sweep["id"], take=take)
    seen = tile(client, here, revision=mixed["desk"]["revision"])
    assert np.array_equal(seen[45:55, 53:60], of_take[45:55, 53:60])
    assert np.array_equal(seen[45:55, 72:84], shot[45:55, 72:84])
    same = {"under": take, "over": take, "shapes": [left]}
    assert client.post(f"{here}/sweeps/{sweep['id']}/mix", json=same).status_code == 400


def test_views_show_what_differs_and_what_a_revision_was(client: TestClient, here: str, filled: dict[str, Any]) -> None:
    (sweep,) = filled["sweeps"]
    one, other = (take["id"] for take in sweep["takes"])
    difference = tile(client, here, sweep=sweep["id"], take=one, unlike=other)
    expected = 128 + 4 * (
        tile(client, here, sweep=sweep["id"], take=one) - tile(client, here, sweep=sweep["id"], take=other)
    )
    assert np.array_equal(difference, expected.clip(0, 255))
    assert (difference[0:20, 0:20] == 128).all()
    assert client.get(f"{here}/tiles/0/9/9").status_code == 404
    harsh = client.get(f"{here}/tiles/1/0/0", params={"harsh": 4})
    assert harsh.status_code == 200
    assert client.get(f"{here}/tiles/1/0/0", params={"harsh": 0}).status_code == 422
    small = np.asarray(
        Image.open(io.BytesIO(client.get(f"{here}/crop", params={"x": 0, "y": 0, "width": 200, "height": 150}).content))
    )
    assert small.shape[1] <= 240


def test_sweeps_are_doubled_reordered_and_deleted(client: TestClient, here: str, filled: dict[str, Any]) -> None:
    (sweep,) = filled["sweeps"]
    twice = client.post(f"{here}/sweeps/{sweep['id']}/duplicate").json()
    first, second = twice["desk"]["sweeps"]
    assert (second["id"], second["takes"], second["name"]) == (twice["sweep_id"], [], "Sweep 1 again")
    moved = client.post(f"{here}/sweeps/{second['id']}/reorder", params={"by": -1}).json()
    assert [each["id"] for each in moved["sweeps"]] == [second["id"], first["id"]]
    again = client.post(f"{here}/sweeps/{second['id']}/reorder", params={"by": -5}).json()
    assert again["revision"] == moved["revision"], "nothing changed"
    gone = client.delete(f"{here}/sweeps/{second['id']}").json()
    assert [each["id"] for each in gone["sweeps"]] == [first["id"]]
    assert client.delete(f"{here}/sweeps/{second['id']}").status_code == 404


def test_a_review_is_asked_for_and_a_snag_dismissed(
    client: TestClient, library: Library, here: str, filled: dict[str, Any]
) -> None:
    (sweep,) = filled["sweeps"]
    assert [take["reviewed"] for take in sweep["takes"]] == [False, False]
    looked = client.post(f"{here}/sweeps/{sweep['id']}/review").json()
    (after,) = looked["desk"]["sweeps"]
    assert all(take["reviewed"] for take in after["takes"])
    assert looked["snags"] == len(after["snags"])
    plant(library, filled["frame"]["id"], after, 2)
    (after,) = client.get(here).json()["sweeps"]
    assert len(after["snags"]) == looked["snags"] + 2
    for snag in after["snags"]:
        told = client.patch(f"{here}/snags/{snag['id']}", json={"dismissed": True}).json()
        assert next(each for each in told["sweeps"][0]["snags"] if each["id"] == snag["id"])["dismissed"]
    assert client.patch(f"{here}/snags/999", json={"dismissed": True}).status_code == 404
    assert client.post(f"{here}/snags/999/mend").status_code == 404


def test_a_moved_sweep_waits_to_be_filled_and_can_be_stopped(
    client: TestClient, here: str, filled: dict[str, Any], work_on: Callable[[int], None]
) -> None:
    (sweep,) = filled["sweeps"]
    at = f"{here}/sweeps/{sweep['id']}"
    assert client.post(f"{at}/move", json={"across": 0, "down": 0}).status_code == 400
    assert client.post(f"{at}/move", json={"across": 900, "down": 0}).status_code == 400
    moved = client.post(f"{at}/move", json={"across": 20, "down": 10}).json()
    (waiting,) = moved["sweeps"]
    assert waiting["state"] == "waiting"
    busy = client.post(f"{at}/fill", json={})
    assert (busy.status_code, "being filled" in busy.json()["detail"]) == (409, True)
    stopped = client.post(f"/api/runs/{waiting['run']['id']}/cancel").json()
    assert stopped["sweeps"][0]["run"]["state"] == "cancelled"
    again = client.post(f"{at}/fill", json={"takes": 1, "quality": "fast"}).json()
    work_on(again["runs"][0]["id"])
    assert len(client.get(here).json()["sweeps"][0]["takes"]) == 3


def test_touch_ups_come_and_go(client: TestClient, here: str) -> None:
    stroke = {"kind": "stroke", "points": [[100, 75], [110, 75]], "size": 10}
    at = f"{here}/touches"
    assert client.post(at, json={"brush": "clone", "stroke": stroke}).status_code == 400, "it has no source"
    assert client.post(at, json={"brush": "smudge", "stroke": stroke}).status_code == 422
    source = {"at": [40.5, 75.5], "to": [100.5, 75.5]}
    made = client.post(at, json={"brush": "clone", "stroke": stroke, "source": source}).json()
    (touch,) = made["desk"]["touches"]
    assert (touch["id"], touch["brush"], touch["over"], touch["shown"]) == (made["touch_id"], "clone", 0, True)
    shot = tile(client, here, shot=True)
    seen = tile(client, here)
    assert np.array_equal(seen[75, 100], shot[75, 40])
    off = client.post(f"{at}/show", params={"shown": False}, json={"touches": [touch["id"]]}).json()
    assert not off["touches"][0]["shown"]
    assert np.array_equal(tile(client, here), shot)
    assert client.get(f"{at}/{touch['id']}/cautions").status_code == 200
    gone = client.post(f"{at}/delete", json={"touches": [touch["id"]]}).json()
    assert gone["touches"] == []
    assert client.post(f"{at}/delete", json={"touches": [touch["id"]]}).status_code == 404


def test_words_and_places_are_set_and_answered(client: TestClient, here: str) -> None:
    sweep = client.post(f"{here}/sweeps", json={"shapes": [STROKE]}).json()["sweep_id"]
    at = f"{here}/sweeps/{sweep}"
    assert client.get(f"{at}/words").json() == {"text": ""}
    told = client.patch(at, json={"hint": "  brick   wall "}).json()
    assert told["sweeps"][0]["hint"] == "brick wall"
    assert client.patch(at, json={"hint": "x" * 301}).status_code == 422
    elsewhere = {"ground": {"box": {"x": 1, "y": 1, "width": 40, "height": 40}, "frame": 999}}
    assert client.put(f"{at}/ground", json=elsewhere).status_code == 404
    assert client.patch(at, json={"method": "magic"}).status_code == 422
    assert client.get(here).json()["sweeps"][0]["method"] == "auto"


def test_the_best_take_stands_and_all_are_accepted_at_once(
    client: TestClient, here: str, filled: dict[str, Any]
) -> None:
    (sweep,) = filled["sweeps"]
    first = sweep["takes"][0]["id"]
    assert (sweep["state"], sweep["pick"], sweep["standing"], sweep["provisional"]) == (
        "provisional",
        None,
        first,
        True,
    )
    kept = client.post(f"{here}/accept").json()["sweeps"][0]
    assert (kept["state"], kept["pick"], kept["standing"], kept["provisional"]) == ("kept", first, first, False)


def test_pictures_are_called_by_what_stands(client: TestClient, here: str, filled: dict[str, Any]) -> None:
    """A browser that kept a picture for good would show it after another take came to stand."""
    state = {"revision": filled["revision"], "provisional": filled["frame"]["provisional"]}
    known = client.get(f"{here}/tiles/0/0/0", params=state)
    assert "immutable" in known.headers["cache-control"]
    for other in ({"revision": filled["revision"]}, {**state, "provisional": state["provisional"] + 1}):
        assert "cache-control" not in client.get(f"{here}/tiles/0/0/0", params=other).headers
    shot = client.get(f"{here}/tiles/0/0/0", params={"shot": True})
    assert shot.content != known.content
    assert client.patch("/api/preferences", json={"strict": True}).json() == {"strict": True}
    told = client.get(here).json()
    assert (told["sweeps"][0]["state"], told["sweeps"][0]["standing"]) == ("choose", None)
    assert told["frame"]["provisional"] > state["provisional"]
    now = {"revision": told["revision"], "provisional": told["frame"]["provisional"]}
    assert client.get(f"{here}/tiles/0/0/0", params=now).content == shot.content
