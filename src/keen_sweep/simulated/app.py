"""The simulated service's application: what docs/generation-service.json describes, and its switches."""

from __future__ import annotations

from collections.abc import AsyncIterator, Awaitable, Callable
from contextlib import asynccontextmanager
from pathlib import Path
from typing import Any

from fastapi import APIRouter, FastAPI, Request, Response
from fastapi.exceptions import RequestValidationError
from fastapi.responses import HTMLResponse, JSONResponse

from keen_sweep.core.attribute_docs import describe_fields
from keen_sweep.remote.wire import Account, ServiceProblem
from keen_sweep.simulated import paintings
from keen_sweep.simulated.page import ACCOUNT_PAGE
from keen_sweep.simulated.painter import Painter
from keen_sweep.simulated.shed import Shed, TheShed, Turned
from keen_sweep.simulated.switches import Switches
from keen_sweep.simulated.till import Till, account_of

# Account of the demo. It buys only simulated paintings.
DEMO_KEY = "orrin-vale-demo-key"
DEMO_CREDITS = 60.0
API_DESCRIPTION = (
    "What Keen Sweep asks of a generation service. A gateway that answers so can stand before any model: it is sent a "
    "picture and a hole as PNG and paints the hole. Sides are at most as long as /v1/about says, and multiples of what "
    "it says. A painting is charged when it is done and not before; the same Idempotency-Key with the same body is the "
    "same painting for at least a day, unless it was refused, failed or was withdrawn: then it begins anew."
)


def make_service(folder: Path, switches: Switches | None = None) -> FastAPI:
    """The service with its books in a folder."""
    shed = Shed(Till(folder), switches or Switches())
    if account_of(DEMO_KEY) not in shed.till.books.credits:
        shed.till.set_credits(DEMO_KEY, DEMO_CREDITS)
    painter = Painter(shed.till, lambda: shed.switches)

    @asynccontextmanager
    async def lifespan(_app: FastAPI) -> AsyncIterator[None]:
        painter.start()
        yield
        painter.stop()

    app = FastAPI(
        title="Generation service",
        version=paintings.SERVICE_VERSION,
        description=API_DESCRIPTION,
        lifespan=lifespan,
        docs_url=None,
        redoc_url=None,
        responses={"default": {"description": "A problem (RFC 9457)", "model": ServiceProblem}},
    )
    app.state.shed = shed
    app.add_exception_handler(Turned, _turned)
    app.add_exception_handler(RequestValidationError, _invalid)
    app.middleware("http")(_faults)
    app.include_router(paintings.router)
    app.include_router(_panel)
    _describe_fields_of(app)
    return app


def _describe_fields_of(app: FastAPI) -> None:
    plain = app.openapi

    def openapi() -> dict[str, Any]:
        if app.openapi_schema is None:
            describe_fields(plain())
        return plain()

    app.openapi = openapi  # type: ignore[method-assign]


def _turned(_request: Request, error: Exception) -> JSONResponse:
    assert isinstance(error, Turned)
    body = ServiceProblem(title="Not met", status=error.status, code=error.code, detail=str(error))
    return JSONResponse(body.model_dump(), error.status, error.headers, media_type="application/problem+json")


def _invalid(request: Request, error: Exception) -> JSONResponse:
    assert isinstance(error, RequestValidationError)
    return _turned(request, Turned(400, "bad-request", str(error.errors()[0]["msg"])))


async def _faults(request: Request, call_next: Callable[[Request], Awaitable[Response]]) -> Response:
    """Whatever the switches say goes wrong before a request is looked at."""
    shed: Shed = request.app.state.shed
    now = shed.switches
    if not request.url.path.startswith("/v1/"):
        return await call_next(request)
    if now.outage or now.trouble:
        shed.switches = now.model_copy(update={"trouble": max(now.trouble - 1, 0)})
        return _turned(request, Turned(503, "busy", "The painters are out."))
    if now.turn_away:
        shed.switches = now.model_copy(update={"turn_away": now.turn_away - 1})
        headers = {"Retry-After": f"{now.retry_after:g}"}
        return _turned(request, Turned(429, "rate", "Too many requests.", headers))
    if now.broken == "words":
        return Response("<html>It works!</html>", media_type="text/html")
    return await call_next(request)


_panel = APIRouter(include_in_schema=False)


@_panel.get("/")
def page() -> HTMLResponse:
    return HTMLResponse(ACCOUNT_PAGE)


@_panel.get("/switches")
def read_switches(shed: TheShed) -> Switches:
    return shed.switches


@_panel.put("/switches")
def set_switches(shed: TheShed, wanted: Switches) -> Switches:
    shed.switches = wanted
    return wanted


@_panel.put("/switches/credits")
def set_credits(shed: TheShed, wanted: Account) -> Account:
    """What is left in the demo's account."""
    shed.till.set_credits(DEMO_KEY, wanted.credits)
    return wanted


@_panel.get("/switches/books")
def books(shed: TheShed) -> dict[str, float | int]:
    """How many paintings were asked for and paid, and what is left: to check that none is paid twice."""
    done = [job for job in shed.till.books.jobs if job.state == "done"]
    paid = sum(job.charged for job in done)
    left = shed.till.books.credits[account_of(DEMO_KEY)]
    return {"asked": len(shed.till.books.jobs), "done": len(done), "paid": paid, "left": left}
