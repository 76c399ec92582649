"""The simulated service's application: what docs/generation-service.json describes, and its switches."""

from __future__ import annotations

import base64
import binascii
import struct
import time
from collections.abc import AsyncIterator, Iterator
from contextlib import asynccontextmanager
from pathlib import Path
from typing import Annotated

from fastapi import Depends, FastAPI, Header, Request, Response
from fastapi.exceptions import RequestValidationError
from fastapi.responses import HTMLResponse, JSONResponse, StreamingResponse
from fastapi.security import HTTPAuthorizationCredentials, HTTPBearer

from keen_sweep.remote.wire import (
    SAME,
    About,
    Account,
    Code,
    PaintingIn,
    PaintingOut,
    Quote,
    QuoteIn,
    ServiceProblem,
)
from keen_sweep.simulated.page import PAGE
from keen_sweep.simulated.painter import Painter
from keen_sweep.simulated.switches import Switches
from keen_sweep.simulated.till import OtherRequest, Till, TooFew, account_of, price

NAME, VERSION = "Fenwick Paint Shed (simulated)", "1"
MOST, MULTIPLE = 1024, 8
# The account that the demo uses. It buys nothing but simulated paintings.
KEY, CREDITS = "orrin-vale-demo-key", 60.0
DESCRIPTION = (
    "What Keen Sweep asks of a generation service. A gateway that answers so can stand before any model: it is sent a "
    "picture and a hole as PNG and paints the hole. Sides are at most as long as /v1/about says, and multiples of what "
    "it says. A painting is charged when it is done and not before; the same Idempotency-Key with the same body is the "
    "same painting for at least a day, unless it was refused, failed or was withdrawn: then it begins anew."
)


class Turned(Exception):
    """A request that is not met."""

    def __init__(self, status: int, code: Code, detail: str, headers: dict[str, str] | None = None) -> None:
        super().__init__(detail)
        self.status, self.code, self.headers = status, code, headers


def _account(
    request: Request, sent: Annotated[HTTPAuthorizationCredentials | None, Depends(HTTPBearer(auto_error=False))]
) -> str:
    till: Till = request.app.state.till
    found = account_of(sent.credentials) if sent else ""
    if found not in till.books.credits:
        raise Turned(401, "key", "This key belongs to no account.")
    return found


Mine = Annotated[str, Depends(_account)]


