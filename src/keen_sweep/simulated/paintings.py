"""What docs/generation-service.json describes: accounts, quotes, paintings."""

from __future__ import annotations

import base64
import binascii
import struct
import time
from collections.abc import Iterator
from typing import Annotated

from fastapi import APIRouter, Header, Response
from fastapi.responses import StreamingResponse

from keen_sweep.remote.wire import IDEMPOTENCY_HEADER, About, Account, PaintingIn, PaintingOut, Quote, QuoteIn
from keen_sweep.simulated.shed import Mine, Painting, TheShed, Turned
from keen_sweep.simulated.till import OtherRequest, TooFew, price

SERVICE_NAME = "Fenwick Paint Shed (simulated)"
SERVICE_VERSION = "1"
MAX_SIDE_PX = 1024
SIDE_MULTIPLE = 8

router = APIRouter()


@router.get("/v1/about", operation_id="about")
def about() -> About:
    return About(name=SERVICE_NAME, version=SERVICE_VERSION, most=MAX_SIDE_PX, multiple=SIDE_MULTIPLE)


@router.get("/v1/account", operation_id="account")
def credits(shed: TheShed, mine: Mine) -> Account:
    return Account(credits=shed.till.free(mine))


@router.post("/v1/quotes", operation_id="quote")
def quote(shed: TheShed, _mine: Mine, asked: QuoteIn) -> Quote:
    _fits(asked.width, asked.height)
    now = shed.switches
    waiting = sum(job.state in ("queued", "painting") for job in shed.till.books.jobs) + now.ahead
    cost = price(asked.width, asked.height)
    return Quote(credits=cost, seconds=(waiting + 1) * (now.delay + 1))


@router.post("/v1/paintings", status_code=202, operation_id="paint")
def paint(
    shed: TheShed, mine: Mine, asked: PaintingIn, name: Annotated[str, Header(alias=IDEMPOTENCY_HEADER, max_length=200)]
) -> PaintingOut:
    """Ask for a painting; the same name is the same painting, which is paid once."""
    size = _size(asked.picture)
    if size != _size(asked.hole):
        raise Turned(400, "bad-request", "Picture and hole are not of one size.")
    _fits(*size)
    try:
        job = shed.till.take_in(mine, name, asked, price(*size), shed.switches.ahead)
    except TooFew:
        left = shed.till.free(mine)
        raise Turned(402, "credits", f"It costs {price(*size):g}, and {left:g} are left.") from None
    except OtherRequest:
        raise Turned(409, "conflict", "This Idempotency-Key was used for another request.") from None
    return shed.till.told(job, shed.switches.delay)


@router.get("/v1/paintings/{painting}", operation_id="look")
def look(shed: TheShed, painting: Painting) -> PaintingOut:
    return shed.till.told(painting, shed.switches.delay)


@router.delete("/v1/paintings/{painting}", operation_id="withdraw")
def withdraw(shed: TheShed, painting: Painting) -> PaintingOut:
    """Take a painting back; one that is done stays so."""
    shed.till.end(painting, "withdrawn")
    return shed.till.told(painting, shed.switches.delay)


@router.get(
    "/v1/paintings/{painting}/picture",
    operation_id="fetch",
    response_class=Response,
    responses={200: {"content": {"image/png": {"schema": {"type": "string", "format": "binary"}}}}},
)
def fetch(shed: TheShed, painting: Painting) -> Response:
    """The picture with its hole painted, 8-bit RGB, of the size that was sent."""
    if painting.state != "done":
        raise Turned(404, "not-there", "This painting is not done.")
    data = shed.till.picture_file(painting.id).read_bytes()
    now = shed.switches
    if now.broken == "picture":
        data = data[: len(data) // 2]
    if now.broken == "size":
        data = data[:16] + struct.pack(">II", 64, 64) + data[24:]
    if now.drip:
        return StreamingResponse(_dripped(data, now.drip), media_type="image/png")
    return Response(data, media_type="image/png")


def _fits(width: int, height: int) -> None:
    if max(width, height) > MAX_SIDE_PX:
        raise Turned(
            413, "too-large", f"Pictures are at most {MAX_SIDE_PX} px wide and high, and this is {width} x {height}."
        )


def _size(picture: str) -> tuple[int, int]:
    """Width and height out of a PNG's header."""
    try:
        head = base64.b64decode(picture[:64], validate=True)
        if head[:8] != b"\x89PNG\r\n\x1a\n":
            raise ValueError
        width, height = struct.unpack(">II", head[16:24])
    except (ValueError, binascii.Error, struct.error):
        raise Turned(400, "bad-request", "Picture and hole are PNG files in base64.") from None
    return int(width), int(height)


def _dripped(data: bytes, speed: int) -> Iterator[bytes]:
    """A few bytes at a time."""
    step = max(speed // 10, 1)
    for at in range(0, len(data), step):
        yield data[at : at + step]
        time.sleep(0.1)
