"""Scouts and finds over the interface."""

from typing import Any

import numpy as np
import pytest
from fastapi.testclient import TestClient

from keen_sweep.core.box import Box
from keen_sweep.core.errors import NoWeights
from keen_sweep.core.mask.mask import Mask
from keen_sweep.core.scout.found import Also, FindKind, Found
from keen_sweep.store.library import Library
from keen_sweep.studio.finding.finds import keep_found
from keen_sweep.studio.history import frame_of
from tests.support.strokes import STROKE


def disc(x: int, y: int) -> Mask:
    return Mask(Box(x=x, y=y, width=20, height=20), np.full((20, 20), 255, np.uint8))


@pytest.fixture
def people(client: TestClient, library: Library, frame: dict[str, Any], here: str) -> list[dict[str, Any]]:
    """Two people as a scout found them, the first with a shadow."""
    with library.session() as session:
        found = [
            Found(FindKind.PEOPLE, "Person 1", disc(20, 20), 0.9, "tall", also=(Also("shadow", disc(41, 25)),)),
            Found(FindKind.PEOPLE, "Person 2", disc(120, 60), 0.8, "small", subject=True, chosen=False),
        ]
        keep_found(library, session, frame_of(session, frame["id"]), FindKind.PEOPLE, found)
    return list(client.get(f"{here}/scouts").json()["finds"])


def test_scouts_are_asked_once_and_one_kind_again(client: TestClient, here: str) -> None:
    first = client.post(f"{here}/scouts", json={"kinds": [], "small": False}).json()
    assert {scout["kind"] for scout in first["scouts"]} == {kind.value for kind in FindKind}
    assert {scout["state"] for scout in first["scouts"]} == {"waiting"}
    assert all(scout["looked_for"] for scout in first["scouts"])
    assert client.post(f"{here}/scouts", json={"kinds": []}).json() == first
    assert client.post(f"{here}/scouts", json={"kinds": ["ghosts"]}).status_code == 422


def test_a_find_is_chosen_with_its_shadow_painted_on_and_dropped(
    client: TestClient, here: str, people: list[dict[str, Any]]
) -> None:
    first, second = people
    assert (first["goes"], second["goes"], second["subject"]) == (True, False, True)
    assert list(first["also"]) == ["shadow"]
    told = client.patch(f"{here}/finds/{first['id']}", json={"also": ["shadow", "mirror"]}).json()
    assert told["finds"][0]["with_also"] == ["shadow"], "it has no mirror image"
    wider = client.patch(f"{here}/finds/{first['id']}", json={"shapes": [STROKE]}).json()
    assert wider["finds"][0]["box"]["width"] > first["box"]["width"]
    left = client.patch(f"{here}/finds/{second['id']}", json={"dropped": True}).json()
    assert [each["id"] for each in left["finds"]] == [first["id"]]
    assert client.patch(f"{here}/finds/999", json={"goes": True}).status_code == 404


def test_finds_become_sweeps_and_come_back_by_undo(client: TestClient, here: str, people: list[dict[str, Any]]) -> None:
    ids = [each["id"] for each in people]
    before = client.get(here).json()
    kept = client.post(f"{here}/finds/keep", json={"finds": ids}).json()
    assert [sweep["name"] for sweep in kept["desk"]["sweeps"]] == ["Person 1", "Person 2"]
    assert (kept["frames"], len(kept["sweeps"])) == (1, 2)
    assert kept["desk"]["finds"] != before["finds"]
    assert client.get(f"{here}/scouts").json()["finds"] == []
    undone = client.post(f"{here}/undo").json()
    assert undone["finds"] == before["finds"]
    assert len(client.get(f"{here}/scouts").json()["finds"]) == 2
    assert client.post(f"{here}/finds/keep", json={"finds": [999]}).status_code == 400
    assert client.post(f"{here}/finds/keep", json={"finds": []}).status_code == 422


def test_keeping_and_filling_puts_all_into_the_queue(
    client: TestClient, here: str, people: list[dict[str, Any]]
) -> None:
    ids = [each["id"] for each in people]
    kept = client.post(f"{here}/finds/keep", json={"finds": ids, "fill": True}).json()
    assert [sweep["state"] for sweep in kept["desk"]["sweeps"]] == ["waiting", "waiting"]


def test_somebody_pointed_out_where_a_network_is_missing_is_said_with_what_helps(
    client: TestClient, here: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    def missing(*_: object) -> None:
        raise NoWeights("The network is not installed.")

    monkeypatch.setattr("keen_sweep.studio.finding.person.person_in", missing)
    box = {"x": 20, "y": 20, "width": 40, "height": 60}
    answer = client.post(f"{here}/scouts/person", json=box)
    assert (answer.status_code, answer.json()["remedy"]) == (503, "set-up")
    monkeypatch.setattr("keen_sweep.studio.finding.person.person_in", lambda *_: disc(5, 5))
    made = client.post(f"{here}/scouts/person", json=box).json()
    (find,) = made["scouts"]["finds"]
    assert (find["id"], find["name"], find["reason"]) == (made["find"], "Person 1", "added by hand")
    outside = {"x": 900, "y": 20, "width": 40, "height": 60}
    assert client.post(f"{here}/scouts/person", json=outside).status_code == 422


def test_a_reflection_is_sought_only_on_demand(client: TestClient, here: str) -> None:
    none = client.post(f"{here}/reflection", json={}).json()
    assert (none["worth"], none["sweep_id"], none["desk"]["sweeps"]) == (False, None, [])
    anyway = client.post(f"{here}/reflection", json={"anyway": True}).json()
    (sweep,) = anyway["desk"]["sweeps"]
    assert (sweep["id"], sweep["method"], sweep["together"]) == (anyway["sweep_id"], "reflection", True)
