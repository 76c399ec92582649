"""Talking to services that are not as they should be: a plain server that says whatever a test tells it to."""

import json
import struct
import threading
import zlib
from collections.abc import Callable, Iterator
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer

import imagecodecs
import numpy as np
import pytest
from pydantic import SecretStr

from keen_sweep.core.errors import ModelTrouble
from keen_sweep.remote import exchange
from keen_sweep.remote.exchange import Exchange, Gone, reason
from keen_sweep.remote.patience import Patience
from keen_sweep.remote.wire import About

KEY = "not-to-be-seen"
GOOD = json.dumps({"name": "Odd", "version": "1", "most": 512}).encode()
# Status, headers, body.
Answer = tuple[int, dict[str, str], bytes]


class Odd:
    """A server that gives its answers one after the other, the last one for ever, and keeps what it was asked."""

    def __init__(self) -> None:
        self.answers: list[Answer] = []
        self.asked: list[tuple[str, str, dict[str, str]]] = []
        odd = self

        class Handler(BaseHTTPRequestHandler):
            def do_GET(self) -> None:
                odd.asked.append((self.command, self.path, dict(self.headers)))
                status, headers, body = odd.answers.pop(0) if len(odd.answers) > 1 else odd.answers[0]
                self.send_response(status)
                for name, value in headers.items():
                    self.send_header(name, value)
                if "Content-Length" not in headers:
                    self.send_header("Content-Length", str(len(body)))
                self.end_headers()
                self.wfile.write(body)

            do_POST = do_GET

            def log_message(self, *_: object) -> None: ...

        self.server = ThreadingHTTPServer(("127.0.0.1", 0), Handler)
        self.address = f"http://127.0.0.1:{self.server.server_address[1]}"


@pytest.fixture
def odd() -> Iterator[Odd]:
    made = Odd()
    thread = threading.Thread(target=made.server.serve_forever, daemon=True)
    thread.start()
    yield made
    made.server.shutdown()


@pytest.fixture
def talk(odd: Odd) -> Iterator[Callable[..., Exchange]]:
    made: list[Exchange] = []

    def start(slept: list[float] | None = None, **more: float) -> Exchange:
        patience = Patience(**{"tries": 4, "first": 1.0, "longest": 3.0, "silence": 60.0, "transfer": 60.0, **more})  # type: ignore[arg-type]
        made.append(Exchange(odd.address, SecretStr(KEY), patience, (slept if slept is not None else []).append))
        return made[-1]

    yield start
    for each in made:
        each.close()


def about(exchanged: Exchange) -> About:
    return exchanged.ask(About, "GET", "/v1/about")


def test_waits_grow_and_stop_growing_and_nothing_is_asked_more_often_than_said(odd: Odd, talk) -> None:  # type: ignore[no-untyped-def]
    slept: list[float] = []
    odd.answers = [(503, {}, b"")]
    with pytest.raises(ModelTrouble, match="4 times in a row"):
        about(talk(slept))
    assert len(odd.asked) == 4
    # Waited in bites of half a second at most, so that a cancel is heard.
    assert max(slept) <= 0.5
    assert 1 + 2 + 3 <= sum(slept) <= 1.1 * (1 + 2 + 3) + 0.01


@pytest.mark.parametrize(
    ("told", "waited"), [("0", 0.0), ("2", 2.0), ("9999", 60.0), ("Wed, 25 Nov 2026 20:50:22 GMT", 1.0), ("-5", 0.0)]
)
def test_a_service_says_how_long_to_wait_within_reason(odd: Odd, talk, told: str, waited: float) -> None:  # type: ignore[no-untyped-def]
    slept: list[float] = []
    odd.answers = [(429, {"Retry-After": told}, b""), (200, {}, GOOD)]
    assert about(talk(slept)).name == "Odd"
    assert waited <= sum(slept) <= 1.1 * waited + 0.01


@pytest.mark.parametrize("status", [400, 404, 405, 410, 418, 501])
def test_what_will_not_pass_is_not_tried_again(odd: Odd, talk, status: int) -> None:  # type: ignore[no-untyped-def]
    body = json.dumps({"code": "bad-request", "detail": "No such thing.\n" * 400}).encode()
    odd.answers = [(status, {}, body)]
    with pytest.raises(ModelTrouble, match=f"turned the request away .error {status}.: No such thing") as caught:
        about(talk())
    assert len(odd.asked) == 1
    assert len(str(caught.value)) < 420
    assert "\n" not in str(caught.value)


