"""Filling: prices, words, places to draw from, runs."""

from __future__ import annotations

import asyncio
import base64
import time
from typing import Annotated

from fastapi import APIRouter, Query, Response
from starlette.concurrency import run_in_threadpool

from keen_sweep.api.deps import SEEN_REVISION, TheLibrary
from keen_sweep.api.desk.schemas import DeskOut, RunOut, desk_of
from keen_sweep.api.filling.follow import followed
from keen_sweep.api.filling.schemas import (
    AskedFor,
    FirstLookOut,
    FollowedOut,
    GroundIn,
    LeadIn,
    MoveIn,
    QuoteOut,
    SaidOut,
    UpdateIn,
)
from keen_sweep.api.idempotency import once
from keen_sweep.core.photo.png_encoder import packed_png
from keen_sweep.studio.filling import ask, first_look, lay_again, lead, move, quote, words
from keen_sweep.studio.filling.fill import DEFAULT_FILL, Fill

router = APIRouter(tags=["filling"])
# Interval at which a waiting client's run is checked, seconds.
POLL_SECONDS = 0.15
SWEEP_PATH = "/api/frames/{frame_id}/sweeps/{sweep_id}"


@router.post(f"{SWEEP_PATH}/fill", status_code=202, dependencies=[SEEN_REVISION], operation_id="fill")
@once
def ask_fill(library: TheLibrary, frame_id: int, sweep_id: str, body: Fill, answer: Response) -> AskedFor:
    """Queue takes of this sweep; those that are there already stay. Separate areas of a fresh one become sweeps of
    their own. staged: a long one section by section. Location: where to look how far the first run is."""
    runs = ask.ask_fills(library, frame_id, sweep_id, body)
    answer.headers["Location"] = f"/api/runs/{runs[0].id}"
    return AskedFor(runs=[RunOut.of(run) for run in runs], desk=desk_of(library, frame_id))


@router.post("/api/frames/{frame_id}/version-updates", dependencies=[SEEN_REVISION], operation_id="updateFills")
@once
def update_fills(library: TheLibrary, frame_id: int, body: UpdateIn) -> FollowedOut:
    """What becomes of the fills that are out of step with a newer version of the picture: they are laid again, all that
    can be; filled anew, for nothing; or dropped, to be filled when somebody likes."""
    return followed(library, frame_id, body.fills)


@router.post(f"{SWEEP_PATH}/lay-again", dependencies=[SEEN_REVISION], operation_id="layOnTop")
def lay_on_top(library: TheLibrary, frame_id: int, sweep_id: str) -> DeskOut:
    """Lay the take that stands in this sweep again, from the same places, on what is seen below it now."""
    lay_again.lay_on_top(library, frame_id, sweep_id)
    return desk_of(library, frame_id)


@router.get("/api/runs/{run_id}", operation_id="showRun")
async def show_run(library: TheLibrary, run_id: int, wait: Annotated[float, Query(ge=0, le=60)] = 0) -> RunOut:
    """How far a run is. wait: the answer comes when it has ended, but after so many seconds in any case."""
    last = time.monotonic() + wait
    while True:
        run = await run_in_threadpool(ask.run_of, library, run_id)
        left = last - time.monotonic()
        if not run.state.is_open or left <= 0:
            return RunOut.of(run)
        await asyncio.sleep(min(POLL_SECONDS, left))


@router.post("/api/runs/{run_id}/cancel", operation_id="cancelRun")
def cancel(library: TheLibrary, run_id: int) -> DeskOut:
    """Stop a run; takes that are ready stay."""
    return desk_of(library, ask.cancel(library, run_id).frame_id)


@router.get(f"{SWEEP_PATH}/quote", operation_id="quoteFill")
def quote_fill(
    library: TheLibrary,
    frame_id: int,
    sweep_id: str,
    takes: Annotated[int, Query(ge=1, le=12)] = DEFAULT_FILL.takes,
    staged: bool = False,
) -> QuoteOut:
    """By which model it would be filled, what that costs and how long it takes; nothing is spent by asking."""
    return QuoteOut.of(quote.quote(library, frame_id, sweep_id, takes, staged))


@router.get(f"{SWEEP_PATH}/first-look", operation_id="lookFirst")
def look_first(library: TheLibrary, frame_id: int, sweep_id: str) -> FirstLookOut | None:
    """Roughly what its fill will show, at once; nothing where that says nothing of what its method will make."""
    found = first_look.look_first(library, frame_id, sweep_id)
    if found is None:
        return None
    return FirstLookOut(box=found.box, png=base64.b64encode(packed_png(found.pixels)).decode())


@router.put(f"{SWEEP_PATH}/ground", dependencies=[SEEN_REVISION], operation_id="setGround")
def set_ground(library: TheLibrary, frame_id: int, sweep_id: str, body: GroundIn) -> DeskOut:
    """The patch to draw from, or none."""
    words.set_ground(library, frame_id, sweep_id, body.ground)
    return desk_of(library, frame_id)


@router.put(f"{SWEEP_PATH}/lead", dependencies=[SEEN_REVISION], operation_id="setLead")
def set_lead(library: TheLibrary, frame_id: int, sweep_id: str, body: LeadIn) -> DeskOut:
    """The lines along which edges go on behind what is removed; an empty list takes them away."""
    lead.set_lead(library, frame_id, sweep_id, body.lines)
    return desk_of(library, frame_id)


@router.get(f"{SWEEP_PATH}/words", operation_id="checkWords")
def check_words(library: TheLibrary, frame_id: int, sweep_id: str) -> SaidOut:
    """What there is to say of the sweep's hint and avoid."""
    return SaidOut(text=words.said_of_words(library, frame_id, sweep_id))


@router.post(f"{SWEEP_PATH}/move", dependencies=[SEEN_REVISION], operation_id="moveSweep")
def move_sweep(library: TheLibrary, frame_id: int, sweep_id: str, body: MoveIn) -> DeskOut:
    """The sweep's mask shifted; if it had been filled it is filled again there."""
    move.move(library, frame_id, sweep_id, body.across, body.down)
    return desk_of(library, frame_id)
