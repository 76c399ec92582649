"""Tokens: who is let in by one, how far, and what is kept of it."""

from collections.abc import Iterator
from datetime import timedelta
from typing import Any

import pytest
from fastapi.testclient import TestClient

from keen_sweep.api.app import make_app
from keen_sweep.api.passphrase import Passphrase
from keen_sweep.store.library import Library
from keen_sweep.store.moment import now
from keen_sweep.store.scope import Scope
from keen_sweep.store.tables import Token
from keen_sweep.studio.tokens import make_token, tokens
from tests.support.shell import keen_sweep

WORDS = "brick and gravel"
STROKE = {"kind": "stroke", "points": [[60, 50], [80, 50]], "size": 14}


@pytest.fixture
def outside(library: Library, nobody_works: None) -> Iterator[TestClient]:
    app = make_app(library, passphrase=Passphrase(WORDS))
    with TestClient(app, base_url="http://studio.example:8420", follow_redirects=False) as made:
        yield made


def held(library: Library, scope: Scope) -> dict[str, str]:
    return {"Authorization": f"Bearer {make_token(library, 'night', scope)[1]}"}


def test_a_token_is_as_good_as_the_passphrase_within_its_scope(outside: TestClient, library: Library) -> None:
    read, edit, spend = (held(library, scope) for scope in Scope)
    assert outside.get("/api/shoots").status_code == 401
    for token in (read, edit, spend):
        assert outside.get("/api/shoots", headers=token).json() == []
    refused = outside.post("/api/shoots", json={"name": "A"}, headers=read)
    assert (refused.status_code, refused.json()["type"]) == (403, "/problems/scope")
    assert refused.json()["detail"] == "This token is for read. It takes edit."
    assert 'insufficient_scope"' in refused.headers["WWW-Authenticate"]
    shoot = outside.post("/api/shoots", json={"name": "A"}, headers=edit).json()["id"]
    budget = f"/api/shoots/{shoot}/budget"
    assert outside.put(budget, json={"credits": 5}, headers=edit).status_code == 403
    assert outside.post("/api/models", json={}, headers=edit).status_code == 403
    assert outside.put(budget, json={"credits": 5}, headers=spend).status_code == 204


def test_whoever_may_not_spend_agrees_to_no_credits(client: TestClient, library: Library, here: str) -> None:
    """On this machine nobody needs a token; whoever shows one is held to it."""
    sweep = client.post(f"{here}/sweeps", json={"shapes": [STROKE]}).json()["sweep_id"]
    at = f"{here}/sweeps/{sweep}/fill"
    refused = client.post(at, json={"takes": 1, "credits": 3}, headers=held(library, Scope.EDIT))
    assert (refused.status_code, refused.json()["type"]) == (403, "/problems/scope")
    assert client.get("/api/runs/1").status_code == 404
    assert client.post(at, json={"takes": 1}, headers=held(library, Scope.EDIT)).status_code == 202
    other = client.post(f"{here}/sweeps", json={"shapes": [STROKE]}).json()["sweep_id"]
    spent = client.post(
        f"{here}/sweeps/{other}/fill", json={"takes": 1, "credits": 3}, headers=held(library, Scope.SPEND)
    )
    assert spent.status_code == 202


@pytest.mark.parametrize("said", ["Bearer keen_made-up", "bearer x", "Bearer "])
def test_what_is_no_token_lets_nobody_in(outside: TestClient, client: TestClient, said: str) -> None:
    """Neither from outside, nor here where nothing at all would do."""
    for each in (outside, client):
        answer = each.get("/api/shoots", headers={"Authorization": said})
        assert (answer.status_code, answer.json()["type"]) == (401, "/problems/token")


@pytest.mark.parametrize("said", ["Basic a2VlbjpzZWNyZXQ=", "nonsense", ""])
def test_what_a_proxy_asks_for_is_not_ours(outside: TestClient, client: TestClient, said: str) -> None:
    """It lets nobody in, and turns nobody away."""
    answer = outside.get("/api/shoots", headers={"Authorization": said})
    assert (answer.status_code, answer.json()["type"]) == (401, "/problems/passphrase")
    assert outside.post("/enter", data={"passphrase": WORDS}).status_code == 303
    for each in (outside, client):
        assert each.get("/api/shoots", headers={"Authorization": said}).status_code == 200


def test_people_make_tokens_and_tokens_make_none(outside: TestClient, client: TestClient, library: Library) -> None:
    for method, path in (("GET", "/api/tokens"), ("POST", "/api/tokens"), ("DELETE", "/api/tokens/1")):
        answer = outside.request(method, path, headers=held(library, Scope.SPEND))
        assert (answer.status_code, answer.json()["type"]) == (403, "/problems/scope")
    made: dict[str, Any] = client.post("/api/tokens", json={"name": "  nightly  ", "scope": "edit"}).json()
    assert (made["name"], made["scope"], made["used_at"]) == ("nightly", "edit", None)
    listed = client.get("/api/tokens").json()[-1]
    assert listed == {name: value for name, value in made.items() if name != "words"}
    token = {"Authorization": f"Bearer {made['words']}"}
    assert outside.get("/api/shoots", headers=token).status_code == 200
    assert client.get("/api/tokens").json()[-1]["used_at"] is not None
    assert client.delete(f"/api/tokens/{made['id']}").status_code == 204
    assert outside.get("/api/shoots", headers=token).status_code == 401
    assert client.delete(f"/api/tokens/{made['id']}").status_code == 404
    assert client.post("/api/tokens", json={"name": " "}).status_code == 400
    assert client.post("/api/tokens", json={"name": "x", "scope": "all"}).status_code == 422


def test_only_a_digest_is_kept(library: Library) -> None:
    _, words = make_token(library, "night", Scope.READ)
    library.close()
    kept = b"".join(each.read_bytes() for each in library.folder.glob("library.db*"))
    assert words.encode() not in kept


def test_when_it_was_used_is_told_to_an_hour(client: TestClient, library: Library) -> None:
    """Not every request is written down."""
    token = held(library, Scope.READ)
    client.get("/api/shoots", headers=token)
    with library.session(write=True) as session:
        known = session.get_one(Token, 1)
        first = known.used_at = now() - timedelta(minutes=59)
    client.get("/api/shoots", headers=token)
    assert tokens(library)[0].used_at == first
    with library.session(write=True) as session:
        session.get_one(Token, 1).used_at = now() - timedelta(minutes=61)
    client.get("/api/shoots", headers=token)
    used = tokens(library)[0].used_at
    assert used is not None
    assert used > first


def test_tokens_from_a_shell(library: Library) -> None:
    where = ("--library", library.folder)
    made = keen_sweep("token", "make", "night", "--scope", "edit", *where)
    assert made.returncode == 0, made.stderr
    assert made.stdout.startswith("keen_")
    assert "Token 1, night, for edit" in made.stderr
    assert keen_sweep("token", "list", *where).stdout == "1\tedit\tnever used\tnight\n"
    assert keen_sweep("token", "revoke", 1, *where).returncode == 0
    assert keen_sweep("token", "list", *where).stdout == ""
    gone = keen_sweep("token", "revoke", 1, *where)
    assert (gone.returncode, gone.stderr) == (2, "keen-sweep: This token is not there any more.\n")
