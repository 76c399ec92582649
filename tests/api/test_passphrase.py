"""A server that others can reach answers nobody who has not said its passphrase."""

import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from keen_sweep.api.app import make_app
from keen_sweep.api.passphrase import ATTEMPT_SECONDS, MAX_ATTEMPTS, SESSION_SECONDS, Passphrase
from keen_sweep.store.library import Library

WORDS = "brick and gravel"


class Clock:
    now = 100.0

    def __call__(self) -> float:
        return self.now


@pytest.fixture
def clock() -> Clock:
    return Clock()


@pytest.fixture
def outside(library: Library, nobody_works: None, clock: Clock) -> Iterator[TestClient]:
    app = make_app(library, passphrase=Passphrase(WORDS, clock))
    with TestClient(app, base_url="http://studio.example:8420", follow_redirects=False) as made:
        yield made


def enter(client: TestClient, words: str) -> int:
    return int(client.post("/enter", data={"passphrase": words}).status_code)


def test_nothing_is_answered_before_and_everything_after(outside: TestClient) -> None:
    assert outside.get("/api/shoots").status_code == 401
    assert outside.get("/api/health").status_code == 401
    assert outside.post("/api/shoots", json={"name": "A"}).status_code == 401
    assert outside.get("/frames/3").headers["location"] == "/enter"
    assert "Passphrase" in outside.get("/enter").text
    assert enter(outside, WORDS) == 303
    assert outside.post("/api/shoots", json={"name": "A"}).is_success
    assert [each["name"] for each in outside.get("/api/shoots").json()] == ["A"]


def test_its_cookie_is_for_this_server_and_no_script(outside: TestClient) -> None:
    told = outside.post("/enter", data={"passphrase": WORDS}).headers["set-cookie"].lower()
    assert "httponly" in told
    assert "samesite=strict" in told
    assert WORDS not in told


def test_a_made_up_cookie_is_worth_nothing(outside: TestClient) -> None:
    for token in ("", "x" * 43):
        assert outside.get("/api/shoots", headers={"cookie": f"keen-sweep={token}"}).status_code == 401


def test_who_guesses_has_to_wait_even_with_the_right_words(outside: TestClient, clock: Clock) -> None:
    assert [enter(outside, f"guess {k}") for k in range(MAX_ATTEMPTS)] == [401] * (MAX_ATTEMPTS - 1) + [429]
    assert enter(outside, WORDS) == 429
    assert outside.get("/api/shoots").status_code == 401
    clock.now += ATTEMPT_SECONDS + 1
    assert enter(outside, WORDS) == 303


def test_nobody_fills_the_memory_before_entering(outside: TestClient) -> None:
    assert enter(outside, "x" * 1_000_000) == 413
    assert enter(outside, WORDS) == 303


def test_a_browser_is_known_for_a_while(outside: TestClient, clock: Clock) -> None:
    enter(outside, WORDS)
    clock.now += SESSION_SECONDS - 1
    assert outside.get("/api/shoots").status_code == 200
    clock.now += 2
    assert outside.get("/api/shoots").status_code == 401


def test_a_page_from_elsewhere_may_not_enter_either(outside: TestClient) -> None:
    headers = {"origin": "http://elsewhere.example"}
    assert outside.post("/enter", data={"passphrase": WORDS}, headers=headers).status_code == 403


@pytest.mark.parametrize("words", ["", "short"])
def test_a_server_others_can_reach_does_not_start_without_one(tmp_path: Path, words: str) -> None:
    program = str(Path(sys.executable).with_name("keen-sweep"))
    told = subprocess.run(
        [program, "serve", "--host", "0.0.0.0", "--library", str(tmp_path / "library")],
        env={"PATH": "/usr/bin:/bin", "HOME": str(tmp_path), "KEEN_SWEEP_PASSPHRASE": words},
        stdin=subprocess.DEVNULL,
        capture_output=True,
        text=True,
        check=False,
        timeout=120,
    )
    assert told.returncode == 2
    assert "passphrase" in told.stderr
    assert not (tmp_path / "library").exists()
