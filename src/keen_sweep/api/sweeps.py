"""Sweeps of a frame: marking, filling, choosing."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated, Any

from fastapi import APIRouter, Query, Request, Response
from fastapi.concurrency import run_in_threadpool
from pydantic import ValidationError

from keen_sweep.api.deps import TheLibrary, TheOriginals
from keen_sweep.api.schemas import (
    Changed,
    GroundIn,
    JoinIn,
    Marked,
    MixIn,
    MoveIn,
    QuoteOut,
    RingsOut,
    RunOut,
    SaidOut,
    ShapesIn,
    SweepChange,
    SweepIn,
)
from keen_sweep.core.errors import BadRequest
from keen_sweep.core.mask.fit import Fit
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Revision
from keen_sweep.studio import choose, fill, mark, mix, quote, words
from keen_sweep.studio import move as moving
from keen_sweep.studio.fill import Fill

router = APIRouter(prefix="/api/frames/{frame_id}/sweeps", tags=["sweeps"])


def _pick(library: Library, frame_id: int, sweep_id: str, take: int) -> Revision:
    return choose.pick(library, frame_id, sweep_id, take or None)


# What can be changed of a sweep, and by what.
CHANGES: dict[str, Callable[[Library, int, str, Any], Revision]] = {
    "name": mark.rename_sweep,
    "method": choose.choose_method,
    "model": choose.choose_model,
    "hint": words.set_hint,
    "avoid": words.set_avoid,
    "knobs": choose.set_knobs,
    "fit": mark.refit,
    "amount": choose.set_amount,
    "shown": choose.show,
    "pick": _pick,
}


@router.post("", status_code=201, operation_id="newSweep")
def new_sweep(library: TheLibrary, frame_id: int, body: SweepIn) -> Marked:
    """A new sweep from strokes, outlines and areas, in picture pixels."""
    sweep_id, revision = mark.new_sweep(library, frame_id, body.shapes, body.name)
    return Marked(sweep_id=sweep_id, revision=revision.id or 0)


@router.post(
    "/from-mask",
    status_code=201,
    operation_id="loadMask",
    openapi_extra={
        "requestBody": {
            "required": True,
            "content": {"application/octet-stream": {"schema": {"type": "string", "format": "binary"}}},
        }
    },
)
async def load_mask(library: TheLibrary, request: Request, frame_id: int, sweep_id: str | None = None) -> Marked:
    """A mask as a new sweep, or added to one: the body is a picture file of the picture's size."""
    data = await request.body()
    made, revision = await run_in_threadpool(mark.load_mask, library, frame_id, data, sweep_id)
    return Marked(sweep_id=made, revision=revision.id or 0)


@router.post("/join", operation_id="joinSweeps")
def join(library: TheLibrary, frame_id: int, body: JoinIn) -> Changed:
    """One sweep of several that have not been filled."""
    return _changed(mark.join(library, frame_id, body.sweeps))


@router.post("/{sweep_id}/split", operation_id="splitSweep")
def split(library: TheLibrary, frame_id: int, sweep_id: str) -> Changed:
    """A sweep for each separate area of this one."""
    return _changed(mark.split(library, frame_id, sweep_id))


@router.post("/{sweep_id}/shapes", status_code=201, operation_id="addShapes")
def add_shapes(library: TheLibrary, frame_id: int, sweep_id: str, body: ShapesIn) -> Changed:
    return _changed(mark.add_shapes(library, frame_id, sweep_id, body.shapes))


@router.delete("/{sweep_id}/shapes", operation_id="clearMark")
def clear_mark(library: TheLibrary, frame_id: int, sweep_id: str) -> Changed:
    return _changed(mark.clear_mark(library, frame_id, sweep_id))


@router.get("/{sweep_id}/mask", response_class=Response, operation_id="getMask")
def get_mask(library: TheLibrary, frame_id: int, sweep_id: str, revision: int | None = None) -> Response:
    """The mask as a PNG of the picture's size, white where it is to be replaced."""
    return Response(mark.mask_png(library, frame_id, sweep_id, revision), media_type="image/png")


