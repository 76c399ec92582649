"""How the application and its library are: health, room, and a report for whoever looks for a fault."""

from __future__ import annotations

from dataclasses import asdict

from fastapi import APIRouter, Request, Response
from fastapi.responses import JSONResponse

from keen_sweep import __version__
from keen_sweep.api.deps import TheLibrary
from keen_sweep.api.library.schemas import (
    GivenBack,
    Health,
    LibraryOut,
    Minded,
    PreferencesIn,
    PreferencesOut,
    QueueOut,
    RoomOut,
    TasteIn,
    TasteOut,
)
from keen_sweep.api.media import sends
from keen_sweep.core.review.taste import DEFAULT_TERMS, MIN_PICKS, largest_difference
from keen_sweep.core.scout.networks.weights import missing_weights
from keen_sweep.store.room import drop_views, free_room, room_of_gone, room_of_shoots, size_of
from keen_sweep.studio.gathering.shoots import shoots
from keen_sweep.studio.provisional import is_strict, set_strict
from keen_sweep.studio.ranking import taste
from keen_sweep.studio.report import report_of, versions
from keen_sweep.studio.running.background import Background

router = APIRouter(tags=["library"])


@router.get("/api/health", operation_id="health")
def health(library: TheLibrary, request: Request, response: Response) -> Health:
    """Whether the application can be worked with: 503 while it cannot."""
    background: Background = request.app.state.background
    wrong = background.in_the_way()
    if wrong:
        response.status_code = 503
    return Health(
        version=__version__,
        library=str(library.folder),
        ready=not wrong,
        detail=wrong,
        up=background.up,
        free=free_room(library) if not wrong else 0,
        schema_revision=library.revision,
        queue=QueueOut(**background.at_work() if not wrong else dict.fromkeys(QueueOut.model_fields, 0)),
        networks=not missing_weights(),
        versions=versions(),
    )


@router.get("/api/library", operation_id="showLibrary")
def show_library(library: TheLibrary) -> LibraryOut:
    """Where the library is and what room it takes."""
    rooms = room_of_shoots(library)
    listed = [
        RoomOut(shoot=shoot.id, name=shoot.name, frames=len(frames), **vars(rooms[shoot.id]))
        for shoot, frames in shoots(library)
        if shoot.id in rooms
    ]
    return LibraryOut(
        folder=str(library.folder),
        shoots=listed,
        gone=room_of_gone(library),
        database=sum(each.stat().st_size for each in library.folder.glob("library.db*")),
        views=size_of(library.views),
        free=free_room(library),
    )


@router.post("/api/library/drop-views", operation_id="dropViews")
def drop(library: TheLibrary) -> GivenBack:
    """Give back the room of what can be made again: it is, when it is needed."""
    return GivenBack(bytes=drop_views(library))


@router.get(
    "/api/report",
    operation_id="saveReport",
    response_class=Response,
    responses=sends("application/zip"),
)
def report(library: TheLibrary, request: Request) -> Response:
    """A ZIP for whoever looks for a fault: what happened lately, versions, settings; no pictures, no keys."""
    data = report_of(library, request.app.state.background.in_the_way())
    headers = {"Content-Disposition": 'attachment; filename="keen-sweep-report.zip"'}
    return Response(data, media_type="application/zip", headers=headers)


@router.get("/api/preferences", operation_id="showPreferences")
def show_preferences(library: TheLibrary) -> PreferencesOut:
    """How the photographer wants to work."""
    with library.session() as session:
        return PreferencesOut(strict=is_strict(session))


@router.patch("/api/preferences", operation_id="changePreferences")
def change_preferences(library: TheLibrary, body: PreferencesIn) -> PreferencesOut:
    """Change how the photographer wants to work."""
    set_strict(library, body.strict)
    return show_preferences(library)


@router.get("/api/taste", operation_id="showTaste")
def show_taste(library: TheLibrary) -> TasteOut:
    """What was learned from which takes were picked."""
    with library.session() as session:
        learned = taste.learned(session)
    out = TasteOut(
        followed=learned.followed,
        picks=learned.picks,
        fewest=MIN_PICKS,
        weights=None,
        ours=asdict(DEFAULT_TERMS),
        minded=None,
    )
    if learned.weights is not None:
        term, more = largest_difference(learned.weights)
        out.weights, out.minded = asdict(learned.weights), Minded.model_validate({"term": term, "more": more})
    return out


@router.patch("/api/taste", operation_id="changeTaste")
def change_taste(library: TheLibrary, body: TasteIn) -> TasteOut:
    """Let picks put takes in order, or not."""
    taste.follow(library, body.followed)
    return show_taste(library)


@router.delete("/api/taste", operation_id="forgetTaste")
def forget_taste(library: TheLibrary) -> TasteOut:
    """Begin anew: no pick so far counts any more."""
    taste.forget(library)
    return show_taste(library)


@router.get("/api/taste/file", operation_id="saveTaste")
def save_taste(library: TheLibrary) -> JSONResponse:
    """All that is known of picks, as a file: figures of takes, nothing of the pictures."""
    headers = {"Content-Disposition": 'attachment; filename="keen-sweep-picks.json"'}
    return JSONResponse(taste.saved(library), headers=headers)
