"""Shoots, and uploading pictures into them."""

from __future__ import annotations

from pathlib import Path
from uuid import uuid4

from fastapi import APIRouter, Query, Request
from starlette.concurrency import run_in_threadpool
from starlette.requests import ClientDisconnect

from keen_sweep.api.deps import SEEN_REVISION, TheLibrary
from keen_sweep.api.desk.schemas import DeskOut, FrameOut, desk_of
from keen_sweep.api.gathering.schemas import (
    BudgetIn,
    FillFramesIn,
    FramesFilled,
    GoneOut,
    ShootIn,
    ShootOut,
    StandingOut,
    WatchedOut,
    WatchIn,
)
from keen_sweep.api.idempotency import once
from keen_sweep.api.pages import Paged
from keen_sweep.core.errors import BadPicture, Cancelled, LibraryTrouble
from keen_sweep.core.sentences import sentence
from keen_sweep.studio.filling import budget, series
from keen_sweep.studio.gathering import frames, gone, shoots, states, versions, watch
from keen_sweep.studio.gathering.gather import gather

router = APIRouter(tags=["shoots"])
SHOOTS_PATH = "/api/shoots"
MAX_UPLOAD_BYTES = 4_000_000_000


@router.get(SHOOTS_PATH, operation_id="listShoots")
def list_shoots(library: TheLibrary, page: Paged) -> list[ShootOut]:
    """All shoots with their frames, newest shoot first; or a page of them."""
    found = page.of(shoots.shoots(library), lambda each: each[0].id)
    spent = budget.spent_in(library, [shoot.id for shoot, _ in found])
    return [ShootOut.of(shoot, own, spent.get(shoot.id, 0.0)) for shoot, own in found]


@router.post(SHOOTS_PATH, status_code=201, operation_id="makeShoot")
@once
def make_shoot(library: TheLibrary, body: ShootIn) -> ShootOut:
    return ShootOut.of(shoots.make_shoot(library, body.name), [])


@router.get(SHOOTS_PATH + "/{shoot_id}", operation_id="showShoot")
def show_shoot(library: TheLibrary, shoot_id: int) -> ShootOut:
    """A shoot with its frames."""
    shoot, own = shoots.shoot_of(library, shoot_id)
    return ShootOut.of(shoot, own, budget.spent_in(library, [shoot_id]).get(shoot_id, 0.0))


@router.patch(SHOOTS_PATH + "/{shoot_id}", operation_id="renameShoot")
def rename_shoot(library: TheLibrary, shoot_id: int, body: ShootIn) -> ShootOut:
    shoots.rename_shoot(library, shoot_id, body.name)
    return show_shoot(library, shoot_id)


@router.get(SHOOTS_PATH + "/{shoot_id}/standings", operation_id="showStandings")
def show_standings(library: TheLibrary, shoot_id: int) -> list[StandingOut]:
    """How far each frame of a shoot is."""
    return [StandingOut.of(frame_id, standing) for frame_id, standing in states.standings_of(library, shoot_id).items()]


@router.post(SHOOTS_PATH + "/{shoot_id}/fill", status_code=202, operation_id="fillFrames")
@once
def fill_frames(library: TheLibrary, shoot_id: int, body: FillFramesIn) -> FramesFilled:
    """Fill everything that is marked in some frames."""
    runs, refused = series.fill_frames(library, body.frames, body.how)
    return FramesFilled(asked=len(runs), refused=refused)


@router.put(SHOOTS_PATH + "/{shoot_id}/budget", status_code=204, operation_id="setBudget")
def set_budget(library: TheLibrary, shoot_id: int, body: BudgetIn) -> None:
    """How many credits services may cost for this shoot."""
    budget.set_budget(library, shoot_id, body.credits)


@router.get(SHOOTS_PATH + "/{shoot_id}/watched", operation_id="showWatched")
def show_watched(library: TheLibrary, shoot_id: int) -> WatchedOut | None:
    """The folder that is watched for newer versions of a shoot's pictures, and what became of its files."""
    found = watch.watched_by(library, shoot_id)
    return None if found is None else WatchedOut.of(found)