@router.get("/{sweep_id}/rings", operation_id="getRings")
def get_rings(
    library: TheLibrary,
    frame_id: int,
    sweep_id: str,
    revision: int | None = None,
    margin: float | None = None,
    feather: float = 0.0,
    holes: bool = False,
    crumbs: int = 0,
) -> RingsOut:
    """The outline of the mask; with a margin given, as it would be with another fit."""
    try:
        fit = None if margin is None else Fit(margin=margin, feather=feather, holes=holes, crumbs=crumbs)
    except ValidationError as error:
        raise BadRequest(str(error.errors()[0]["msg"])) from error
    return RingsOut(rings=mark.rings_at(library, frame_id, sweep_id, revision, fit))


@router.patch("/{sweep_id}", operation_id="changeSweep")
def change_sweep(library: TheLibrary, frame_id: int, sweep_id: str, body: SweepChange) -> Changed:
    """Change one thing of a sweep: a pick of 0 is as shot."""
    given = body.model_dump(exclude_none=True)
    if len(given) != 1:
        raise BadRequest(f"Change one thing of a sweep at a time: its {', '.join(CHANGES)}.")
    (name,) = given
    return _changed(CHANGES[name](library, frame_id, sweep_id, getattr(body, name)))


@router.put("/{sweep_id}/ground", operation_id="setGround")
def set_ground(library: TheLibrary, frame_id: int, sweep_id: str, body: GroundIn) -> Changed:
    """The patch to draw from, or none."""
    return _changed(words.set_ground(library, frame_id, sweep_id, body.ground))


@router.get("/{sweep_id}/words", operation_id="checkWords")
def check_words(library: TheLibrary, originals: TheOriginals, frame_id: int, sweep_id: str) -> SaidOut:
    """What there is to say of the sweep's hint and avoid."""
    return SaidOut(text=words.said_of_words(library, originals, frame_id, sweep_id))


@router.get("/{sweep_id}/quote", operation_id="quoteFill")
def quote_fill(
    library: TheLibrary,
    originals: TheOriginals,
    frame_id: int,
    sweep_id: str,
    takes: Annotated[int, Query(ge=1, le=12)] = 3,
    staged: bool = False,
) -> QuoteOut:
    """By which model it would be filled, what that costs and how long it takes; nothing is spent by asking."""
    return QuoteOut.of(quote.quote(library, originals, frame_id, sweep_id, takes, staged))


@router.post("/{sweep_id}/move", operation_id="moveSweep")
def move(library: TheLibrary, frame_id: int, sweep_id: str, body: MoveIn) -> Changed:
    """The sweep's mask shifted; if it had been filled it is filled again there."""
    return _changed(moving.move(library, frame_id, sweep_id, body.across, body.down))


@router.post("/{sweep_id}/mix", status_code=201, operation_id="mixTakes")
def mix_takes(library: TheLibrary, originals: TheOriginals, frame_id: int, sweep_id: str, body: MixIn) -> int:
    """A new take that shows one take, and another where shapes cover; it is picked. Its number."""
    return mix.mix_takes(library, originals, frame_id, sweep_id, body.under, body.over, body.shapes)


@router.post("/{sweep_id}/duplicate", status_code=201, operation_id="duplicateSweep")
def duplicate(library: TheLibrary, frame_id: int, sweep_id: str) -> Marked:
    """The same mark once more, on top, to be filled anew."""
    made, revision = choose.duplicate_sweep(library, frame_id, sweep_id)
    return Marked(sweep_id=made, revision=revision.id or 0)


@router.post("/{sweep_id}/reorder", operation_id="reorderSweep")
def reorder(library: TheLibrary, frame_id: int, sweep_id: str, by: int) -> Changed:
    """So many places later in the stack, or earlier below 0."""
    return _changed(choose.reorder_sweep(library, frame_id, sweep_id, by))


@router.delete("/{sweep_id}", operation_id="deleteSweep")
def delete_sweep(library: TheLibrary, frame_id: int, sweep_id: str) -> Changed:
    """Take the sweep out of the picture; undo brings it and its takes back."""
    return _changed(choose.delete_sweep(library, frame_id, sweep_id))


@router.post("/{sweep_id}/fill", status_code=202, operation_id="fill")
def ask_fill(library: TheLibrary, frame_id: int, sweep_id: str, body: Fill) -> list[RunOut]:
    """Queue takes of this sweep; those that are there already stay. Separate areas of a fresh one become sweeps of
    their own. staged: a long one section by section."""
    return [RunOut.of(run) for run in fill.ask_fills(library, frame_id, sweep_id, body)]


def _changed(revision: Revision) -> Changed:
    return Changed(revision=revision.id or 0)
