"""Requests to a service: tried again while that may help, limited in size and time, every trouble in plain words."""

from __future__ import annotations

import random
import struct
import time
from collections.abc import Callable
from typing import NoReturn, TypeVar
from urllib.parse import urlsplit

import httpx
import imagecodecs
import numpy as np
from pydantic import BaseModel, SecretStr, ValidationError

from keen_sweep.core.arrays import EightBit
from keen_sweep.core.errors import ModelTrouble, Remedy
from keen_sweep.core.progress import Progress, no_progress
from keen_sweep.core.sentences import sentence
from keen_sweep.remote.address import checked_address, is_near
from keen_sweep.remote.patience import Patience
from keen_sweep.remote.wire import IDEMPOTENCY_HEADER

Answer = TypeVar("Answer", bound=BaseModel)
Got = TypeVar("Got")
# Problems that may pass: too many requests, and errors of a server or of what stands before it.
RETRIED_STATUSES = {408, 425, 429, 500, 502, 503, 504}
MAX_ANSWER_BYTES = 64 * 2**20
# Longest pause that a service may request, seconds.
MAX_RETRY_SECONDS = 60.0


class Gone(Exception):
    """The service no longer knows a painting."""


class _Again(Exception):
    """Trouble that may pass: after so many seconds if the service said so."""

    def __init__(self, words: str, wait: float | None = None) -> None:
        super().__init__(words)
        self.wait = wait


_KEY_MESSAGE = sentence("{who} does not accept the key. Enter it again on the page Models.")
_REFUSAL_MESSAGES: dict[int, tuple[str, Remedy | None]] = {
    401: (_KEY_MESSAGE, "key"),
    403: (_KEY_MESSAGE, "key"),
    402: (sentence("There are too few credits at {who}{why} Nothing was charged."), "credits"),
    413: (sentence("The area is too large for {who}{why} Nothing was charged."), "smaller"),
    422: (sentence("{who} refused this picture{why} Nothing was charged."), "smaller"),
}