@router.put(SHOOTS_PATH + "/{shoot_id}/watched", status_code=204, operation_id="watchFolder")
def watch_folder(library: TheLibrary, shoot_id: int, body: WatchIn) -> None:
    """Watch a folder for newer versions of a shoot's pictures, or none."""
    watch.watch(library, shoot_id, body.folder)


@router.get("/api/gone", operation_id="listGone")
def list_gone(library: TheLibrary) -> list[GoneOut]:
    """What was deleted and can be brought back, the latest first."""
    return [GoneOut.model_validate(vars(each)) for each in gone.gone(library)]


@router.post("/api/gone/{shoot_id}/bring-back", status_code=204, operation_id="bringBack")
def bring_back(library: TheLibrary, shoot_id: int) -> None:
    """Bring back a shoot, or a picture into its shoot."""
    gone.bring_back(library, shoot_id)


@router.delete(SHOOTS_PATH + "/{shoot_id}", status_code=204, operation_id="deleteShoot")
def delete_shoot(library: TheLibrary, shoot_id: int) -> None:
    shoots.delete_shoot(library, shoot_id)


@router.post(
    SHOOTS_PATH + "/{shoot_id}/frames",
    status_code=201,
    operation_id="addFrame",
    openapi_extra={
        "requestBody": {
            "required": True,
            "content": {"application/octet-stream": {"schema": {"type": "string", "format": "binary"}}},
        }
    },
)
async def add_frame(
    library: TheLibrary,
    request: Request,
    shoot_id: int,
    name: str = Query(max_length=1_000),
) -> FrameOut:
    """Take in one picture: the body is the file as it is. It is checked by its content, not by its name. What
    the shoot has already answers 409."""
    part = library.incoming / uuid4().hex
    try:
        await _receive(request, part)
        return FrameOut.of(await run_in_threadpool(gather, library, shoot_id, name, part))
    finally:
        part.unlink(missing_ok=True)


@router.post(
    "/api/frames/{frame_id}/versions",
    status_code=201,
    dependencies=[SEEN_REVISION],
    operation_id="takeUpVersion",
    openapi_extra={
        "requestBody": {
            "required": True,
            "content": {"application/octet-stream": {"schema": {"type": "string", "format": "binary"}}},
        }
    },
)
async def take_up_version(
    library: TheLibrary, request: Request, frame_id: int, name: str = Query(max_length=1_000)
) -> DeskOut:
    """Take up a newer version of a frame's picture, in other tones or in more bits: the body is the file as it is. What
    was filled is out of step until it is laid again."""
    part = library.incoming / uuid4().hex
    try:
        await _receive(request, part)
        await run_in_threadpool(versions.take_up, library, frame_id, name, part)
        return await run_in_threadpool(desk_of, library, frame_id)
    finally:
        part.unlink(missing_ok=True)


async def _receive(request: Request, part: Path) -> None:
    size = 0
    try:
        with part.open("wb") as file:
            async for chunk in request.stream():
                size += len(chunk)
                if size > MAX_UPLOAD_BYTES:
                    raise BadPicture(
                        sentence("The file is larger than {gigabytes} GB.", gigabytes=MAX_UPLOAD_BYTES // 1_000_000_000)
                    )
                await run_in_threadpool(file.write, chunk)
    except OSError as error:
        raise LibraryTrouble(
            sentence("The picture cannot be stored: {reason}.", reason=error.strerror or error)
        ) from error
    except ClientDisconnect as error:
        raise Cancelled(sentence("The upload was interrupted.")) from error


@router.delete("/api/frames/{frame_id}", status_code=204, dependencies=[SEEN_REVISION], operation_id="removeFrame")
def remove_frame(library: TheLibrary, frame_id: int) -> None:
    frames.remove_frame(library, frame_id)
