"""Requests by their former names, for one version more: what is asked by them is answered as before, and says that it
will not be (RFC 9745)."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Depends, Query, Response

from keen_sweep.api.choosing.routes import change_snag, change_sweep, change_take
from keen_sweep.api.choosing.schemas import SnagChange, SweepChange, TakeChange
from keen_sweep.api.deps import SEEN_REVISION, TheLibrary
from keen_sweep.api.desk.schemas import DeskOut
from keen_sweep.api.filling.follow import followed
from keen_sweep.api.filling.schemas import FollowedOut
from keen_sweep.api.touching.routes import change
from keen_sweep.api.touching.schemas import TouchesChange, TouchesIn

# 2026-11-30, in seconds since 1970.
DEPRECATION_DATE = "@1795996800"


def _said(answer: Response) -> None:
    answer.headers["Deprecation"] = DEPRECATION_DATE


router = APIRouter(
    prefix="/api/frames/{frame_id}",
    tags=["former names"],
    deprecated=True,
    dependencies=[SEEN_REVISION, Depends(_said)],
)


@router.post("/lay-again", operation_id="layAgain")
def lay_again(library: TheLibrary, frame_id: int) -> FollowedOut:
    """See updateFills."""
    return followed(library, frame_id, "lay")


@router.post("/fill-anew", operation_id="fillAnew")
def fill_anew(library: TheLibrary, frame_id: int) -> FollowedOut:
    """See updateFills."""
    return followed(library, frame_id, "fill")


@router.post("/let-go", operation_id="letGo")
def let_go(library: TheLibrary, frame_id: int) -> DeskOut:
    """See updateFills."""
    return followed(library, frame_id, "drop").desk


@router.post("/touches/show", operation_id="showTouches")
def show_touches(library: TheLibrary, frame_id: int, body: TouchesIn, shown: bool) -> DeskOut:
    """See changeTouches."""
    return change(library, frame_id, TouchesChange(touches=body.touches, shown=shown))


@router.post("/touches/delete", operation_id="deleteTouches")
def delete_touches(library: TheLibrary, frame_id: int, body: TouchesIn) -> DeskOut:
    """See changeTouches."""
    return change(library, frame_id, TouchesChange(touches=body.touches, deleted=True))


@router.post("/sweeps/{sweep_id}/reorder", operation_id="reorderSweep")
def reorder(library: TheLibrary, frame_id: int, sweep_id: str, by: int) -> DeskOut:
    """See changeSweep: later."""
    return change_sweep(library, frame_id, sweep_id, SweepChange(later=by))


@router.post("/takes/{take_id}/favourite", operation_id="favourTake")
def favour(library: TheLibrary, frame_id: int, take_id: int, favourite: bool) -> DeskOut:
    """See changeTake."""
    return change_take(library, frame_id, take_id, TakeChange(favourite=favourite))


@router.post("/snags/{snag_id}/dismiss", operation_id="dismissSnag")
def dismiss(library: TheLibrary, frame_id: int, snag_id: int, dismissed: Annotated[bool, Query()] = True) -> DeskOut:
    """See changeSnag."""
    return change_snag(library, frame_id, snag_id, SnagChange(dismissed=dismissed))
