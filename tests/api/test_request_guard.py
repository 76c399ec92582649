"""Who is answered: pages of the application and programs on this machine, nobody else's pages."""

from urllib.parse import urlsplit

import pytest
from fastapi.testclient import TestClient

from keen_sweep.api.request_guard import turned_away

OWN = "http://testserver"


@pytest.mark.parametrize(
    "headers",
    [
        {},
        {"origin": OWN},
        {"origin": OWN, "sec-fetch-site": "same-origin"},
        {"sec-fetch-site": "none", "sec-fetch-mode": "navigate", "sec-fetch-dest": "document"},
    ],
)
def test_own_pages_and_programs_are_answered(client: TestClient, headers: dict[str, str]) -> None:
    assert client.get("/api/shoots", headers=headers).status_code == 200
    assert client.post("/api/shoots", json={"name": "A"}, headers=headers).is_success


@pytest.mark.parametrize(
    "headers",
    [
        {"origin": "null"},
        {"origin": "http://elsewhere.example"},
        {"origin": "http://testserver:81"},
        {"origin": "file://"},
        {"sec-fetch-site": "cross-site", "sec-fetch-mode": "no-cors", "sec-fetch-dest": "image"},
        {"sec-fetch-site": "same-site", "sec-fetch-mode": "cors", "sec-fetch-dest": "empty"},
        {"sec-fetch-site": "cross-site", "sec-fetch-mode": "navigate", "sec-fetch-dest": "iframe"},
        {"host": "elsewhere.example"},
    ],
)
def test_others_change_nothing_and_read_nothing(client: TestClient, headers: dict[str, str]) -> None:
    before = client.get("/api/shoots").json()
    assert client.get("/api/shoots", headers=headers).status_code == 403
    assert client.post("/api/shoots", json={"name": "Theirs"}, headers=headers).status_code == 403
    assert client.get("/api/shoots").json() == before


def test_a_form_of_any_page_is_turned_away_even_without_an_origin(client: TestClient) -> None:
    for kind in ("text/plain", "multipart/form-data; boundary=x", "application/x-www-form-urlencoded"):
        sent = client.post("/api/shoots", content=b'{"name": "Theirs"}', headers={"content-type": kind})
        assert (sent.status_code, client.get("/api/shoots").json()) == (403, [])


def test_a_link_from_elsewhere_may_open_the_application_but_not_post() -> None:
    link = {"sec-fetch-site": "cross-site", "sec-fetch-mode": "navigate", "sec-fetch-dest": "document"}
    here = urlsplit("http://localhost:8420/frames/1")
    assert turned_away("GET", here, link, {"localhost"}) is None
    assert turned_away("POST", here, link, {"localhost"}) is not None


def test_every_answer_says_what_pages_may_do(client: TestClient) -> None:
    for address, headers in (("/api/shoots", {}), ("/api/nowhere", {}), ("/api/shoots", {"origin": "null"})):
        told = client.get(address, headers=headers).headers
        policy = {part.split()[0]: part.split()[1:] for part in told["content-security-policy"].split("; ")}
        assert policy["script-src"] == ["'self'"]
        assert policy["frame-ancestors"] == ["'none'"]
        assert told["x-content-type-options"] == "nosniff"


@pytest.mark.parametrize("number", [2**63, -(2**63) - 1, 10**30])
def test_numbers_that_no_database_has_room_for_are_nobodys(client: TestClient, number: int) -> None:
    for answer in (
        client.get(f"/api/frames/{number}"),
        client.delete(f"/api/shoots/{number}"),
        client.post(f"/api/frames/{number}/undo"),
    ):
        assert answer.status_code == 404
        assert answer.json()["detail"]
