"""Tokens in the header Authorization (RFC 6750): whether one is right, and whether a request lies within its scope."""

from __future__ import annotations

from fastapi import Request, Response
from starlette.concurrency import run_in_threadpool

from keen_sweep.api.problems import problem
from keen_sweep.api.request_guard import SAFE_METHODS
from keen_sweep.core.sentences import sentence
from keen_sweep.store.library import Library
from keen_sweep.store.scope import Scope
from keen_sweep.studio.spending import may_spend
from keen_sweep.studio.tokens import scope_of

# Only people make tokens and choose who is notified: no token makes another or sends anything elsewhere.
SESSION_ONLY_PATHS = ("/api/tokens", "/api/notices")


def token_in(request: Request) -> str | None:
    """The token that a request shows; None if it shows none. What a proxy before us asks for (Basic) is not ours."""
    kind, _, words = request.headers.get("authorization", "").partition(" ")
    return words.strip() if kind.lower() == "bearer" else None


async def refusal(library: Library, request: Request, token: str) -> Response | None:
    """Why a request with a token is not met; None if it is."""
    scope = await run_in_threadpool(scope_of, library, token)
    if scope is None:
        answer = problem(
            401, "token", sentence("Not let in"), sentence("This token is not valid for this library, or was revoked.")
        )
        answer.headers["WWW-Authenticate"] = 'Bearer error="invalid_token"'
        return answer
    wanted = needed(request.method, request.url.path)
    if wanted is None or not scope.reaches(wanted):
        why = (
            sentence("This can only be done on the page Library.")
            if wanted is None
            else sentence("It takes {scope}.", scope=wanted.value)
        )
        answer = problem(
            403,
            "scope",
            sentence("Beyond this token"),
            sentence("This token is for {scope}. {why}", scope=scope.value, why=why),
        )
        answer.headers["WWW-Authenticate"] = 'Bearer error="insufficient_scope"'
        return answer
    may_spend.set(scope.reaches(Scope.SPEND))
    return None


def needed(method: str, path: str) -> Scope | None:
    """The scope that a request takes; None where no token will do."""
    if path.startswith(SESSION_ONLY_PATHS):
        return None
    if method in SAFE_METHODS:
        return Scope.READ
    # What models cost, and what may be spent on them.
    if path.startswith("/api/models") or path.endswith("/budget"):
        return Scope.SPEND
    return Scope.EDIT
