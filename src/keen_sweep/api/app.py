"""The application: API under /api, the built web front end everywhere else."""

from __future__ import annotations

from collections.abc import AsyncIterator, Awaitable, Callable
from contextlib import asynccontextmanager
from pathlib import Path
from urllib.parse import urlsplit

from fastapi import FastAPI, Request, Response
from fastapi.responses import FileResponse
from fastapi.staticfiles import StaticFiles

from keen_sweep import __version__
from keen_sweep.api import bearer, document, former, problems
from keen_sweep.api import passphrase as entry
from keen_sweep.api.carrying import routes as carrying
from keen_sweep.api.choosing import routes as choosing
from keen_sweep.api.delivering import routes as delivering
from keen_sweep.api.desk import routes as desk
from keen_sweep.api.events import routes as events
from keen_sweep.api.filling import routes as filling
from keen_sweep.api.finding import routes as finding
from keen_sweep.api.gathering import routes as gathering
from keen_sweep.api.library import routes as library_routes
from keen_sweep.api.log import noted
from keen_sweep.api.looking import routes as looking
from keen_sweep.api.marking import routes as marking
from keen_sweep.api.models import routes as models
from keen_sweep.api.notices import routes as notices
from keen_sweep.api.passphrase import Passphrase
from keen_sweep.api.request_guard import SECURITY_HEADERS, turned_away
from keen_sweep.api.tokens import routes as tokens
from keen_sweep.api.touching import routes as touching
from keen_sweep.core.errors import BadRequest
from keen_sweep.core.sentences import sentence
from keen_sweep.store.library import Library
from keen_sweep.studio.events import window
from keen_sweep.studio.running.background import Background
from keen_sweep.studio.running.queue import Queue


def _queue_for(cluster: str | None, workers: int) -> Callable[[Library], Queue]:
    """What makes the queue of a library. Raises BadRequest."""
    if cluster is None:
        return lambda library: Queue(library, workers)
    try:
        from keen_sweep.studio.running.cluster_queue import ClusterQueue
    except ModuleNotFoundError as error:
        raise BadRequest(
            sentence("A cluster needs {name}: install the extra keen-sweep[cluster].", name=error.name)
        ) from error
    return lambda library: ClusterQueue(library, cluster)


WEB_FOLDER = Path(__file__).parents[1] / "web"
# Length of the name of a window.
MAX_WINDOW_CHARS = 64
LOCAL_HOSTS = {"127.0.0.1", "localhost", "::1", "testserver"}


def make_app(
    library: Library,
    *,
    workers: int = 1,
    hosts: set[str] | None = None,
    cluster: str | None = None,
    passphrase: Passphrase | None = None,
) -> FastAPI:
    """The application of one library. hosts: names it may be asked by besides those of this machine; cluster: the
    address of the scheduler of those who fill, this machine if there is none; passphrase: what everybody has to say
    first, by whatever name the server is asked. Raises BadRequest when what a cluster needs is not installed."""
    make_queue = _queue_for(cluster, workers)

    @asynccontextmanager
    async def lifespan(app: FastAPI) -> AsyncIterator[None]:
        background = Background(library, make_queue)
        background.open()
        app.state.background = background
        yield
        background.close()

    app = FastAPI(
        title="Keen Sweep",
        version=__version__,
        lifespan=lifespan,
        responses=problems.PROBLEM_RESPONSES,
        # The pages of the interactive documentation would fetch scripts from elsewhere.
        docs_url=None,
        redoc_url=None,
        openapi_url="/api/openapi.json",
    )
    app.state.library = library
    problems.install(app)
    document.describe(app)
    if passphrase is not None:
        entry.install(app, passphrase)

    _guard(app, LOCAL_HOSTS | (hosts or set()) if passphrase is None else None, passphrase)
    journey = (gathering, desk, looking, marking, finding, filling, choosing, touching, carrying, delivering)
    for part in (*journey, models, events, library_routes, tokens, notices, former):
        app.include_router(part.router)

    @app.get("/api/{rest:path}", include_in_schema=False)
    def nothing(rest: str) -> Response:
        return problems.problem(404, "not-found", "Not there", sentence("There is no route /api/{rest}.", rest=rest))

    if (WEB_FOLDER / "assets").is_dir():
        _serve_pages(app)
    return app


def _guard(app: FastAPI, allowed: set[str] | None, passphrase: Passphrase | None) -> None:
    """Answer nobody but those who may ask: by names that are allowed, or whoever said the passphrase."""

    @app.middleware("http")
    async def only_from_here(request: Request, call_next: Callable[[Request], Awaitable[Response]]) -> Response:
        why = turned_away(request.method, urlsplit(str(request.url)), request.headers, allowed)
        if why is not None:
            answer: Response = problems.problem(403, "elsewhere", sentence("Not from here"), why)
        elif (refused := await _refusal(request, passphrase)) is not None:
            answer = refused
        else:
            # Whoever is answered need not hear of it as news as well.
            named = request.headers.get("x-window")
            window.set(named[:MAX_WINDOW_CHARS] if named else None)
            answer = await noted(request, call_next)
        answer.headers.update(SECURITY_HEADERS)
        return answer


async def _refusal(request: Request, passphrase: Passphrase | None) -> Response | None:
    """What somebody is answered who is not let in, by a token or else by the passphrase; None for all others."""
    token = bearer.token_in(request)
    if token is not None:
        return await bearer.refusal(request.app.state.library, request, token)
    if passphrase is not None and not passphrase.lets_in(request):
        return entry.refusal(request)
    return None


def _serve_pages(app: FastAPI) -> None:
    """The front end: its scripts, and one page at every other address."""
    desks = (WEB_FOLDER / "assets").glob("DeskPage-*.js")
    ahead = ", ".join(f"</assets/{each.name}>; rel=modulepreload" for each in desks)
    app.mount("/assets", StaticFiles(directory=WEB_FOLDER / "assets"), name="assets")

    @app.get("/{page:path}", include_in_schema=False)
    def page(page: str) -> FileResponse:
        """Every other address is a place in the one page; what the desk needs comes along with it."""
        headers = {"Cache-Control": "no-cache"}
        if page.startswith("frames/"):
            headers["Link"] = ahead
        return FileResponse(WEB_FOLDER / "index.html", headers=headers)
