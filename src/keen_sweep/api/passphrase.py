"""A passphrase for a server that others on the network can reach: asked once a browser, kept as a cookie.

It is compared by scrypt (RFC 7914), so that guessing costs time; who guesses often has to wait.
"""

from __future__ import annotations

import hashlib
import hmac
import secrets
import time
from collections import deque
from collections.abc import Callable
from urllib.parse import parse_qs

from fastapi import FastAPI, Request, Response
from fastapi.responses import HTMLResponse, RedirectResponse

from keen_sweep.api.problems import problem
from keen_sweep.api.request_guard import ENTRY_PATH
from keen_sweep.core.sentences import sentence

COOKIE_NAME = "keen-sweep"
# Parameters of scrypt: about 50 ms and 32 MB for each attempt.
SCRYPT_COST = 2**15
SCRYPT_BLOCK = 8
SCRYPT_PARALLELISM = 1
SCRYPT_MEMORY_BYTES = 2 * 128 * SCRYPT_COST * SCRYPT_BLOCK
# Wrong attempts that are allowed within ATTEMPT_SECONDS, from everybody together.
MAX_ATTEMPTS = 5
# Time in which wrong attempts are counted, seconds.
ATTEMPT_SECONDS = 60.0
# How long a browser stays signed in, seconds.
SESSION_SECONDS = 30 * 86_400
MAX_FORM_BYTES = 4_096
MIN_PASSPHRASE_CHARS = 8

LOGIN_PAGE = """<!doctype html>
<html lang="en"><head><meta charset="utf-8"><title>Keen Sweep</title>
<style>body {{ font: 16px sans-serif; background: #e5e5e2; color: #1b1b1a; margin: 20vh auto; max-width: 22em }}
input, button {{ font: inherit; padding: .4em; margin-top: .6em }}</style></head>
<body><main><h1>Keen Sweep</h1><form method="post" action="/enter">
<label>Passphrase of this server<br><input type="password" name="passphrase" autofocus required></label>
<button>Enter</button></form><p role="alert">{said}</p></main></body></html>"""


class Passphrase:
    """What has to be said before anything is answered. clock: seconds, of a clock that only goes on."""

    def __init__(self, words: str, clock: Callable[[], float] = time.monotonic) -> None:
        self._salt = secrets.token_bytes(16)
        self._hash = self._hashed(words)
        self._known: dict[str, float] = {}
        self._wrong: deque[float] = deque(maxlen=MAX_ATTEMPTS)
        self._clock = clock

    def lets_in(self, request: Request) -> bool:
        """Whether a browser has said it, or is about to."""
        if request.url.path == ENTRY_PATH:
            return True
        token = request.cookies.get(COOKIE_NAME)
        return token is not None and self._known.get(token, 0.0) > self._clock()

    @property
    def busy(self) -> bool:
        """Whether too many tries were wrong just now."""
        return len(self._wrong) == MAX_ATTEMPTS and self._clock() - self._wrong[0] < ATTEMPT_SECONDS

    def enter(self, words: str) -> str | None:
        """A token for whoever says the right words; None for wrong ones, and for all while it is busy."""
        if self.busy:
            return None
        if not hmac.compare_digest(self._hashed(words), self._hash):
            self._wrong.append(self._clock())
            return None
        now = self._clock()
        self._known = {each: until for each, until in self._known.items() if until > now}
        token = secrets.token_urlsafe(32)
        self._known[token] = now + SESSION_SECONDS
        return token

    def _hashed(self, words: str) -> bytes:
        return hashlib.scrypt(
            words.encode(),
            salt=self._salt,
            n=SCRYPT_COST,
            r=SCRYPT_BLOCK,
            p=SCRYPT_PARALLELISM,
            maxmem=SCRYPT_MEMORY_BYTES,
        )


def refusal(request: Request) -> Response:
    """What somebody is answered who has not said it: a page leads to where it is asked for."""
    if request.method == "GET" and not request.url.path.startswith("/api/"):
        return RedirectResponse(ENTRY_PATH, status_code=303)
    return problem(401, "passphrase", sentence("Not entered"), sentence("Enter the passphrase of this server first."))


def install(app: FastAPI, passphrase: Passphrase) -> None:
    """The page that asks for it."""

    @app.get(ENTRY_PATH, include_in_schema=False)
    def ask() -> HTMLResponse:
        return HTMLResponse(LOGIN_PAGE.format(said=""))

    @app.post(ENTRY_PATH, include_in_schema=False)
    async def enter(request: Request) -> Response:
        body = b""
        # Whoever has not said it yet may not fill the memory either.
        async for chunk in request.stream():
            body += chunk
            if len(body) > MAX_FORM_BYTES:
                return problem(413, "too-large", sentence("Too large"), sentence("This passphrase is too long."))
        words = parse_qs(body.decode("utf-8", "replace")).get("passphrase", [""])[0]
        token = passphrase.enter(words)
        if token is None:
            said = sentence("Too many attempts: wait a minute.") if passphrase.busy else sentence("That is not it.")
            return HTMLResponse(LOGIN_PAGE.format(said=said), status_code=429 if passphrase.busy else 401)
        answer = RedirectResponse("/", status_code=303)
        answer.set_cookie(COOKIE_NAME, token, max_age=SESSION_SECONDS, httponly=True, samesite="strict")
        return answer