def make_service(folder: Path, switches: Switches | None = None) -> FastAPI:  # noqa: PLR0915
    """The service with its books in a folder."""
    till = Till(folder)
    state = {"switches": switches or Switches()}
    if account_of(KEY) not in till.books.credits:
        till.set_credits(KEY, CREDITS)
    painter = Painter(till, lambda: state["switches"])

    @asynccontextmanager
    async def lifespan(_app: FastAPI) -> AsyncIterator[None]:
        painter.start()
        yield
        painter.stop()

    app = FastAPI(
        title="Generation service",
        version=VERSION,
        description=DESCRIPTION,
        lifespan=lifespan,
        docs_url=None,
        redoc_url=None,
        responses={"default": {"description": "A problem (RFC 9457)", "model": ServiceProblem}},
    )
    app.state.till = till

    @app.exception_handler(Turned)
    def turned(_request: Request, error: Turned) -> JSONResponse:
        body = ServiceProblem(title="Not met", status=error.status, code=error.code, detail=str(error))
        media = "application/problem+json"
        return JSONResponse(body.model_dump(), error.status, error.headers, media_type=media)

    @app.exception_handler(RequestValidationError)
    def invalid(request: Request, error: RequestValidationError) -> JSONResponse:
        return turned(request, Turned(400, "bad-request", str(error.errors()[0]["msg"])))

    @app.middleware("http")
    async def faults(request: Request, call_next):  # type: ignore[no-untyped-def]
        now = state["switches"]
        if not request.url.path.startswith("/v1/"):
            return await call_next(request)
        if now.outage or now.trouble:
            state["switches"] = now.model_copy(update={"trouble": max(now.trouble - 1, 0)})
            return turned(request, Turned(503, "busy", "The painters are out."))
        if now.turn_away:
            state["switches"] = now.model_copy(update={"turn_away": now.turn_away - 1})
            headers = {"Retry-After": f"{now.retry_after:g}"}
            return turned(request, Turned(429, "rate", "Too many requests.", headers))
        if now.broken == "words":
            return Response("<html>It works!</html>", media_type="text/html")
        return await call_next(request)

    @app.get("/v1/about", operation_id="about")
    def about() -> About:
        return About(name=NAME, version=VERSION, most=MOST, multiple=MULTIPLE)

    @app.get("/v1/account", operation_id="account")
    def credits(mine: Mine) -> Account:
        return Account(credits=till.free(mine))

    @app.post("/v1/quotes", operation_id="quote")
    def quote(_mine: Mine, asked: QuoteIn) -> Quote:
        _fits(asked.width, asked.height)
        now = state["switches"]
        waiting = sum(job.state in ("queued", "painting") for job in till.books.jobs) + now.ahead
        cost = price(asked.width, asked.height)
        return Quote(credits=cost, seconds=(waiting + 1) * (now.delay + 1))

    @app.post("/v1/paintings", status_code=202, operation_id="paint")
    def paint(mine: Mine, asked: PaintingIn, name: Annotated[str, Header(alias=SAME, max_length=200)]) -> PaintingOut:
        """Ask for a painting; the same name is the same painting, which is paid once."""
        size = _size(asked.picture)
        if size != _size(asked.hole):
            raise Turned(400, "bad-request", "Picture and hole are not of one size.")
        _fits(*size)
        try:
            job = till.take_in(mine, name, asked, price(*size), state["switches"].ahead)
        except TooFew:
            left = till.free(mine)
            raise Turned(402, "credits", f"It costs {price(*size):g}, and {left:g} are left.") from None
        except OtherRequest:
            raise Turned(409, "conflict", "This Idempotency-Key was used for another request.") from None
        return till.told(job, state["switches"].delay)

    @app.get("/v1/paintings/{painting}", operation_id="look")
    def look(mine: Mine, painting: str) -> PaintingOut:
        return till.told(_job(mine, painting), state["switches"].delay)

    @app.delete("/v1/paintings/{painting}", operation_id="withdraw")
    def withdraw(mine: Mine, painting: str) -> PaintingOut:
        """Take a painting back; one that is done stays so."""
        job = _job(mine, painting)
        till.end(job, "withdrawn")
        return till.told(job, state["switches"].delay)

    @app.get(
        "/v1/paintings/{painting}/picture",
        operation_id="fetch",
        response_class=Response,
        responses={200: {"content": {"image/png": {"schema": {"type": "string", "format": "binary"}}}}},
    )
    def fetch(mine: Mine, painting: str) -> Response:
        """The picture with its hole painted, 8-bit RGB, of the size that was sent."""
        job = _job(mine, painting)
        if job.state != "done":
            raise Turned(404, "not-there", "This painting is not done.")
        data = till.picture_file(job.id).read_bytes()
        now = state["switches"]
        if now.broken == "picture":
            data = data[: len(data) // 2]
        if now.broken == "size":
            data = data[:16] + struct.pack(">II", 64, 64) + data[24:]
        if now.drip:
            return StreamingResponse(_dripped(data, now.drip), media_type="image/png")
        return Response(data, media_type="image/png")

    @app.get("/", include_in_schema=False)
    def page() -> HTMLResponse:
        return HTMLResponse(PAGE)

    @app.get("/switches", include_in_schema=False)
    def read_switches() -> Switches:
        return state["switches"]

    @app.put("/switches", include_in_schema=False)
    def set_switches(wanted: Switches) -> Switches:
        state["switches"] = wanted
        return wanted

    @app.put("/switches/credits", include_in_schema=False)
    def set_credits(wanted: Account) -> Account:
        """What is left in the demo's account."""
        till.set_credits(KEY, wanted.credits)
        return wanted

    @app.get("/switches/books", include_in_schema=False)
    def books() -> dict[str, float | int]:
        """How many paintings were asked for and paid, and what is left: to check that none is paid twice."""
        done = [job for job in till.books.jobs if job.state == "done"]
        paid = sum(job.charged for job in done)
        left = till.books.credits[account_of(KEY)]
        return {"asked": len(till.books.jobs), "done": len(done), "paid": paid, "left": left}

    def _job(mine: str, painting: str):  # type: ignore[no-untyped-def]
        job = till.job(mine, painting)
        if job is None:
            raise Turned(404, "not-there", "There is no such painting.")
        return job

    return app


def _fits(width: int, height: int) -> None:
    if max(width, height) > MOST:
        raise Turned(413, "too-large", f"Pictures are at most {MOST} px wide and high, and this is {width} x {height}.")


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
