"""Sweeps of a frame: marking, filling, choosing."""

from __future__ import annotations

from fastapi import APIRouter, Request, Response
from fastapi.concurrency import run_in_threadpool
from pydantic import ValidationError

from keen_sweep.api.deps import TheLibrary, TheOriginals
from keen_sweep.api.schemas import (
    Changed,
    FillIn,
    JoinIn,
    Marked,
    MixIn,
    MoveIn,
    RingsOut,
    RunOut,
    ShapesIn,
    SweepChange,
    SweepIn,
)
from keen_sweep.core.errors import BadRequest
from keen_sweep.core.mask.fit import Fit
from keen_sweep.store.tables import Revision
from keen_sweep.studio import choose, fill, mark, mix

router = APIRouter(prefix="/api/frames/{frame_id}/sweeps", tags=["sweeps"])


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
    """Rename, switch on or off, choose the method, fit the mask, or pick a take (0 is as shot): one at a time."""
    given = body.model_dump(exclude_none=True)
    if len(given) != 1:
        raise BadRequest(
            "Change one thing of a sweep at a time: its name, method, fit, pick, amount, or whether it shows."
        )
    if body.name is not None:
        return _changed(mark.rename_sweep(library, frame_id, sweep_id, body.name))
    if body.method is not None:
        return _changed(choose.choose_method(library, frame_id, sweep_id, body.method))
    if body.fit is not None:
        return _changed(mark.refit(library, frame_id, sweep_id, body.fit))
    if body.amount is not None:
        return _changed(choose.set_amount(library, frame_id, sweep_id, body.amount))
    if body.shown is not None:
        return _changed(choose.show(library, frame_id, sweep_id, body.shown))
    return _changed(choose.pick(library, frame_id, sweep_id, body.pick or None))


@router.post("/{sweep_id}/move", operation_id="moveSweep")
def move(library: TheLibrary, frame_id: int, sweep_id: str, body: MoveIn) -> Changed:
    """The sweep's mask shifted; if it had been filled it is filled again there."""
    had = bool(choose.takes_of(library, sweep_id))
    revision = mark.move_sweep(library, frame_id, sweep_id, body.across, body.down)
    if had:
        fill.ask_fill(library, frame_id, sweep_id)
    return _changed(revision)


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
def ask_fill(library: TheLibrary, frame_id: int, sweep_id: str, body: FillIn) -> list[RunOut]:
    """Queue takes of this sweep; those that are there already stay. Separate areas of a fresh one become sweeps of
    their own. staged: a long one section by section."""
    if body.seed is not None:
        return [RunOut.of(fill.ask_fill(library, frame_id, sweep_id, body.takes, body.quality, body.seed, body.staged))]
    runs = fill.ask_fills(library, frame_id, sweep_id, body.takes, body.quality, body.staged)
    return [RunOut.of(run) for run in runs]


def _changed(revision: Revision) -> Changed:
    return Changed(revision=revision.id or 0)
