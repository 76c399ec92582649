"""Carrying over: the series of a frame, its sweeps put onto the others, all of them filled."""

from __future__ import annotations

from fastapi import APIRouter

from keen_sweep.api.carrying.schemas import CarryIn, FillSeriesIn, JudgedIn, SeriesFilled, SisterOut
from keen_sweep.api.deps import SEEN_REVISION, TheLibrary
from keen_sweep.api.desk.schemas import DeskOut, desk_of
from keen_sweep.api.idempotency import once
from keen_sweep.api.pages import Paged
from keen_sweep.store.library import Library
from keen_sweep.studio.carrying.ask import How, ask_carry
from keen_sweep.studio.filling.series import approve, fill_series, series
from keen_sweep.studio.marking.draw import settle

router = APIRouter(prefix="/api/frames/{frame_id}", tags=["carrying"], dependencies=[SEEN_REVISION])


def _series(library: Library, frame_id: int) -> list[SisterOut]:
    return [SisterOut.of(each) for each in series(library, frame_id)]


@router.get("/series", operation_id="showSeries")
def show_series(library: TheLibrary, frame_id: int, page: Paged) -> list[SisterOut]:
    """All frames of the shoot, and what of this one landed in each; or a page of them."""
    return page.of(_series(library, frame_id), lambda each: each.id)


@router.post("/carry", status_code=202, operation_id="carryOver")
@once
def carry_over(library: TheLibrary, frame_id: int, body: CarryIn) -> list[SisterOut]:
    """Carry sweeps over to other frames. They are marked there, and not filled."""
    ask_carry(library, frame_id, body.sweeps, body.frames, How(body.sensor, body.wide, body.fill))
    return _series(library, frame_id)


@router.post("/series/fill", status_code=202, operation_id="fillSeries")
@once
def fill_all(library: TheLibrary, frame_id: int, body: FillSeriesIn) -> SeriesFilled:
    """Fill everything that is marked in some frames of the series."""
    runs, refused = fill_series(library, frame_id, body.frames, body.how)
    return SeriesFilled(asked=len(runs), refused=refused, series=_series(library, frame_id))


@router.post("/series/approve", operation_id="approveSeries")
def approve_series(library: TheLibrary, frame_id: int, body: JudgedIn) -> list[SisterOut]:
    """Say of frames that what was carried over to them is good, or is not."""
    approve(library, frame_id, body.frames, body.good)
    return _series(library, frame_id)


@router.post("/sweeps/{sweep_id}/settle", operation_id="settleSweep")
def settle_sweep(library: TheLibrary, frame_id: int, sweep_id: str) -> DeskOut:
    """A sweep that was carried over lies well."""
    settle(library, frame_id, sweep_id)
    return desk_of(library, frame_id)