class Exchange:
    """Talking to one service. Raises BadRequest for a bad address, ModelTrouble for a key that cannot be one."""

    def __init__(self, address: str, key: SecretStr, patience: Patience, sleep: Callable[[float], None]) -> None:
        self.address = checked_address(address)
        self.patience = patience
        self.sleep = sleep
        host = urlsplit(self.address).hostname or ""
        # What to call it in a sentence until it has said its name.
        self.who = host
        try:
            self._client = httpx.Client(
                headers={"Authorization": f"Bearer {key.get_secret_value()}"} if key.get_secret_value() else {},
                timeout=httpx.Timeout(patience.silence, connect=min(5.0, patience.silence)),
                follow_redirects=False,
                # Whatever proxy there is, this machine's own services are not behind it.
                trust_env=not is_near(host),
            )
        except (UnicodeError, ValueError):
            raise ModelTrouble(
                sentence("The key contains characters that are not allowed: enter it again."), "key"
            ) from None

    def close(self) -> None:
        self._client.close()

    def ask(
        self,
        shape: type[Answer],
        method: str,
        path: str,
        body: BaseModel | None = None,
        name: str | None = None,
        tick: Progress = no_progress,
    ) -> Answer:
        """One request, by its name if it has one, and its answer as what it should be. Raises ModelTrouble, Gone."""

        def once() -> Answer:
            data = self._sent(method, path, body, name)
            try:
                return shape.model_validate_json(data)
            except ValidationError:
                raise _Again(sentence("{who} sent an answer that cannot be understood", who=self.who)) from None

        return self._tried(once, tick)

    def fetch(self, path: str, size: tuple[int, int], tick: Progress = no_progress) -> EightBit:
        """A picture (h, w, 3) uint8 of a size, (h, w). Raises ModelTrouble."""
        return self._tried(lambda: self._decoded(self._sent("GET", path), size), tick)

    def tell(self, method: str, path: str) -> None:
        """A request whose answer matters to nobody."""
        try:
            self._client.request(method, self.address + path, timeout=2.0)
        except httpx.HTTPError:
            return

    def _tried(self, once: Callable[[], Got], tick: Progress) -> Got:
        wait = self.patience.first
        for attempt in range(1, self.patience.tries + 1):
            try:
                return once()
            except _Again as trouble:
                if attempt == self.patience.tries:
                    raise ModelTrouble(
                        sentence(
                            "{trouble}, {attempt} times in a row. Nothing is lost: "
                            "try again later, or fill with weave.",
                            trouble=trouble,
                            attempt=attempt,
                        ),
                        "later",
                    ) from None
                # Not all who were turned away come back at the same moment.
                pause = (
                    wait * (1 + 0.1 * random.random()) if trouble.wait is None else min(trouble.wait, MAX_RETRY_SECONDS)
                )
                self._pause(pause, tick, str(trouble))
                wait = min(wait * 2, self.patience.longest)
        raise AssertionError("a try ends in one of the two")

    def _pause(self, seconds: float, tick: Progress, why: str) -> None:
        while True:
            tick(0.0, sentence("{why}: trying again in {seconds:.0f} s", why=why, seconds=max(seconds, 1)))
            if seconds <= 0:
                return
            self.sleep(min(seconds, 0.5))
            seconds -= 0.5

    def _sent(self, method: str, path: str, body: BaseModel | None = None, name: str | None = None) -> bytes:
        """The bytes of a good answer. Raises _Again, Gone or ModelTrouble. What arrives is limited in size and time: a
        slow drip must not hold a fill for ever."""
        headers = {IDEMPOTENCY_HEADER: name} if name else {}
        content = body.model_dump_json().encode() if body is not None else None
        if content is not None:
            headers["Content-Type"] = "application/json"
        begun = time.monotonic()
        try:
            with self._client.stream(method, self.address + path, headers=headers, content=content) as answer:
                data = bytearray()
                for chunk in answer.iter_bytes():
                    data += chunk
                    if len(data) > MAX_ANSWER_BYTES:
                        raise ModelTrouble(sentence("{who} sends more data than a picture can have.", who=self.who))
                    if time.monotonic() - begun > self.patience.transfer:
                        raise _Again(sentence("{who} sends too slowly", who=self.who))
        except httpx.TimeoutException:
            raise _Again(sentence("{who} did not answer in time", who=self.who)) from None
        except (httpx.NetworkError, httpx.ProtocolError):
            raise _Again(sentence("{who} cannot be reached, or closed the connection", who=self.who)) from None
        except httpx.HTTPError as error:
            # Its own words may hold what was sent.
            raise ModelTrouble(
                sentence("{who} cannot be asked ({name}): check the address.", who=self.who, name=type(error).__name__)
            ) from None
        if answer.status_code < 300:
            return bytes(data)
        self._turned_away(answer, bytes(data))

    def _turned_away(self, answer: httpx.Response, data: bytes) -> NoReturn:
        try:
            body = httpx.Response(200, content=data).json()
            code, why = str(body.get("code", "")), reason(str(body.get("detail", "")))
        except (ValueError, AttributeError):
            code, why = "", reason("")
        status = answer.status_code
        if status in RETRIED_STATUSES:
            busy = sentence("{who} accepts no more requests at the moment", who=self.who)
            words = (
                busy if status == 429 else sentence("{who} has a problem (error {status})", who=self.who, status=status)
            )
            raise _Again(words, _seconds(answer.headers.get("Retry-After")))
        if status in (404, 410) and code == "not-there":
            raise Gone
        other: tuple[str, Remedy | None] = (
            sentence("{who} turned the request away (error ") + str(status) + "){why}",
            None,
        )
        words, remedy = _REFUSAL_MESSAGES.get(status, other)
        raise ModelTrouble(words.format(who=self.who, why=why), remedy)

    def _decoded(self, data: bytes, size: tuple[int, int]) -> EightBit:
        # The size is read first: a small file can unfold to a huge picture.
        if data[:8] != b"\x89PNG\r\n\x1a\n" or len(data) < 33:
            raise _Again(sentence("{who} sent something that is not a picture", who=self.who))
        width, height = struct.unpack(">II", data[16:24])
        if (height, width) != size:
            raise ModelTrouble(
                sentence(
                    "{who} sent a picture of {width} x {height}, not "
                    "of {sent_width} x {sent_height}: it cannot be used.",
                    who=self.who,
                    width=width,
                    height=height,
                    sent_width=size[1],
                    sent_height=size[0],
                ),
                "later",
            )
        try:
            pixels = np.asarray(imagecodecs.png_decode(data))
        except Exception:  # the codec has a family of its own
            raise _Again(sentence("{who} sent a broken picture", who=self.who)) from None
        if pixels.dtype != np.uint8 or pixels.ndim != 3 or pixels.shape[2] not in (3, 4):
            raise ModelTrouble(
                sentence("{who} sent a picture that is not 8-bit colour: it cannot be used.", who=self.who), "later"
            )
        return np.ascontiguousarray(pixels[..., :3])


def _seconds(value: str | None) -> float | None:
    try:
        return max(float(value), 0.0) if value is not None else None
    except ValueError:
        return None


def reason(body: str) -> str:
    """What a service gave as its reason, short and on one line, after a colon; a full stop if it gave none."""
    words = " ".join(body.split())[:300].rstrip(".")
    return f": {words}." if words else "."