def test_a_painting_that_is_gone_is_told_from_a_page_that_is_not_there(odd: Odd, talk) -> None:  # type: ignore[no-untyped-def]
    odd.answers = [(404, {}, json.dumps({"code": "not-there", "detail": "Gone."}).encode())]
    with pytest.raises(Gone):
        about(talk())
    odd.answers = [(404, {}, b"<html>")]
    with pytest.raises(ModelTrouble, match="error 404"):
        about(talk())


def test_the_key_does_not_follow_a_redirect(odd: Odd, talk) -> None:  # type: ignore[no-untyped-def]
    other = Odd()
    other.answers = [(200, {}, GOOD)]
    threading.Thread(target=other.server.serve_forever, daemon=True).start()
    try:
        for status in (301, 302, 307, 308):
            odd.answers = [(status, {"Location": f"{other.address}/v1/about"}, b"")]
            with pytest.raises(ModelTrouble, match=f"error {status}") as caught:
                about(talk())
            assert KEY not in str(caught.value)
        assert other.asked == [], "nobody else was asked anything"
        assert all(headers["Authorization"] == f"Bearer {KEY}" for *_, headers in odd.asked)
    finally:
        other.server.shutdown()


def test_an_answer_that_never_ends_is_cut_off(odd: Odd, talk, monkeypatch: pytest.MonkeyPatch) -> None:  # type: ignore[no-untyped-def]
    monkeypatch.setattr(exchange, "MAX_ANSWER_BYTES", 100_000)
    odd.answers = [(200, {}, b"x" * 1_000_000)]
    with pytest.raises(ModelTrouble, match="more data than a picture can have"):
        about(talk())
    # A small body that unfolds to a large one is as large as it unfolds to.
    odd.answers = [(200, {"Content-Encoding": "deflate"}, zlib.compress(b"0" * 5_000_000))]
    with pytest.raises(ModelTrouble, match="more data than a picture can have"):
        about(talk())


def test_an_answer_that_stops_half_way_is_tried_again(odd: Odd, talk) -> None:  # type: ignore[no-untyped-def]
    odd.answers = [(200, {"Content-Length": str(len(GOOD) + 50)}, GOOD), (200, {}, GOOD)]
    odd.server.RequestHandlerClass.timeout = 1  # type: ignore[attr-defined]
    assert about(talk()).name == "Odd"


@pytest.mark.parametrize(
    "body", [b"", b"null", b"[]", b'{"name": "Odd"}', b'{"name": "", "version": "1", "most": 512}', b"\xff\xfe",
             b'{"name": "Odd", "version": "1", "most": 99999999}'],
)  # fmt: skip
def test_an_answer_of_another_shape_is_said_to_make_no_sense(odd: Odd, talk, body: bytes) -> None:  # type: ignore[no-untyped-def]
    odd.answers = [(200, {}, body)]
    with pytest.raises(ModelTrouble, match="cannot be understood"):
        about(talk(tries=2))


def picture(width: int = 40, height: int = 30, channels: int = 3, dtype: type = np.uint8) -> bytes:
    return bytes(imagecodecs.png_encode(np.zeros((height, width, channels), dtype)))


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (b"GIF89a" + b"0" * 60, "not a picture"),
        (picture()[:30], "not a picture"),
        (picture()[:60], "broken picture"),
        (picture(41), "41 x 30, not of 40 x 30"),
        (picture()[:16] + struct.pack(">II", 60_000, 60_000) + picture()[24:], "60000 x 60000"),
        (picture(channels=1), "not 8-bit colour"),
        (picture(dtype=np.uint16), "not 8-bit colour"),
    ],
    ids=["another format", "a bit of one", "cut off", "another size", "a bomb", "grey", "16 bit"],
)
def test_pictures_that_cannot_be_used_are_named(odd: Odd, talk, data: bytes, words: str) -> None:  # type: ignore[no-untyped-def]
    odd.answers = [(200, {}, data)]
    with pytest.raises(ModelTrouble, match=words):
        talk(tries=2).fetch("/picture", (30, 40))


def test_a_picture_with_transparency_is_taken_without_it(odd: Odd, talk) -> None:  # type: ignore[no-untyped-def]
    odd.answers = [(200, {}, picture(channels=4))]
    assert talk().fetch("/picture", (30, 40)).shape == (30, 40, 3)


def test_a_reason_is_one_short_line() -> None:
    assert reason("  too\n much   skin. ") == ": too much skin."
    assert reason("") == "."
    assert len(reason("x" * 5_000)) < 320


def test_nobody_minds_whether_a_withdrawal_was_heard(odd: Odd, talk) -> None:  # type: ignore[no-untyped-def]
    made = talk()
    odd.answers = [(500, {}, b"")]
    made.tell("GET", "/v1/paintings/x")
    odd.server.shutdown()
    odd.server.server_close()
    made.tell("GET", "/v1/paintings/x")
    assert len(odd.asked) == 1
