"""One frame: its desk and its history."""

from __future__ import annotations

from fastapi import APIRouter, Response

from keen_sweep.api.deps import SEEN_REVISION, TheLibrary, tag_of
from keen_sweep.api.desk.schemas import DeskOut, StepOut, desk_of
from keen_sweep.api.pages import Paged
from keen_sweep.studio import history

router = APIRouter(prefix="/api/frames/{frame_id}", tags=["frames"], dependencies=[SEEN_REVISION])


@router.get("", operation_id="getDesk")
def get_desk(library: TheLibrary, frame_id: int, response: Response) -> DeskOut:
    """Everything that the desk shows of a frame. Its ETag is the revision that it is at, for If-Match."""
    desk = desk_of(library, frame_id)
    response.headers["ETag"] = tag_of(desk.revision)
    return desk


@router.get("/history", operation_id="getHistory")
def get_history(library: TheLibrary, frame_id: int, page: Paged, newest: bool = False) -> list[StepOut]:
    """Every step that was made to a frame, undone ones too, oldest first or newest; or a page of them."""
    lines = history.lines(library, frame_id)
    wanted = page.of(lines[::-1] if newest else lines, lambda each: each.revision)
    return [StepOut.of(step) for step in history.steps(library, frame_id, wanted)]


@router.post("/history/{revision_id}", operation_id="goTo")
def go_to(library: TheLibrary, frame_id: int, revision_id: int) -> DeskOut:
    """Go to any step; what came after it stays in the history."""
    history.go_to(library, frame_id, revision_id)
    return desk_of(library, frame_id)


@router.post("/undo", operation_id="undo")
def undo(library: TheLibrary, frame_id: int) -> DeskOut:
    history.undo(library, frame_id)
    return desk_of(library, frame_id)


@router.post("/redo", operation_id="redo")
def redo(library: TheLibrary, frame_id: int) -> DeskOut:
    history.redo(library, frame_id)
    return desk_of(library, frame_id)
